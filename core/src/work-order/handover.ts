import { CHEMISTRY, isLithium } from '../chemistry/chemistry';
import { partName, partTitle } from '../conductors/names';
import { counted } from '../ledger/figures';
import { raised, said, withArticle } from '../parts/said';
import { unit_W, loadsOf } from '../power/loads';
import { modulesOfArray } from '../pv/strings';
import { inverterGroups, type InverterGroup } from '../power/groups';
import { check, sentenceOf } from '../rules/check';
import { overOf, type Finding } from '../rules/finding';
import type { RuleId } from '../rules/ids';
import { dutiesOf } from '../service/duties';
import type { DutyKey } from '../service/duty';
import { pastOf } from '../service/past';
import { modelOf, mainsSources, type Model } from '../system/model';
import type { SystemFile, System } from '../system/schema';
import { HANDLES, partsArray, partsBank } from './parting';

/** What a customer is told of the system that was built, in sentences without a term of the trade (docs/handover.md). */
export interface HandOver {
  name: string;
  /** What is there, from the sun to the sockets. */
  have: string[];
  /** What may run at once, and what must not run together. */
  atOnce: string[];
  /** How long it lasts without sun; null where that is not known. */
  withoutSun: string | null;
  never: string[];
  /** Jobs of every month or two that need no licence. */
  jobs: { what: string; every: string }[];
  /** How all is switched off in an emergency, in the order in which a hand does it. */
  off: string[];
  /** Handles that part something, by name. */
  isolators: string[];
  /** The same by id, in the same order: a photo shows where each is. */
  isolatorIds: string[];
  /** For who hands over, never for the customer: what is over and can hurt, in sentences. */
  open: string[];
}

/** A job this frequent is the customer's; what comes more seldom is the technician's. */
const CUSTOMER_D = 90;
/** From here on a device counts when two must not run together, W. */
const LARGE_W = 400;

/**
 * @param on the day, counted from 1 January 1970
 * @param proposalId the proposal that was built; absent: the system as found
 */
export function handOver(file: SystemFile, on: number, proposalId?: string): HandOver {
  const model = modelOf(file, proposalId);
  const findings = check(model);
  return {
    name: model.site.name,
    have: haves(model),
    atOnce: atOnce(model, findings),
    withoutSun: withoutSun(findings),
    never: nevers(model),
    jobs: jobsOf(file, model, on),
    off: emergency(model),
    isolators: isolatorsOf(model.system),
    isolatorIds: handlesOf(model.system).map(({ id }) => id),
    open: overOf(findings)
      .filter(({ consequence }) => consequence === 'danger')
      .map((finding) => sentenceOf(model, finding)),
  };
}

const title = (system: System, id: string, plain: string) => partTitle(system, id) ?? plain;

function haves({ system }: Model): string[] {
  const panels = (system.arrays ?? []).flatMap((array) => modulesOfArray(system, array));
  const watts = panels.reduce((sum, { pmax_W }) => sum + pmax_W, 0);
  const { bank } = system;
  const lines: (string | null)[] = [
    panels.length > 0 ? `${counted(panels.length, 'solar panel')}, ${whole(watts)} W at best.` : null,
    ...(system.controllers ?? []).map(({ id }) => `${title(system, id, 'A charge controller')}: charges from the sun.`),
    bank
      ? `${raised(withArticle(isLithium(bank.chemistry) ? 'lithium' : `${said(bank.chemistry)} lead-acid`))} battery of ${whole(system.nominal_V ?? bank.series * bank.block_V)} V${bank.blockCapacity_Ah ? ` and ${whole(bank.blockCapacity_Ah * bank.parallel)} Ah` : ''}.`
      : null,
    ...(system.inverters ?? []).map(
      ({ id, continuous_W }) =>
        `${title(system, id, 'An inverter')}: makes mains power, ${whole(continuous_W)} W at most.`,
    ),
    ...(system.chargers ?? []).map(({ id, kind }) =>
      kind === 'mains'
        ? `${title(system, id, 'A mains charger')}: charges from the mains or the generator.`
        : `${title(system, id, 'A charger')}: charges from the engine.`,
    ),
    ...(system.sources ?? []).flatMap(({ id, kind }) =>
      kind === 'generator' ? [`${title(system, id, 'A generator')}: for when the sun is not enough.`] : [],
    ),
  ];
  return lines.filter((line) => line !== null);
}

const whole = (value: number) => String(Math.round(value));

/** What limits the watts at an inverter beside itself: the bank, and what carries its current. */
const LIMITS: readonly RuleId[] = ['bank.discharge', 'run.ampacity', 'run.fuse-carries', 'distribution.rating'];

/**
 * The watts that may be drawn at once; null where a rule that limits them is not known, or where the voltage sags too far:
 * then nothing is promised.
 */
function most_W({ system }: Model, { first, members }: InverterGroup, findings: readonly Finding[]): number | null {
  const ids = new Set(members.map(({ id }) => id));
  const runs = (system.runs ?? []).filter(({ from, to }) => ids.has(from ?? '') || ids.has(to ?? ''));
  const own = new Set([system.bank?.id, ...runs.map(({ id }) => id)]);
  const limits = findings.filter(({ rule, subject }) => LIMITS.includes(rule) && own.has(subject));
  const sags = findings.some(
    ({ rule, verdict }) => rule === 'system.sag' && (verdict === 'over' || verdict === 'unknown'),
  );
  const rated =
    findings.find(({ rule, subject }) => rule === 'inverter.continuous' && subject === first.id)?.limit ?? null;
  if (rated === null || sags || limits.some(({ verdict }) => verdict === 'unknown')) return null;
  const shares = overOf(limits).map(({ use }) => (use ? 1 / use : 0));
  return rated * Math.min(1, ...shares);
}

/** By the rules: what may run together, and which two large devices are too much. */
function atOnce(model: Model, findings: readonly Finding[]): string[] {
  const { system } = model;
  return inverterGroups(system).flatMap((group) => {
    const { first } = group;
    const most = most_W(model, group, findings);
    if (most === null || !(most > 0)) return [];
    const loads = loadsOf(system, first).filter((load) => unit_W(load) >= LARGE_W);
    const over = loads.filter((load) => unit_W(load) > most);
    const fit = loads.filter((load) => unit_W(load) <= most);
    const pairs = fit.flatMap((one, i) =>
      fit.slice(i + 1).flatMap((other) => (unit_W(one) + unit_W(other) > most ? [[one, other] as const] : [])),
    );
    return [
      // Rounded down: what is printed is never more than what it carries.
      `Up to ${Math.floor(most / 50) * 50} W of mains devices at the same time.`,
      ...over.map(({ id }) => `Not ${partName(model, id)}: it needs more than this system gives.`),
      ...pairs.map(([one, other]) => `${raised(partName(model, one.id))} or ${partName(model, other.id)}, not both.`),
    ];
  });
}

function withoutSun(findings: readonly Finding[]): string | null {
  const days = findings.find(({ rule }) => rule === 'bank.autonomy')?.demand ?? null;
  if (days === null || !(days > 0)) return null;
  const hours = Math.floor(24 * days);
  const time =
    days >= 2 ? `${counted(Math.floor(days), 'day')}` : hours >= 1 ? counted(hours, 'hour') : 'less than an hour';
  return `A full battery lasts about ${time} without sun, if you use what was planned.`;
}

function nevers({ system }: Model): string[] {
  const { bank } = system;
  const gassing = bank ? CHEMISTRY[bank.chemistry].gassesFreely : false;
  return [
    ...(gassing ? ['No flame, no spark and no smoking near the battery: it gives off gas that burns.'] : []),
    ...(bank && isLithium(bank.chemistry)
      ? ['Do not charge the battery below freezing, and do not bridge its own protection.']
      : []),
    'Do not put anything on the battery or on the devices, and keep their vents free.',
    ...((system.inverters ?? []).length > 0
      ? ['Do not plug the mains outlet of this system into a socket of the building or the shore.']
      : []),
    ...((system.arrays ?? []).length > 0
      ? ['Do not unplug cables of the solar panels: they are live whenever there is light.']
      : []),
    'Do not change settings or add devices without asking us: fuses and cables were sized for what is there.',
  ];
}

/** Jobs that need no instrument. */
const THEIRS = new Set<DutyKey>(['water', 'alarm', 'clean']);

/** What is read or done every three months or sooner by anybody; measuring and licensed work is ours. */
function jobsOf(file: SystemFile, model: Model, on: number): HandOver['jobs'] {
  return dutiesOf(model, pastOf(file, on))
    .filter(({ key, every_d, licensed }) => every_d <= CUSTOMER_D && !licensed && THEIRS.has(key))
    .map(({ what, every_d }) => ({
      what,
      every:
        every_d % 30 === 0 ? `every ${every_d === 30 ? 'month' : `${every_d / 30} months`}` : `every ${every_d} days`,
    }));
}

/** Only what a person without tools may do: a handle, a plug of the shore, a key. What has no handle is named as live. */
function emergency(model: Model): string[] {
  const { system } = model;
  const bankHandles = partsBank(system).flatMap(({ text, parts }) => (isHandle(system, parts) ? [text] : []));
  const allParted = system.bank ? partsBank(system).every(({ parts }) => isHandle(system, parts)) : false;
  return [
    'Fire or smoke: everybody out, call the fire service, and tell them that there is a battery and a solar array.',
    ...((system.inverters ?? []).length > 0
      ? [`Switch off ${(system.inverters ?? []).map(({ id }) => partName(model, id)).join(' and ')}.`]
      : []),
    ...mainsSources(system).map(({ id, kind }) =>
      kind === 'generator' ? `Stop ${partName(model, id)}.` : `Unplug ${partName(model, id)}.`,
    ),
    ...((system.sources ?? []).some(({ kind }) => kind === 'alternator') ? ['Engine off, key out.'] : []),
    ...(system.arrays ?? []).map(({ id }) => {
      const { text, parts, covered } = partsArray(system, id);
      return covered || !isHandle(system, parts)
        ? `${raised(partName(model, id))} has no switch: its cables stay live in daylight. Keep away from them.`
        : `${raised(text)}.`;
    }),
    ...bankHandles.map((text) => `${raised(text)}.`),
    ...(system.bank && !allParted
      ? ['The battery cannot be switched off altogether without tools: keep clear of its cables.']
      : []),
    'Do not switch on again before somebody who knows the system has looked at it.',
  ];
}

/** True for handles that anybody may turn: never a fuse, never a plug under load. */
const isHandle = (system: System, parts: readonly string[]) =>
  parts.length > 0 &&
  parts.every((id) => (system.switches ?? []).some((one) => one.id === id && HANDLES.has(one.kind)));

const handlesOf = ({ switches }: System) => (switches ?? []).filter(({ kind }) => HANDLES.has(kind));

const isolatorsOf = (system: System): string[] =>
  handlesOf(system).map(({ id, runId }) => {
    const run = (system.runs ?? []).find((one) => one.id === runId);
    const on = run ? partTitle(system, run.id) : null;
    return `${title(system, id, 'Isolator')}${on ? `: on ${on}` : ''}`;
  });
