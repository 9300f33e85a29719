import type { Change, PvArray, System } from '../system/schema';
import { rewired } from '../system/string-runs';

/** Another way to string the modules of an array. */
export interface Restrung {
  title: string;
  detail: string;
  changes: Change[];
}
type Direction = 'shorter' | 'longer' | 'fewer';

/**
 * Other ways to string the modules of an array of one type: shorter strings (less voltage), longer ones (less
 * current), or fewer strings. Modules that do not divide evenly are left out, and said so. Mixed arrays need a
 * person's eye: no suggestion is made for them.
 */
export function restrung(system: System, array: PvArray, direction: Direction): Restrung[] {
  const all = array.strings.flat();
  const type = all[0];
  if (!type || all.some((id) => id !== type)) return [];
  const lengths = array.strings.map(({ length }) => length);
  const longest = Math.max(...lengths);
  const count = all.length;
  const shapes: [series: number, parallel: number][] = [];
  if (direction === 'shorter')
    for (let series = longest - 1; series >= 1; series--) shapes.push([series, Math.floor(count / series)]);
  else if (direction === 'longer')
    for (let series = longest + 1; series <= count; series++) shapes.push([series, Math.floor(count / series)]);
  else for (let parallel = array.strings.length - 1; parallel >= 1; parallel--) shapes.push([longest, parallel]);
  return (
    shapes
      .filter(([, parallel]) => parallel >= 1)
      // Fewest modules left over first; among equals the smallest step from what is there.
      .sort(([s1, p1], [s2, p2]) => s2 * p2 - s1 * p1)
      .map(([series, parallel]) => {
        const left = count - series * parallel;
        return {
          title: `${shapeText(series, parallel)}${left > 0 ? `, ${left} left over` : ''}`,
          detail: left > 0 ? `uses ${series * parallel} of ${count} modules` : `the same ${count} modules`,
          changes: rewired(system, array, stringsOf(type, series, parallel)),
        };
      })
  );
}

/** So many strings of so many modules of one type. */
export const stringsOf = (type: string, series: number, parallel: number): string[][] =>
  Array.from({ length: parallel }, () => Array.from({ length: series }, () => type));

/** "2 in series, 3 strings", as a technician would say it. */
export const shapeText = (series: number, parallel: number) =>
  parallel === 1
    ? series === 1
      ? 'one module'
      : `${series} in series`
    : series === 1
      ? `${parallel} in parallel`
      : `${series} in series, ${parallel} strings`;
