import { isLithium } from '../../chemistry/chemistry';
import { sharing } from '../../bank/resistance';
import { type Bank, type OtherBank } from '../../system/schema';
import { bankCase, having, lithium, present } from './cases';
import { counted, figure, round } from '../../ledger/figures';
import { postFuses, stringFuseBodies, fuseWord } from '../cures/wires';
import { rule, type Outcome } from '../rule';
import { raised } from '../../parts/said';

/** Whether each string has its fuse; null: nobody saw. What is recorded of the fuse itself counts before a yes or no. */
const fused = ({ stringFuse, fusedStrings }: Bank): boolean | null =>
  stringFuse?.type ? stringFuse.type !== 'none' : (fusedStrings ?? null);

const parallelCount = rule<Bank>({
  id: 'bank.parallel-count',
  title: 'Strings in parallel',
  consequence: 'life',
  bearsOn: ['bank'],
  cases: bankCase,
  evaluate: (io, bank) => ({
    ratio: {
      demand: bank.parallel,
      limit: io.or(`${bank.id}.maxParallel`, bank.maxParallel, bank.tapping === 'busbar' && fused(bank) ? 8 : 4),
      unit: 'strings',
      sense: 'max',
      tightAbove: 1,
    },
  }),
  sentence: ({ demand, limit }) => `${counted(demand ?? NaN, 'string')} in parallel; the limit is ${limit}.`,
  needs: 'Needs fewer strings of larger blocks. Do not leave a removed string connected.',
});

const seriesCount = rule<Bank>({
  id: 'bank.series-count',
  title: 'Blocks in series',
  consequence: 'danger',
  bearsOn: ['bank'],
  cases: having((bank) => present(bank.maxSeries) || (lithium(bank) && bank.series > 1)),
  evaluate(io, bank): Outcome {
    if (!present(bank.maxSeries)) {
      io.work(`${bank.series} lithium blocks in series; nothing says that their protection allows it`);
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
      ? "Lithium blocks in series, without the maker's word that this is allowed."
      : `${counted(demand ?? NaN, 'block')} in series; the limit is ${limit}.`,
  needs: "Needs blocks made for the whole voltage, or the maker's word that this many may be in series.",
});

const shares = rule<Bank>({
  id: 'bank.sharing',
  title: 'Current sharing',
  consequence: 'life',
  bearsOn: ['bank'],
  cases: having(({ parallel }) => parallel > 1),
  evaluate(io, bank) {
    const { shares: each, worst } = sharing(io, bank);
    io.work(`shares: ${each.map((share) => `${figure(100 * share, 3)} %`).join(', ')}`);
    return { ratio: { demand: worst, limit: 1.25, unit: 'x', sense: 'max', tightAbove: 0.88 } };
  },
  sentence: ({ demand, verdict }) =>
    verdict === 'unknown'
      ? 'How the strings are connected has not been checked.'
      : `The most loaded string carries ${figure(demand ?? NaN, 3)} times its share.`,
  remedies: (_, { id }) => [
    {
      title: 'Connect at opposite ends',
      detail: 'positive at one end, negative at the other',
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
  title: 'String fuses',
  consequence: 'danger',
  gravity: 2,
  bearsOn: ['bank', 'fuse'],
  cautions: ['bankAmps'],
  cases: having((bank) => bank.parallel >= (lithium(bank) ? 2 : 3)),
  evaluate(io, bank) {
    const each = fused(bank);
    if (each === null) io.miss(`${bank.id}.fusedStrings`);
    return { verdict: each ? 'holds' : 'over' };
  },
  sentence: ({ verdict }) =>
    verdict === 'unknown'
      ? 'Nobody has checked whether each string has a fuse.'
      : verdict === 'over'
        ? 'Parallel strings have no fuses: all of them feed a fault in one.'
        : 'Each string has a fuse.',
  remedies: (model, bank) =>
    stringFuseBodies(model, bank).map(({ type, rating_A }) => ({
      title: `${raised(fuseWord(type))} of ${rating_A} A at the post of each string`,
      detail: "sized for its share of the current; interrupts the bank's fault current",
      changes: [postFuses(bank, type, rating_A)],
    })),
  needs: 'Needs a fuse at the post of each string, sized for its share; it must be able to interrupt the fault.',
});

const BRIDGES = new Set(['relay', 'diode', 'switch']);
/** True where another battery is joined to the bank so that each pushes into the other. */
export const isBridged = ({ joinedBy }: { joinedBy?: OtherBank['joinedBy'] }): boolean =>
  Boolean(joinedBy && BRIDGES.has(joinedBy));

const mixed = rule<Bank>({
  id: 'bank.mixed',
  letOff: 'up to two years apart is acceptable for a while',
  title: 'Age and chemistry',
  consequence: 'life',
  gravity: 1,
  bearsOn: [],
  school: 'ageSpread_months',
  cases: (model) =>
    bankCase(model).flatMap(({ subject, about }) => [
      ...(about.series * about.parallel > 1 ? [{ subject, about, quantity: 'age' }] : []),
      { subject, about, quantity: 'chemistry' },
    ]),
  evaluate(io, bank, quantity) {
    if (quantity === 'age') {
      const demand = io.need(`${bank.id}.ageSpread_months`, bank.ageSpread_months);
      const limit = io.or('schools.ageSpread_months', io.model.schools.ageSpread_months, 6);
      io.bySchool(`${limit} months`);
      io.work(`oldest and newest block are ${figure(demand)} months apart`);
      return { ratio: { demand, limit, unit: 'months', sense: 'max', tightAbove: 1, softened: demand <= 24 } };
    }
    const joined = (io.model.system.otherBanks ?? []).filter(isBridged);
    const across = joined.some(({ chemistry }) => isLithium(chemistry) !== lithium(bank));
    if (bank.mixedChemistry || across) {
      io.work(across ? 'lead and lithium are joined' : 'the bank itself is mixed');
      return { verdict: 'over', consequence: 'danger' };
    }
    return joined.some(({ chemistry }) => chemistry !== bank.chemistry)
      ? { verdict: 'note', consequence: 'life' }
      : null;
  },
  sentence({ quantity, demand, verdict }) {
    if (quantity === 'age')
      return verdict === 'unknown'
        ? 'The ages of the blocks are not recorded.'
        : `The blocks in this bank are up to ${round(demand ?? NaN)} months apart in age.`;
    return verdict === 'over'
      ? 'Lead and lithium are connected together: what charges one damages the other.'
      : 'A battery of another type is connected to this bank.';
  },
  remedies: ({ system }, bank, { quantity }) =>
    quantity === 'chemistry' && !bank.mixedChemistry
      ? [
          {
            title: 'Separate the banks: a DC-DC charger instead of the direct connection',
            detail: 'remove the relay, diode or switch; each bank has its own fuse and charger',
            changes: (system.otherBanks ?? [])
              .filter(isBridged)
              .map(({ id }) => ({ op: 'set' as const, at: 'otherBanks', id, value: { joinedBy: 'dc-dc' } })),
          },
        ]
      : [],
  needs: ({ quantity }) =>
    quantity === 'age'
      ? 'Needs blocks of one age: replace the whole bank, or use the newer ones as a separate bank.'
      : 'Needs one chemistry: separate the banks, each with its own charger.',
});

/** Rules of how a bank is strung. */
export const bankStringRules = [parallelCount, seriesCount, shares, stringFuse, mixed];
