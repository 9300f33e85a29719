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

/** One is opened for every finding: its methods are shared, only what it notes is its own. */
class Notes implements Ledger {
  readonly missing = new Set<string>();
  readonly assumed = new Set<string>();
  readonly working: string[] = [];
  schoolUsed: string | undefined = undefined;
  constructor(readonly model: Model) {}

  need(path: string, value: number | null | undefined): number {
    if (value === null || value === undefined) {
      this.missing.add(path);
      return Number.NaN;
    }
    return this.see(path, value);
  }
  or(path: string, value: number | null | undefined, fallback: number): number {
    return this.orElse(path, value, fallback);
  }
  flag(path: string, value: boolean | null | undefined): boolean {
    return this.orElse(path, value, false);
  }
  word<T extends string>(path: string, value: T | null | undefined, fallback: T): T {
    return this.orElse(path, value, fallback);
  }
  see<T>(path: string, value: T): T {
    if (value !== null && value !== undefined && this.model.evidence[path]?.grade === 'assumed') this.assumed.add(path);
    return value;
  }
  school<K extends 'controllerOutput' | 'coldVoltage' | 'conductor'>(name: K): NonNullable<Schools[K]> {
    const book: Record<string, string> = { ...SCHOOL_DEFAULTS, conductor: conductorDefault(this.model.site) };
    const value = this.orElse<string>(`schools.${name}`, this.model.schools[name], book[name] ?? '');
    this.schoolUsed = value;
    return value as never;
  }
  bySchool(name: string): void {
    this.schoolUsed = name;
  }
  miss(path: string): void {
    this.missing.add(path);
  }
  guess(path: string): void {
    this.assumed.add(path);
  }
  work(line: string): void {
    // Two figures that rest on the same step show it once.
    // What could not be computed is no working: the finding names what is missing instead.
    if (!line.includes(UNKNOWN) && !this.working.includes(line)) this.working.push(line);
  }
  private orElse<T>(path: string, value: T | null | undefined, fallback: T): T {
    if (value === null || value === undefined) {
      this.assumed.add(path);
      return fallback;
    }
    return this.see(path, value);
  }
}

/** A fresh ledger for one calculation. */
export const createLedger = (model: Model): Ledger => new Notes(model);
