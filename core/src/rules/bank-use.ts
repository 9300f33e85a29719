import { capacity_Ah, c20_Ah, chargingDevices, place_min_C, cellsInSeries } from '../bank/bank';
import { CHEMISTRY, isLithium } from '../bank/chemistry';
import { harvest_Wh, occupied, usable_Wh } from '../bank/energy';
import { sharing } from '../bank/resistance';
import { continuousDischarge_A, recordedDischarge_A, runningDischarge_A, surgeDischarge_A } from '../power/discharge';
import { controllers_W, daily_Wh, idle_Wh, isWinter, low_V } from '../power/loads';
import { between } from '../system/between';
import type { Model } from '../system/model';
import type { Bank } from '../system/schema';
import { allCharging_A } from './bank';
import { figure, round } from './figures';
import type { Ledger } from './ledger';
import { rule, type Case, type Outcome } from './rule';

const bankCase = ({ system }: Model): Case<Bank>[] =>
  system.bank ? [{ subject: system.bank.id, of: system.bank }] : [];
const having = (wanted: (bank: Bank, model: Model) => boolean) => (model: Model) =>
  bankCase(model).filter(({ of }) => wanted(of, model));
const lithium = ({ chemistry }: Bank) => isLithium(chemistry);
const lead = (bank: Bank) => !lithium(bank);
const present = (value: number | null | undefined): value is number => value !== null && value !== undefined;
const yet = 'cannot be said yet.';

/** What the bank lets out for long, A, and whether that is only the table's planning value. */
function dischargeLimit(io: Ledger, bank: Bank): { limit: number; planning: boolean } {
  const block = io.see(`${bank.id}.maxDischarge_A`, bank.maxDischarge_A);
  if (present(block)) {
    const limit = block * bank.parallel * (bank.parallel > 1 ? 0.9 : 1);
    io.work(
      `${bank.parallel} x ${figure(block)} A${bank.parallel > 1 ? ' x 0.9, since strings never share evenly' : ''} = ${figure(limit)} A`,
    );
    return { limit, planning: false };
  }
  if (lithium(bank)) return { limit: io.need(`${bank.id}.maxDischarge_A`, null), planning: false };
  const fraction = CHEMISTRY[bank.chemistry].dischargeMax;
  const limit = fraction * c20_Ah(io, bank);
  io.work(`${bank.chemistry}: ${fraction} of C20 = ${figure(limit)} A for long`);
  return { limit, planning: true };
}

const discharge = rule<Bank>({
  id: 'bank.discharge',
  title: 'Discharge current',
  consequence: 'outage',
  cautions: ['bankAmps'],
  cases: (model) =>
    bankCase(model).flatMap(({ subject, of }) => [
      { subject, of, quantity: 'continuous' },
      ...((model.system.loads ?? []).some(({ recordedPeak_W }) => present(recordedPeak_W))
        ? [{ subject, of, quantity: 'recorded peak' }]
        : []),
    ]),
  evaluate(io, bank, quantity) {
    const demand = quantity === 'continuous' ? continuousDischarge_A(io) : (recordedDischarge_A(io) ?? 0);
    const { limit, planning } = dischargeLimit(io, bank);
    io.work(
      `${quantity === 'continuous' ? 'inverters at their rating and DC loads' : 'recorded peaks'}: ${figure(demand)} A`,
    );
    return { ratio: { demand, limit, unit: 'A', sense: 'max', tightAbove: 0.9, softened: planning } };
  },
  sentence: ({ demand, limit, verdict }) =>
    verdict === 'unknown'
      ? 'How much current the bank lets out was not read.'
      : `The bank can be asked for ${round(demand ?? NaN)} A and gives ${round(limit ?? NaN)} A for long.`,
});

const surge = rule<Bank>({
  id: 'bank.surge',
  title: 'Surge from the bank',
  consequence: 'outage',
  cases: (model) =>
    having((bank, { system }) => lithium(bank) && (system.inverters ?? []).length > 0)(model).flatMap(
      ({ subject, of }) => [
        { subject, of, quantity: 'current' },
        ...(present(of.peak_s) && (model.system.inverters ?? []).some(({ surge_s }) => present(surge_s))
          ? [{ subject, of, quantity: 'duration' }]
          : []),
      ],
    ),
  evaluate(io, bank, quantity) {
    const base = { sense: 'max', tightAbove: 0.9 } as const;
    if (quantity === 'duration') {
      const demand = Math.max(
        ...(io.model.system.inverters ?? []).flatMap(({ surge_s }) => (present(surge_s) ? [surge_s] : [])),
      );
      const limit = io.need(`${bank.id}.peak_s`, bank.peak_s);
      io.work(`the inverter surges for ${figure(demand)} s, the bank for ${figure(limit)} s`);
      return { ratio: { ...base, demand, limit, unit: 's' } };
    }
    const demand = surgeDischarge_A(io);
    const limit =
      io.need(`${bank.id}.peakDischarge_A`, bank.peakDischarge_A) * bank.parallel * (bank.parallel > 1 ? 0.9 : 1);
    io.work(`inverters' surge ${figure(demand)} A; the bank peaks at ${figure(limit)} A`);
    return { ratio: { ...base, demand, limit, unit: 'A' } };
  },
  sentence: ({ demand, limit, unit, verdict }) =>
    verdict === 'unknown'
      ? 'What the bank gives at a peak was not read.'
      : `A surge of ${round(demand ?? NaN)} ${unit} on a bank that peaks at ${round(limit ?? NaN)} ${unit}.`,
});

const nMinusOne = rule<Bank>({
  id: 'bank.n-1',
  title: 'One string fewer',
  consequence: 'outage',
  cases: having((bank) => lithium(bank) && bank.parallel > 1),
  evaluate(io, bank) {
    const demand = recordedDischarge_A(io) ?? runningDischarge_A(io);
    const limit = (bank.parallel - 1) * 0.9 * io.need(`${bank.id}.maxDischarge_A`, bank.maxDischarge_A);
    io.work(`peak ${figure(demand)} A; one string fewer gives ${figure(limit)} A`);
    return { ratio: { demand, limit, unit: 'A', sense: 'max', tightAbove: 1, softened: true } };
  },
  sentence: ({ demand, limit, verdict }) =>
    verdict === 'unknown'
      ? `Whether one string fewer would do ${yet}`
      : `With one string out the bank gives ${round(limit ?? NaN)} A of the ${round(demand ?? NaN)} A that is asked.`,
});

const coldCharge = rule<Bank>({
  id: 'bank.cold-charge',
  title: 'Charging in the cold',
  consequence: 'damage',
  cautions: ['coldLithium'],
  cases: having(lithium),
  evaluate(io, bank) {
    const coldest = place_min_C(io, bank);
    if (coldest >= 10) return null;
    const fraction = coldest < 0 ? 0 : coldest < 5 ? 0.05 : 0.2;
    const demand = allCharging_A(io);
    const limit = fraction * c20_Ah(io, bank);
    io.work(
      `at ${figure(coldest)} degC at most ${fraction} of C20 = ${figure(limit)} A; all sources ${figure(demand)} A`,
    );
    const softened =
      io.flag(`${bank.id}.lowTemperatureProtection`, bank.lowTemperatureProtection) ||
      io.flag(`${bank.id}.heated`, bank.heated);
    return { ratio: { demand, limit, unit: 'A', sense: 'max', tightAbove: 1, softened } };
  },
  sentence: ({ demand, limit, verdict }) =>
    verdict === 'unknown'
      ? `Whether the cells are charged too cold ${yet}`
      : `In the cold the cells take ${round(limit ?? NaN)} A; ${round(demand ?? NaN)} A can be pushed into them.`,
});

const voltage = rule<Bank>({
  id: 'bank.voltage',
  title: "Bank's volts fit the system",
  consequence: 'damage',
  cases: bankCase,
  evaluate(io, bank) {
    const nominal = io.need('system.nominal_V', io.model.system.nominal_V);
    const demand = 100 * Math.abs((bank.series * bank.block_V) / nominal - 1);
    io.work(`${bank.series} x ${figure(bank.block_V)} V against ${figure(nominal)} V: ${figure(demand)} % apart`);
    return { ratio: { demand, limit: 12, unit: '%', sense: 'max', tightAbove: 1 } };
  },
  sentence: ({ demand, verdict }) =>
    verdict === 'unknown'
      ? 'The system voltage was not read.'
      : `The bank's label is ${round(demand ?? NaN)} % off the system's voltage.`,
});

const parallelCount = rule<Bank>({
  id: 'bank.parallel-count',
  title: 'Strings in parallel',
  consequence: 'life',
  cases: bankCase,
  evaluate: (io, bank) => ({
    ratio: {
      demand: bank.parallel,
      limit: io.or(`${bank.id}.maxParallel`, bank.maxParallel, 4),
      unit: 'strings',
      sense: 'max',
      tightAbove: 1,
    },
  }),
  sentence: ({ demand, limit }) => `${demand} strings in parallel; ${limit} are the most.`,
});

const seriesCount = rule<Bank>({
  id: 'bank.series-count',
  title: 'Blocks in series',
  consequence: 'danger',
  cases: having((bank) => present(bank.maxSeries) || (lithium(bank) && bank.series > 1)),
  evaluate(io, bank): Outcome {
    if (!present(bank.maxSeries)) {
      io.work(`${bank.series} lithium blocks in series; nothing says that their protection may be`);
      return { verdict: 'over' };
    }
    return {
      ratio: {
        demand: bank.series,
        limit: io.need(`${bank.id}.maxSeries`, bank.maxSeries),
        unit: 'blocks',
        sense: 'max',
        tightAbove: 1,
      },
    };
  },
  sentence: ({ demand, limit }) =>
    limit === null
      ? 'Lithium blocks in series without a word that they may be.'
      : `${demand} blocks in series; ${limit} are the most.`,
});

const shares = rule<Bank>({
  id: 'bank.sharing',
  title: 'Strings share the current',
  consequence: 'life',
  cases: having(({ parallel }) => parallel > 1),
  evaluate(io, bank) {
    const { shares: each, worst } = sharing(io, bank);
    io.work(`shares: ${each.map((share) => `${figure(100 * share, 3)} %`).join(', ')}`);
    return { ratio: { demand: worst, limit: 1.25, unit: 'x', sense: 'max', tightAbove: 0.88 } };
  },
  sentence: ({ demand, verdict }) =>
    verdict === 'unknown'
      ? 'How the strings share the current was not seen.'
      : `The string that works hardest carries ${figure(demand ?? NaN, 3)} times its share.`,
  remedies: (_, { id }) => [
    {
      title: 'Tap at opposite ends',
      detail: 'plus at one end, minus at the other',
      changes: [{ op: 'set', at: 'bank', id, value: { tapping: 'opposite-ends' } }],
    },
    {
      title: 'Equal leads to bus bars',
      detail: 'every string the same length',
      changes: [{ op: 'set', at: 'bank', id, value: { tapping: 'busbar' } }],
    },
  ],
});

const stringFuse = rule<Bank>({
  id: 'bank.string-fuse',
  title: 'Each string fused',
  consequence: 'danger',
  cautions: ['bankAmps'],
  cases: having((bank) => bank.parallel >= (lithium(bank) ? 2 : 3)),
  evaluate(io, bank) {
    if (!present(bank.fusedStrings as never)) io.miss(`${bank.id}.fusedStrings`);
    return { verdict: bank.fusedStrings ? 'holds' : 'over' };
  },
  sentence: ({ verdict }) =>
    verdict === 'unknown'
      ? 'Whether each string has its fuse was not seen.'
      : verdict === 'over'
        ? 'Strings in parallel without a fuse each: all feed a fault in one.'
        : 'Each string has its fuse.',
  remedies: (_, { id }) => [
    {
      title: 'A fuse in each string',
      detail: "of a type that breaks the bank's fault current",
      changes: [{ op: 'set', at: 'bank', id, value: { fusedStrings: true } }],
    },
  ],
});

const BRIDGES = new Set(['relay', 'diode', 'switch']);
const mixed = rule<Bank>({
  id: 'bank.mixed',
  title: 'One age, one chemistry',
  consequence: 'life',
  cases: (model) =>
    bankCase(model).flatMap(({ subject, of }) => [
      ...(of.series * of.parallel > 1 ? [{ subject, of, quantity: 'age' }] : []),
      { subject, of, quantity: 'chemistry' },
    ]),
  evaluate(io, bank, quantity) {
    if (quantity === 'age') {
      const demand = io.need(`${bank.id}.ageSpread_months`, bank.ageSpread_months);
      const limit = io.or('schools.ageSpread_months', io.model.schools.ageSpread_months, 6);
      io.bySchool(`${limit} months`);
      io.work(`oldest and newest block are ${figure(demand)} months apart`);
      return { ratio: { demand, limit, unit: 'months', sense: 'max', tightAbove: 1, softened: demand <= 24 } };
    }
    const joined = (io.model.system.otherBanks ?? []).filter(({ joinedBy }) => joinedBy && BRIDGES.has(joinedBy));
    const across = joined.some(({ chemistry }) => isLithium(chemistry) !== lithium(bank));
    if (bank.mixedChemistry || across) {
      io.work(across ? 'lead and lithium are joined' : 'the bank itself is mixed');
      return { verdict: 'over', consequence: 'danger' };
    }
    return joined.some(({ chemistry }) => chemistry !== bank.chemistry) ? { verdict: 'note' } : null;
  },
  sentence({ quantity, demand, verdict }) {
    if (quantity === 'age')
      return verdict === 'unknown'
        ? 'How far apart in age the blocks are was not read.'
        : `Blocks up to ${round(demand ?? NaN)} months apart in one bank.`;
    return verdict === 'over'
      ? 'Chemistries are mixed: what charges one harms the other.'
      : 'A battery of another kind is joined to this bank.';
  },
});

const lowTemperature = rule<Bank>({
  id: 'bank.low-temperature',
  title: 'Lithium in the cold',
  consequence: 'damage',
  cautions: ['coldLithium'],
  cases: having(lithium),
  evaluate(io, bank) {
    const coldest = place_min_C(io, bank);
    io.work(`coldest at the cells ${figure(coldest)} degC`);
    if (bank.heated || coldest >= 5) return { verdict: 'holds' };
    if (coldest >= 0) return { verdict: 'tight' };
    return {
      verdict: io.flag(`${bank.id}.lowTemperatureProtection`, bank.lowTemperatureProtection) ? 'tight' : 'over',
    };
  },
  sentence: ({ verdict }) =>
    verdict === 'unknown'
      ? 'How cold the cells get was not read.'
      : verdict === 'holds'
        ? 'The cells stay warm enough to charge.'
        : 'The cells get too cold to be charged.',
});

const highTemperature = rule<Bank>({
  id: 'bank.high-temperature',
  title: 'Bank in the heat',
  consequence: 'life',
  cases: bankCase,
  evaluate: (io, bank) => ({
    ratio: {
      demand: io.need(`${bank.id}.place.max_C`, bank.place?.max_C),
      limit: lithium(bank) ? 45 : 40,
      unit: 'degC',
      sense: 'max',
      tightAbove: 0.95,
    },
  }),
  sentence: ({ demand, limit, verdict }) =>
    verdict === 'unknown'
      ? 'How hot the bank gets was not read.'
      : `The bank gets up to ${round(demand ?? NaN)} degC; ${round(limit ?? NaN)} degC is the most.`,
});

const FREEZES: [charge: number, t_C: number][] = [
  [0, -8],
  [0.2, -13],
  [0.4, -19],
  [0.5, -23],
  [0.6, -28],
  [0.8, -40],
  [1, -58],
];
const freezing = rule<Bank>({
  id: 'bank.freezing',
  title: 'Freezing when discharged',
  consequence: 'damage',
  cases: having(lead),
  evaluate(io, bank) {
    const coldest = place_min_C(io, bank);
    const depth = io.or('schools.leadDepth', io.model.schools.leadDepth, CHEMISTRY[bank.chemistry].depth);
    const freezes = between(FREEZES, 1 - depth);
    io.work(
      `discharged to ${figure(100 * (1 - depth))} % it freezes at ${figure(freezes)} degC; coldest ${figure(coldest)} degC`,
    );
    return { verdict: coldest < freezes ? 'over' : coldest < freezes + 3 - 1e-9 ? 'tight' : 'holds' };
  },
  sentence: ({ verdict }) =>
    verdict === 'unknown'
      ? 'How cold the bank gets was not read.'
      : verdict === 'holds'
        ? 'Discharged, the bank does not freeze.'
        : 'Discharged on the coldest night, the bank freezes.',
});

const ventilation = rule<Bank>({
  id: 'bank.ventilation',
  title: 'Ventilation of the bank',
  consequence: 'danger',
  cautions: ['gas'],
  cases: having((bank) => lead(bank) && bank.place?.space !== 'outside'),
  evaluate(io, bank) {
    const demand = io.need(`${bank.id}.place.ventArea_cm2`, bank.place?.ventArea_cm2);
    const rated_Ah = bank.blockCapacity_Ah * bank.parallel;
    const cells = cellsInSeries(io, bank);
    const gas = CHEMISTRY[bank.chemistry].gassing_mA_Ah;
    const flow = (0.05 * cells * gas * rated_Ah) / 1000;
    io.work(`Q = 0.05 x ${cells} cells x ${gas} mA/Ah x ${figure(rated_Ah)} Ah / 1000 = ${figure(flow)} m3/h`);
    io.work(`two openings of 28 x Q = ${figure(28 * flow)} cm2 each, one low, one high`);
    io.work(`no spark within ${figure(28.8 * gas ** (1 / 3) * rated_Ah ** (1 / 3))} mm of a vent`);
    return { ratio: { demand, limit: 28 * flow, unit: 'cm2', sense: 'min', tightAbove: 0.8 } };
  },
  sentence: ({ demand, limit, verdict }) =>
    verdict === 'unknown'
      ? "The bank's vents were not measured."
      : `Vents of ${round(demand ?? NaN)} cm2 where ${round(limit ?? NaN)} cm2 are wanted, twice.`,
});

const place = rule<Bank>({
  id: 'bank.place',
  title: 'Where the bank stands',
  consequence: 'danger',
  cautions: ['gas', 'salvaged', 'heavy'],
  cases: having(({ place: at }) => !at?.space || at.space === 'living'),
  evaluate(io, bank) {
    if (!bank.place?.space) {
      io.miss(`${bank.id}.place.space`);
      return { verdict: 'over' };
    }
    io.work(`${bank.salvaged ? 'salvaged ' : ''}${bank.chemistry} in a living space`);
    if (bank.salvaged || bank.chemistry === 'nmc' || bank.chemistry === 'flooded' || bank.chemistry === 'tubular')
      return { verdict: 'over' };
    return { verdict: bank.chemistry === 'lfp' ? 'note' : 'tight' };
  },
  sentence: ({ verdict }) =>
    verdict === 'unknown'
      ? 'Where the bank stands was not recorded.'
      : verdict === 'over'
        ? 'This bank must not stand where people live.'
        : verdict === 'tight'
          ? 'In a living space this bank wants a box that vents outside.'
          : 'Lithium in a living space: see the local rule.',
});

const winterOf = (io: Ledger, month: number) =>
  isWinter(io.need('site.latitude_deg', io.model.site.latitude_deg), month);
const worseDay_Wh = (io: Ledger) => Math.max(daily_Wh(io, true), daily_Wh(io, false));
const hasSource = ({ system }: Model) => (system.sources ?? []).length > 0;

const autonomy = rule<Bank>({
  id: 'bank.autonomy',
  title: 'Days without sun',
  consequence: 'outage',
  cases: bankCase,
  evaluate(io, bank) {
    const day = worseDay_Wh(io);
    const usable = usable_Wh(io, bank, day);
    const limit = io.or('schools.autonomy_d', io.model.schools.autonomy_d, hasSource(io.model) ? 1 : 2);
    io.work(`usable ${figure(usable)} Wh / ${figure(day)} Wh a day = ${figure(usable / day)} days`);
    // Nothing that draws empties no bank.
    if (day <= 0) return { verdict: 'holds' };
    return { ratio: { demand: usable / day, limit, unit: 'days', sense: 'min', tightAbove: 0.8 } };
  },
  sentence: ({ demand, limit, verdict }) =>
    verdict === 'unknown'
      ? `How long the bank lasts ${yet}`
      : demand === null
        ? 'Nothing draws on the bank.'
        : `The bank lasts ${figure(demand, 2)} days without sun; ${figure(limit ?? NaN, 2)} are wanted.`,
});

const worstMonth = rule<Bank>({
  id: 'energy.worst-month',
  title: 'The worst month',
  consequence: 'outage',
  cases: having((_, { system }) => (system.arrays ?? []).length > 0),
  evaluate(io, bank) {
    const harvest = harvest_Wh(io);
    const { efficiency } = CHEMISTRY[bank.chemistry];
    // Half of what is used goes through the bank and pays its losses.
    const wanted = (month: number) => daily_Wh(io, winterOf(io, month)) * (0.5 + 0.5 / efficiency);
    const worst = occupied(io)
      .map((month) => ({ month, demand: harvest[month - 1] ?? 0, limit: wanted(month) }))
      .reduce((a, b) => (b.limit * a.demand > a.limit * b.demand ? b : a));
    const generator = (io.model.system.sources ?? []).find(({ kind }) => kind === 'generator');
    io.work(`month ${worst.month}: harvest ${figure(worst.demand)} Wh a day, wanted ${figure(worst.limit)} Wh`);
    const lacking = worst.limit - worst.demand;
    const watts = generator?.power_W;
    if (generator && watts && lacking > 0)
      io.work(`the generator makes up ${figure(lacking)} Wh: ${figure(lacking / (0.8 * watts))} h a day at most load`);
    return {
      ratio: {
        demand: worst.demand,
        limit: worst.limit,
        unit: 'Wh/d',
        sense: 'min',
        tightAbove: 0.9,
        softened: !!generator,
      },
    };
  },
  sentence: ({ demand, limit, verdict }) =>
    verdict === 'unknown'
      ? `What the darkest month brings ${yet}`
      : `In the darkest month ${round(demand ?? NaN)} Wh a day come in; ${round(limit ?? NaN)} Wh are wanted.`,
});

const mean = (values: number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;

const refill = rule<Bank>({
  id: 'energy.refill',
  title: 'Days to refill the bank',
  consequence: 'life',
  cases: having((_, { system }) => (system.arrays ?? []).length > 0),
  evaluate(io, bank) {
    const months = occupied(io);
    const harvest = harvest_Wh(io);
    const brings = mean(months.map((month) => harvest[month - 1] ?? 0));
    const takes = mean(months.map((month) => daily_Wh(io, winterOf(io, month))));
    const usable = usable_Wh(io, bank, worseDay_Wh(io));
    const limit = io.or('schools.refill_d', io.model.schools.refill_d, 5);
    const store = usable / CHEMISTRY[bank.chemistry].efficiency;
    io.work(
      `${figure(store)} Wh to put back; a mean day leaves ${figure(brings)} - ${figure(takes)} = ${figure(brings - takes)} Wh`,
    );
    if (brings - takes <= 0) return { verdict: 'over' };
    return { ratio: { demand: store / (brings - takes), limit, unit: 'days', sense: 'max', tightAbove: 0.8 } };
  },
  sentence: ({ demand, verdict }) =>
    verdict === 'unknown'
      ? `How fast the bank refills ${yet}`
      : demand === null
        ? 'A mean day leaves nothing over to refill the bank.'
        : `An empty bank is full again after ${figure(demand, 2)} mean days.`,
});

const layup = rule<Bank>({
  id: 'energy.layup',
  title: 'Left alone',
  consequence: 'life',
  cases: having((_, { site }) => (site.layup_d ?? 0) > 0),
  evaluate(io, bank) {
    const demand = io.need('site.layup_d', io.model.site.layup_d);
    const idle = (io.model.system.inverters ?? []).reduce((sum, inverter) => sum + idle_Wh(io, inverter), 0);
    const table = CHEMISTRY[bank.chemistry];
    const stored = cellsInSeries(io, bank) * table.nominal_V * capacity_Ah(io, bank);
    const draw = idle + controllers_W(io) * 24 + (stored * table.selfDischarge_pct_month) / 100 / 30;
    const usable = usable_Wh(io, bank, draw);
    io.work(`usable ${figure(usable)} Wh / ${figure(draw)} Wh a day = ${figure(usable / draw)} days`);
    return { ratio: { demand, limit: usable / draw, unit: 'days', sense: 'max', tightAbove: 0.8 } };
  },
  sentence: ({ demand, limit, verdict }) =>
    verdict === 'unknown'
      ? `How long the bank may be left alone ${yet}`
      : `Left alone for ${round(demand ?? NaN)} days; what idles empties the bank in ${round(limit ?? NaN)}.`,
});

const CUTOFF_MARGIN = 0.2;
const ABSORB_MARGIN = 0.05;
const cutoffOrder = rule<Bank>({
  id: 'cutoff.order',
  title: 'The protection comes last',
  consequence: 'outage',
  cases: (model) =>
    bankCase(model).flatMap(({ subject, of }) => [
      ...(present(of.protection?.lowTrip_V_cell) && (model.system.inverters ?? []).length > 0
        ? [{ subject, of, quantity: 'low' }]
        : []),
      ...(present(of.protection?.highTrip_V_cell) && absorbsFound(model).length > 0
        ? [{ subject, of, quantity: 'high' }]
        : []),
    ]),
  evaluate(io, bank, quantity) {
    const cells = cellsInSeries(io, bank);
    if (quantity === 'high') {
      const demand = Math.max(...absorbsFound(io.model)) / cells;
      const limit = io.need(`${bank.id}.protection.highTrip_V_cell`, bank.protection?.highTrip_V_cell) - ABSORB_MARGIN;
      io.work(
        `highest absorb found ${figure(demand)} V a cell; the protection opens ${ABSORB_MARGIN} V above ${figure(limit)} V`,
      );
      return { ratio: { demand, limit, unit: 'V/cell', sense: 'max', tightAbove: 1 } };
    }
    const demand = Math.min(...(io.model.system.inverters ?? []).map((inverter) => low_V(io, inverter))) / cells;
    const limit = io.need(`${bank.id}.protection.lowTrip_V_cell`, bank.protection?.lowTrip_V_cell) + CUTOFF_MARGIN;
    io.work(
      `lowest inverter cut-off ${figure(demand)} V a cell; wanted ${figure(limit)} V, above the protection's trip`,
    );
    return { ratio: { demand, limit, unit: 'V/cell', sense: 'min', tightAbove: 1 } };
  },
  sentence: ({ quantity, verdict }) =>
    verdict === 'unknown'
      ? `Which gives up first ${yet}`
      : verdict === 'over'
        ? quantity === 'low'
          ? 'The protection opens before the inverter cuts off: everything goes dark at once.'
          : 'Charging goes on until the protection opens.'
        : 'The devices give up before the protection does.',
});

/** Absorb voltages that somebody read off a device. */
const absorbsFound = (model: Model): number[] =>
  [
    ...(model.system.controllers ?? []).map(({ settings }) => settings?.absorb_V),
    ...(model.system.inverters ?? []).map(({ charger }) => charger?.settings?.absorb_V),
    ...(model.system.chargers ?? []).map(({ settings }) => settings?.absorb_V),
  ].filter(present);

const agree = rule<Bank>({
  id: 'settings.agree',
  title: 'Sources agree on absorb',
  consequence: 'life',
  cases: having((_, model) => absorbsFound(model).length > 1),
  evaluate(io, bank) {
    for (const { path, settings } of chargingDevices(io)) io.see(`${path}.absorb_V`, settings?.absorb_V);
    const volts = absorbsFound(io.model);
    const demand = (Math.max(...volts) - Math.min(...volts)) / cellsInSeries(io, bank);
    io.work(`absorb set to ${volts.map((v) => `${figure(v)} V`).join(', ')}: ${figure(demand)} V a cell apart`);
    return { ratio: { demand, limit: 0.05, unit: 'V/cell', sense: 'max', tightAbove: 0.6 } };
  },
  sentence: ({ demand, verdict }) =>
    verdict === 'unknown'
      ? `Whether the sources agree ${yet}`
      : `Two sources differ by ${figure(demand ?? NaN, 2)} V a cell on when the bank is full.`,
});

export const bankUseRules = [
  discharge,
  surge,
  nMinusOne,
  coldCharge,
  voltage,
  parallelCount,
  seriesCount,
  shares,
  stringFuse,
  mixed,
  lowTemperature,
  highTemperature,
  freezing,
  ventilation,
  place,
  autonomy,
  worstMonth,
  refill,
  layup,
  cutoffOrder,
  agree,
];
