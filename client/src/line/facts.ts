import { area_mm2, figure, type System } from '@true-lantern/core';
import type { Units } from '../data/units';
import { inUnits, sizeText, unitText } from '../kit/units';

type Part<K extends keyof System> = NonNullable<System[K]> extends (infer P)[] ? P : NonNullable<System[K]>;

const join = (...facts: (string | null | undefined | false)[]) => facts.filter(Boolean).join(' \u00b7 ');
const amount = (value: number | null | undefined, unit: string) =>
  value === null || value === undefined ? null : `${figure(value)} ${unitText(unit)}`;

/** "3 x 310 W in one string", "2 + 1 modules": how an array is strung, in a line. */
export function arrayFact(system: System, array: Part<'arrays'>): string {
  const lengths = array.strings.map(({ length }) => length);
  const types = new Set(array.strings.flat());
  const total = lengths.reduce((sum, length) => sum + length, 0);
  const module = system.moduleTypes?.find(({ id }) => types.has(id));
  const what = types.size === 1 ? amount(module?.pmax_W, 'W') : 'mixed';
  const even = lengths.every((length) => length === lengths[0]);
  const how =
    lengths.length === 1
      ? total === 1
        ? 'alone'
        : 'one string'
      : even
        ? `${lengths[0]} in series, ${lengths.length} strings`
        : `strings of ${lengths.join(' + ')}`;
  return join(`${total} \u00d7 ${what ?? 'module'}`, how);
}

export const controllerFact = ({ type, maxOutput_A, maxPv_V }: Part<'controllers'>) =>
  join(`${type.toUpperCase()} ${figure(maxOutput_A)} A`, maxPv_V ? `${figure(maxPv_V)} V` : 'PV volts?');

export function bankFact({ chemistry, block_V, blockCapacity_Ah, series, parallel, age_y }: Part<'bank'>): string {
  const count = series * parallel;
  const grouped = series > 1 && parallel > 1 ? `${series} \u00d7 ${parallel}` : String(count);
  return join(
    `${grouped} \u00d7 ${figure(block_V)} V ${figure(blockCapacity_Ah)} Ah ${chemistry}`,
    age_y ? `${figure(age_y)} y` : null,
  );
}

export const inverterFact = ({ waveform, continuous_W, idle_W }: Part<'inverters'>) =>
  join(`${waveform ?? 'wave?'} ${figure(continuous_W, 5)} W`, idle_W ? `idle ${figure(idle_W)} W` : null);

export const loadFact = ({ power_W, quantity, hours_d }: Part<'loads'>) =>
  join(`${quantity && quantity > 1 ? `${quantity} \u00d7 ` : ''}${figure(power_W)} W`, `${figure(hours_d)} h a day`);

export const chargerFact = ({ kind, max_A }: Part<'chargers'>) => `${kind} ${figure(max_A)} A`;

export const runFact = ({ size, length_m, perPole }: Part<'runs'>, units: Units) =>
  join(`${perPole && perPole > 1 ? `${perPole} \u00d7 ` : ''}${sizeText(size, units)}`, inUnits(length_m, 'm', units));

export const boxFact = ({ slots, circuits }: Part<'distribution'>) =>
  join(slots ? `${circuits?.length ?? 0} of ${slots} slots` : 'slots?');

/** Stroke of a conductor: 3 to 14 px, by the root of its area, so that it grows with its diameter. */
export const strokeOf = (size: string, perPole = 1) =>
  Math.max(3, Math.min(14, 1.15 * Math.sqrt(area_mm2(size) * perPole)));
