import type { Model } from '../../system/model';
import { createLedger } from '../../ledger/ledger';
import { startsHard } from '../../power/loads';
import { byFactor, byStep, step, type Candidate, type Cause } from './cause';

/** What goes wrong at inverters, loads, what counts, and what draws unseen. */

const twelvesOf = ({ system }: Model) => (system.nominal_V ?? 12) / 12;

/** Causes at devices and at what counts for the bank. */
export const deviceCauses: Cause[] = [
  {
    code: 'parasitic',
    prior: 3,
    title: () => 'Something draws power all the time',
    complaints: ['runs-down'],
    candidates: ({ system }) =>
      system.bank
        ? [
            {
              code: 'parasitic',
              subject: 'site',
              sizes: byFactor(3, 100, 1.12).map((watts) => ({ size: watts, state: { drain_W: watts } })),
            },
          ]
        : [],
    cure: () =>
      step(
        'With everything off, take out one fuse after the other and watch the clamp: the circuit whose fuse stops the current is the one.',
      ),
    apart: 'The current flows with everything off, day and night.',
  },
  {
    code: 'shunt-parameters',
    prior: 3,
    title: (name) => `${name} is set wrong`,
    complaints: ['runs-down', 'never-full'],
    candidates: ({ system: { monitor } }) =>
      monitor
        ? [
            {
              code: 'shunt-parameters',
              subject: monitor.id,
              sizes: [
                ...byStep(0.2, 4, 0.1).flatMap((amps) =>
                  [amps, -amps].map((zero_A) => ({ size: zero_A, state: { shunt: { zero_A } } })),
                ),
                ...[0.5, 2].map((scale) => ({ size: scale, state: { shunt: { scale } } })),
              ],
            },
          ]
        : [],
    cure: () => ({
      kind: 'setting',
      text: 'Set its zero with everything isolated, then its shunt, capacity and efficiency; synchronise when the bank is full.',
      changes: [],
    }),
    apart: 'A constant error is the zero; one that grows with the current is the shunt size.',
  },
  {
    code: 'shunt-bypassed',
    prior: 2,
    title: (name) => `A negative cable bypasses ${name}`,
    complaints: ['runs-down'],
    candidates: ({ system: { monitor } }) =>
      monitor
        ? [
            {
              code: 'shunt-bypassed',
              subject: monitor.id,
              sizes: byStep(0, 0.9, 0.05).map((sees) => ({ size: 1 - sees, state: { shunt: { sees } } })),
            },
          ]
        : [],
    cure: () => step('Follow every negative at the bank: all of them belong on the system side of the shunt.'),
    apart: 'Monitor and clamp differ by exactly what one branch carries, and agree when it is off.',
  },
  {
    code: 'cutoff-misset',
    prior: 2,
    title: (name) => `Cut-off of ${name} set wrong`,
    complaints: ['cuts-out', 'runs-down'],
    candidates: (model) =>
      (model.system.inverters ?? [])
        .filter(({ lowCutoff_V, settings }) => (settings?.cutoff_V ?? lowCutoff_V) !== null)
        .map(({ id }): Candidate => ({
          code: 'cutoff-misset',
          subject: id,
          sizes: byStep(0.2, 2, 0.05).flatMap((volts) =>
            [volts, -volts].map((off) => ({
              size: off,
              state: { inverters: { [id]: { cutoff_V: off * twelvesOf(model) } } },
            })),
          ),
        })),
    cure: () => ({
      kind: 'setting',
      text: 'Set its cut-off and its reconnect from the settings sheet, and read both back.',
      changes: [],
    }),
    apart: 'It cuts off while the voltage at the posts is still right.',
  },
  {
    code: 'start-grown',
    prior: 2,
    title: (name) => `${name} has become hard to start`,
    complaints: ['cuts-out'],
    candidates(model) {
      const io = createLedger(model);
      return (model.system.loads ?? [])
        .filter((load) => startsHard(io, load))
        .map(({ id }): Candidate => ({
          code: 'start-grown',
          subject: id,
          sizes: byStep(1.4, 3, 0.1).map((times) => ({ size: times, state: { starts: { [id]: times } } })),
        }));
    },
    cure: () =>
      step(
        'Check its capacitor, bearings and valve before the inverter is blamed; fit a soft start only where its maker allows one.',
      ),
    apart: 'Its starting current has grown; its running current is as before.',
  },
  {
    code: 'bond-fault',
    prior: 1,
    hurts: true,
    title: (name) => `Neutral and earth of ${name} not bonded once`,
    complaints: ['other'],
    candidates: ({ system }) =>
      (system.inverters ?? [])
        .filter(({ feeds }) => feeds !== undefined)
        .map(({ id }): Candidate => ({
          code: 'bond-fault',
          subject: id,
          sizes: byFactor(20, 200_000, 3).map((ohm) => ({
            size: ohm,
            state: { inverters: { [id]: { bond_ohm: ohm } } },
          })),
        })),
    cure: () =>
      step('Switch the AC side off and label it. A licensed person makes one bond, in each mode, and tests the RCD.'),
    apart: 'The RCD trips never, or at once, in one mode only: for a licensed person.',
  },
];
