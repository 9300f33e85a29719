import { isSingleName, type PartKind, type PartRow, type System } from '@true-lantern/core';
import { KIND_WORDS } from '../data/fields';
import type { Drawn } from '../ui/things';

/** A thing that one stands before: what it is drawn as, the kind of part that it becomes, and what is known by seeing it. */
export interface Seen {
  thing: Drawn;
  kind: PartKind;
  word: string;
  set: Record<string, unknown>;
}

const seen = (thing: Drawn, kind: PartKind, word?: string, set: Record<string, unknown> = {}): Seen => ({
  thing,
  kind,
  word: word ?? KIND_WORDS[kind] ?? kind,
  set,
});

/** From the sun down. Nothing is set that the eye does not tell: whether a refrigerator runs on AC is asked. */
export const SEEN: readonly Seen[] = [
  seen('moduleTypes', 'moduleTypes'),
  seen('arrays', 'arrays'),
  seen('controllers', 'controllers'),
  seen('bank', 'bank', 'Battery bank'),
  seen('inverters', 'inverters'),
  seen('runs', 'runs'),
  seen('switches', 'switches', 'Isolator', { kind: 'isolator' }),
  seen('breaker', 'switches', 'Breaker', { kind: 'breaker' }),
  seen('distribution', 'distribution', 'Fuse board'),
  seen('lamp', 'loads', 'Lamp', { label: 'Lamp', kind: 'dc', type: 'electronic' }),
  seen('refrigerator', 'loads', 'Refrigerator', { label: 'Refrigerator', type: 'compressor' }),
  seen('pump', 'loads', 'Pump', { label: 'Pump', type: 'pump' }),
  seen('kettle', 'loads', 'Heater', { type: 'resistive' }),
  seen('loads', 'loads', 'Another load'),
  seen('chargers', 'chargers', 'Mains charger', { kind: 'mains' }),
  seen('dcdc', 'chargers', 'DC-DC charger', { kind: 'dc-dc' }),
  seen('sources', 'sources', 'Generator', { kind: 'generator' }),
  seen('inlet', 'sources', 'Inlet', { kind: 'inlet' }),
  seen('alternator', 'sources', 'Alternator', { kind: 'alternator' }),
  seen('converters', 'converters'),
  seen('monitor', 'monitor'),
  seen('otherBanks', 'otherBanks', 'Starter battery', { role: 'starter' }),
  seen('states', 'states', 'Operating state'),
];

/** Without any of these a system is no system: what of them is not there yet is most likely what one stands before. */
const FIRST = new Set<PartKind>(['moduleTypes', 'arrays', 'controllers', 'bank', 'inverters', 'runs', 'loads']);

/** What can still be added, the most likely first. */
export function likelyFirst(system: System, rows: readonly Pick<PartRow, 'kind'>[]): Seen[] {
  const there = new Set(rows.map(({ kind }) => kind));
  const rank = ({ kind }: Seen) => (!there.has(kind) && FIRST.has(kind) ? 0 : 1);
  return SEEN.filter(({ kind }) => !(isSingleName(kind) && system[kind])).sort((a, b) => rank(a) - rank(b));
}

/** What was seen, by its name in an address; null where there is no such thing of that kind. */
export const seenAs = (kind: PartKind, thing: string | null): Seen | null =>
  SEEN.find((one) => one.kind === kind && one.thing === thing) ?? null;
