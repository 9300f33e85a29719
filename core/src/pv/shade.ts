import type { Model } from '../system/model';
import { arrayCurve, type PowerPoint } from './array-curve';
import type { Point } from './curve';
import { shapeText } from './restring';
import { modulesOf } from './strings';

/** What an array gives under a shade, and what the same modules would give strung otherwise. */
export interface ShadeAnswer {
  points: Point[];
  maxima: PowerPoint[];
  best: PowerPoint;
  /** The same array with all modules in full light, W. */
  unshaded_W: number;
  wirings: Wiring[];
}
/** One even wiring of the modules, and its best watts under the shade. */
export interface Wiring {
  title: string;
  series: number;
  parallel: number;
  best_W: number;
  /** True for the wiring as it is. */
  present: boolean;
}

/** An array under a shade: light in W/m2, cells in degC. */
export interface ShadeQuestion {
  arrayId: string;
  irradiance_W_m2: number;
  cell_C: number;
  /** Share of the light that each module gets, string by string. */
  light: number[][];
}

/**
 * The curve of an array with each module under its own light, and the best point of every even wiring of the same
 * modules in the same places: the shaded ones stay shaded, read off string by string. Mixed arrays are not rewired.
 */
export function underShade(
  { system }: Model,
  { arrayId, irradiance_W_m2, cell_C, light }: ShadeQuestion,
): ShadeAnswer | null {
  const array = system.arrays?.find(({ id }) => id === arrayId);
  if (!array) return null;
  const standing = array.strings.map((string, s) =>
    modulesOf(system, string).map((module, m) => ({
      module,
      cell_C,
      irradiance_W_m2: irradiance_W_m2 * (light[s]?.[m] ?? 1),
    })),
  );
  const { points, maxima, best } = arrayCurve(standing);
  const unshaded = arrayCurve(standing.map((string) => string.map((one) => ({ ...one, irradiance_W_m2 }))));
  const all = standing.flat();
  const alike = all.every(({ module }) => module === all[0]?.module);
  const even = standing.every(({ length }) => length === standing[0]?.length);
  const shapes = alike && even ? all.flatMap((_, i) => (all.length % (i + 1) === 0 ? [i + 1] : [])) : [];
  return {
    points,
    maxima,
    best,
    unshaded_W: unshaded.best.p,
    wirings: shapes.map((series) => {
      const parallel = all.length / series;
      const present = series === standing[0]?.length;
      const strings = Array.from({ length: parallel }, (_, s) => all.slice(s * series, (s + 1) * series));
      return {
        title: shapeText(series, parallel),
        series,
        parallel,
        best_W: present ? best.p : arrayCurve(strings).best.p,
        present,
      };
    }),
  };
}
