import { chargingDevices } from '../../bank/charging';
import { wiredArrays, type Model } from '../../system/model';
import { byFactor, byStep, step, type Candidate, type Cause } from './cause';

/** What goes wrong with what charges: controllers, chargers, their settings. */

const feeding = ({ system }: Model) =>
  (system.controllers ?? []).filter(({ id }) => wiredArrays(system).some(({ controllerId }) => controllerId === id));
const twelvesOf = ({ system }: Model) => (system.nominal_V ?? 12) / 12;

/** Causes at controllers and chargers. */
export const chargingCauses: Cause[] = [
  {
    code: 'absorb-low',
    prior: 4,
    title: (name) => `Absorption voltage of ${name} too low`,
    complaints: ['never-full', 'dim-at-night'],
    candidates: (model) =>
      chargingDevices(model.system).map(({ id }): Candidate => ({
        code: 'absorb-low',
        subject: id,
        sizes: byStep(0.2, 1.3, 0.05).map((low) => ({
          size: -low,
          state: { absorb: { [id]: -low * twelvesOf(model) } },
        })),
      })),
    cure: () => ({
      kind: 'setting',
      text: "Set absorption to what the bank's maker gives, and read it back on the device.",
      changes: [],
    }),
    apart:
      'It holds a steady voltage below the right one; a sensor on a warm wall is off in proportion to the temperature.',
  },
  {
    code: 'controller-limited',
    prior: 3,
    title: (name) => `${name} holds back its output`,
    complaints: ['never-full', 'nothing-in'],
    candidates: (model, now_A) =>
      feeding(model).flatMap(({ id }): Candidate[] => {
        const now = now_A(id);
        return now === null || now <= 0
          ? []
          : [
              {
                code: 'controller-limited',
                subject: id,
                sizes: byFactor(0.1, 0.9, 1.06).map((share) => ({
                  size: share,
                  state: { controllers: { [id]: { limit: share * now } } },
                })),
              },
            ];
      }),
    cure: () => ({
      kind: 'setting',
      text: 'Read its current limit and its case temperature. Raise the limit only as far as bank, cable and fuse allow; give it air.',
      changes: [],
    }),
    apart: 'Its output stays flat while the array voltage rises above its best; the bank is below absorption.',
  },
  {
    code: 'pwm-as-mppt',
    prior: 1,
    title: (name) => `${name} is a PWM controller`,
    complaints: ['never-full'],
    candidates: (model) =>
      feeding(model)
        .filter(({ type }) => type === 'mppt')
        .map(({ id }) => ({
          code: 'pwm-as-mppt',
          subject: id,
          sizes: [{ size: null, state: { controllers: { [id]: { pwm: true } } } }],
        })),
    cure: (_, { subject }) => ({
      kind: 'change',
      text: 'Record it as PWM. Check shows what that means for strings and yield before anything is bought.',
      changes: [{ op: 'set', at: 'controllers', id: subject, value: { type: 'pwm' } }],
    }),
    apart: 'The array is at half a volt above the bank, and as many amperes go in as come out.',
  },
  {
    code: 'local-maximum',
    prior: 1,
    title: (name) => `${name} sits at a lower power maximum`,
    complaints: ['never-full'],
    candidates: (model) =>
      feeding(model)
        .filter(({ type }) => type === 'mppt')
        .map(({ id }) => ({
          code: 'local-maximum',
          subject: id,
          sizes: byStep(0.45, 0.85, 0.05).map((share) => ({
            size: share,
            state: { controllers: { [id]: { vmpShare: share } } },
          })),
        })),
    cure: () =>
      step(
        'Start its sweep from its menu, or open and close the array isolator: never the battery side first. Then look for what shades a module.',
      ),
    apart: 'A new sweep cures it until the shade comes back.',
  },
  {
    code: 'charger-loop',
    prior: 1,
    title: (name) => `${name} is fed by the inverter of its own bank`,
    complaints: ['runs-down'],
    candidates: ({ system }) =>
      (system.inverters ?? []).length === 0
        ? []
        : (system.chargers ?? [])
            .filter(({ kind }) => kind === 'mains')
            .map((charger) => {
              const watts = charger.max_A * (charger.output_V ?? system.nominal_V ?? 12);
              return {
                code: 'charger-loop' as const,
                subject: charger.id,
                sizes: [0.2, 0.25, 0.3].map((share) => ({ size: share, state: { drain_W: share * watts } })),
              };
            }),
    cure: () => step('Move its plug to an outlet that the inverter does not feed, and label that outlet.'),
    apart: 'The drain stops when the charger is unplugged, with no mains or generator connected.',
  },
];
