import { createLedger } from '../ledger/ledger';
import { coldString_V, modulesOf } from '../pv/strings';
import type { Asked } from './asked';
import type { Tools } from './engine';
import { fieldOf, FACTOR, scalar, type Field } from './field';
import { MASK } from './grid';
import type { State } from './state';

/** Sigmas of strings beside each other, as shares: half of practice D's 3 % of volts, and of a reference cell's 5 %. */
const VOC_SIGMA = 0.015;
const ISC_SIGMA = 0.025;
const LIGHT = MASK.gain | MASK.cell;

/** Readings of an array. */
export function arrayField({ model, grid, sun }: Tools, asked: Asked, state: State): Field | null {
  const { quantity, position, at } = asked;
  const array = model.system.arrays?.find(({ id }) => id === asked.subject);
  if (!array) return null;
  const s = position?.string ?? (array.strings.length === 1 ? 0 : -1);
  const own = state.arrays?.[array.id];
  const overLight = (flat: (gain: number, cell_K: number) => number, sigma: number, least: number) =>
    fieldOf(grid, LIGHT, ({ gain, cell_K }) => {
      const mu = Math.max(0, flat(gain, cell_K));
      return { mu, sigma: sigma * mu + least };
    });
  switch (quantity) {
    case 'stringVoc_V':
      return s < 0
        ? null
        : overLight(
            sun.of(array, state, at, `voc ${s}`, ({ strings }) => strings[s]?.voc_V ?? NaN),
            VOC_SIGMA,
            0.1,
          );
    case 'stringIsc_A':
      return s < 0
        ? null
        : overLight(
            sun.of(array, state, at, `isc ${s}`, ({ strings }) => strings[s]?.isc_A ?? NaN),
            ISC_SIGMA,
            0.05,
          );
    case 'stringImp_A':
      return s < 0
        ? null
        : overLight(
            sun.of(array, state, at, `imp ${s}`, ({ strings }) => strings[s]?.imp_A() ?? NaN),
            ISC_SIGMA,
            0.05,
          );
    case 'arrayVmp_V':
      return overLight(
        sun.of(array, state, at, 'vmp', (drawn) => drawn.vmp_V()),
        VOC_SIGMA,
        0.1,
      );
    case 'plusFrame_V':
    case 'minusFrame_V': {
      const earth = own?.earth;
      const string = array.strings[earth?.string ?? 0] ?? [];
      const voc = sun.of(
        array,
        {},
        at,
        `voc ${earth?.string ?? 0}`,
        ({ strings }) => strings[earth?.string ?? 0]?.voc_V ?? NaN,
      );
      return fieldOf(grid, LIGHT, ({ gain, cell_K }) => {
        const whole = voc(gain, cell_K);
        if (!earth) return { mu: 0, sigma: 0.02 * whole + 0.5 };
        const below = (whole * earth.behind) / Math.max(1, string.length);
        return { mu: quantity === 'plusFrame_V' ? whole - below : -below, sigma: 0.02 * whole + 0.5 };
      });
    }
    case 'insulation_Mohm': {
      if (own?.earth) return scalar(grid, 0.02, FACTOR, 'ratio');
      const io = createLedger(model);
      const cold_V = Math.max(...array.strings.map((string) => coldString_V(io, modulesOf(model.system, string))));
      return scalar(grid, cold_V < 120 ? 0.5 : 1, FACTOR, 'least');
    }
    default:
      return null;
  }
}
