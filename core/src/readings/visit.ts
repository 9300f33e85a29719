import { partTitle } from '../conductors/names';
import { figure } from '../ledger/figures';
import type { Model } from '../system/model';
import type { Reading, Visit } from '../system/schema';
import { inUnits, METRIC, pretty, toShown, type Units } from '../written/units';
import { CONDITIONS, type Conditions } from './conditions';
import { judgeReading, type Judgement } from './expect';
import { positionWords } from './readings';
import type { ExpectedTest } from './row';

/** A visit's tests as its screen and its papers tell them: one way to say what was expected, read and left. */

/** What a test or a reading is about, as a heading. */
export const subjectName = ({ system }: Pick<Model, 'system'>, subject: string): string =>
  subject === 'site' ? 'The whole site' : (partTitle(system, subject) ?? 'A part that was removed');

/** The name of a test or of a setting as a key within a visit: a point would lead a level down. */
export const testKey = (id: string) => id.replace(/[./]/g, '~');

/** What a visit was made in; where nothing was said, what the command takes. */
export function conditionsOf(visit: Pick<Visit, 'conditions'> | null, meter_pct: number): Conditions {
  const given = visit?.conditions ?? {};
  return {
    irradiance_W_m2: given.irradiance_W_m2 ?? CONDITIONS.irradiance_W_m2,
    irradianceBy: given.irradianceBy ?? CONDITIONS.irradianceBy,
    cell_C: given.cell_C ?? null,
    ambient_C: given.ambient_C ?? CONDITIONS.ambient_C,
    soc: given.soc ?? CONDITIONS.soc,
    share: given.share ?? CONDITIONS.share,
    load_A: given.load_A ?? CONDITIONS.load_A,
    meter_pct,
  };
}

/** "26.6 V, 26.4 to 26.9 V"; "at most 0.25 mohm". In a person's units. */
export function bandText(
  { expected, low, high, unit }: Pick<ExpectedTest, 'expected' | 'low' | 'high' | 'unit'>,
  units: Units = METRIC,
): string {
  const said = (value: number, digits = 3) => inUnits(value, unit, units, digits);
  if (expected === null) return 'not recorded';
  if (low === null && high !== null) return `at most ${said(high)}`;
  if (high === null && low !== null) return `at least ${said(low)}`;
  if (low === null || high === null) return said(expected);
  const digits = digitsFor(low, high);
  const bare = (value: number) => pretty(figure(toShown(value, unit, units), digits));
  return `${said(expected, digits)}, ${bare(low)} to ${bare(high)}`;
}

/** As many digits as tell the two ends apart with one to spare. */
const digitsFor = (low: number, high: number) => {
  const size = Math.max(Math.abs(low), Math.abs(high));
  const width = Math.abs(high - low);
  return size === 0 || width === 0 ? 3 : Math.max(2, Math.min(5, 2 + Math.ceil(Math.log10(size / width))));
};

/** A reading in a person's units, to four figures: "26.61 V", "41 degF". */
export const readingText = (value: number, unit: string, units: Units = METRIC): string =>
  inUnits(value, unit, units, 4);

/** "light 640 W/m2 by the meter, cells at 12 degC, rested 8 h, 14 A flowing": what a reading was taken in; empty: not noted. */
export function conditionWords({ conditions }: Pick<Reading, 'conditions'>, units: Units = METRIC): string {
  const given = conditions ?? {};
  const of = (value: number | null | undefined, words: (text: string) => string, unit: string) =>
    typeof value === 'number' ? words(inUnits(value, unit, units)) : null;
  return [
    of(given.irradiance_W_m2, (text) => `light ${text}${BY_WORDS[given.irradianceBy ?? ''] ?? ''}`, 'W/m\u00b2'),
    of(given.cell_C, (text) => `cells at ${text}`, 'degC'),
    of(given.ambient_C, (text) => `air ${text}`, 'degC'),
    of(given.rested_h, (text) => `rested ${text}`, 'h'),
    of(given.current_A, (text) => `${text} flowing`, 'A'),
    given.occasion ?? null,
  ]
    .filter(Boolean)
    .join(', ');
}
const BY_WORDS: Readonly<Record<string, string>> = {
  cell: ' by a reference cell',
  meter: ' by the meter',
  sky: ' by looking at the sky',
};

/**
 * Tests in the order of a walk: part by part as they come, at each part all that one instrument reads before the next is
 * taken up, beginning with the one that is in the hand from the part before.
 */
export function walkOrder(tests: readonly ExpectedTest[]): ExpectedTest[] {
  const walked: ExpectedTest[] = [];
  for (const subject of new Set(tests.map((test) => test.subject))) {
    const here = tests.filter((test) => test.subject === subject);
    const inHand = walked.at(-1)?.tool;
    const tools = [...new Set(here.map(({ tool }) => tool))].sort(
      (a, b) => Number(b === inHand) - Number(a === inHand),
    );
    for (const tool of tools) walked.push(...here.filter((test) => test.tool === tool));
  }
  return walked;
}

/** What a test came to at a visit. */
export interface Proved {
  test: ExpectedTest;
  /** The reading that counts: the last at this visit. */
  reading: Reading | null;
  /** The last one before this visit: what the same test read then; null where it was never read. */
  before: Reading | null;
  judged: Judgement | null;
  /** Why it was not tested; why a reading out of its band is left so. */
  untested: string | null;
  reason: string | null;
}

/** Each test with what was read for it at a visit. */
export function provedOf(tests: readonly ExpectedTest[], readings: readonly Reading[], visit: Visit | null): Proved[] {
  const reasons = (visit?.reasons ?? {}) as Record<string, string | null>;
  const untested = (visit?.untested ?? {}) as Record<string, string | null>;
  return tests.map((test) => {
    const own = readings.filter(
      (one) =>
        one.subject === test.subject &&
        one.quantity === test.quantity &&
        positionWords(one.position) === positionWords(test.position),
    );
    const here = own.filter((one) => visit !== null && one.visit === visit.id);
    const reading = here.at(-1) ?? null;
    const since = visit?.at ?? here[0]?.at ?? null;
    return {
      test,
      reading,
      before: own.filter((one) => !here.includes(one) && one.at && (since === null || one.at < since)).at(-1) ?? null,
      judged: reading ? judgeReading(test, reading.value) : null,
      untested: untested[testKey(test.id)] ?? null,
      // The first reading of a visit carries its own: there was no visit yet to keep it.
      reason: reasons[testKey(test.id)] ?? reading?.note ?? null,
    };
  });
}
