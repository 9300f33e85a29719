import { readFileSync } from 'node:fs';
import { faultAt as fault, FaultError } from '@true-lantern/core/system/faults';
import { parseArgs } from 'node:util';
import { epwWeather } from '@true-lantern/core/sun/weather';
import { groupsOf } from '@true-lantern/core/pv/curve';
import type { ModuleType } from '@true-lantern/core/system/schema';
import { type WeatherChoice } from '@true-lantern/core/year/year';

/** A verb of the command line: how it is written, which flags it has, what it does. */
export interface Verb {
  usage: string;
  flags: string[];
  /** Flags without a value. */
  switches?: string[];
  /** Flags that may stand several times; their values come one a line. */
  lists?: string[];
  run(args: string[], flags: Record<string, string | undefined>, warn: (line: string) => void): unknown;
}

/** The light on a module: its share of full light, and that of single cell groups from the first on. */
export interface Shade {
  light?: number;
  groups: number[];
}

/**
 * `--shade 0.2=0.3,2.1.0=0`: string and module counted from 0, then a cell group of it alone, and the share of light.
 * @throws FaultError for a module or group that is not there
 */
export function shades(text: string | undefined, strings: readonly (readonly ModuleType[])[]): Map<string, Shade> {
  const found = new Map<string, Shade>();
  for (const item of text?.split(',') ?? []) {
    const [, string, module, group, share] = /^(\d+)\.(\d+)(?:\.(\d+))?=(\d*\.?\d+)$/.exec(item.trim()) ?? [];
    const value = Number(share);
    if (string === undefined || module === undefined || !(value >= 0 && value <= 2))
      throw fault('--shade', `has "${item}", expected STRING.MODULE=SHARE such as 0.2=0.3`);
    const named = strings[Number(string)]?.[Number(module)];
    if (named === undefined)
      throw fault('--shade', `names ${string}.${module}, expected a module of that array, counted from 0`);
    if (group !== undefined && Number(group) >= groupsOf(named))
      throw fault(
        '--shade',
        `names group ${group}, expected one of the ${groupsOf(named)} of that module, counted from 0`,
      );
    const key = `${Number(string)}.${Number(module)}`;
    const shade: Shade = found.get(key) ?? { groups: [] };
    if (group === undefined) shade.light = value;
    else shade.groups[Number(group)] = value;
    found.set(key, shade);
  }
  return found;
}

/** More years than this say nothing more, and hold a terminal for minutes. */
export const MOST_YEARS = 10_000;

/** A flag that is a whole number. @throws FaultError outside of its ends */
export function wholeOf(flag: string, text: string | undefined, fallback: number, min: number, max: number): number {
  const value = figureOf(flag, text, fallback, min, max);
  if (!Number.isInteger(value)) throw fault(`--${flag}`, `is "${text}", expected a whole number from ${min} to ${max}`);
  return value;
}

/** `--weather`: the mean of each month, a file of hours, or (absent) seeded years. */
export function weatherOf(text: string | undefined, seed: number): WeatherChoice {
  if (text === undefined) return { kind: 'seeded', seed };
  if (text === 'mean') return { kind: 'mean' };
  return { kind: 'hours', weather: epwWeather(textOf(text, 'an EPW weather file, or mean')) };
}

/** A number given with a flag, within bounds. */
export function figureOf(flag: string, text: string | undefined, fallback: number, min: number, max: number): number {
  if (text === undefined) return fallback;
  const value = Number(text);
  if (text.trim() === '' || !(value >= min && value <= max))
    throw fault(/^[A-Z]/.test(flag) ? flag : `--${flag}`, `is "${text}", expected a number from ${min} to ${max}`);
  return value;
}

/** Marks a negative number while options are told from arguments; no argument can hold it. */
const NEGATIVE = '\u0000';

/** Arguments and flags of a call. @throws FaultError where they do not fit the verb's usage */
export function parse({ usage, flags, switches = [], lists = [] }: Omit<Verb, 'run'>, rest: string[]) {
  try {
    const { values, positionals } = parseArgs({
      // A negative number is no option.
      args: rest.map((arg) => (/^-\d/.test(arg) ? `${NEGATIVE}${arg}` : arg)),
      allowPositionals: true,
      options: Object.fromEntries<{ type: 'string' | 'boolean'; multiple?: boolean }>([
        ...lists.map((flag) => [flag, { type: 'string' as const, multiple: true }] as const),
        ...flags.map((flag) => [flag, { type: 'string' as const }] as const),
        ...switches.map((flag) => [flag, { type: 'boolean' as const }] as const),
      ]),
    });
    // In capitals, and not what a flag is given.
    const wanted = usage
      .split(' ')
      .filter((word, i, words) => /^[A-Z_|]+$/.test(word) && !words[i - 1]?.startsWith('--'));
    if (positionals.length !== wanted.length)
      throw fault('call', `has ${positionals.length} arguments, expected ${usage}`);
    const plain = (text: string) => text.replace(NEGATIVE, '');
    return {
      args: positionals.map(plain),
      flags: Object.fromEntries(
        Object.entries(values).map(([name, value]) => [
          name,
          typeof value === 'string'
            ? plain(value)
            : Array.isArray(value)
              ? value.filter((one) => typeof one === 'string').join('\n')
              : value === true
                ? ''
                : undefined,
        ]),
      ),
    };
  } catch (error) {
    if (error instanceof FaultError) throw error;
    throw fault('call', `${(error as Error).message.split('. ')[0]}, expected ${usage}`);
  }
}

/** The text of a file that was named. @throws FaultError that says what was expected there */
export function textOf(path: string | undefined, expected: string): string {
  try {
    return readFileSync(path ?? '', 'utf8');
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    throw fault(path || 'file', `cannot be read (${code === 'ENOENT' ? 'no such file' : code}), expected ${expected}`);
  }
}
