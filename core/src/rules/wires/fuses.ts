import { bearsFuse, networkOf } from '../../conductors/network';
import { acDrawn_VA, acVolts, continuous_A, design_A, linkDesign_A } from '../../power/design';
import { converterMost_A } from '../../power/loads';
import { type Model } from '../../system/model';
import { type Run } from '../../system/schema';
import { aFigure, apart, figure } from '../../ledger/figures';
import { createLedger, type Ledger } from '../../ledger/ledger';
import { rule, type Outcome } from '../rule';
import { bearableFuse, byCopper, fuseCures, stringFuses } from '../cures/wires';
import { largestFuse_A } from '../../power/conductor-limits';
import { deviceOf, hasDevice, having, inEitherAir, isBreaker, onSource, unfedBoard } from './run-limits';
import { cableName, fusePath, isFuse, STRING, withStrings } from './string-own';
import { raised } from '../../parts/said';

/** As `largestFuse_A`, for a string's lead: what the link itself is made of is recorded with the bank. */
function largestOfString_A(io: Ledger, run: Run): number {
  if (run.size === '') return io.need(`${run.id}.link.size`, null);
  io.school('conductor');
  return largestFuse_A(createLedger(io.model), run);
}

/** Where a fuse stands upstream of a run: its rating, and the run that it is on (null: at the posts of the strings). */
export type Upstream = { rating_A: number; run: Run | null } | 'unknown' | null;

/** The nearest fuse upstream, or an unrecorded one on the way; the strings' own stand before everything. */
export function upstreamFuse(model: Model, run: Run): Upstream {
  const network = networkOf(model.system);
  const way = network.feedersOf(run) ?? network.converterOf(run)?.way ?? [];
  for (const feeder of [...way].reverse()) {
    const { protection } = feeder;
    if (!protection?.type) return 'unknown';
    if (protection.type === 'none') continue;
    return protection.rating_A ? { rating_A: protection.rating_A, run: feeder } : 'unknown';
  }
  const { bank } = model.system;
  const atPosts = bank?.stringFuse;
  if (!bank || !isFuse(atPosts) || network.feedersOf(run) === null) return null;
  return atPosts.rating_A ? { rating_A: atPosts.rating_A * bank.parallel, run: null } : 'unknown';
}

/** True where the nearest fuse upstream protects this run as well: it needs none of its own. */
export const protectedUpstream = (upstream: Upstream, largest_A: number) =>
  upstream !== null && upstream !== 'unknown' && upstream.rating_A <= largest_A + 1e-9;

/** Whether a run's own fuse, or one before it, protects a conductor that allows so much. */
function protectsOutcome(io: Ledger, run: Run, quantity: string | undefined, largest: number): Outcome | null {
  const { protection } = run;
  if (!protection?.type) {
    io.miss(`${run.id}.protection.type`);
    return { verdict: 'over' };
  }
  if (protection.type === 'none') {
    const unfed = unfedBoard(run, io.model);
    if (unfed) {
      io.miss(`${unfed}.run`);
      return { verdict: 'over' };
    }
    const converter = (io.model.system.converters ?? []).find(
      ({ id }) => id === networkOf(io.model.system).converterOf(run)?.id,
    );
    if (converter) {
      const most = converterMost_A(io, converter);
      io.work(`the converter gives at most ${figure(most)} A; the cable allows ${figure(largest)} A`);
      if (most <= largest + 1e-9) return null;
    }
    const upstream = upstreamFuse(io.model, run);
    if (upstream === 'unknown') {
      io.miss(`${run.id}.protection.type`);
      return { verdict: 'over' };
    }
    if (protectedUpstream(upstream, largest)) return null;
    io.work(
      upstream
        ? `no fuse; ${figure(upstream.rating_A)} A upstream, the cable allows ${figure(largest)} A`
        : `no fuse between ${converter ? 'the converter' : 'the bank'} and this cable`,
    );
    return { verdict: 'over' };
  }
  const rating = io.need(`${fusePath(run, quantity)}.rating_A`, protection.rating_A);
  io.work(`fuse ${figure(rating)} A; largest for this cable ${figure(largest)} A`);
  return { ratio: { demand: rating, limit: largest, unit: 'A', sense: 'max', tightAbove: 1 } };
}

const fuseProtects = rule<Run>({
  id: 'run.fuse-protects',
  title: 'Fuse and cable limit',
  consequence: 'danger',
  gravity: ({ demand }) => (demand === null ? 2 : undefined),
  sizeDoes: 'is protected by the fuse that stays',
  bearsOn: ['fuse'],
  school: 'conductor',
  cautions: ['dcRated', 'bankAmps'],
  cases: withStrings(
    having(
      (run, model) =>
        (bearsFuse(run) && (onSource(run, model) || unfedBoard(run, model) !== null)) ||
        (run.kind === 'link' && !networkOf(model.system).isBatteryLink(run) && onSource(run, model)) ||
        hasDevice(run),
    ),
    (bank) => bank.tapping === 'busbar',
  ),
  evaluate: (io, run, quantity) =>
    quantity === STRING
      ? protectsOutcome(io, run, quantity, largestOfString_A(io, run))
      : inEitherAir(io, run, (own, inFreeAir) =>
          protectsOutcome(own, run, quantity, largestFuse_A(own, run, inFreeAir)),
        ),
  sentence({ demand, limit, verdict, subject, quantity }, model) {
    const what = cableName(model, subject, quantity);
    if (verdict === 'unknown') return `The fuse of ${what}, or what feeds it, has not been checked.`;
    if (demand === null) return `${raised(what)} has no fuse.`;
    return `${raised(aFigure(figure(demand)))} A fuse on ${what}; the cable allows at most ${figure(limit ?? NaN)} A.`;
  },
  remedies: (model, run, { quantity }) =>
    quantity === STRING
      ? stringFuses(model)
      : [...fuseCures(model, run), ...byCopper(model, run), ...bearableFuse(model, run)],
});

const fuseCarries = rule<Run>({
  id: 'run.fuse-carries',
  title: 'Fuse and current',
  consequence: 'outage',
  bearsOn: ['load', 'fuse'],
  curedByLimit: 'load',
  cases: withStrings(having(hasDevice)),
  evaluate(io, run, quantity) {
    const rating = io.need(`${fusePath(run, quantity)}.rating_A`, run.protection?.rating_A);
    if (run.kind === 'ac') {
      const drawn = acDrawn_VA(io, run) / acVolts(io, run);
      io.work(`its loads draw ${figure(drawn)} A; protected at ${figure(rating)} A`);
      return { ratio: { demand: rating, limit: drawn, unit: 'A', sense: 'min', tightAbove: 1 } };
    }
    const design = quantity === STRING ? linkDesign_A(io) : design_A(io, run);
    // A breaker is made to carry its rating; a fuse of a string of modules is sized for bright sun in every school.
    const breaker = run.kind === 'pv' && isBreaker(deviceOf(run));
    const wanted = breaker ? continuous_A(io, run, design) : 1.25 * design;
    io.work(
      breaker
        ? `continuous ${figure(wanted)} A; breaker ${figure(rating)} A`
        : `wanted 1.25 x ${figure(design)} A = ${figure(wanted)} A; fuse ${figure(rating)} A`,
    );
    return { ratio: { demand: rating, limit: wanted, unit: 'A', sense: 'min', tightAbove: 1 } };
  },
  sentence({ demand, limit, verdict, subject, quantity }, model) {
    const what = cableName(model, subject, quantity);
    if (verdict === 'unknown') return `Whether the fuse of ${what} can carry the current is not known yet.`;
    const { there, allowed } = apart(demand, limit);
    return `${raised(aFigure(there))} A fuse on ${what}; it should be at least ${allowed} A.`;
  },
  remedies: (model, run, { quantity }) =>
    quantity === STRING ? stringFuses(model) : [...fuseCures(model, run), ...byCopper(model, run)],
});

/** Rules of what a fuse carries and protects. */
export const fuseRules = [fuseProtects, fuseCarries];
