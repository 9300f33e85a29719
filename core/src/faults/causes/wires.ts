import { runsOnDc } from '../runs-on-dc';
import { byFactor, step, type Candidate, type Cause } from './cause';

/** What goes wrong between the parts: joints, cables, what joins another battery. */

/** Causes in cables and joints. */
export const wireCauses: Cause[] = [
  {
    code: 'joint',
    prior: 8,
    hurts: true,
    title: (name) => `A bad joint on ${name}`,
    complaints: ['dim-at-night', 'cuts-out', 'hot-or-smells', 'never-full'],
    candidates: (model) =>
      runsOnDc(model).map(({ id }): Candidate => ({
        code: 'joint',
        subject: id,
        sizes: byFactor(1.5, 45, 1.12).map((mohm) => ({ size: mohm, state: { runs: { [id]: { ohm: mohm / 1000 } } } })),
      })),
    cure: () =>
      step(
        'Isolate, prove dead, then open each joint: clean it, replace a burnt lug, and tighten to the torque of its maker. Read the voltage drop again.',
      ),
    apart: 'The voltage is lost at one point, and that point is hot; a thin cable is warm all along.',
  },
  {
    code: 'cable-thin',
    prior: 4,
    title: (name) => `${name} is thinner or longer than recorded`,
    complaints: ['dim-at-night', 'cuts-out'],
    candidates: (model) =>
      (model.system.runs ?? [])
        .filter(({ kind }) => kind !== 'ac' && kind !== 'link')
        .map(({ id }): Candidate => ({
          code: 'cable-thin',
          subject: id,
          sizes: byFactor(1.5, 5, 1.1).map((times) => ({ size: times, state: { runs: { [id]: { times } } } })),
        })),
    cure: () =>
      step(
        'Measure its length and read the size on its jacket, correct the survey, and let Check say whether cable and fuse still fit.',
      ),
    apart: 'The voltage is lost evenly along the cable; no joint of it is hot.',
  },
  {
    code: 'relay-stuck',
    prior: 1,
    title: (name) => `What connects ${name} to the house bank is stuck closed`,
    complaints: ['runs-down'],
    candidates: ({ system }) =>
      (system.otherBanks ?? [])
        .filter(({ joinedBy }) => joinedBy && joinedBy !== 'none' && joinedBy !== 'dc-dc')
        .map(({ id }) => ({
          code: 'relay-stuck',
          subject: id,
          sizes: [{ size: null, state: { stuck: { [id]: true as const } } }],
        })),
    cure: () =>
      step(
        'Take the connection apart at the fuse of the other battery, prove that it is apart, and replace the relay.',
      ),
    apart: 'With the engine off both batteries show the same voltage.',
  },
];
