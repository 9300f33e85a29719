import { cellsInSeries } from '../bank/bank';
import { chargingDevices, sourceOfCharger } from '../bank/charging';
import { CHEMISTRY } from '../chemistry/chemistry';
import { networkOf } from '../conductors/network';
import { loadsOf } from '../power/loads';
import { flips } from '../flips/flips';
import { check, sentenceOf } from '../rules/check';
import { partName, runName } from '../conductors/names';
import { isBridged } from '../rules/bank/strings';
import { harmed } from '../rules/cures/worse';
import { splitPath } from '../system/evidence';
import { memberAt } from '../system/members';
import { partById } from '../system/parts';
import { figure } from '../ledger/figures';
import { keyOf, worstFirst, type Finding } from '../rules/finding';
import { ruleOf } from '../rules/index';
import { createLedger } from '../ledger/ledger';
import { withSystem, type Model, withChanges } from '../system/model';
import { mergeChanges } from '../system/proposals';
import type { Change, OtherBank, Settings, System } from '../system/schema';
import { takenOut } from '../system/taken-out';
import { lessLoad } from './less-load';
import { charged, fewerInSeries, fewerStrings, lessCharge, stillCharged } from './less-charge';
import { bindingIn, type InterimLimit, SAID, hurts, hurtingIn, helps, staysOpen } from './hurting';

/** Until parts arrive: limits under which the system as found may run, found by search and judged by the same rules. */
export interface Interim {
  limits: InterimLimit[];
  /** Parts that stay off until they are mended, what makes them dead, and the reason. */
  off: { id: string; how: string; why: string }[];
  /** Over only by a table's value or a guess: found out first, and nothing is switched off for it. */
  findOut: { finding: Finding; text: string; fields: string[] }[];
  /** What no limit cures: as sentences, worst first. */
  left: { finding: Finding; text: string }[];
  cured: Finding[];
  /** The system as it then runs: what the verdicts were re-read from. */
  changes: Change[];
  /** Findings that cannot be judged: the limits do not speak for these. */
  unknown: Finding[];
}

/** The limits under which a system may run as it is, found by search; what no limit holds is said. */
export function interim(given: Model): Interim {
  // What runs until then is a state of its own: none of the recorded ones needs to name what is turned off.
  const model = withSystem(given, { ...given.system, states: null });
  const before = check(model);
  const trial = createTrial(model, before);
  for (const inverter of model.system.inverters ?? []) trial.take(lessLoad(trial.now(), inverter));
  const turnedDown = lessCharge(trial.now());
  trial.take(turnedDown);
  trial.take(lowerVolts(trial.now()));

  const guesses = guessedOver(trial.now());
  const open = () =>
    trial
      .findings()
      .filter((finding) => hurts(finding) && !guesses.has(keyOf(finding)))
      .sort(worstFirst);
  // Half before nothing: some strings unplugged, or each a module shorter, keep the bank alive.
  for (const finding of open())
    if (open().some((one) => keyOf(one) === keyOf(finding)))
      trial.take(
        fewerStrings(trial.now(), finding, trial.findings()) ?? fewerInSeries(trial.now(), finding, trial.findings()),
      );
  const off = turnedOff(trial, open);
  // What was turned down for a part that is off since then goes back up.
  if (off.length > 0)
    for (const [i, limit] of (turnedDown?.limits ?? []).entries()) trial.giveBack(limit, turnedDown?.changes[i]);

  const now = trial.now();
  const after = trial.findings();
  const over = after.filter(staysOpen).sort(worstFirst);
  const still = new Set(over.map(keyOf));
  const gone = withTheirLoads(
    model,
    off.map(({ id }) => id),
  );
  return {
    limits: trial.limits.map((limit) => ({ ...limit, whenBack: gone.has(limit.id) })),
    off,
    findOut: over.flatMap((finding) => {
      const fields = guesses.get(keyOf(finding));
      return fields ? [{ finding, text: sentenceOf(now, finding), fields }] : [];
    }),
    left: over
      .filter((finding) => !guesses.has(keyOf(finding)))
      .map((finding) => ({ finding, text: leftOpen(now, finding) })),
    cured: before.filter((finding) => hurts(finding) && !still.has(keyOf(finding))).sort(worstFirst),
    changes: trial.changes,
    unknown: after.filter(({ verdict, consequence }) => verdict === 'unknown' && SAID.has(consequence)),
  };
}

/** A system under the limits found so far, and what it comes to. */
interface Trial {
  limits: InterimLimit[];
  changes: Change[];
  now(): Model;
  findings(): Finding[];
  take(made: { limits: InterimLimit[]; changes: Change[] } | null): void;
  /** A limit and its change go again, where nothing that hurts comes of it. */
  giveBack(limit: InterimLimit, change: Change | undefined): void;
}

function createTrial(model: Model, before: Finding[]): Trial {
  const limits: InterimLimit[] = [];
  const changes: Change[] = [];
  let now = model;
  // What the system as it then runs comes to: judged anew only once something was taken.
  let judged: Finding[] | null = before;
  const findings = () => (judged ??= check(now));
  return {
    limits,
    changes,
    now: () => now,
    findings,
    take(made) {
      if (!made) return;
      limits.push(...made.limits);
      changes.push(...made.changes);
      now = withChanges(model, changes);
      judged = null;
    },
    giveBack(limit, change) {
      const rest = changes.filter((one) => one !== change);
      const without = withChanges(model, rest);
      const then = check(without);
      if (harmed(findings(), then).some(hurts)) return;
      limits.splice(limits.indexOf(limit), 1);
      changes.splice(0, changes.length, ...rest);
      [now, judged] = [without, then];
    },
  };
}

/** What no limit cures goes off, part by part, as long as that helps; never for what is only a guess. */
function turnedOff(trial: Trial, open: () => Finding[]): Interim['off'] {
  const off: Interim['off'] = [];
  for (const parted of partedBanks(trial.now(), trial.findings())) {
    off.push(parted.off);
    trial.take({ limits: [], changes: parted.changes });
  }
  for (let round = 0; round < MOST_OFF; round++) {
    const now = trial.now();
    const before = trial.findings();
    const next = open()
      .flatMap((finding) => offPart(now.system, finding.subject).map((id) => ({ id, finding })))
      .find(({ id, finding }) => {
        const without = withChanges(now, removal(now.system, id));
        if (!stillCharged(now, without)) return false;
        const after = check(without);
        return !after.some((one) => keyOf(one) === keyOf(finding) && hurts(one)) && !harmed(before, after).some(hurts);
      });
    if (!next) break;
    off.push({ id: next.id, how: deadBy(now, next.id, next.finding), why: sentenceOf(now, next.finding) });
    trial.take({ limits: [], changes: removal(now.system, next.id) });
  }
  return off;
}

/** Parts that are off, and what runs behind them and is off with them. */
function withTheirLoads({ system }: Model, off: readonly string[]): Set<string> {
  const inverters = (system.inverters ?? []).filter(({ id }) => off.includes(id));
  return new Set([...off, ...inverters.flatMap((inverter) => loadsOf(system, inverter).map(({ id }) => id))]);
}

/** What stays over, why it stays, and what people do until then. */
const leftOpen = (now: Model, finding: Finding): string =>
  [
    sentenceOf(now, finding),
    keptOn(now, finding) && 'It is all that charges the bank, so it stays on.',
    ruleOf(finding.rule).untilThen,
  ]
    .filter(Boolean)
    .join(' ');

/** What would go off for this is the only charge of the bank. */
const keptOn = (now: Model, finding: Finding): boolean =>
  hurts(finding) &&
  offPart(now.system, finding.subject).some((id) => !stillCharged(now, withChanges(now, removal(now.system, id))));

const MOST_OFF = 24;

/** What is over as long as a table's value or somebody's assumption stands, with the fields that decide it. */
function guessedOver(model: Model): Map<string, string[]> {
  const guesses = new Map<string, string[]>();
  for (const { field, findings } of flips(model)) {
    const grade = model.evidence?.[field]?.grade;
    const path = splitPath(field, (id) => partById(model.system, id) !== undefined);
    const part = path && partById(model.system, path.partId)?.part;
    const byTable = part && TABLED.test(field) && memberAt(part, path.field) === undefined;
    if (grade !== 'assumed' && !byTable) continue;
    for (const flipped of findings)
      if (flipped.from === 'over') {
        const key = keyOf(flipped);
        guesses.set(key, [...(guesses.get(key) ?? []), field]);
      }
  }
  return guesses;
}

/** What is taken from a table by chemistry or type where nobody read it. */
const TABLED = /(internal_mohm|interrupt_A)$/;

/** What really makes a part dead: the light off an array, a device switched off, a cable parted where it is fed. */
function deadBy({ system }: Model, id: string, { rule, subject }: Finding): string {
  if ((system.arrays ?? []).some((array) => array.id === id)) return 'cover the modules, or open their isolator';
  const run = system.runs?.find((one) => one.id === subject);
  // A cable without the right fuse stays live to its end, whatever is switched off there.
  if (!run || !ruleOf(rule).bearsOn.includes('fuse') || ruleOf(rule).bearsOn.includes('load')) return 'switch it off';
  const source = networkOf(system).sourceEnd(run);
  const isolator = (system.switches ?? []).find(
    ({ runId, kind, end }) => runId === run.id && kind !== 'plug' && end && run[end] === source,
  );
  const at = source === system.bank?.id ? 'at the bank' : 'where it is fed';
  // A controller that loses its battery in the sun can rise to the volts of its array.
  const first = run.kind === 'controller-battery' ? 'isolate the array first; then ' : '';
  return isolator
    ? `${first}open ${partName({ system }, isolator.id)} ${at} and lock it`
    : `${first}disconnect ${runName(system, run)} ${at} and cap it`;
}

/**
 * Batteries that harm each other through what joins them, each parted at its own end; where nothing else charges the bank,
 * they stay joined and that is said.
 */
function partedBanks(now: Model, found: readonly Finding[]): { off: Interim['off'][number]; changes: Change[] }[] {
  const joined = (now.system.otherBanks ?? []).filter(isBridged);
  if (joined.length === 0 || !charged(now)) return [];
  const changes = joined.map(({ id }): Change => ({ op: 'set', at: 'otherBanks', id, value: { joinedBy: 'none' } }));
  const after = check(withChanges(now, changes));
  const still = new Set(after.map(keyOf));
  const cured = found.find((one) => hurts(one) && one.subject === now.system.bank?.id && !still.has(keyOf(one)));
  if (!cured || harmed(found, after).some(hurts)) return [];
  return joined.map((other, i) => ({
    off: { id: other.id, how: partedFrom(now, other), why: sentenceOf(now, cured) },
    changes: changes.slice(i, i + 1),
  }));
}

/** How another battery is parted from the bank: its cable at its own end, or what joins the two. */
function partedFrom({ system }: Model, { id, role, joinedBy }: OtherBank): string {
  const run = system.runs?.find(({ from, to }) => from === id || to === id);
  if (run) return `disconnect ${runName(system, run)} at the ${role} battery and cap it`;
  return joinedBy === 'switch'
    ? `open the switch between the ${role} battery and the bank, and lock it`
    : `take the lead of the ${joinedBy} off the ${role} battery and cap it, then off the bank`;
}

/** Volts that some device or load does not stand: equalising off, absorb and float at the chemistry's own. */
function lowerVolts(model: Model): { limits: InterimLimit[]; changes: Change[] } | null {
  const { bank } = model.system;
  if (!bank) return null;
  const found = check(model);
  const before = hurtingIn(found);
  const cells = cellsInSeries(createLedger(model), bank);
  if (!Number.isFinite(cells)) return null;
  const table = CHEMISTRY[bank.chemistry];
  const tenth = (volts: number) => Math.floor(volts * cells * 10 + 1e-9) / 10;
  const devices = chargingDevices(model.system);
  const steps: Settings[] = [
    { equalise_V: 0 },
    { equalise_V: 0, absorb_V: tenth(table.absorb_V), ...(table.float_V ? { float_V: tenth(table.float_V) } : {}) },
    // Held at float: fills a bank slowly, and harms nothing.
    ...(table.float_V ? [{ equalise_V: 0, absorb_V: tenth(table.float_V), float_V: tenth(table.float_V) }] : []),
  ];
  // Of what helps, the step that leaves least over; of equals, the one that changes least.
  const [best] = steps
    .map((wanted) => {
      const changes = devices.map(({ set }) => set(wanted));
      return { wanted, changes, then: check(withChanges(model, changes)) };
    })
    .filter(({ then }) => helps(before, hurtingIn(then)) && !harmed(found, then).some(hurts))
    .sort((a, b) => hurtingIn(a.then).size - hurtingIn(b.then).size);
  if (!best) return null;
  const rule = bindingIn(found, best.then);
  const limits = devices.flatMap(({ id, name, settings: found }) =>
    (Object.entries(best.wanted) as [keyof Settings, number][]).flatMap(([setting, value]): InterimLimit[] =>
      found?.[setting] === value
        ? []
        : [
            {
              kind: 'volts',
              id,
              setting,
              value,
              unit: 'V',
              rule,
              text:
                setting === 'equalise_V'
                  ? `${name}: equalising off`
                  : `${name}: ${setting === 'absorb_V' ? 'absorb' : 'float'} at ${figure(value)} V`,
            },
          ],
    ),
  );
  return { limits, changes: best.changes };
}

/** What can be left off so that a finding's subject carries nothing: the device at the end of a cable, the array. */
function offPart({ runs, bank, distribution, ...system }: System, subject: string): string[] {
  const keep = new Set([bank?.id, ...(distribution ?? []).map(({ id }) => id)]);
  const run = runs?.find(({ id }) => id === subject);
  if (run) {
    const ends = [run.from, run.to].filter((id): id is string => Boolean(id) && !keep.has(id ?? ''));
    // Light is switched off at the array, everything else at the device that the cable feeds.
    return ends.slice(run.kind === 'pv' ? 0 : -1, run.kind === 'pv' ? 1 : undefined);
  }
  const chargers = (system.chargers ?? []).filter((charger) => sourceOfCharger(system, charger)?.id === subject);
  if (chargers.length > 0) return chargers.map(({ id }) => id);
  const device = [
    ...(system.arrays ?? []),
    ...(system.controllers ?? []),
    ...(system.inverters ?? []),
    ...(system.chargers ?? []),
    ...(system.converters ?? []),
    ...(system.loads ?? []),
  ].find(({ id }) => id === subject);
  return device ? [subject] : [];
}

/** A part out of use, with its cables and with what points at it. */
function removal(system: System, id: string): Change[] {
  const list = (['arrays', 'controllers', 'inverters', 'chargers', 'converters', 'loads'] as const).find((name) =>
    (system[name] ?? []).some((part) => part.id === id),
  );
  if (!list) return [];
  // An array without its controller feeds nothing: it goes off first.
  const arrays = list === 'controllers' ? (system.arrays ?? []).filter(({ controllerId }) => controllerId === id) : [];
  if (arrays[0]) {
    const first = removal(system, arrays[0].id);
    return [...first, ...removal(mergeChanges(system, first), id)];
  }
  return [
    ...(list === 'inverters' || list === 'converters'
      ? (system.loads ?? [])
          .filter((load) =>
            list === 'inverters'
              ? load.kind === 'ac' && (load.inverterId ?? system.inverters?.[0]?.id) === id
              : load.converterId === id,
          )
          .map((load): Change => ({ op: 'remove', at: 'loads', id: load.id }))
      : []),
    ...takenOut(system, list, id),
  ];
}
