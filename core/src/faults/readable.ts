import { wiredArrays, type Model } from '../system/model';
import { createLedger } from '../ledger/ledger';
import { startsHard } from '../power/loads';
import { CAUTIONS } from '../rules/cautions';
import type { Conditions } from '../readings/conditions';
import { expectedTests } from '../readings/expect';
import type { ExpectedTest } from '../readings/row';
import { runsOnDc } from './runs-on-dc';

/** What can be read at a system, with where to put the probes: the tests of a visit, and the frames of an array. */
export function readable(model: Model, conditions: Partial<Conditions>): ExpectedTest[] {
  const { tests } = expectedTests(model, conditions);
  const { bank } = model.system;
  return [
    ...tests.flatMap((test): ExpectedTest[] => {
      if (test.cannotTell && test.quantity !== 'rest_V') return [];
      if (!bank || test.subject !== bank.id) return [test];
      if (test.quantity === 'blockRest_V') return eachBlock(test, bank.parallel, bank.series);
      return [test];
    }),
    ...(bank && bank.series * bank.parallel > 1
      ? eachBlock(
          {
            id: `${bank.id}.blockLoad_V`,
            subject: bank.id,
            quantity: 'blockLoad_V',
            unit: 'V',
            expected: null,
            low: null,
            high: null,
            how: 'every block separately, while a load runs: they should be alike',
            tool: 'voltmeter and DC clamp meter',
            minutes: 3 * bank.series * bank.parallel,
            cautions: tests.find(({ subject }) => subject === bank.id)?.cautions ?? [],
          },
          bank.parallel,
          bank.series,
        )
      : []),
    ...frames(model, tests),
    ...beside(model),
  ];
}

const eachBlock = (test: ExpectedTest, parallel: number, series: number): ExpectedTest[] =>
  Array.from({ length: Math.min(MOST_BLOCKS, parallel * series) }, (_, i) => {
    const position = { string: Math.floor(i / series), block: i % series };
    return {
      ...test,
      id: `${test.id}.string${position.string}.block${position.block}`,
      position,
      // Of all of them so many minutes: the probes are there already.
      minutes: Math.max(1, Math.round(test.minutes / (parallel * series))),
    };
  });
const MOST_BLOCKS = 24;

/** Both poles of each array against its frame. */
const frames = (model: Model, tests: readonly ExpectedTest[]): ExpectedTest[] =>
  wiredArrays(model.system).flatMap(({ id }) =>
    (['plusFrame_V', 'minusFrame_V'] as const).map((quantity): ExpectedTest => ({
      id: `${id}.${quantity}`,
      subject: id,
      quantity,
      unit: 'V',
      expected: 0,
      low: null,
      high: null,
      how: `from ${quantity === 'plusFrame_V' ? 'positive' : 'negative'} to the frame, controller disconnected, in sun; wait until it is steady`,
      tool: 'voltmeter',
      minutes: 3,
      cautions: tests.find(({ subject }) => subject === id)?.cautions ?? [],
    })),
  );

/** Joints that nobody counted, starts, and the clamp beside the monitor. */
function beside(model: Model): ExpectedTest[] {
  const { monitor } = model.system;
  const io = createLedger(model);
  return [
    // Every cable ends in two joints, counted or not.
    ...runsOnDc(model)
      .filter(({ joints }) => !joints)
      .map(({ id }): ExpectedTest => ({
        id: `${id}.joint_mohm`,
        subject: id,
        quantity: 'joint_mohm',
        unit: 'mohm',
        expected: null,
        low: null,
        high: 0.25,
        bound: 'most',
        how: 'across each lug and its terminal while current flows: voltage divided by current',
        tool: 'millivoltmeter and DC clamp meter',
        minutes: 3,
        cautions: [CAUTIONS.bankAmps],
      })),
    ...(model.system.loads ?? [])
      .filter((load) => startsHard(io, load))
      .map(({ id }): ExpectedTest => ({
        id: `${id}.start_A`,
        subject: id,
        quantity: 'start_A',
        unit: 'A',
        expected: null,
        low: null,
        high: null,
        how: 'clamp with peak hold on its own lead, as it starts',
        tool: 'clamp meter with inrush function',
        minutes: 3,
        cautions: [],
      })),
    ...(monitor
      ? [
          {
            id: `${monitor.id}.clamp_A`,
            subject: monitor.id,
            quantity: 'clamp_A' as const,
            unit: 'A',
            expected: null,
            low: null,
            high: null,
            how: 'clamp on the lead of the bank, at the same moment as the monitor is read',
            tool: 'DC clamp meter',
            minutes: 2,
            cautions: [],
          },
        ]
      : []),
  ];
}
