import { GENERATOR_SHARE } from '../../power/ac';
import { capacity_Ah, cellsInSeries } from '../../bank/bank';
import { CHEMISTRY } from '../../chemistry/chemistry';
import { harvest_Wh, occupied, usable_Wh } from '../../power/energy';
import { controllers_W, daily_Wh, idle_Wh, isWinter, worseDay_Wh } from '../../power/loads';
import { type Model } from '../../system/model';
import { type Bank } from '../../system/schema';
import { depthSchool, bankCase, having } from '../bank/cases';
import { apart, counted, figure } from '../../ledger/figures';
import { type Ledger } from '../../ledger/ledger';
import { moreStrings } from '../cures/bank';
import { moreModules } from '../cures/devices';
import { NOT_YET, rule } from '../rule';

/** What the sun brings against what is used, by the day and the month. */

const winterOf = (io: Ledger, month: number) =>
  isWinter(io.need('site.latitude_deg', io.model.site.latitude_deg), month);
const hasSource = ({ system }: Model) => (system.sources ?? []).length > 0;

const autonomy = rule<Bank>({
  id: 'bank.autonomy',
  title: 'Days without sun',
  consequence: 'outage',
  bearsOn: ['bank', 'energy'],
  school: depthSchool,
  curedByLimit: false,
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
      ? `How long the bank lasts ${NOT_YET}`
      : demand === null
        ? 'Nothing draws from the bank.'
        : `The bank lasts ${figure(demand, 2)} days without sun; it should last ${counted(Number(figure(limit ?? NaN, 2)), 'day')}.`,
  remedies: moreStrings,
  needs: ({ use, tightAbove }) =>
    `Needs a bank of about ${figure((use ?? 1) / (tightAbove ?? 1), 2)} times the present size, or less use per day.`,
});

const worstMonth = rule<Bank>({
  id: 'energy.worst-month',
  letOff: 'the generator covers the rest',
  title: 'Worst month',
  consequence: 'outage',
  bearsOn: ['energy'],
  curedByLimit: false,
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
      io.work(
        `the generator makes up ${figure(lacking)} Wh: ${figure(lacking / (GENERATOR_SHARE * watts))} h a day at most load`,
      );
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
      ? `How much the darkest month brings ${NOT_YET}`
      : `In the darkest month the sun brings ${apart(demand, limit).there} Wh a day; ${apart(demand, limit).allowed} Wh a day is needed.`,
  remedies: (model) => (model.system.arrays ?? []).flatMap((array) => moreModules(model, array)),
  needs: (finding) =>
    `Needs ${figure(Math.ceil((finding.limit ?? 0) - (finding.demand ?? 0)))} Wh a day more in that month: more modules, a generator, or less use.`,
});

const mean = (values: number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;

const refill = rule<Bank>({
  id: 'energy.refill',
  title: 'Days to refill',
  consequence: 'life',
  bearsOn: ['energy'],
  school: depthSchool,
  curedByLimit: false,
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
      ? `How fast the bank refills ${NOT_YET}`
      : demand === null
        ? 'An average day leaves nothing to refill the bank.'
        : `An empty bank needs ${figure(demand, 2)} average days to refill.`,
  remedies: (model) => (model.system.arrays ?? []).flatMap((array) => moreModules(model, array)),
  needs: 'Needs more sun, another source, or less use: the bank refills too slowly.',
});

const layup = rule<Bank>({
  id: 'energy.layup',
  title: 'Left unattended',
  consequence: 'life',
  bearsOn: ['energy'],
  school: depthSchool,
  curedByLimit: false,
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
      ? `How long the system can be left unattended ${NOT_YET}`
      : `Left unattended for ${apart(demand, limit).there} days; idle draw empties the bank in ${apart(demand, limit).allowed}.`,
  needs: 'Needs the idle loads switched off when the last person leaves, or a larger bank. Find out what draws.',
});

/** Rules of energy: days, the worst month, refilling, lay-up. */
export const energyRules = [autonomy, worstMonth, refill, layup];
