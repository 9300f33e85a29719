import { atEnd, networkOf, touches } from '../../conductors/network';
import type { Model } from '../../system/model';
import { type Run } from '../../system/schema';
import { figure } from '../../ledger/figures';
import { createLedger } from '../../ledger/ledger';
import { bankFaultReaches, faultReaches } from './fault-current';
import { protectedUpstream, upstreamFuse } from './fuses';
import { fuseCures } from '../cures/wires';
import { partName } from '../../conductors/names';
import { rule } from '../rule';
import { largestFuse_A } from '../../power/conductor-limits';
import { hasDevice, having, inEitherAir } from './run-limits';

/** A run whose fuse belongs at its source end: it starts at the bank, or at the posts of a device. */
const startsHere = (run: Run, { system }: Model) =>
  bankFaultReaches(run, { system }) &&
  hasDevice(run) &&
  (networkOf(system).isTapped(run) || touches(run, system.bank?.id));

const sourceEnd = rule<Run>({
  id: 'run.source-end',
  title: 'Fuse position',
  consequence: 'danger',
  bearsOn: ['fuse'],
  school: 'sourceEnd_m',
  cases: having(startsHere),
  evaluate(io, run) {
    // The fuse before it protects this cable too: where this one sits is of no matter.
    if (protectedUpstream(upstreamFuse(io.model, run), largestFuse_A(createLedger(io.model), run))) return null;
    const demand = io.need(`${run.id}.protection.fromSource_m`, run.protection?.fromSource_m);
    const school = io.or('schools.sourceEnd_m', io.model.schools.sourceEnd_m, 0.18);
    const sheathed = io.flag(`${run.id}.sheathed`, run.sheathed);
    // "At the battery terminal" still leaves a lug's length.
    const limit = sheathed ? 1 : school === 0 ? 0.05 : school;
    io.bySchool(`${school} m`);
    io.work(`fuse ${figure(demand)} m from its source; at most ${figure(limit)} m${sheathed ? ', sheathed' : ''}`);
    return { ratio: { demand, limit, unit: 'm', sense: 'max', tightAbove: 1 } };
  },
  sentence({ demand, limit, verdict, subject }, model) {
    const what = partName(model, subject);
    if (verdict === 'unknown') return `The distance from the fuse of ${what} to its source is not recorded.`;
    return `The fuse of ${what} is ${figure(demand ?? NaN)} m from its source; the limit is ${figure(limit ?? NaN)} m.`;
  },
  remedies: (_, run, { limit }) =>
    limit
      ? [
          {
            title: 'Move the fuse to the source',
            detail: `within ${figure(limit)} m of the terminal`,
            changes: [
              { op: 'set', at: 'runs', id: run.id, value: { protection: { fromSource_m: Math.min(limit, 0.1) } } },
            ],
          },
          ...(run.sheathed
            ? []
            : [
                {
                  title: 'Protect the cable up to its fuse',
                  detail: 'in conduit or loom, where the fuse cannot be moved: then up to 1 m is allowed',
                  changes: [{ op: 'set' as const, at: 'runs', id: run.id, value: { sheathed: true } }],
                },
              ]),
        ]
      : [],
  needs: 'Needs the fuse moved to the terminal. First measure how far away it is now.',
});

const selectivity = rule<Run>({
  id: 'run.selectivity',
  title: 'Order of fuses',
  consequence: 'outage',
  bearsOn: ['fuse'],
  curedByLimit: false,
  cases: having(faultReaches),
  evaluate(io, run) {
    const upstream = upstreamFuse(io.model, run);
    // Nothing upstream, or nobody saw what: no order to speak of.
    if (!upstream || upstream === 'unknown' || !upstream.run) return null;
    const rating = io.need(`${run.id}.protection.rating_A`, run.protection?.rating_A);
    io.work(`${figure(rating)} A below ${figure(upstream.rating_A)} A: ratio ${figure(rating / upstream.rating_A)}`);
    return {
      ratio: { demand: rating / upstream.rating_A, limit: 1 / 1.6, unit: 'ratio', sense: 'max', tightAbove: 1 },
      overIs: 'note',
    };
  },
  sentence: ({ verdict }) =>
    verdict === 'unknown'
      ? 'Which fuse blows first is not known yet.'
      : verdict === 'note'
        ? 'A fault here may also blow the fuse upstream.'
        : 'The nearer fuse blows first.',
});

const bothEnds = rule<Run>({
  id: 'run.both-ends',
  title: 'Fuse at both ends',
  consequence: 'danger',
  gravity: ({ working }) => (working.some((line) => line.startsWith('fuse there')) ? undefined : 2),
  bearsOn: ['fuse'],
  cases: having((run, { system }) => {
    if (run.kind !== 'charger') return false;
    const charger = atEnd(system.chargers, run);
    if (charger?.kind === 'alternator-direct') return true;
    return charger?.kind === 'dc-dc' && networkOf(system).side(run) === 'input';
  }),
  evaluate: (io, run) =>
    inEitherAir(io, run, (own, inFreeAir) => {
      const type = run.farProtection?.type;
      if (!type) own.miss(`${run.id}.farProtection.type`);
      own.work(`far end: ${type ?? 'not seen'}; both ends of this cable are sources`);
      if (!type || type === 'none') return { verdict: 'over' };
      const rating = own.need(`${run.id}.farProtection.rating_A`, run.farProtection?.rating_A);
      const largest = largestFuse_A(own, run, inFreeAir);
      own.work(`fuse there ${figure(rating)} A; largest for this cable ${figure(largest)} A`);
      return { verdict: rating > largest + 1e-9 ? 'over' : 'holds' };
    }),
  sentence({ verdict, subject }, model) {
    const what = partName(model, subject);
    if (verdict === 'over') return `${what} connects two sources but is not fused at both ends.`;
    return verdict === 'unknown'
      ? `Nobody has checked the fuse at the far end of ${what}.`
      : `${what} is fused at both ends.`;
  },
  // The far end feeds a fault as the near one does: the same fuses are asked for there.
  remedies: (model, run) =>
    fuseCures(model, { ...run, protection: null }).map(({ title, detail, changes }) => ({
      title: title.replace('at the source end', 'at the far end too'),
      detail,
      changes: changes.map((change) => {
        const { protection } = change.value as { protection: object };
        return { ...change, value: { farProtection: protection } };
      }),
    })),
  needs: 'Needs a fuse at each end, by the posts of each source.',
});

/** Rules of where a fuse sits. */
export const fusePlaceRules = [sourceEnd, selectivity, bothEnds];
