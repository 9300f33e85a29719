import { cellsInSeries } from '../bank/bank';
import { floatCell_V } from '../chemistry/chemistry';
import { createLedger } from '../ledger/ledger';
import type { Box } from '../numeric/polygon';
import { groupsOf } from '../pv/curve';
import { modulesOf } from '../pv/strings';
import { heat_K_m2_W, MOUNTING_K } from '../pv/temperature';
import { faultsIn } from '../system/faults';
import { isVehicle, type Model } from '../system/model';
import type { ModuleType, Obstacle, PvArray, Roof } from '../system/schema';
import { worksAt } from '../year/array-power';
import { sunSeen } from '../year/sky';
import { meanWeather } from '../year/weather';
import { climateOf } from '../year/year';
import { yieldOf, type Input, type Yield } from './kept';
import { litHours, skiesOf, type Face, type LitHour } from './light';
import type { Spot } from './spots';
import { regrouped } from './regroup';
import { prismOf, type Prism } from './shade';
import { boxAt, boxOfSpot, mountOf } from './size';

/** The shade on a roof's modules over the mean year (docs/roof.md). */
export interface RoofShade {
  hours: { month: number; hour: number; beam: number[] }[];
  light: number[];
  sky: number[];
  kept: number;
  keptHard: number;
  wirings: { strings: number[][]; kept: number }[];
}

/** Of a vehicle that is not always parked one way: so many headings, evenly round. */
const HEADINGS = Array.from({ length: 8 }, (_, i) => 45 * i);
/** A string of modules that nobody wired works at its best point, from here up, V. */
const ANY_V = 1;

/**
 * @param fit modules that are not placed yet, as one string; null: those of the file
 * @returns what is missing where nothing can be said
 */
export function shadeOf(
  model: Model,
  roof: Roof,
  obstacles: readonly Obstacle[],
  fit: { module: ModuleType; spots: readonly Spot[] } | null,
  heading: number | undefined,
): RoofShade | { missing: string[] } {
  const turning = isVehicle(model.site) && !roof.parked;
  const headings = heading !== undefined ? [heading] : turning ? HEADINGS : [roof.heading_deg ?? Number.NaN];
  const missing = faultsIn(() => climateOf(model)).map(({ path }) => path);
  if (headings.some(Number.isNaN)) missing.push(`${roof.id}.heading_deg`);
  if (missing.length > 0) return { missing };
  const tilt = roof.tilt_deg ?? 0;
  const mount = mountOf(roof);
  const prisms = obstacles.flatMap((one): Prism[] => {
    const prism = prismOf(
      { outline: one.outline_mm ?? null, circle: one.circle_mm ?? null, height: one.height_mm ?? 0 },
      mount,
      tilt,
    );
    return prism ? [prism] : [];
  });
  const lying = fit
    ? fit.spots.map(({ x, y, turned }) => ({ module: fit.module, box: boxAt(fit.module, x, y, turned), turned }))
    : (roof.placed ?? []).map((one) => ({ ...boxOfSpot(model, one), turned: one.turned ?? false }));
  const faces = lying.map(({ module, box, turned }): Face => ({ box, groups: groupBoxes(module, box, turned) }));
  const inputs = fit ? [loose(fit.module, fit.spots.length)] : inputsOf(model, roof);
  const weather = meanWeather(climateOf(model));
  const seen = sunSeen(weather, model.site.horizon ?? []);
  const skies = skiesOf(prisms, tilt, faces);
  const years = headings.map((one) => litHours(weather, seen, { tilt, heading: one }, prisms, faces));
  const wired = inputs.map((input) => meanYear(years.map((hours) => yieldOf(input, hours, skies))));
  const all = summed(wired);
  return {
    hours: hoursOf(years, faces.length),
    light: faces.map((_, i) => meanOf(years.map((hours) => lightOf(hours, skies, i)))),
    sky: skies,
    kept: share(all.kept, all.full),
    keptHard: share(all.hard, all.full),
    wirings: wiringsOf(inputs, years, skies, wired),
  };
}

const share = (part: number, whole: number) => (whole > 0 ? part / whole : 1);
const meanOf = (values: readonly number[]) =>
  values.reduce((sum, value) => sum + value, 0) / Math.max(1, values.length);
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
  const better = inputs.map((input, i) => regrouped(input, hours, skies, wired[i] as Yield));
  if (better.every((one) => one === null)) return [first];
  const sums = summed(better.map((one, i) => one?.sums ?? (wired[i] as Yield)));
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

/** What of the year's light reaches one module. */
function lightOf(hours: readonly LitHour[], skies: readonly number[], face: number): number {
  let [got, all] = [0, 0];
  for (const { beam, sky, ground, days, lit } of hours) {
    got += days * (beam * (lit[face] ?? 1) + sky * (skies[face] ?? 1) + ground);
    all += days * (beam + sky + ground);
  }
  return share(got, all);
}

/** Groups of cells lie side by side, each the whole length of the module. */
function groupBoxes(module: ModuleType, { left, right, foot, top }: Box, turned: boolean): Box[] {
  const count = groupsOf(module);
  return Array.from({ length: count }, (_, i) =>
    turned
      ? { left, right, foot: foot + ((top - foot) * i) / count, top: foot + ((top - foot) * (i + 1)) / count }
      : { left: left + ((right - left) * i) / count, right: left + ((right - left) * (i + 1)) / count, foot, top },
  );
}

/** Modules that nobody wired, as one string at its best point. */
const loose = (module: ModuleType, count: number): Input => ({
  type: 'mppt',
  volts: ANY_V,
  worth_V: ANY_V,
  heat_K_m2_W: heatOf([module], null),
  strings: count > 0 ? [Array.from({ length: count }, (_, face) => ({ module, face, array: '' }))] : [],
});

/** The inputs of controllers that have a module on this roof, all their strings together. */
function inputsOf(model: Model, roof: Roof): Input[] {
  const { system } = model;
  const placed = roof.placed ?? [];
  const here = new Set(placed.map(({ arrayId }) => arrayId));
  const groups = new Map<string, PvArray[]>();
  for (const array of system.arrays ?? []) {
    const key = array.controllerId ? `c ${array.controllerId}` : `a ${array.id}`;
    groups.set(key, [...(groups.get(key) ?? []), array]);
  }
  return [...groups.values()]
    .filter((arrays) => arrays.some(({ id }) => here.has(id)))
    .map((arrays): Input => {
      const controller = system.controllers?.find(({ id }) => id === arrays[0]?.controllerId);
      return {
        ...worksAt(controller?.type ?? 'mppt', floatOf(model)),
        heat_K_m2_W: heatOf(
          arrays.flatMap((array) => array.strings.flatMap((string) => modulesOf(system, string))),
          arrays[0] ?? null,
        ),
        strings: arrays.flatMap((array) =>
          array.strings.map((string, s) =>
            modulesOf(system, string).map((module, m) => {
              const face = placed.findIndex(
                (one) => one.arrayId === array.id && (one.string ?? 0) === s && (one.index ?? 0) === m,
              );
              return { module, face: face < 0 ? null : face, array: array.id };
            }),
          ),
        ),
      };
    });
}

/** Volts at which the sun's energy goes into the bank, as in the year. */
function floatOf(model: Model): number {
  const { bank, nominal_V } = model.system;
  if (!bank) return nominal_V ?? ANY_V;
  const volts = cellsInSeries(createLedger(model), bank) * floatCell_V(bank.chemistry);
  return Number.isFinite(volts) ? volts : (nominal_V ?? ANY_V);
}

/** K above the air by W/m2: as in the year. */
function heatOf(modules: readonly ModuleType[], array: PvArray | null): number {
  const noct = meanOf(modules.map(({ noct_C }) => noct_C ?? 45));
  return heat_K_m2_W(noct, MOUNTING_K[array?.mounting ?? 'raised']);
}
