import type { RuleId } from '../rules/ids';
import { cellsInSeries, top_V } from '../bank/bank';
import { settingSheets } from '../bank/charging';
import { CHEMISTRY, isLithium } from '../chemistry/chemistry';
import { freshBank } from '../bank/fresh';
import { SOLD_V } from '../conductors/fuses';
import { unit_W } from '../power/loads';
import { restrung } from '../pv/restring';
import { check, sentenceOf } from '../rules/check';
import { figure } from '../ledger/figures';
import { worstFirst } from '../rules/finding';
import { ruleOf } from '../rules/index';
import { createLedger } from '../ledger/ledger';
import { CHARGER_A, sizeSold } from '../rules/cures/sold';
import { inputsOfKind } from '../successor/in-its-place';
import { controllerSpec } from '../successor/controller';
import { FUSE_ITSELF, fusesThatServe } from '../successor/wires';
import { type Model, withChanges } from '../system/model';

import type { Bank, Change, Controller, Inverter, Run, Settings, System } from '../system/schema';
import { judged, type PartVerdict } from './parts-after';
import { partTitle } from '../conductors/names';

/** What a higher nominal voltage does to each kind of part: the changes it takes, and what to say of it. */

/** A part that is to be ordered for another voltage, by its label. */
export const toOrder = (label: string, volts: number) =>
  `${label.replace(/, for \d+ V, to be chosen$/, '')}, for ${volts} V, to be chosen`;
const scaledVolts = (settings: Settings, factor: number) =>
  Object.fromEntries(
    Object.entries(settings).flatMap(([name, value]) =>
      typeof value === 'number' && /_V$/.test(name) ? [[name, Math.round(100 * value * factor) / 100]] : [],
    ),
  );
/** Volts that were set on any device, at the new bank; amperes and times stay. */
export const settingChanges = (system: System, factor: number): Change[] =>
  settingSheets(system).flatMap(({ settings, set }) => (settings ? [set(scaledVolts(settings, factor))] : []));

/** The same blocks regrouped where they divide; else a new bank of the same energy. */
export function bankValue(bank: Bank, to_V: number, parts: PartVerdict[]): Record<string, unknown> {
  const lithium = isLithium(bank.chemistry);
  const series = Math.round(to_V / bank.block_V);
  const blocks = bank.series * bank.parallel;
  const divides = series >= 1 && blocks % series === 0;
  const allowed = !lithium || series === 1 || (bank.maxSeries ?? 1) >= series;
  if (divides && allowed) {
    const parallel = blocks / series;
    parts.push(
      judged(
        bank.id,
        'reconfigure',
        `The same ${blocks} blocks: ${series} in series, ${parallel} ${parallel === 1 ? 'string' : 'strings'}.`,
      ),
    );
    return { series, parallel, ...(parallel > 1 ? {} : { tapping: null, fusedStrings: null }) };
  }
  parts.push(
    judged(
      bank.id,
      'replace',
      divides
        ? `Its blocks may not be rated for ${series} in series; a bank of the same energy instead.`
        : `${blocks} blocks do not divide into strings of ${series}, and old and new do not mix; a bank of the same energy instead.`,
    ),
  );
  // Blocks as they are sold for the step: 16 cells of 3.2 V or 14 of 3.7 V for 48 V.
  const block_V = (to_V / 12) * CHEMISTRY[bank.chemistry].step12_V;
  const share = (bank.series * bank.block_V) / block_V;
  const amps = (value: number | null | undefined) => (value ? Math.ceil(value * bank.parallel * share) : null);
  return {
    label: toOrder(bank.label ?? 'Bank', to_V),
    block_V,
    cells: null,
    blockCapacity_Ah: Math.ceil(bank.blockCapacity_Ah * bank.parallel * share),
    ...freshBank(1, 1),
    internal_mohm: null,
    tapping: null,
    fusedStrings: null,
    block: null,
    maxCharge_A: amps(bank.maxCharge_A),
    maxDischarge_A: amps(bank.maxDischarge_A),
    peakDischarge_A: amps(bank.peakDischarge_A),
  };
}

/** The first rule that a device fails at the new voltage, in a sentence; what cannot be said is not a pass. */
function fails(based: Model, id: string, rules: readonly RuleId[], unknownToo = false): string | null {
  const worst = check(based, rules.map(ruleOf))
    .filter(({ subject, verdict: is }) => subject === id && (is === 'over' || (unknownToo && is === 'unknown')))
    .sort(worstFirst)[0];
  return worst ? sentenceOf(based, worst) : null;
}

/** What a controller needs at another voltage; its verdict is added to `parts`. */
export function controllerChanges(
  based: Model,
  controller: Controller,
  factor: number,
  parts: PartVerdict[],
): Change[] {
  const { id, minBattery_V, maxBattery_V } = controller;
  const to_V = based.system.nominal_V ?? Number.NaN;
  const set = (value: Record<string, unknown>): Change[] => [{ op: 'set', at: 'controllers', id, value }];
  const why =
    fails(based, id, ['controller.voltage'], true) ??
    fails(based, id, ['pv.power', 'pv.output-current']) ??
    (minBattery_V && maxBattery_V
      ? null
      : 'Its battery voltage range is not recorded. It stays only if its nameplate includes this voltage.');
  if (!why) {
    parts.push(
      judged(
        id,
        'keep-reset',
        `It works at ${to_V} V, with half the current or less. Set its voltages again and fix the battery voltage by hand.`,
      ),
    );
    return [];
  }
  parts.push(judged(id, 'replace', why));
  return set({
    label: toOrder(partTitle(based.system, id) ?? 'Controller', to_V),
    // A tracker: a pwm controller would hold every string at the new volts. Its sizes follow from the strings.
    type: 'mppt',
    ...PROVISIONAL,
    minBattery_V: (to_V / 12) * 8,
    maxBattery_V: Math.max((to_V / 12) * 16, (maxBattery_V ?? 0) * factor),
    maxPv_W: null,
    limitsOutput: true,
  });
}

/** Stands on a controller to be chosen until its strings are known; the input volts are the most that is common. */
const PROVISIONAL = { maxPv_V: 250, maxPv_A: 1000, maxOutput_A: 1000 };

/** Controllers to be chosen get the least sizes sold that their strings ask for. */
export const sizedControllers = (devices: Model, replaced: ReadonlySet<string>): Change[] =>
  (devices.system.controllers ?? []).flatMap(({ id }): Change[] => {
    if (!replaced.has(id)) return [];
    const inputs = inputsOfKind(devices, id, 'controllers');
    const lines = inputs ? controllerSpec(inputs) : [];
    const value = Object.fromEntries(
      Object.keys(PROVISIONAL).flatMap((field) => {
        const least = lines.find((one) => one.field === field)?.value;
        return typeof least === 'number' ? [[field, least]] : [];
      }),
    );
    return [{ op: 'set', at: 'controllers', id, value }];
  });

/** Strings too short for the new volts are joined to longer ones, where that holds; the modules stay. */
export function stringChanges(devices: Model, parts: PartVerdict[]): Change[] {
  const PV: RuleId[] = ['pv.start-voltage', 'pv.hot-voltage', 'pv.cold-voltage'];
  return (devices.system.arrays ?? []).flatMap((array): Change[] => {
    const why = fails(devices, array.id, ['pv.start-voltage', 'pv.hot-voltage']);
    if (!why) {
      parts.push(judged(array.id, 'keep', 'Its strings reach the new voltage.'));
      return [];
    }
    const longer = restrung(devices.system, array, 'longer').find(
      ({ changes }) => !fails(withChanges(devices, changes), array.id, PV),
    );
    parts.push(
      judged(
        array.id,
        longer ? 'reconfigure' : 'replace',
        longer ? `${why} Instead: ${longer.title}.` : `${why} No longer string works here.`,
      ),
    );
    return longer?.changes ?? [];
  });
}

/** What an inverter needs at another voltage; its verdict is added to `parts`. */
export function inverterChanges(based: Model, inverter: Inverter, factor: number, parts: PartVerdict[]): Change[] {
  const { id, minDc_V, maxDc_V, lowCutoff_V, settings, charger } = inverter;
  const to_V = based.system.nominal_V ?? Number.NaN;
  const window = fails(based, id, ['inverter.voltage-window'], true);
  const fits = minDc_V && maxDc_V && !window;
  parts.push(
    fits
      ? judged(id, 'keep-reset', `It works at ${to_V} V. Set cut-off and reconnect again.`)
      : judged(id, 'replace', window ?? 'Its voltage range is not recorded. Most inverters are made for one voltage.'),
  );
  const { bank } = based.system;
  const cutoff = bank ? cellsInSeries(createLedger(based), bank) * CHEMISTRY[bank.chemistry].cutoff_V : null;
  const times = (value: number | null | undefined) => (value ? Math.round(100 * value * factor) / 100 : value);
  return [
    {
      op: 'set',
      at: 'inverters',
      id,
      value: {
        ...(fits
          ? cutoff && !settings?.cutoff_V
            ? { settings: { cutoff_V: Math.round(10 * cutoff) / 10 } }
            : {}
          : {
              label: toOrder(partTitle(based.system, id) ?? 'Inverter', to_V),
              ...(minDc_V ? { minDc_V: times(minDc_V) } : {}),
              ...(maxDc_V ? { maxDc_V: times(maxDc_V) } : {}),
              ...(lowCutoff_V ? { lowCutoff_V: times(lowCutoff_V) } : {}),
              ...(charger?.max_A ? { charger: { max_A: Math.ceil(charger.max_A / factor) } } : {}),
            }),
      },
    },
  ];
}

/** DC loads made for the old volts go behind one converter, sized for what may run together. */
export function loadChanges(based: Model, from_V: number, to_V: number, parts: PartVerdict[]): Change[] {
  const { system } = based;
  const bare = (system.loads ?? []).filter(({ kind, converterId }) => kind === 'dc' && !converterId);
  const io = createLedger(based);
  const top = system.bank ? top_V(io, system.bank) : Number.NaN;
  const stands = (max: number | null | undefined) => Boolean(max && max >= top);
  const behind = bare.filter(({ max_V }) => !stands(max_V));
  for (const { id } of bare.filter(({ max_V }) => stands(max_V)))
    parts.push(judged(id, 'keep', `Rated for up to ${figure(top)} V.`));
  for (const { id } of (system.loads ?? []).filter(({ kind }) => kind === 'ac'))
    parts.push(judged(id, 'keep', 'Behind the inverter.'));
  if (behind.length === 0) return [];
  const watts = behind.reduce((sum, load) => sum + unit_W(load) * (load.quantity ?? 1), 0);
  const existing = (system.converters ?? []).find(({ out_V }) => out_V === from_V);
  const id = existing?.id ?? 'step-down';
  const max_A = sizeSold(CHARGER_A, watts / from_V / 0.8) ?? Math.ceil(watts / from_V / 0.8);
  for (const load of behind)
    parts.push(judged(load.id, 'reconfigure', `For ${from_V} V: supply it from the converter.`));
  if (!existing)
    parts.push(
      judged(
        id,
        'add',
        `A converter from ${to_V} to ${from_V} V, ${max_A} A, with its own fuse, for the DC loads that stay.`,
      ),
    );
  return [
    ...(existing
      ? []
      : [
          {
            op: 'add' as const,
            at: 'converters',
            value: { id, label: `Step-down ${to_V} to ${from_V} V, to be chosen`, in_V: to_V, out_V: from_V, max_A },
          },
        ]),
    ...behind.map((load): Change => ({ op: 'set', at: 'loads', id: load.id, value: { converterId: id } })),
  ];
}

/** Fuses that the new voltage or the smaller currents leave unfit; cables stay, they only grow cooler. */
export function fuseChanges(after: Model, parts: PartVerdict[]): Change[] {
  return (after.system.runs ?? []).flatMap((run: Run): Change[] => {
    if (run.kind === 'pv' || run.kind === 'link' || !run.protection?.type || run.protection.type === 'none') {
      parts.push(judged(run.id, 'keep', 'Carries less than before.'));
      return [];
    }
    const why = fails(after, run.id, FUSE_ITSELF);
    if (!why) {
      parts.push(judged(run.id, 'keep', 'Carries less than before; its fuse is rated for the new voltage.'));
      return [];
    }
    parts.push(judged(run.id, 'replace', `The protection: ${why}`));
    const inputs = inputsOfKind(after, run.id, 'runs');
    const [serves] = inputs ? fusesThatServe(inputs) : [];
    const rating_A = serves?.ratings[0];
    return serves && rating_A !== undefined
      ? [
          {
            op: 'set',
            at: 'runs',
            id: run.id,
            value: {
              protection: {
                type: serves.type,
                rating_A,
                voltage_V: SOLD_V[serves.type],
                interrupt_A: null,
                dcRated: true,
              },
            },
          },
        ]
      : [];
  });
}
