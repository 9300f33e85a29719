import { networkOf, touches } from '../conductors/network';
import { partName } from '../conductors/names';
import { sentenceOf } from '../rules/check';
import { overOf, worstFirst, type Finding } from '../rules/finding';
import type { Model } from '../system/model';
import type { System } from '../system/schema';
import { MINUTES, runsOf } from './among';
import type { Order } from './order';

/** What a proposal leaves over that can hurt people or kit: its order opens with it, and withholds what is in danger. */
export const gravelyOver = (findings: readonly Finding[]): Finding[] =>
  overOf(findings)
    .filter(({ consequence }) => consequence === 'danger' || consequence === 'damage')
    .sort(worstFirst);

/** The step that an order opens with, where the proposal leaves or makes a danger or a damage. */
export function answerFor(order: Order, after: Model, findings: readonly Finding[]): string[] {
  const grave = gravelyOver(findings);
  if (grave.length === 0) return [];
  const danger = grave.some(({ consequence }) => consequence === 'danger');
  return [
    order.add({
      phase: 'tell',
      act: 'tell',
      of: 'answer',
      text: `This proposal leaves: ${grave.map((finding) => sentenceOf(after, finding)).join(' ')} Who takes responsibility, and why? ${danger ? 'Whatever is in danger stays off.' : ''}`.trim(),
      parts: [...new Set(grave.map(({ subject }) => subject))].filter((id) => id !== 'site'),
      why: 'it must be on record that this was known',
      minutes: MINUTES.tell,
      asksReason: true,
    }),
  ];
}

/** Seen on site and so grave that the bank stays off: cells, nothing that interrupts, something burnt. */
const STOPS_THE_BANK = 2;

/** True where joining the bank would bring a danger to life: on itself, on what it feeds, or seen on site. */
export function bankWithheld({ system }: Model, findings: readonly Finding[]): boolean {
  const fed = new Set<string>([
    ...(system.bank ? [system.bank.id] : []),
    ...(system.otherBanks ?? []).map(({ id }) => id),
    ...(system.inverters ?? []).map(({ id }) => id),
    ...(system.distribution ?? []).map(({ id }) => id),
    ...(system.runs ?? []).filter((run) => networkOf(system).feedersOf(run) !== null).map(({ id }) => id),
  ]);
  for (const { id, runId } of system.switches ?? []) if (fed.has(runId)) fed.add(id);
  return dangers(findings).some(
    ({ subject, gravity }) => fed.has(subject) || (subject === 'site' && (gravity ?? 5) <= STOPS_THE_BANK),
  );
}

/** True where joining an array would: on itself, its cables and switches, or its controller. */
export function arrayWithheld({ system }: Model, findings: readonly Finding[], arrayId: string): boolean {
  const array = (system.arrays ?? []).find(({ id }) => id === arrayId);
  const runs = runsOf(system, arrayId).filter(({ kind }) => kind === 'pv');
  const onward = (system.runs ?? []).filter(
    (run) => run.kind === 'pv' && touches(run, array?.controllerId ?? undefined),
  );
  const own = new Set<string>([arrayId, ...runs.map(({ id }) => id), ...onward.map(({ id }) => id)]);
  if (array?.controllerId) own.add(array.controllerId);
  for (const { id, runId } of system.switches ?? []) if (own.has(runId)) own.add(id);
  return dangers(findings).some(({ subject }) => own.has(subject));
}

const dangers = (findings: readonly Finding[]) =>
  overOf(findings).filter(({ consequence }) => consequence === 'danger');

/** What is withheld, as a step says it. */
export const withheldText = (system: System, id: string) =>
  `${partName({ system }, id)} is still in danger with this proposal. It stays off until that is fixed.`;
