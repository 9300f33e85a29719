import { c20_Ah, cellsInSeries, place_min_C } from '../../bank/bank';
import { absorbsFound_V, chargingDevices } from '../../bank/charging';
import { CHEMISTRY, cellsPerBlock } from '../../chemistry/chemistry';
import {
  continuousDischarge_A,
  recordedDischarge_A,
  runningDischarge_A,
  surgeDischarge_A,
} from '../../power/discharge';
import { low_V } from '../../power/loads';
import { type Bank } from '../../system/schema';
import { allCharging_A } from '../../power/charging';
import { withinCharge } from './bank';
import { heat, moreStrings, rejoined } from '../cures/bank';
import { setPart } from '../cures/devices';
import { bankCase, having, lithium, present } from './cases';
import { apart, figure, round } from '../../ledger/figures';
import { createLedger, type Ledger } from '../../ledger/ledger';
import type { Model } from '../../system/model';
import { NOT_YET, rule, type Cure } from '../rule';
import { INVERTER_W } from '../cures/sold';
import { partName } from '../../conductors/names';
import { said } from '../../parts/said';

/** What the bank lets out for long, A, and whether that is only the table's planning value. */
function dischargeLimit(io: Ledger, bank: Bank): { limit: number; planning: boolean } {
  const block = io.see(`${bank.id}.maxDischarge_A`, bank.maxDischarge_A);
  if (present(block)) {
    const limit = block * bank.parallel * (bank.parallel > 1 ? 0.9 : 1);
    io.work(
      `${bank.parallel} x ${figure(block)} A${bank.parallel > 1 ? ' x 0.9, because strings never share evenly' : ''} = ${figure(limit)} A`,
    );
    return { limit, planning: false };
  }
  if (lithium(bank)) return { limit: io.need(`${bank.id}.maxDischarge_A`, null), planning: false };
  const fraction = CHEMISTRY[bank.chemistry].dischargeMax;
  const limit = fraction * c20_Ah(io, bank);
  io.work(`${said(bank.chemistry)}: ${fraction} of C20 = ${figure(limit)} A continuous`);
  return { limit, planning: true };
}

const discharge = rule<Bank>({
  id: 'bank.discharge',
  letOff: 'that is a planning value; check its data sheet',
  title: 'Discharge current',
  consequence: 'outage',
  bearsOn: ['load', 'bank'],
  curedByLimit: 'load',
  cautions: ['bankAmps'],
  cases: (model) =>
    bankCase(model).flatMap(({ subject, about }) => [
      { subject, about, quantity: 'continuous' },
      ...((model.system.loads ?? []).some(({ recordedPeak_W }) => present(recordedPeak_W))
        ? [{ subject, about, quantity: 'recorded peak' }]
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
      ? "The bank's discharge limit is not recorded."
      : `The loads can draw ${apart(demand, limit).there} A; the bank delivers ${apart(demand, limit).allowed} A continuously.`,
  remedies: (model, bank) => [...moreStrings(model, bank), ...smallerInverters(model)],
});

const surge = rule<Bank>({
  id: 'bank.surge',
  title: 'Surge current of the bank',
  consequence: 'outage',
  bearsOn: ['load', 'bank'],
  curedByLimit: 'load',
  cases: (model) =>
    having((bank, { system }) => lithium(bank) && (system.inverters ?? []).length > 0)(model).flatMap(
      ({ subject, about }) => [
        { subject, about, quantity: 'current' },
        ...(present(about.peak_s) && (model.system.inverters ?? []).some(({ surge_s }) => present(surge_s))
          ? [{ subject, about, quantity: 'duration' }]
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
    io.work(`hardest start through the inverters ${figure(demand)} A; the bank peaks at ${figure(limit)} A`);
    return { ratio: { ...base, demand, limit, unit: 'A' } };
  },
  sentence: ({ demand, limit, unit, verdict }) =>
    verdict === 'unknown'
      ? "The bank's peak current is not recorded."
      : `The surge is ${apart(demand, limit).there} ${unit}; the bank's peak is ${apart(demand, limit).allowed} ${unit}.`,
  remedies: (model, bank, { quantity }) => (quantity === 'current' ? moreStrings(model, bank) : []),
  needs: 'Needs protection that allows the peak for as long as the start lasts; its data sheet must say so.',
});

const nMinusOne = rule<Bank>({
  id: 'bank.n-1',
  letOff: 'with all strings connected it is enough',
  title: 'One string fewer',
  consequence: 'outage',
  bearsOn: ['load', 'bank'],
  curedByLimit: 'load',
  cases: having((bank) => lithium(bank) && bank.parallel > 1),
  evaluate(io, bank) {
    const demand = recordedDischarge_A(io) ?? runningDischarge_A(io);
    const limit = (bank.parallel - 1) * 0.9 * io.need(`${bank.id}.maxDischarge_A`, bank.maxDischarge_A);
    io.work(`peak ${figure(demand)} A; one string fewer gives ${figure(limit)} A`);
    return { ratio: { demand, limit, unit: 'A', sense: 'max', tightAbove: 1, softened: true } };
  },
  sentence: ({ demand, limit, verdict }) =>
    verdict === 'unknown'
      ? `Whether the bank can run on one string fewer ${NOT_YET}`
      : `With one string out, the loads need ${apart(demand, limit).there} A; the bank delivers ${apart(demand, limit).allowed} A.`,
  remedies: moreStrings,
});

const coldCharge = rule<Bank>({
  id: 'bank.cold-charge',
  letOff: 'its protection or its heater prevents that',
  title: 'Charging in the cold',
  consequence: 'damage',
  bearsOn: ['charge', 'bank', 'place'],
  curedByLimit: 'charge',
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
      ? `Whether the cells are charged when too cold ${NOT_YET}`
      : `In the cold the chargers can push ${apart(demand, limit).there} A into the cells; they can take ${apart(demand, limit).allowed} A.`,
  remedies: (model, bank, { limit }) => [...heat(model, bank), ...(limit ? withinCharge(model, limit) : [])],
  needs: 'Needs warmth at the cells, or protection that stops charging in the cold, tested and not just claimed.',
});

const voltage = rule<Bank>({
  id: 'bank.voltage',
  title: 'Bank voltage',
  consequence: 'damage',
  bearsOn: ['bank'],
  cases: bankCase,
  evaluate(io, bank) {
    const nominal = io.need('system.nominal_V', io.model.system.nominal_V);
    const demand = 100 * Math.abs((bank.series * bank.block_V) / nominal - 1);
    io.work(`${bank.series} x ${figure(bank.block_V)} V against ${figure(nominal)} V: ${figure(demand)} % apart`);
    return { ratio: { demand, limit: 12, unit: '%', sense: 'max', tightAbove: 1 } };
  },
  sentence: ({ demand, verdict }) =>
    verdict === 'unknown'
      ? 'The system voltage is not recorded.'
      : `The bank's label differs from the system voltage by ${round(demand ?? NaN)} %.`,
  remedies: rejoined,
  needs: 'Needs the right number of blocks in series for the system voltage. Read the labels again first.',
});

const CUTOFF_MARGIN = 0.2;
const ABSORB_MARGIN = 0.05;
const cutoffOrder = rule<Bank>({
  id: 'cutoff.order',
  title: 'Order of cut-offs',
  consequence: 'outage',
  bearsOn: [],
  cases: (model) =>
    bankCase(model).flatMap(({ subject, about }) => [
      ...(present(about.protection?.lowTrip_V_cell) && (model.system.inverters ?? []).length > 0
        ? [{ subject, about, quantity: 'low' }]
        : []),
      ...(present(about.protection?.highTrip_V_cell) && absorbsFound_V(model.system).length > 0
        ? [{ subject, about, quantity: 'high' }]
        : []),
    ]),
  evaluate(io, bank, quantity) {
    const cells = cellsInSeries(io, bank);
    if (quantity === 'high') {
      const demand = Math.max(...absorbsFound_V(io.model.system)) / cells;
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
      ? `Which disconnects first ${NOT_YET}`
      : verdict === 'over'
        ? quantity === 'low'
          ? 'The protection opens before the inverter cuts off: all power fails at once.'
          : 'Charging continues until the protection opens.'
        : 'The devices disconnect before the protection does.',
  remedies(model, bank, { quantity, limit }) {
    const cells = cellsInSeries(createLedger(model), bank);
    if (limit === null || !Number.isFinite(cells)) return [];
    if (quantity === 'high') {
      const absorb_V = Math.floor(10 * cells * limit + 1e-9) / 10;
      const high = chargingDevices(model.system).filter(({ settings }) => (settings?.absorb_V ?? 0) > absorb_V);
      return [
        {
          title: `Absorb at ${figure(absorb_V)} V or less on ${high.map(({ name }) => name).join(', ')}`,
          detail: 'settings; the protection is not a charge controller',
          changes: high.map(({ set }) => set({ absorb_V: Math.min(absorb_V, tableAbsorb_V(bank, cells)) })),
        },
      ];
    }
    const cutoff_V = Math.ceil(10 * cells * limit - 1e-9) / 10;
    const low = (model.system.inverters ?? []).filter(
      (inverter) => inverter.settings && low_V(createLedger(model), inverter) < cutoff_V,
    );
    return low.length === 0
      ? []
      : [
          {
            title: `Cut off at ${figure(cutoff_V)} V on ${low.map(({ id }) => partName(model, id)).join(', ')}`,
            detail: 'a setting; set reconnect well above it',
            changes: low.map(({ id }) => setPart('inverters', id, { settings: { cutoff_V } })),
          },
        ];
  },
  needs:
    "Needs devices with adjustable voltages: a cut-off above the protection's low trip, an absorption voltage below its high trip.",
});

const tableAbsorb_V = (bank: Bank, cells: number) => Math.floor(10 * cells * CHEMISTRY[bank.chemistry].absorb_V) / 10;

/** A smaller inverter asks less of the bank, where its loads allow. */
const smallerInverters = (model: Model): Cure[] =>
  (model.system.inverters ?? []).flatMap(({ id, continuous_W, continuous_VA, surge_W: peak }) =>
    [...INVERTER_W]
      .reverse()
      .filter((watts) => watts < continuous_W && watts >= continuous_W / 4)
      .map((watts) => ({
        title: `An inverter of ${watts} W in place of ${partName(model, id)}`,
        detail: 'it cannot draw more than the bank delivers',
        changes: [
          setPart('inverters', id, {
            continuous_W: watts,
            ...(continuous_VA ? { continuous_VA: Math.min(continuous_VA, watts) } : {}),
            ...(peak ? { surge_W: Math.min(peak, 2 * watts) } : {}),
          }),
        ],
      })),
  );

const agree = rule<Bank>({
  id: 'settings.agree',
  title: 'Absorption voltages',
  consequence: 'life',
  bearsOn: ['charge'],
  cases: having((_, model) => absorbsFound_V(model.system).length > 1),
  evaluate(io, bank) {
    for (const { path, settings } of chargingDevices(io.model.system))
      io.see(`${path}.settings.absorb_V`, settings?.absorb_V);
    const volts = absorbsFound_V(io.model.system);
    const demand = (Math.max(...volts) - Math.min(...volts)) / cellsInSeries(io, bank);
    io.work(`absorb set to ${volts.map((v) => `${figure(v)} V`).join(', ')}: ${figure(demand)} V a cell apart`);
    return { ratio: { demand, limit: 0.05, unit: 'V/cell', sense: 'max', tightAbove: 0.6 } };
  },
  sentence: ({ demand, verdict }) =>
    verdict === 'unknown'
      ? `Whether the chargers agree ${NOT_YET}`
      : `Two chargers have absorption voltages ${figure(demand ?? NaN, 2)} V a cell apart.`,
  remedies: ({ system }, bank) =>
    chargingDevices(system).length > 0
      ? setAll(system, Math.round(10 * cellsOf(bank) * CHEMISTRY[bank.chemistry].absorb_V) / 10)
      : [],
});

const cellsOf = (bank: Bank) => (cellsPerBlock(bank).cells ?? Number.NaN) * bank.series;
const setAll = (system: Model['system'], absorb_V: number): Cure[] => {
  const off = chargingDevices(system).filter(({ settings }) => settings?.absorb_V && settings.absorb_V !== absorb_V);
  return Number.isFinite(absorb_V) && off.length > 0
    ? [
        {
          title: `Absorb at ${figure(absorb_V)} V on ${off.map(({ name }) => name).join(', ')}`,
          detail: 'settings; then all chargers agree on when the bank is full',
          changes: off.map(({ set }) => set({ absorb_V })),
        },
      ]
    : [];
};

/** Rules on how a bank is used. */
export const bankUseRules = [discharge, surge, nMinusOne, coldCharge, voltage, cutoffOrder, agree];
