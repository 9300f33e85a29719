import { cellsInSeries, top_V } from '../bank/bank';
import { CHEMISTRY, isLithium } from '../chemistry/chemistry';
import { sizeWords } from '../conductors/sizes';
import { arrayCurve } from '../pv/curve';
import { coldString_V, modulesOf } from '../pv/strings';
import { figure, round } from '../ledger/figures';
import { createLedger } from '../ledger/ledger';
import { CONTROLLER_OUTPUT_A, CONTROLLER_PV_A, CONTROLLER_PV_V } from '../rules/sold';
import { arraysOf } from '../system/model';
import type { ModuleType, PvArray } from '../system/schema';
import { down, findingsOf, leastOf, pathsOf, up, type Bench } from './bench';
import { eyes, line, type SpecLine } from './line';
import { said } from '../parts/said';

/** A pwm controller carries the array's own current, with the margin of a device that runs for hours; planning value. */
const PWM_MARGIN = 1.25;
/** Where over-panelling is allowed the array seldom gives more than this of its plate; the engine's own planning share. */
const CLIP_SHARE = 0.75;

/** Stands for every other member while one is asked for. */
const IDEAL = {
  maxPv_V: 1500,
  maxPv_A: 1000,
  maxOutput_A: 1000,
  maxPv_W: null,
  startAbove_V: 0,
  minBattery_V: 0,
  maxBattery_V: 1500,
  limitsOutput: true,
};

/** What a solar controller's successor must be (Practice, B). */
export function controllerSpec(bench: Bench<'controllers'>): SpecLine[] {
  const { model } = bench;
  const { system, schools } = model;
  const part = bench.part;
  const arrays = arraysOf(system, part.id);
  const strings = arrays.map(({ id }) => id);
  const ideal = { ...IDEAL, type: 'mppt' };
  const lines: (SpecLine | null)[] = [typeLine(bench, strings)];

  const ask = (
    field: string,
    label: string,
    unit: string,
    rule: string,
    sold: readonly number[] | number,
    more: { quantity?: string; must?: boolean } = {},
  ) =>
    leastOf(bench, {
      field,
      label,
      unit,
      rules: [rule],
      subjects: [part.id, ...strings],
      ideal: { ...ideal, [field]: null },
      sold,
      ...more,
    });
  lines.push(
    ask('maxPv_V', 'PV volts', 'V', 'pv.cold-voltage', CONTROLLER_PV_V, { quantity: 'controller' }),
    ask('maxPv_A', 'PV current', 'A', 'pv.input-current', CONTROLLER_PV_A),
    outputLine(bench, strings, ask('maxOutput_A', 'Output', 'A', 'pv.output-current', CONTROLLER_OUTPUT_A)),
  );
  const nominal = system.nominal_V;
  if (nominal)
    lines.push(
      ask(`maxPv_W.${nominal}`, `PV watts at ${nominal} V`, 'W', 'pv.power', 10, { must: false }),
      ...windowLines(bench, 'minBattery_V', 'maxBattery_V'),
    );
  lines.push(startLine(bench, strings), profileLine(bench, 'profiles'), currentLimitLine(bench));
  if (schools.controllerOutput === 'clip')
    lines.push(
      line({
        field: 'limitsOutput',
        label: 'Limits its own output',
        test: 'true',
        value: null,
        rule: 'pv.output-current',
        why: ['over-panelling is allowed only where the controller holds its own current'],
      }),
    );
  const { bank } = system;
  if (bank && isLithium(bank.chemistry) && !bank.heated)
    lines.push(
      eyes(
        'Stops charging in the cold',
        'a sensor on the cells, or an input that the pack can switch; proved, not claimed',
      ),
    );
  else if (bank && !isLithium(bank.chemistry))
    lines.push(
      line({
        field: 'temperatureSensor',
        label: 'Temperature sensor at the bank',
        test: 'true',
        value: null,
        why: ['lead wants other volts in the cold'],
        must: false,
      }),
    );
  if (part.selfUse_W)
    lines.push(
      line({
        field: 'selfUse_W',
        label: 'Own use',
        test: 'most',
        value: part.selfUse_W,
        exact: part.selfUse_W,
        unit: 'W',
        why: ['no more than the one that goes'],
        must: false,
      }),
    );
  lines.push(
    eyes('The same common pole as the old one', 'common positive and common negative do not mix on one frame'),
    eyes(terminalsLabel(bench), 'conductors are not thinned to fit a terminal'),
  );
  return lines.filter((one) => one !== null);
}

function typeLine(bench: Bench<'controllers'>, strings: string[]): SpecLine {
  // Asked as if it were pwm: where that throws away too much, only a tracker will do.
  const waste = findingsOf(bench.put({ ...IDEAL, type: 'pwm' }), ['pv.pwm-waste'], strings);
  const wasteful = waste.find(({ verdict }) => verdict === 'over' || verdict === 'unknown');
  const wasPwm = bench.part.type === 'pwm' && !wasteful;
  return line({
    field: 'type',
    label: 'Kind',
    test: 'one-of',
    value: wasPwm ? 'PWM or MPPT' : 'MPPT',
    words: wasPwm ? ['pwm', 'mppt'] : ['mppt'],
    rule: 'pv.pwm-waste',
    why: wasteful?.working.length ? wasteful.working : ['as the one that goes'],
  });
}

/** The output by the firm's school; a pwm part carries the strings' own current whatever the school. */
function outputLine(bench: Bench<'controllers'>, strings: string[], asked: SpecLine | null): SpecLine | null {
  if (!asked || asked.exact === null) return asked;
  const part = bench.part;
  if (bench.model.schools.controllerOutput === 'clip') {
    const exact = asked.exact * CLIP_SHARE;
    return {
      ...asked,
      exact,
      value: up(exact, CONTROLLER_OUTPUT_A),
      why: [...asked.why, `clipping allowed: ${CLIP_SHARE} of it, ${figure(exact)} A, is what the array mostly gives`],
    };
  }
  if (part.type !== 'pwm') return asked;
  const [isc] = findingsOf(bench.put({ ...IDEAL, type: 'pwm' }), ['pv.input-current'], strings.length ? [part.id] : []);
  const exact = Math.max(asked.exact, PWM_MARGIN * (isc?.demand ?? 0));
  return {
    ...asked,
    exact,
    value: up(exact, CONTROLLER_OUTPUT_A),
    why: [...asked.why, `if PWM: ${PWM_MARGIN} x the strings' own ${figure(isc?.demand ?? 0)} A`],
  };
}

function startLine(bench: Bench, strings: string[]): SpecLine | null {
  const found = findingsOf(bench.put({ ...IDEAL, type: 'mppt' }), ['pv.start-voltage'], strings);
  const tightest = found.reduce<(typeof found)[number] | null>(
    (worst, next) => (!worst || (next.use ?? 0) > (worst.use ?? 0) ? next : worst),
    null,
  );
  if (!tightest) return null;
  const missing = pathsOf(found, 'missing');
  const exact =
    missing.length > 0 || tightest.demand === null || tightest.limit === null
      ? null
      : (tightest.tightAbove ?? 1) * tightest.demand - tightest.limit;
  return line({
    field: 'startAbove_V',
    label: 'Volts above the battery to start, at most',
    test: 'most',
    value: exact === null ? null : down(exact, 0.5),
    exact,
    unit: 'V',
    rule: 'pv.start-voltage',
    why: tightest.working,
    missing,
    assumed: pathsOf(found, 'assumed'),
    must: false,
  });
}

/** The bank's volts, from its cut-off to the highest on the bus, inside a device's window. */
export function windowLines(bench: Bench, min: string, max: string): SpecLine[] {
  const { bank } = bench.model.system;
  const sensed = bench.kind === 'controllers' && bank && !isLithium(bank.chemistry);
  // The sensor that lead wants lifts the volts in the cold: the new one is asked to stand that too.
  const io = createLedger(sensed ? bench.put({ temperatureSensor: true }) : bench.model);
  const rule = bench.kind === 'inverters' ? 'inverter.voltage-window' : 'controller.voltage';
  if (!bank) io.miss('bank');
  const top = bank ? top_V(io, bank) : Number.NaN;
  const low = createLedger(bench.model);
  if (!bank) low.miss('bank');
  const bottom = bank ? cellsInSeries(low, bank) * CHEMISTRY[bank.chemistry].cutoff_V : Number.NaN;
  const missing = [...io.missing].sort();
  const known = (value: number) => (Number.isFinite(value) ? value : null);
  return [
    line({
      field: max,
      label: 'Stands battery volts up to',
      test: 'least',
      value: known(up(top, 0.1)),
      exact: known(top),
      unit: 'V',
      rule,
      why: [...io.working],
      missing,
      assumed: [...io.assumed].sort(),
    }),
    line({
      field: min,
      label: 'Works down to battery volts of',
      test: 'most',
      value: known(down(bottom, 0.1)),
      exact: known(bottom),
      unit: 'V',
      rule,
      why: [`the bank's cut-off under load: ${figure(bottom)} V`],
      missing: [...low.missing].sort(),
      assumed: [...low.assumed].sort(),
    }),
  ];
}

/** Charging profiles that serve the bank; volts of one's own serve any. */
export function profileLine(bench: Bench, field: string): SpecLine | null {
  const { bank } = bench.model.system;
  if (!bank) return null;
  const words = [bank.chemistry, ...CHEMISTRY[bank.chemistry].servedBy, 'custom'];
  const cells = cellsInSeries(createLedger(bench.model), bank);
  const absorb = round(cells * CHEMISTRY[bank.chemistry].absorb_V);
  return line({
    field,
    label: 'Charging profile',
    test: 'includes',
    value: words.join(' or '),
    words,
    rule:
      bench.kind === 'inverters'
        ? 'inverter.profile'
        : bench.kind === 'chargers'
          ? 'charger.profile'
          : 'controller.profile',
    why: [`the bank is ${said(bank.chemistry)}; volts of its own must reach ${absorb} V and switch equalising off`],
  });
}

/** What the bank still takes beside the other sources: a current limit that can be set that low. */
function currentLimitLine(bench: Bench): SpecLine | null {
  const [found] = findingsOf(bench.put({ 'settings.maxCharge_A': 0 }), ['bank.charge-max']);
  if (!found || found.limit === null || found.demand === null) return null;
  const room = found.limit * (found.tightAbove ?? 1) - found.demand;
  if (room <= 0) return eyes('Bank takes no more current', 'the other sources alone fill what the bank takes');
  return {
    ...eyes(`Output can be limited to ${figure(down(room, 1))} A`, 'the bank takes no more beside the other sources'),
    rule: 'bank.charge-max',
    why: found.working,
    must: false,
  };
}

/** "Terminals take 16 mm2": the cables that are to go in. */
export function terminalsLabel({ model, part }: Bench): string {
  const sizes = (model.system.runs ?? [])
    .filter(({ from, to }) => from === part.id || to === part.id)
    .map(({ size }) => sizeWords(size));
  return sizes.length > 0 ? `Terminals take ${[...new Set(sizes)].join(' and ')}` : 'Terminals take the cables';
}

/** Current of a new module against those that stay, in a string; the book of practice asks for half the rule's spread. */
const MATCH = 0.05;

/** What a module must be that takes the place of one in a string (the first string, where none is named). */
export function moduleSpec(bench: Bench<'arrays'>, string = 0): SpecLine[] {
  const { model } = bench;
  const array = bench.part;
  const members = modulesOf(model.system, array.strings[string] ?? []);
  const old = members[0];
  if (!old) return [];
  const stay = members.slice(1);
  const imp = stay.length > 0 ? Math.min(...stay.map(({ imp_A }) => imp_A)) : old.imp_A;
  const others = array.strings
    .filter((_, i) => i !== string)
    .map((ids) => modulesOf(model.system, ids).reduce((sum, { vmp_V }) => sum + vmp_V, 0));
  const staying_V = stay.reduce((sum, { vmp_V }) => sum + vmp_V, 0);
  const lines: SpecLine[] = [
    line({
      field: 'imp_A',
      label: 'Current at full power, at least',
      test: 'least',
      value: up((1 - MATCH) * imp, 0.01),
      exact: (1 - MATCH) * imp,
      unit: 'A',
      rule: 'pv.series-match',
      why: [
        `the modules that stay carry ${figure(imp)} A on their plates; within ${100 * MATCH} %`,
        'aged ones carry .5 to .7 % a year less: measure, and match what was measured',
      ],
    }),
    line({
      field: 'imp_A',
      label: 'Current at full power, at most',
      test: 'most',
      value: down((1 + MATCH) * imp, 0.01),
      exact: (1 + MATCH) * imp,
      unit: 'A',
      rule: 'pv.series-match',
      why: ['a stronger module is held back by the rest: watts paid for and not got'],
    }),
  ];
  if (others.length > 0) {
    const least = (1 - MATCH) * Math.max(...others) - staying_V;
    const most = (1 + MATCH) * Math.min(...others) - staying_V;
    const why = [`the other strings stand at ${others.map((volts) => `${figure(volts)} V`).join(', ')}; within 5 %`];
    const base = { field: 'vmp_V', unit: 'V', rule: 'pv.parallel-match', why } as const;
    lines.push(
      line({ ...base, label: 'Volts at full power, at least', test: 'least', value: up(least, 0.1), exact: least }),
      line({ ...base, label: 'Volts at full power, at most', test: 'most', value: down(most, 0.1), exact: most }),
    );
  }
  lines.push(...coldLine(bench, array, stay), ...fuseLine(bench, array, string, old));
  if (old.length_mm && old.width_mm)
    lines.push(sizeLine('length_mm', 'Length', old.length_mm), sizeLine('width_mm', 'Width', old.width_mm));
  lines.push(
    eyes('Connectors of one make, or both halves replaced', 'mixed plugs grow hot'),
    eyes('Clamps and holes fit the frame', 'as the old one stood'),
  );
  return lines;
}

const sizeLine = (field: string, label: string, most: number): SpecLine =>
  line({
    field,
    label,
    test: 'most',
    value: most,
    exact: most,
    unit: 'mm',
    why: ['the place of the old one'],
    must: false,
  });

/** Open volts that the coldest morning leaves for one module, by a planning coefficient where its own is not known. */
function coldLine({ model }: Bench, array: PvArray, stay: readonly ModuleType[]): SpecLine[] {
  const controller = model.system.controllers?.find(({ id }) => id === array.controllerId);
  if (!controller) return [];
  const io = createLedger(model);
  const limit = 0.95 * io.need(`${controller.id}.maxPv_V`, controller.maxPv_V);
  const taken = stay.length > 0 ? coldString_V(io, stay) : 0;
  // A blank coefficient falls to the bands, which is what one would be judged by.
  const unit: ModuleType = { id: 'new', pmax_W: 1, voc_V: 1, isc_A: 1, vmp_V: 1, imp_A: 1 };
  const factor = coldString_V(io, [stay[0] ? { ...stay[0], voc_V: 1 } : unit]);
  const missing = [...io.missing].filter((path) => !path.startsWith('new.')).sort();
  const exact = missing.length > 0 ? null : (limit - taken) / factor;
  return [
    line({
      field: 'voc_V',
      label: 'Open volts, at most',
      test: 'most',
      value: exact === null ? null : down(exact, 0.1),
      exact,
      unit: 'V',
      rule: 'pv.cold-voltage',
      why: [
        `${figure(limit)} V is 95 % of the controller's; the others bring ${figure(taken)} V on the coldest morning`,
        `a volt at 25 degC is ${figure(factor)} V then; check again with its own coefficient`,
      ],
      missing,
      assumed: [...io.assumed].filter((path) => !path.startsWith('new.')).sort(),
    }),
  ];
}

function fuseLine({ model }: Bench, array: PvArray, string: number, old: ModuleType): SpecLine[] {
  const each = array.strings.map((ids) => Math.max(...modulesOf(model.system, ids).map(({ isc_A }) => isc_A)));
  const back = 1.25 * each.reduce((sum, amps, i) => (i === string ? sum : sum + amps), 0);
  const flows = array.stringFuse_A ?? back;
  if (flows === 0) return [];
  // Where the modules that stay do not stand it either, it is the strings that want fuses, not this module.
  const others = old.maxSeriesFuse_A ?? null;
  const unfused = others !== null && flows > others;
  const least = unfused ? others : Math.max(flows, others ?? 0);
  return [
    line({
      field: 'maxSeriesFuse_A',
      label: 'Series fuse it stands, at least',
      test: 'least',
      value: up(least, 0.5),
      exact: least,
      unit: 'A',
      rule: 'pv.string-protection',
      why: [
        array.stringFuse_A
          ? `the string's fuse is ${figure(array.stringFuse_A)} A`
          : `the other strings can push back 1.25 x ${figure(back / 1.25)} A = ${figure(back)} A`,
        ...(unfused ? [`the modules that stay stand ${figure(others)} A: fuse every string`] : []),
      ],
    }),
  ];
}

/** Watts of a string with one module changed, in full sun at 25 degC: what the mismatch costs. */
export function wattsWith(model: Bench['model'], array: PvArray, string: number, module: ModuleType): number {
  const members = modulesOf(model.system, array.strings[string] ?? []);
  const standing = [module, ...members.slice(1)].map((one) => ({ module: one, cell_C: 25, irradiance_W_m2: 1000 }));
  return arrayCurve([standing]).best.p;
}
