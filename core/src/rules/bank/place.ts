import { cellsInSeries, place_min_C } from '../../bank/bank';
import { CHEMISTRY } from '../../chemistry/chemistry';
import { type Bank } from '../../system/schema';
import { depthSchool, bankCase, having, leadAcid, lithium } from './cases';
import { apart, figure } from '../../ledger/figures';
import { heat } from '../cures/bank';
import { rule } from '../rule';
import { freezes_C } from '../tables';
import { said } from '../../parts/said';

/** Where the bank is installed: cold, heat, frost, gas and people. */

const lowTemperature = rule<Bank>({
  id: 'bank.low-temperature',
  title: 'Lithium in the cold',
  consequence: 'damage',
  bearsOn: ['bank', 'place'],
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
      ? 'How cold the cells get is not recorded.'
      : verdict === 'holds'
        ? 'The cells stay warm enough to charge.'
        : 'The cells get too cold to charge.',
  remedies: heat,
  needs: 'Needs heating at the cells, or a warmer place.',
  untilThen: 'Until then, do not charge while the cells are below 5 degC: chargers off, array isolated.',
});

const highTemperature = rule<Bank>({
  id: 'bank.high-temperature',
  title: 'Bank temperature',
  consequence: 'life',
  bearsOn: ['bank', 'place'],
  cases: bankCase,
  evaluate: (io, bank) => ({
    ratio: {
      demand: io.need(`${bank.id}.place.max_C`, bank.place?.max_C),
      limit: CHEMISTRY[bank.chemistry].highest_C,
      unit: 'degC',
      sense: 'max',
      tightAbove: 0.95,
    },
  }),
  sentence: ({ demand, limit, verdict }) =>
    verdict === 'unknown'
      ? 'How hot the bank gets is not recorded.'
      : `The bank gets up to ${apart(demand, limit).there} degC; its limit is ${apart(demand, limit).allowed} degC.`,
  needs: 'Needs shade, ventilation or another place. Heat halves the life of a battery.',
});

const freezing = rule<Bank>({
  id: 'bank.freezing',
  title: 'Freezing',
  consequence: 'damage',
  bearsOn: ['place'],
  school: depthSchool,
  cases: having(leadAcid),
  evaluate(io, bank) {
    const coldest = place_min_C(io, bank);
    const depth = io.or('schools.leadDepth', io.model.schools.leadDepth, CHEMISTRY[bank.chemistry].depth);
    const freezes = freezes_C(1 - depth);
    io.work(
      `discharged to ${figure(100 * (1 - depth))} % it freezes at ${figure(freezes)} degC; coldest ${figure(coldest)} degC`,
    );
    return { verdict: coldest < freezes ? 'over' : coldest < freezes + 3 - 1e-9 ? 'tight' : 'holds' };
  },
  sentence: ({ verdict }) =>
    verdict === 'unknown'
      ? 'How cold the bank gets is not recorded.'
      : verdict === 'holds'
        ? 'The bank does not freeze, even discharged.'
        : 'Discharged, the bank freezes on the coldest night.',
  needs: 'Needs a warmer or insulated place, or to be left fuller: a full bank survives far colder nights.',
});

const ventilation = rule<Bank>({
  id: 'bank.ventilation',
  title: 'Bank ventilation',
  consequence: 'danger',
  gravity: 3,
  bearsOn: ['place'],
  cautions: ['gas'],
  cases: having((bank) => leadAcid(bank) && bank.place?.space !== 'outside'),
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
      ? "The bank's vents have not been measured."
      : `The bank's vents are ${apart(demand, limit).there} cm2 each; it needs two of ${apart(demand, limit).allowed} cm2, one low and one high.`,
  remedies: (_, bank, { limit }) =>
    limit
      ? [
          {
            title: `Two openings of ${Math.ceil(limit / 0.8 / 10) * 10} cm2 each`,
            detail: 'one low, one high, to the open air; nothing that can spark near them',
            changes: [
              {
                op: 'set',
                at: 'bank',
                id: bank.id,
                value: { place: { ventArea_cm2: Math.ceil(limit / 0.8 / 10) * 10 } },
              },
            ],
          },
        ]
      : [],
});

const place = rule<Bank>({
  id: 'bank.place',
  title: 'Place of the bank',
  consequence: 'danger',
  gravity: 3,
  bearsOn: ['bank', 'place'],
  cautions: ['gas', 'salvaged', 'heavy'],
  cases: having(({ place: at }) => !at?.space || at.space === 'living'),
  evaluate(io, bank) {
    if (!bank.place?.space) {
      io.miss(`${bank.id}.place.space`);
      return { verdict: 'over' };
    }
    io.work(`${bank.salvaged ? 'salvaged ' : ''}${said(bank.chemistry)} in a living space`);
    return { verdict: bank.salvaged ? 'over' : CHEMISTRY[bank.chemistry].inLivingSpace };
  },
  sentence: ({ verdict }) =>
    verdict === 'unknown'
      ? 'Where the bank is installed is not recorded.'
      : verdict === 'over'
        ? 'This bank must not be installed where people live.'
        : verdict === 'tight'
          ? 'In a living space this bank needs a box that vents outside.'
          : 'Lithium in a living space: check the local rules.',
  needs:
    'Needs another place: outside, in an outbuilding, or a box that vents to the open air. This finding cannot be dismissed.',
  untilThen: 'Until it is moved, nobody sleeps in that room, and it is charged only while somebody watches it.',
});

/** Rules of where a bank stands. */
export const bankPlaceRules = [lowTemperature, highTemperature, freezing, ventilation, place];
