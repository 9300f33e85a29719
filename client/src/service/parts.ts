import { CHEMISTRY, eachPart, partTitle, type LogKind, type LogTest } from '@true-lantern/core';
import type { OpenSite } from '../data/site';

const KINDS: Partial<Record<LogKind, readonly string[]>> = {
  watered: ['bank'],
  equalised: ['bank'],
  cleaned: ['arrays'],
  retightened: ['runs'],
  synchronised: ['monitor'],
  fuel: ['sources'],
};
const TESTED: Partial<Record<LogTest, readonly string[]>> = { rcd: ['inverters'], isolator: ['switches'] };

/** Parts that an entry of a kind is usually of; all but cables and loads where nothing is usual. */
export function partsOf(site: OpenSite, kind: LogKind, what: LogTest): { id: string; label: string }[] {
  const wanted = kind === 'tested' ? (TESTED[what] ?? []) : (KINDS[kind] ?? null);
  return eachPart(site.model.system)
    .filter(({ kind: of }) => (wanted ? wanted.includes(of) : !['runs', 'loads', 'moduleTypes', 'states'].includes(of)))
    .map(({ part }) => ({ id: part.id, label: partTitle(site.model.system, part.id) ?? part.id }));
}

/** The kinds that this site usually needs, the chosen one among them. */
export function usualKinds(site: OpenSite, chosen: LogKind): LogKind[] {
  const { bank, monitor, sources } = site.model.system;
  const usual: LogKind[] = [
    'note',
    ...(bank && CHEMISTRY[bank.chemistry].gassesFreely ? (['watered'] as const) : []),
    'tested',
    'cleaned',
    ...(monitor ? (['synchronised'] as const) : []),
    ...((sources ?? []).some(({ kind }) => kind === 'generator') ? (['fuel'] as const) : []),
    'fault',
  ];
  return usual.includes(chosen) ? usual : [...usual, chosen];
}
