import { isLithium } from '../../chemistry/chemistry';
import type { Bank } from '../../system/schema';
import { byFactor, byStep, step, type Candidate, type Cause } from './cause';

/** What goes wrong in the bank. */

const blocks = ({ parallel, series }: Bank) =>
  Array.from({ length: parallel * series }, (_, i) => ({ string: Math.floor(i / series), block: i % series }));
const ISOLATE = 'Isolate the bank, tools insulated, rings and watches off.';

/** Causes in lead and lithium banks alike, and in those of lead. */
export const bankCauses: Cause[] = [
  {
    code: 'capacity-lost',
    prior: 8,
    title: (name) => `Capacity lost in ${name}`,
    complaints: ['dim-at-night', 'cuts-out', 'runs-down'],
    candidates({ system: { bank } }) {
      if (!bank) return [];
      const shares = byFactor(0.2, 0.7, 1.15);
      const whole: Candidate = {
        code: 'capacity-lost',
        subject: bank.id,
        sizes: shares.map((capacity) => ({ size: capacity, state: { bank: { capacity } } })),
      };
      // With a single block the block is the bank.
      if (bank.series * bank.parallel === 1) return [whole];
      return [
        whole,
        ...blocks(bank).map((position): Candidate => ({
          code: 'capacity-lost',
          subject: bank.id,
          position,
          sizes: shares.map((capacity) => ({ size: capacity, state: { bank: { block: { ...position, capacity } } } })),
        })),
      ];
    },
    cure: (_, { position }) =>
      step(
        position
          ? 'Measure its capacity by itself. A new block among old ones fails early: plan for the whole string.'
          : 'Measure the capacity by a timed discharge. If it is confirmed, plan a new bank from what the site needs, not from the worn figure.',
      ),
    apart: 'Resting voltage is right, but it falls first under load and rises first under charge.',
  },
  {
    code: 'undercharged',
    prior: 5,
    title: (name) => `${name} is held at float before it is full`,
    complaints: ['never-full', 'dim-at-night'],
    candidates: ({ system: { bank } }) =>
      bank
        ? [
            {
              code: 'undercharged',
              subject: bank.id,
              sizes: [{ size: null, state: { bank: { floating: true } } }],
              soc: [0.3, 0.85],
            },
          ]
        : [],
    cure: () => ({
      kind: 'setting',
      text: 'Lengthen absorption until the current has fallen to its tail; for flooded cells equalise afterwards, with air and water.',
      changes: [],
    }),
    apart: 'The device shows float, but the resting voltage (of flooded cells the specific gravity) is low.',
  },
  {
    code: 'block-open',
    prior: 3,
    title: (name) => `A string of ${name} carries nothing`,
    complaints: ['dim-at-night', 'cuts-out'],
    candidates: ({ system: { bank } }) =>
      bank && bank.parallel > 1
        ? Array.from({ length: bank.parallel }, (_, s): Candidate => ({
            code: 'block-open',
            subject: bank.id,
            position: { string: s },
            sizes: [{ size: null, state: { bank: { openString: s } } }],
          }))
        : [],
    cure: ({ system: { bank } }) =>
      step(
        bank && isLithium(bank.chemistry)
          ? 'See whether its fuse is open or its protection has tripped. Charge it alone and let it rest before it joins the others.'
          : `Check the fuse, links and posts of that string, then each block under load. ${ISOLATE}`,
      ),
    apart: 'A clamp on its lead shows no current; the other strings carry its share.',
  },
  {
    code: 'cell-shorted',
    prior: 2,
    hurts: true,
    title: (name) => `A shorted cell in ${name}`,
    complaints: ['hot-or-smells', 'runs-down'],
    candidates: ({ system: { bank } }) =>
      bank
        ? blocks(bank).map((position): Candidate => ({
            code: 'cell-shorted',
            subject: bank.id,
            position,
            sizes: [{ size: null, state: { bank: { block: { ...position, shorted: true } } } }],
          }))
        : [],
    cure: ({ system: { bank } }) =>
      step(
        bank && isLithium(bank.chemistry)
          ? 'Stop charging now. Take the pack out of service and outdoors, and ask its maker.'
          : `Stop charging now: its neighbours are overcharged and gas. Ventilate, ${ISOLATE[0]?.toLowerCase()}${ISOLATE.slice(1)} Take the string out of service.`,
      ),
    apart: 'One block is a whole cell lower at rest; its neighbours are high while charging.',
  },
  {
    code: 'same-end',
    prior: 2,
    title: (name) => `Current taken at one end of ${name}`,
    complaints: ['dim-at-night'],
    candidates: ({ system: { bank } }) =>
      bank && bank.parallel > 1 && bank.tapping !== 'same-end'
        ? [
            {
              code: 'same-end',
              subject: bank.id,
              sizes: [{ size: null, state: { bank: { sameEnd: true } } }],
            },
          ]
        : [],
    cure: () => ({
      kind: 'change',
      text: 'Record it as tapped at one end; Check shows what the strings carry. Then move one lead to the other end, or fit busbars.',
      changes: [{ op: 'set', at: 'bank', value: { tapping: 'same-end' } }],
    }),
    apart: 'The first string carries most at any charge, and less the further a string is from the leads.',
  },
  {
    code: 'lithium-cold',
    prior: 2,
    title: (name) => `${name} is too cold to charge`,
    complaints: ['nothing-in', 'never-full'],
    candidates: ({ system: { bank } }) =>
      bank && isLithium(bank.chemistry)
        ? [{ code: 'lithium-cold', subject: bank.id, sizes: [{ size: null, state: { bank: { cell_C: -4 } } }] }]
        : [],
    cure: () =>
      step(
        'Warm the bank above 5 degC before it is charged. Never charge it colder. Plan insulation, or a heater on the charging side.',
      ),
    apart: 'It gives current but takes none; the cells read below their limit.',
  },
  {
    code: 'lithium-imbalance',
    prior: 2,
    title: (name) => `The cells of ${name} are out of balance`,
    complaints: ['never-full', 'cuts-out'],
    candidates: ({ system: { bank } }) =>
      bank && isLithium(bank.chemistry)
        ? [
            {
              code: 'lithium-imbalance',
              subject: bank.id,
              sizes: byStep(0.1, 0.9, 0.1).map((volts) => ({
                size: volts,
                state: { bank: { stopsBelow_V: volts } },
              })),
              soc: [0.8, 1],
            },
          ]
        : [],
    cure: () =>
      step(
        'Hold it at a lower absorption voltage for a day or more so that the balancer can work, and watch the highest cell.',
      ),
    apart: 'Charging stops below absorption, with one cell at its limit.',
  },
  {
    code: 'lithium-tripped',
    prior: 2,
    title: (name) => `The protection of ${name} is open`,
    complaints: ['nothing-in', 'cuts-out'],
    candidates: ({ system: { bank } }) =>
      bank && isLithium(bank.chemistry)
        ? [{ code: 'lithium-tripped', subject: bank.id, sizes: [{ size: null, state: { bank: { tripped: true } } }] }]
        : [],
    cure: () =>
      step(
        'Find out why it opened before it is woken: lowest cell, temperature, current. Then wake it as its manual says, with a limited current.',
      ),
    apart: 'The posts show next to nothing although its cells are charged.',
  },
];
