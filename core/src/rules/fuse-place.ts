import { atEnd, networkOf, touches } from '../conductors/network';
import { type Run } from '../system/schema';
import { figure } from '../ledger/figures';
import { rule } from './rule';
import { hasDevice, having } from './run-limits';
import { faultReaches, upstreamFuse } from './fuses';

const sourceEnd = rule<Run>({
  id: 'run.source-end',
  title: 'Fuse is at the source',
  consequence: 'danger',
  bearsOn: ['fuse'],
  school: 'sourceEnd_m',
  cases: having(
    (run, { system }) => hasDevice(run) && touches(run, system.bank?.id) && run.kind !== 'pv' && run.kind !== 'link',
  ),
  evaluate(io, run) {
    const demand = io.need(`${run.id}.protection.fromSource_m`, run.protection?.fromSource_m);
    const school = io.or('schools.sourceEnd_m', io.model.schools.sourceEnd_m, 0.18);
    const sheathed = io.flag(`${run.id}.sheathed`, run.sheathed);
    // "At the battery terminal" still leaves a lug's length.
    const limit = sheathed ? 1 : school === 0 ? 0.05 : school;
    io.bySchool(`${school} m`);
    io.work(`fuse ${figure(demand)} m from the bank; at most ${figure(limit)} m${sheathed ? ', sheathed' : ''}`);
    return { ratio: { demand, limit, unit: 'm', sense: 'max', tightAbove: 1 } };
  },
  sentence: ({ demand, limit, verdict }) =>
    verdict === 'unknown'
      ? 'How far the fuse is from the bank was not read.'
      : `The fuse sits ${figure(demand ?? NaN)} m from the bank; ${figure(limit ?? NaN)} m is the most.`,
  remedies: (_, run, { limit }) =>
    limit
      ? [
          {
            title: 'Move the fuse to the bank',
            detail: `within ${figure(limit)} m of the terminal`,
            changes: [
              { op: 'set', at: 'runs', id: run.id, value: { protection: { fromSource_m: Math.min(limit, 0.1) } } },
            ],
          },
        ]
      : [],
});

const selectivity = rule<Run>({
  id: 'run.selectivity',
  title: 'The nearer fuse goes first',
  consequence: 'outage',
  bearsOn: ['fuse'],
  curedByLimit: false,
  cases: having(faultReaches),
  evaluate(io, run) {
    const upstream = upstreamFuse(io.model, run);
    // Nothing upstream, or nobody saw what: no order to speak of.
    if (!upstream || upstream === 'unknown') return null;
    const rating = io.need(`${run.id}.protection.rating_A`, run.protection?.rating_A);
    io.work(`${figure(rating)} A below ${figure(upstream.rating_A)} A: ratio ${figure(rating / upstream.rating_A)}`);
    return {
      ratio: { demand: rating / upstream.rating_A, limit: 1 / 1.6, unit: 'ratio', sense: 'max', tightAbove: 1 },
      overIs: 'note',
    };
  },
  sentence: ({ verdict }) =>
    verdict === 'unknown'
      ? 'Which fuse goes first cannot be said yet.'
      : verdict === 'note'
        ? 'A fault here may take the fuse upstream with it.'
        : 'The nearer fuse goes first.',
});

const bothEnds = rule<Run>({
  id: 'run.both-ends',
  title: 'Fused at both ends',
  consequence: 'danger',
  bearsOn: ['fuse'],
  cases: having((run, { system }) => {
    if (run.kind !== 'charger') return false;
    const charger = atEnd(system.chargers, run);
    if (charger?.kind === 'alternator-direct') return true;
    return charger?.kind === 'dc-dc' && networkOf(system).side(run) === 'input';
  }),
  evaluate(io, run) {
    const type = run.farProtection?.type;
    if (!type) io.miss(`${run.id}.farProtection.type`);
    io.work(`far end: ${type ?? 'not seen'}; both ends of this cable are sources`);
    return { verdict: type === 'none' ? 'over' : 'holds' };
  },
  sentence: ({ verdict }) =>
    verdict === 'over'
      ? 'A cable between two sources is fused at one end only.'
      : verdict === 'unknown'
        ? 'The fuse at the far end was not seen.'
        : 'Fused at both ends.',
});

export const fusePlaceRules = [sourceEnd, selectivity, bothEnds];
