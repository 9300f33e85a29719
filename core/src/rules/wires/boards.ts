import { raised } from '../../parts/said';
import { throughBox } from '../../power/design';
import { networkOf } from '../../conductors/network';
import { continuousDischarge_A } from '../../power/discharge';
import type { Model } from '../../system/model';
import type { Distribution, Monitor } from '../../system/schema';
import { allCharging_A } from '../../power/charging';
import { apart, counted, figure } from '../../ledger/figures';
import { partName, runName } from '../../conductors/names';
import { largerPart, setPart } from '../cures/devices';
import { rule, type Case, type Rule } from '../rule';
import { SHUNT_A } from '../cures/sold';

/** Rules about the boards and what counts for the bank. */

const boxes = (model: Model): Case<Distribution>[] =>
  (model.system.distribution ?? []).map((box) => ({ subject: box.id, about: box }));

const slots = rule<Distribution>({
  id: 'distribution.slots',
  title: 'Ways on the board',
  consequence: 'outage',
  bearsOn: [],
  curedByLimit: false,
  cases: boxes,
  evaluate: (io, { id, slots: has, circuits }) => ({
    ratio: {
      demand: circuits?.length ?? 0,
      limit: io.need(`${id}.slots`, has),
      unit: 'slots',
      sense: 'max',
      tightAbove: 1,
    },
  }),
  sentence: ({ demand, limit, verdict }) =>
    verdict === 'unknown'
      ? 'The number of ways on the board is not recorded.'
      : `${counted(demand ?? NaN, 'circuit')} on a board with ${counted(limit ?? NaN, 'way')}.`,
  remedies: (model, { id }, { demand }) =>
    largerPart('distribution', id, 'slots', demand, SLOTS, (slots) => ({
      title: `A board with ${slots} ways instead of ${partName(model, id)}`,
      detail: 'each circuit keeps a fuse sized for its own cable',
    })),
});

const SLOTS = [4, 6, 8, 10, 12, 16, 20, 24, 32, 40, 48, 64];

const rating = rule<Distribution>({
  id: 'distribution.rating',
  title: 'Board rating',
  consequence: 'danger',
  bearsOn: ['load'],
  cases: boxes,
  evaluate(io, box) {
    const { sources, loads } = throughBox(io, box);
    const demand = Math.max(sources, loads);
    io.work(`sources bring ${figure(sources)} A, loads take ${figure(loads)} A`);
    return {
      ratio: { demand, limit: io.need(`${box.id}.rating_A`, box.rating_A), unit: 'A', sense: 'max', tightAbove: 0.8 },
    };
  },
  sentence({ demand, limit, verdict, subject }, model) {
    const what = partName(model, subject);
    if (verdict === 'unknown') return `The rating of ${what} is not recorded.`;
    const { there, allowed } = apart(demand, limit);
    return `${raised(what)} carries ${there} A; it is rated for ${allowed} A.`;
  },
  remedies: (model, { id }, { demand }) =>
    largerPart('distribution', id, 'rating_A', demand === null ? null : demand / 0.8, BOARD_A, (amps) => ({
      title: `A board for ${amps} A in place of ${partName(model, id)}`,
      detail: 'busbars and main terminal for that current; the cables were checked with it',
    })),
});

const BOARD_A = [30, 60, 100, 150, 200, 250, 300, 400, 500, 600, 1000];

const monitors = ({ system }: Model): Case<Monitor>[] =>
  system.monitor ? [{ subject: system.monitor.id, about: system.monitor }] : [];

const shunt = rule<Monitor>({
  id: 'monitor.shunt',
  title: 'Shunt rating',
  consequence: 'loss',
  bearsOn: ['load'],
  curedByLimit: 'load',
  cases: monitors,
  evaluate(io, { id, shunt_A }) {
    const out = continuousDischarge_A(io);
    const into = allCharging_A(io);
    io.work(`out ${figure(out)} A, in ${figure(into)} A`);
    return {
      ratio: {
        demand: Math.max(out, into),
        limit: io.need(`${id}.shunt_A`, shunt_A),
        unit: 'A',
        sense: 'max',
        tightAbove: 0.8,
      },
    };
  },
  sentence: ({ demand, limit, verdict }) =>
    verdict === 'unknown'
      ? "The shunt's rating is not recorded."
      : `The shunt carries ${apart(demand, limit).there} A; it is rated for ${apart(demand, limit).allowed} A.`,
  remedies: (_, { id }, { demand }) =>
    largerPart('monitor', id, 'shunt_A', demand === null ? null : demand / 0.8, SHUNT_A, (amps) => ({
      title: `A shunt of ${amps} A`,
      detail: 'with a display for its millivolts',
    })),
});

const coverage = rule<Monitor>({
  id: 'monitor.coverage',
  title: 'Shunt coverage',
  consequence: 'loss',
  bearsOn: [],
  cases: monitors,
  evaluate(io) {
    const { system } = io.model;
    const network = networkOf(system);
    const counted = (system.runs ?? []).filter(
      (run) => run.kind !== 'pv' && run.kind !== 'ac' && !network.isBatteryLink(run) && network.feedersOf(run) !== null,
    );
    const around = counted.filter(({ negativeThroughShunt }) => negativeThroughShunt === false);
    if (around.length > 0) {
      io.work(`bypasses the shunt: ${around.map((run) => runName(system, run)).join(', ')}`);
      return { verdict: 'over' };
    }
    for (const { id, negativeThroughShunt } of counted)
      if (negativeThroughShunt === null || negativeThroughShunt === undefined) io.miss(`${id}.negativeThroughShunt`);
    return { verdict: 'holds' };
  },
  sentence: ({ verdict }) =>
    verdict === 'over'
      ? 'A negative bypasses the shunt: the monitor does not count it.'
      : verdict === 'unknown'
        ? 'Nobody has checked whether every negative goes through the shunt.'
        : 'Every negative goes through the shunt.',
  remedies: ({ system }) => {
    const around = (system.runs ?? []).filter(({ negativeThroughShunt }) => negativeThroughShunt === false);
    return around.length > 0
      ? [
          {
            title: `Move ${around.map((run) => runName(system, run)).join(', ')} to the system side of the shunt`,
            detail: 'its negative only; the fuse stays where it is',
            changes: around.map(({ id }) => setPart('runs', id, { negativeThroughShunt: true })),
          },
        ]
      : [];
  },
  needs: 'Needs every negative on the system side of the shunt.',
});

/** Rules about boards and monitors. */
export const boardRules: Rule<unknown>[] = [slots, rating, shunt, coverage];
