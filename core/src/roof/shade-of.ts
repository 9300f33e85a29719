import { elementAt } from '../numeric/element';
import { faultsIn } from '../system/faults';
import type { Model } from '../system/model';
import type { ModuleType, Obstacle, Roof } from '../system/schema';
import { climateOf } from '../sun/weather';
import { inputsOf, loose } from './inputs';
import { yieldOf, type Input, type Yield } from './kept';
import type { LitHour } from './light';
import { headingsOf, lightOf, litRoof } from './lit-roof';
import type { Spot } from './spots';
import { regrouped } from './regroup';
import { boxAt, lyingThere } from './size';

/** The shade on a roof's modules over the mean year (docs/roof.md). */
export interface RoofShade {
  hours: { month: number; hour: number; beam: number[] }[];
  light: number[];
  sky: number[];
  kept: number;
  keptHard: number;
  wirings: { strings: number[][]; kept: number }[];
}

/**
 * @param fit modules that are not placed yet, those of each type as one string; null: those of the file
 * @returns what is missing where nothing can be said
 */
export function shadeOf(
  model: Model,
  roof: Roof,
  obstacles: readonly Obstacle[],
  fit: readonly (Spot & { type: ModuleType })[] | null,
  heading: number | undefined,
): RoofShade | { missing: string[] } {
  const headings = headingsOf(model.site, roof, heading);
  const missing = faultsIn(() => climateOf(model)).map(({ path }) => path);
  if (headings.some(Number.isNaN)) missing.push(`${roof.id}.heading_deg`);
  if (missing.length > 0) return { missing };
  const lying = fit
    ? fit.map(({ type, x, y, turned }) => ({ module: type, box: boxAt(type, x, y, turned), turned }))
    : (roof.placed ?? []).map((one) => lyingThere(model.system, one));
  const inputs = fit ? loose(fit.map(({ type }) => type)) : inputsOf(model, roof);
  const lit = litRoof(model, climateOf(model), roof, obstacles, lying, headings);
  const { faces, skies, years } = lit;
  const wired = inputs.map((input) => meanYear(years.map((hours) => yieldOf(input, hours, skies))));
  const all = summed(wired);
  return {
    hours: hoursOf(years, faces.length),
    light: faces.map((_, face) => lightOf(lit, face)),
    sky: skies,
    kept: share(all.kept, all.full),
    keptHard: share(all.hard, all.full),
    wirings: wiringsOf(inputs, years, skies, wired),
  };
}

const share = (part: number, whole: number) => (whole > 0 ? part / whole : 1);
const summed = (years: readonly Yield[]): Yield =>
  years.reduce(
    (sum, { full, kept, hard }) => ({ full: sum.full + full, kept: sum.kept + kept, hard: sum.hard + hard }),
    { full: 0, kept: 0, hard: 0 },
  );

/** The mean of years of several headings. */
function meanYear(years: readonly Yield[]): Yield {
  const { full, kept, hard } = summed(years);
  return { full: full / years.length, kept: kept / years.length, hard: hard / years.length };
}

/** As wired, and the best grouping that was found. */
function wiringsOf(
  inputs: readonly Input[],
  years: readonly LitHour[][],
  skies: readonly number[],
  wired: readonly Yield[],
): RoofShade['wirings'] {
  const said = (strings: Input['strings'][]) =>
    strings
      .flat()
      .map((string) => string.flatMap(({ face }) => (face === null ? [] : [face])))
      .filter((string) => string.length > 0);
  const all = summed(wired);
  const first = { strings: said(inputs.map(({ strings }) => strings)), kept: share(all.kept, all.full) };
  const hours = years.flat().map((hour) => ({ ...hour, days: hour.days / years.length }));
  const better = inputs.map((input, i) => regrouped(input, hours, skies, elementAt(wired, i)));
  if (better.every((one) => one === null)) return [first];
  const sums = summed(better.map((one, i) => one?.sums ?? elementAt(wired, i)));
  return [
    first,
    { strings: said(inputs.map(({ strings }, i) => better[i]?.strings ?? strings)), kept: share(sums.kept, sums.full) },
  ];
}

/** Each listed hour once: the mean over the headings in which the sun is before the plane. */
function hoursOf(years: readonly LitHour[][], count: number): RoofShade['hours'] {
  const hours = new Map<number, { beams: Float64Array; times: number }>();
  for (const { month, hour, sunny, lit } of years.flat()) {
    if (!sunny) continue;
    const key = 24 * month + hour;
    const one = hours.get(key) ?? { beams: new Float64Array(count), times: 0 };
    lit.forEach((each, i) => (one.beams[i] = (one.beams[i] ?? 0) + each));
    one.times += 1;
    hours.set(key, one);
  }
  return [...hours]
    .sort(([a], [b]) => a - b)
    .map(([key, { beams, times }]) => ({
      month: Math.floor(key / 24) + 1,
      hour: key % 24,
      beam: Array.from(beams, (sum) => sum / times),
    }));
}
