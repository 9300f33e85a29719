import { UNKNOWN } from './figures';
import { isVehicle, type Model } from '../system/model';
import type { Schools } from '../system/schema';

/**
 * Through which a rule reads its inputs. It notes by path what was missing and what was a guess or a default, and
 * keeps the working, so that no rule can forget to say what its verdict rests on.
 *
 * A missing number reads as NaN: the arithmetic runs on, every missing input is named at once, and the verdict is
 * `unknown`. No NaN leaves a rule.
 */
export interface Ledger {
  readonly model: Model;
  /** A number the rule cannot do without. */
  need(path: string, value: number | null | undefined): number;
  /** A number with a default of the book. */
  or(path: string, value: number | null | undefined, fallback: number): number;
  /** A true/false field whose default is false. */
  flag(path: string, value: boolean | null | undefined): boolean;
  /** A word (a type, a place, a school) with a default of the book. */
  word<T extends string>(path: string, value: T | null | undefined, fallback: T): T;
  /** Looks at a value that may be absent without harm, noting it when it is graded a guess. */
  see<T>(path: string, value: T): T;
  school<K extends 'controllerOutput' | 'coldVoltage' | 'conductor'>(name: K): NonNullable<Schools[K]>;
  /** Names the school that a verdict was reached by. */
  bySchool(name: string): void;
  miss(path: string): void;
  guess(path: string): void;
  work(line: string): void;
  readonly missing: ReadonlySet<string>;
  readonly assumed: ReadonlySet<string>;
  readonly working: readonly string[];
  readonly schoolUsed: string | undefined;
}

const SCHOOL_DEFAULTS = { controllerOutput: 'plain', coldVoltage: 'coefficient' } as const;
/** A vehicle follows the vehicle school unless the site or the firm says otherwise. */
export const conductorDefault = (site: Model['site']) => (isVehicle(site) ? 'vehicle' : 'building');

export function createLedger(model: Model): Ledger {
  const missing = new Set<string>();
  const assumed = new Set<string>();
  const working: string[] = [];
  let schoolUsed: string | undefined;
  const absent = (value: unknown): value is null | undefined => value === null || value === undefined;
  const graded = (path: string) => {
    if (model.evidence[path]?.grade === 'assumed') assumed.add(path);
  };
  const withDefault = <T>(path: string, value: T | null | undefined, fallback: T): T => {
    if (absent(value)) {
      assumed.add(path);
      return fallback;
    }
    graded(path);
    return value;
  };
  return {
    model,
    missing,
    assumed,
    working,
    get schoolUsed() {
      return schoolUsed;
    },
    need(path, value) {
      if (absent(value)) {
        missing.add(path);
        return Number.NaN;
      }
      graded(path);
      return value;
    },
    or: withDefault,
    flag: (path, value) => withDefault(path, value, false),
    word: (path, value, fallback) => withDefault(path, value, fallback),
    see(path, value) {
      if (!absent(value)) graded(path);
      return value;
    },
    school(name) {
      const book: Record<string, string> = { ...SCHOOL_DEFAULTS, conductor: conductorDefault(model.site) };
      const value: string = withDefault<string>(`schools.${name}`, model.schools[name], book[name] ?? '');
      schoolUsed = value;
      return value as never;
    },
    bySchool(name) {
      schoolUsed = name;
    },
    miss: (path) => void missing.add(path),
    guess: (path) => void assumed.add(path),
    // Two figures that rest on the same step show it once.
    // What could not be computed is no working: the finding names what is missing instead.
    work: (line) => void (line.includes(UNKNOWN) || working.includes(line) || working.push(line)),
  };
}
