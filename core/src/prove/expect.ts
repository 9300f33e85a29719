import { CHEMISTRY, isLithium } from '../chemistry/chemistry';
import { partName } from '../conductors/names';
import { figure } from '../ledger/figures';
import { createLedger } from '../ledger/ledger';
import { coldString_V, modulesOf } from '../pv/strings';
import { CAUTIONS } from '../rules/cautions';
import { mainsSources, type Model } from '../system/model';
import type { Bank, PvArray, Reading, Run, System } from '../system/schema';
import {
  CELL_ERROR_K,
  CONDITIONS,
  LEAST_LIGHT_W_M2,
  LEAST_SHARE,
  LIGHT_ERROR,
  SOC_ERROR,
  type Conditions,
} from './conditions';
import { figuresAt, type FiguresAt } from './figures-at';
import type { ControllerAt, Kept } from './sun-at';

/**
 * What a meter should read (10-work-prove, section 2): every row of practice D that applies, in the order of a walk, with
 * the band within which a reading says that all is well. The same model as everywhere, at the moment's conditions.
 */
export interface ExpectedTest {
  id: string;
  subject: string;
  position?: Position;
  quantity: Quantity;
  unit: string;
  expected: number;
  /** Two sigma; null: no bound on that side. */
  low: number | null;
  high: number | null;
  /** Anything below, or above, is right too; the bound is then what is expected. */
  bound?: 'most' | 'least';
  /** Why these conditions cannot discriminate: no reading is then right or wrong. */
  cannotTell?: string;
  how: string;
  tool: string;
  minutes: number;
  cautions: string[];
  /** Which rule judges the same thing by calculation. */
  rule?: string;
  /** Work on AC and on earths, where the law asks for a licence. */
  licensed?: true;
}
export type Position = NonNullable<Reading['position']>;

/** What can be read, with its unit and how it is called. Those of the open format (10-work-prove, section 2). */
export const QUANTITIES = {
  stringVoc_V: ['V', 'Open volts'],
  stringIsc_A: ['A', 'Short-circuit current'],
  stringImp_A: ['A', 'Current at work'],
  arrayVmp_V: ['V', 'Volts at work'],
  plusFrame_V: ['V', 'Plus to frame'],
  minusFrame_V: ['V', 'Minus to frame'],
  insulation_Mohm: ['Mohm', 'Insulation to frame'],
  pv_V: ['V', 'Volts at the PV terminals'],
  pv_A: ['A', 'Current from the array'],
  out_V: ['V', 'Output terminals'],
  out_A: ['A', 'Current into the bank'],
  rest_V: ['V', 'Volts at rest'],
  restVoltage_V: ['V', 'Volts at rest'],
  load_V: ['V', 'Volts under load'],
  absorb_V: ['V', 'Volts at absorb'],
  stringCurrent_A: ['A', 'String current'],
  blockRest_V: ['V', 'Block at rest'],
  blockLoad_V: ['V', 'Block under load'],
  density_kg_L: ['kg/L', 'Density'],
  resistance_mohm: ['mohm', 'Resistance'],
  temp_C: ['degC', 'Temperature'],
  drop_V: ['V', 'Lost along it'],
  joint_mohm: ['mohm', 'A joint'],
  jointRise_K: ['K', 'Joint above the air'],
  idle_A: ['A', 'Idle draw'],
  ac_V: ['V', 'AC volts'],
  ac_Hz: ['Hz', 'AC frequency'],
  dc_V: ['V', 'DC terminals'],
  minDc_V: ['V', 'Lowest volts at a start'],
  cutoff_V: ['V', 'Lets go at'],
  neutralEarth_ohm: ['ohm', 'Neutral to earth'],
  head_A: ['A', 'Shown by the monitor'],
  clamp_A: ['A', 'By the clamp'],
  zero_A: ['A', 'Shown with nothing flowing'],
  head_soc: ['', 'State of charge shown'],
  parasitic_A: ['A', 'Drawn with all off'],
  frameEarth_ohm: ['ohm', 'Frames to earth'],
  running_W: ['W', 'Running'],
  start_A: ['A', 'Starting'],
} as const;
export type Quantity = keyof typeof QUANTITIES;
export const isQuantity = (name: string): name is Quantity => Object.hasOwn(QUANTITIES, name);

/** A row of practice D before its band is worked out. */
interface Row {
  subject: string;
  position?: Position;
  quantity: Quantity;
  expected: number;
  /** At least so wide, below and above. */
  below: number;
  above: number;
  /** The same figure out of other conditions, for what their error makes of it; absent: they do not bear on it. */
  from?: (figures: FiguresAt) => number | undefined;
  /** Errors of its own beside the meter's and the conditions', two sigma. */
  own?: number[];
  /** `most`: anything below is right too; `least`: anything above. */
  bound?: 'most' | 'least';
  cannotTell?: string | null | false;
  how: string;
  tool: string;
  minutes: number;
  cautions?: string[];
  rule?: string;
  licensed?: true;
}

const VOLTMETER = 'voltmeter';
const CLAMP = 'DC clamp meter';

/**
 * All tests of a system, in the order of a walk from the sun down. What cannot be computed since something was not read
 * is left out here and named in `left`.
 * @param wants of which quantities; what nobody wants is not worked out
 */
export function expectedTests(
  model: Model,
  conditions: Partial<Conditions> = {},
  wants: (quantity: Quantity) => boolean = () => true,
): { tests: ExpectedTest[]; left: { subject: string; missing: string[] }[] } {
  const at: Conditions = { ...CONDITIONS, ...conditions };
  const kept: Kept = new Map();
  const figures = figuresAt(model, at, kept);
  const others = variations(at).map((changed) => figuresAt(model, changed, kept));
  const rows = [
    ...(model.system.arrays ?? []).flatMap((array) => arrayRows(model, array, figures, at, wants)),
    ...((['pv_V', 'pv_A', 'out_A'] as const).some(wants) ? controllerRows(model, figures, at) : []),
    ...(model.system.runs ?? []).flatMap((run) => runRows(model, run, figures, at)),
    ...(model.system.bank ? bankRows(model, model.system.bank, figures, at) : []),
    ...otherBankRows(model.system),
    ...inverterRows(model, figures),
    ...chargerRows(model, figures),
    ...siteRows(model, figures),
  ];
  const tests = rows
    .filter(({ expected, quantity }) => Number.isFinite(expected) && wants(quantity))
    .map((row) => banded(row, at, others));
  const told = new Set(tests.map(({ subject }) => subject));
  const left = [...figures.missing].flatMap(([subject, missing]) =>
    told.has(subject) && rows.every((row) => row.subject !== subject || Number.isFinite(row.expected))
      ? []
      : [{ subject: subject === 'controllers' ? 'site' : subject, missing: [...new Set(missing)] }],
  );
  return { tests, left };
}

/** The conditions with each of their errors, up and down: a pair for each. */
function variations(at: Conditions): Conditions[] {
  const light = LIGHT_ERROR[at.irradianceBy];
  const shifted = (change: Partial<Conditions>): Conditions => ({ ...at, ...change });
  // Air and cells are read by themselves: where the cells' own temperature is known the air moves the bank alone.
  const cells = (by: number) => (at.cell_C === null ? {} : { cell_C: at.cell_C + by });
  return [
    shifted({ irradiance_W_m2: at.irradiance_W_m2 * (1 + light) }),
    shifted({ irradiance_W_m2: at.irradiance_W_m2 * (1 - light) }),
    shifted({ ambient_C: at.ambient_C + CELL_ERROR_K, ...cells(CELL_ERROR_K) }),
    shifted({ ambient_C: at.ambient_C - CELL_ERROR_K, ...cells(-CELL_ERROR_K) }),
    shifted({ soc: Math.min(1, at.soc + SOC_ERROR) }),
    shifted({ soc: Math.max(0, at.soc - SOC_ERROR) }),
  ];
}

/** The root of the squares of the meter's error, the conditions' and the row's own; never narrower than the row. */
function banded(row: Row, at: Conditions, others: readonly FiguresAt[]): ExpectedTest {
  const { subject, position, quantity, expected, from, own = [], bound, cannotTell, how, tool, minutes, rule } = row;
  const even = [(at.meter_pct / 100) * expected, ...own];
  const [down, up] = [[...even], [...even]];
  for (let pair = 0; pair < others.length && from; pair += 2) {
    const off = [others[pair], others[pair + 1]].map((figures) => {
      const value = figures ? from(figures) : undefined;
      return value === undefined || !Number.isFinite(value) ? 0 : value - expected;
    });
    // Each side by itself: a bank a little fuller than was thought holds its sun back, a little emptier changes nothing.
    down.push(Math.min(0, ...off));
    up.push(Math.max(0, ...off));
  }
  const where = position
    ? Object.entries(position)
        .map(([name, index]) => `.${name}${index}`)
        .join('')
    : '';
  return {
    id: `${subject}.${quantity}${where}`,
    subject,
    ...(position ? { position } : {}),
    quantity,
    unit: QUANTITIES[quantity][0],
    expected,
    low: bound === 'most' ? null : expected - Math.max(row.below, bound ? 0 : Math.hypot(...down)),
    high: bound === 'least' ? null : expected + Math.max(row.above, bound ? 0 : Math.hypot(...up)),
    ...(bound ? { bound } : {}),
    ...(cannotTell ? { cannotTell } : {}),
    how,
    tool,
    minutes,
    cautions: row.cautions ?? [],
    ...(rule ? { rule } : {}),
    ...(row.licensed ? { licensed: row.licensed } : {}),
  };
}

const DIM = `under ${LEAST_LIGHT_W_M2} W/m2 an array tells little: wait for more light`;
const FEW = 'under a tenth of its design current a drop cannot be told from the meter\u2019s own error: load it more';
const dim = ({ irradiance_W_m2 }: Conditions) => irradiance_W_m2 < LEAST_LIGHT_W_M2 && DIM;
const few = ({ share }: Conditions) => share < LEAST_SHARE && FEW;

/** Insulation is tested at 250 V below 120 V open in the cold, else at 500 V. */
const TOUCH_V = 120;

function arrayRows(
  model: Model,
  array: PvArray,
  figures: FiguresAt,
  at: Conditions,
  wants: (quantity: Quantity) => boolean,
): Row[] {
  const found = figures.arrays.get(array.id);
  if (!found) return [];
  const light = LIGHT_ERROR[at.irradianceBy];
  const several = found.strings.length > 1;
  const live = [CAUTIONS.panelsLive];
  const rows: Row[] = found.strings.flatMap((string, s): Row[] => {
    const from = (member: 'voc_V' | 'isc_A' | 'imp_A') => (other: FiguresAt) =>
      other.arrays.get(array.id)?.strings[s]?.[member];
    const common = { subject: array.id, position: { string: s }, cannotTell: dim(at), minutes: 3, cautions: live };
    const atWork = (imp_A: number): Row => ({
      ...common,
      quantity: 'stringImp_A',
      expected: imp_A,
      below: light * imp_A,
      above: light * imp_A,
      from: from('imp_A'),
      how: `clamp on string ${s + 1} while the controller works and the bank takes all${several ? '; strings within 3 % of each other' : ''}`,
      tool: CLAMP,
    });
    return [
      {
        ...common,
        quantity: 'stringVoc_V',
        expected: string.voc_V,
        below: 0.03 * string.voc_V,
        above: 0.03 * string.voc_V,
        from: from('voc_V'),
        how: `string ${s + 1} alone, its isolator open, plus to minus${several ? '; all strings within 1 % of each other' : ''}`,
        tool: VOLTMETER,
        rule: 'pv.cold-voltage',
      },
      {
        ...common,
        quantity: 'stringIsc_A',
        expected: string.isc_A,
        below: light * string.isc_A,
        above: light * string.isc_A,
        from: from('isc_A'),
        how: `string ${s + 1} shorted behind a load-break isolator${several ? '; strings within 3 % of each other, whatever the light' : ''}`,
        tool: CLAMP,
      },
      ...(wants('stringImp_A') ? [atWork(string.imp_A)] : []),
    ];
  });
  if (wants('arrayVmp_V') && found.vmp_V !== null)
    rows.push({
      subject: array.id,
      quantity: 'arrayVmp_V',
      expected: found.vmp_V,
      below: 0.03 * found.vmp_V,
      above: 0.03 * found.vmp_V,
      from: (other) => other.arrays.get(array.id)?.vmp_V ?? undefined,
      cannotTell: dim(at),
      how: 'at the array\u2019s own terminals while the controller works and the bank takes all',
      tool: VOLTMETER,
      minutes: 2,
      cautions: live,
    });
  const io = createLedger(model);
  const cold_V = Math.max(...array.strings.map((string) => coldString_V(io, modulesOf(model.system, string))));
  const touchable = cold_V < TOUCH_V;
  if (Number.isFinite(cold_V))
    rows.push({
      subject: array.id,
      quantity: 'insulation_Mohm',
      expected: touchable ? 0.5 : 1,
      below: 0,
      above: 0,
      bound: 'least',
      how: `both poles together to the frame at ${touchable ? 250 : 500} V, controllers and arresters disconnected`,
      tool: 'insulation tester',
      minutes: 10,
      cautions: live,
      licensed: true,
    });
  return rows;
}

const BINDING: Readonly<Record<ControllerAt['binds'], string>> = {
  array: 'the array binds',
  limit: 'the controller\u2019s limit binds: its array\u2019s volts rise',
  bank: 'the bank takes no more: nothing is wrong',
};

function controllerRows({ system }: Model, figures: FiguresAt, at: Conditions): Row[] {
  return [...figures.controllers].flatMap(([id, found]): Row[] => {
    const light = LIGHT_ERROR[at.irradianceBy];
    const from = (member: 'pv_V' | 'pv_A' | 'out_A') => (other: FiguresAt) => other.controllers.get(id)?.[member];
    const how = `array ${figure(found.array_A)} A, limit ${figure(found.limit_A)} A, bank ${figure(found.bank_A)} A: ${BINDING[found.binds]}`;
    const common = { subject: id, cannotTell: dim(at), minutes: 2, cautions: [CAUTIONS.panelsLive] };
    const pwm = system.controllers?.find((one) => one.id === id)?.type === 'pwm';
    // A pwm that holds back chops its current: its volts swing between the bank's and the open array's.
    const chopped = pwm && found.binds !== 'array' && 'a PWM that holds back chops its current: a meter shows a mean';
    return [
      {
        ...common,
        cannotTell: dim(at) || chopped,
        quantity: 'pv_V',
        expected: found.pv_V,
        below: 0.03 * found.pv_V,
        above: 0.03 * found.pv_V,
        from: from('pv_V'),
        how: `at its PV terminals; ${how}`,
        tool: VOLTMETER,
      },
      {
        ...common,
        quantity: 'pv_A',
        expected: found.pv_A,
        below: Math.max(0.08, light) * found.pv_A,
        above: Math.max(0.08, light) * found.pv_A,
        from: from('pv_A'),
        how: `clamp on its PV cable; ${how}`,
        tool: CLAMP,
      },
      {
        ...common,
        quantity: 'out_A',
        expected: found.out_A,
        below: 0.08 * found.out_A,
        above: 0.08 * found.out_A,
        from: from('out_A'),
        how: `clamp on its output; ${how}`,
        tool: CLAMP,
        rule: 'controller.output-current',
      },
    ];
  });
}

/** A joint of two lugs and a bolt, mohm: as it should be, and from where it is made again. */
const GOOD_JOINT_MOHM = 0.1;
const BAD_JOINT_MOHM = 0.25;
/** A good joint rises so much at its full current, K, and as the current to this power. */
const GOOD_RISE_K = 5;
const RISE_POWER = 1.8;

function runRows(model: Model, run: Run, figures: FiguresAt, at: Conditions): Row[] {
  const found = figures.runs.get(run.id);
  if (!found) return [];
  const { drop_V, cable_V, amps } = found;
  const name = partName(model, run.id);
  const rows: Row[] = [
    {
      subject: run.id,
      quantity: 'drop_V',
      expected: drop_V,
      below: 0.2 * drop_V + 0.01,
      above: 0.3 * drop_V + 0.01,
      own: [0.1 * cable_V],
      cannotTell: few(at),
      how: `${figure(amps)} A flowing: from end to end on the plus and on the minus of ${name}, the two added; fuses and joints in`,
      tool: 'millivoltmeter and DC clamp meter',
      minutes: 4,
      cautions: [run.kind === 'pv' ? CAUTIONS.panelsLive : CAUTIONS.bankAmps],
      rule: 'run.drop',
    },
  ];
  if (!run.joints) return rows;
  return [
    ...rows,
    {
      subject: run.id,
      quantity: 'joint_mohm',
      expected: GOOD_JOINT_MOHM,
      below: GOOD_JOINT_MOHM,
      above: BAD_JOINT_MOHM - GOOD_JOINT_MOHM,
      bound: 'most',
      cannotTell: few(at),
      how: `across each joint of ${name} at ${figure(amps)} A; above ${BAD_JOINT_MOHM} mohm it is made again`,
      tool: 'millivoltmeter and DC clamp meter',
      minutes: 3,
      cautions: [CAUTIONS.bankAmps],
      rule: 'run.joints',
    },
    {
      subject: run.id,
      quantity: 'jointRise_K',
      expected: GOOD_RISE_K * at.share ** RISE_POWER,
      below: 0,
      above: 0,
      bound: 'most',
      cannotTell: at.share < 0.5 && 'joints are judged after half an hour at half their current or more',
      how: `after 30 min at ${figure(amps)} A, above the air; three times as much is over`,
      tool: 'thermal camera or contact thermometer',
      minutes: 5,
      cautions: [CAUTIONS.bankAmps],
      rule: 'run.joints',
    },
  ];
}

function bankRows({ system }: Model, bank: Bank, figures: FiguresAt, at: Conditions): Row[] {
  const found = figures.bank;
  if (!found) return [];
  const { rest_V, resistance_ohm, drawn_A, load_V, absorb_V, shares, density_kg_L } = found;
  const lithium = isLithium(bank.chemistry);
  const twelves = (found.cells * CHEMISTRY[bank.chemistry].nominal_V) / 12;
  const resting = (lithium ? 0.02 : 0.05) * twelves;
  const common = { subject: bank.id, cautions: [CAUTIONS.bankAmps] };
  const sagged = drawn_A * resistance_ohm;
  const rows: Row[] = [
    {
      ...common,
      quantity: 'rest_V',
      expected: rest_V,
      below: resting,
      above: resting,
      from: (other) => other.bank?.rest_V,
      how: `at the posts, rested ${lithium ? '1 h' : '4 h'} and more, at ${figure(100 * at.soc)} % of charge${lithium ? '; flat: it tells little of the charge' : ''}`,
      tool: VOLTMETER,
      minutes: 2,
    },
    {
      ...common,
      quantity: 'resistance_mohm',
      expected: 1000 * resistance_ohm,
      below: 300 * resistance_ohm,
      above: 500 * resistance_ohm,
      cannotTell: few(at),
      how: 'volts lost over amperes, for a step of 5 to 10 s at the posts',
      tool: 'voltmeter and DC clamp meter',
      minutes: 5,
      rule: 'system.sag',
    },
    {
      ...common,
      quantity: 'load_V',
      expected: load_V,
      below: resting + 0.5 * sagged,
      above: resting + 0.3 * sagged,
      from: (other) => other.bank?.load_V,
      cannotTell: few(at),
      how: `at the posts with ${figure(drawn_A)} A drawn for 10 s`,
      tool: 'voltmeter and DC clamp meter',
      minutes: 3,
      rule: 'system.sag',
    },
    {
      ...common,
      quantity: 'absorb_V',
      expected: absorb_V,
      below: 0.1 * twelves,
      above: 0.1 * twelves,
      how: 'at the posts while it holds, read back from each device too',
      tool: VOLTMETER,
      minutes: 5,
      rule: 'settings',
    },
  ];
  if (bank.series > 1)
    rows.push({
      ...common,
      quantity: 'blockRest_V',
      expected: rest_V / bank.series,
      below: resting / bank.series,
      above: resting / bank.series,
      from: (other) => (other.bank ? other.bank.rest_V / bank.series : undefined),
      how: 'every block, each by itself: they stand alike',
      tool: VOLTMETER,
      minutes: 2 * bank.series * bank.parallel,
    });
  if (density_kg_L !== null)
    rows.push({
      ...common,
      quantity: 'density_kg_L',
      expected: density_kg_L,
      below: 0.025,
      above: 0.025,
      from: (other) => other.bank?.density_kg_L ?? undefined,
      how: 'every cell; more than 0.025 between them: equalise, more than 0.030 afterwards: the cell has failed',
      tool: 'hydrometer, goggles, gloves',
      minutes: found.cells * bank.parallel,
      cautions: [CAUTIONS.gas],
    });
  if (bank.parallel > 1)
    rows.push(
      ...shares.map((share, s): Row => ({
        ...common,
        position: { string: s },
        quantity: 'stringCurrent_A',
        expected: -drawn_A * share,
        below: 0.1 * drawn_A * share,
        above: 0.1 * drawn_A * share,
        cannotTell: few(at),
        how: `clamp on the lead of string ${s + 1} with ${figure(drawn_A)} A drawn in all; charging reads above 0`,
        tool: CLAMP,
        minutes: 2,
        rule: 'bank.sharing',
      })),
    );
  const { monitor } = system;
  if (monitor)
    rows.push(
      {
        subject: monitor.id,
        quantity: 'zero_A',
        expected: 0,
        below: 0.1,
        above: 0.1,
        how: 'all isolated: nothing flows, and the monitor says so',
        tool: 'the monitor itself',
        minutes: 2,
      },
      {
        subject: monitor.id,
        quantity: 'head_A',
        expected: -drawn_A,
        below: 0.02 * drawn_A + 0.5,
        above: 0.02 * drawn_A + 0.5,
        cannotTell: few(at),
        how: `against a clamp on the bank\u2019s lead, ${figure(drawn_A)} A drawn`,
        tool: CLAMP,
        minutes: 3,
        rule: 'monitor.coverage',
      },
    );
  return rows;
}

/** A starter battery is kept near full: what it is not tells that it is not charged. Cells of 2 V lead, full at rest. */
const KEPT_SHARE_V = 0.07;

const otherBankRows = ({ otherBanks }: System): Row[] =>
  (otherBanks ?? []).map(({ id, chemistry, nominal_V }): Row => {
    const { nominal_V: cell_V, full_V } = CHEMISTRY[chemistry ?? 'flooded'];
    const cells = Math.round(nominal_V / cell_V);
    return {
      subject: id,
      quantity: 'rest_V',
      expected: cells * full_V,
      below: cells * KEPT_SHARE_V,
      above: cells * KEPT_SHARE_V,
      how: 'at its posts, rested: it is kept near full',
      tool: VOLTMETER,
      minutes: 2,
      cautions: [CAUTIONS.bankAmps],
    };
  });

function inverterRows({ system }: Model, figures: FiguresAt): Row[] {
  const twelves = (system.nominal_V ?? 12) / 12;
  const supply = mainsSources(system)[0]?.ac_V ?? 230;
  return [...figures.inverters].flatMap(([id, { idle_A, minDc_V, cutoff_V }]): Row[] => {
    const inverter = system.inverters?.find((one) => one.id === id);
    const wanted_V = cutoff_V === null ? null : cutoff_V + 0.3 * twelves;
    const rows: Row[] = [
      {
        subject: id,
        quantity: 'idle_A',
        expected: idle_A,
        below: 0.2 * idle_A,
        above: 0.2 * idle_A,
        how: 'clamp on its DC lead, switched on, nothing plugged in',
        tool: CLAMP,
        minutes: 3,
        rule: 'inverter.idle',
      },
      {
        subject: id,
        quantity: 'ac_V',
        expected: supply,
        below: 0.05 * supply,
        above: 0.05 * supply,
        cannotTell:
          inverter?.waveform === 'modified' && 'a modified wave needs a true-RMS meter and its maker\u2019s figure',
        how: 'at its outlet, without load and under load',
        tool: 'true-RMS voltmeter',
        minutes: 2,
        licensed: true,
      },
      {
        subject: id,
        quantity: 'ac_Hz',
        // Where the supply is below 200 V it runs at 60 Hz nearly everywhere; planning value, its plate tells.
        expected: supply < 200 ? 60 : 50,
        below: supply < 200 ? 0.3 : 0.25,
        above: supply < 200 ? 0.3 : 0.25,
        how: 'at its outlet; its plate says which frequency it is made for',
        tool: 'true-RMS voltmeter with frequency',
        minutes: 1,
        licensed: true,
      },
      {
        subject: id,
        quantity: 'neutralEarth_ohm',
        expected: 1,
        below: 0,
        above: 0,
        bound: 'most',
        how: 'one bond in each mode, and the RCD trips: by a licensed person',
        tool: 'installation tester',
        minutes: 10,
        licensed: true,
      },
    ];
    if (cutoff_V !== null)
      rows.push({
        subject: id,
        quantity: 'cutoff_V',
        expected: cutoff_V,
        below: 0.1 * twelves,
        above: 0.1 * twelves,
        how: 'at its terminals when it lets go, within 2 s of its delay; with a bench supply, or read from its menu',
        tool: VOLTMETER,
        minutes: 5,
        rule: 'cutoff.order',
      });
    // Where no voltage satisfies the start there is nothing to expect: the rule says so.
    if (minDc_V !== null && Number.isFinite(minDc_V))
      rows.push({
        subject: id,
        quantity: 'minDc_V',
        expected: minDc_V,
        // Whatever is expected, what counts is that it stays clear of the cut-off.
        below: wanted_V === null ? 0.1 * twelves : minDc_V - wanted_V,
        above: 0.1 * twelves,
        from: (other) => other.inverters.get(id)?.minDc_V ?? undefined,
        cannotTell:
          wanted_V !== null &&
          minDc_V < wanted_V &&
          'by calculation it already comes within 0.3 V per 12 V of its cut-off: see the sag',
        how: `at its DC terminals through the hardest start${wanted_V === null ? '' : `, to stay above ${figure(wanted_V)} V`}; a min-hold of 100 ms misses it`,
        tool: 'oscilloscope or fast min-hold voltmeter',
        minutes: 5,
        rule: 'system.sag',
      });
    return rows;
  });
}

const chargerRows = ({ system }: Model, figures: FiguresAt): Row[] =>
  [...figures.chargers].map(([id, { out_A, most_A }]): Row => {
    const mains = system.chargers?.find((one) => one.id === id)?.kind === 'mains';
    return {
      subject: id,
      quantity: 'out_A',
      expected: out_A,
      below: 0.08 * out_A,
      above: 0.08 * out_A,
      from: (other) => other.chargers.get(id)?.out_A,
      how: `clamp on its output; it can give ${figure(most_A)} A, ${out_A < most_A ? 'the bank takes no more: nothing is wrong' : 'the charger binds'}`,
      tool: CLAMP,
      minutes: 3,
      cautions: mains ? [CAUTIONS.chargerLoop] : [],
      rule: 'bank.charge-min',
    };
  });

function siteRows({ system }: Model, figures: FiguresAt): Row[] {
  const rows: Row[] = [];
  if (system.bank)
    rows.push({
      subject: 'site',
      quantity: 'parasitic_A',
      expected: figures.parasitic_A,
      below: 0.2 * figures.parasitic_A,
      above: 0.2 * figures.parasitic_A,
      from: (other) => other.parasitic_A,
      cannotTell: figures.parasitic_A === 0 && 'nothing that stays on is listed with its watts',
      how: 'all loads and the inverter off, no sun: what still leaves the bank',
      tool: 'clamp meter that reads milliamperes, or a meter in series',
      minutes: 5,
      cautions: [CAUTIONS.bankAmps],
    });
  if ((system.arrays ?? []).length > 0)
    rows.push({
      subject: 'site',
      quantity: 'frameEarth_ohm',
      expected: 0.2,
      below: 0,
      above: 0,
      bound: 'most',
      how: 'from each frame to the earth bar',
      tool: 'low-resistance meter',
      minutes: 5,
      licensed: true,
    });
  return rows;
}

/** What a reading says of its test: a shape and a word, never a colour alone. */
export type Judgement = 'inside' | 'outside' | 'cannot-tell';
export function judge(
  { low, high, cannotTell }: Pick<ExpectedTest, 'low' | 'high' | 'cannotTell'>,
  value: number,
): Judgement {
  if (cannotTell) return 'cannot-tell';
  return (low !== null && value < low) || (high !== null && value > high) ? 'outside' : 'inside';
}
