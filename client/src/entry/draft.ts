import {
  fromRows,
  partFaults,
  setOnRow,
  systemFaults,
  textFault,
  warningsOf,
  type Evidence,
  type Grade,
  type PartRow,
} from '@true-lantern/core';
import type { FieldSpec } from '../data/fields';
import { openSite, type OpenSite } from '../data/site';
import type { Units } from '../data/units';
import { readByBattery, readRange, readSizeRange, twoWays, type BatteryContext, type Ranged } from '../ui/number-entry';

/** What has been entered: a value to store with the ends of what it may be, or why it cannot be. */
export type Draft = Partial<Ranged<unknown>> & ({ value: unknown } | { trouble: string });

/** What the entry amounts to so far. */
export function draftOf(
  spec: FieldSpec,
  entry: string,
  picked: unknown,
  before: unknown,
  units: Units,
  battery: BatteryContext | null = null,
): Draft {
  if (spec.kind === 'number' || spec.kind === 'size') {
    if (entry === '') return { value: before };
    const byBattery = battery && spec.kind === 'number' ? readByBattery(entry, spec.unit ?? '', battery) : undefined;
    if (byBattery !== undefined) return { value: byBattery };
    const read = spec.kind === 'size' ? readSizeRange(entry, units.size) : readRange(entry, spec.unit, units);
    if (read) return read;
    return { trouble: spec.kind === 'size' ? 'A size like 16 mm\u00b2, 10 AWG or 2/0 AWG.' : 'Not a number yet.' };
  }
  if (picked === undefined) return { value: before };
  if (spec.kind === 'text') {
    const text = String(picked).trim();
    const fault = textFault(text);
    if (fault) return { trouble: `It ${fault}.` };
    return text === '' && spec.required ? { trouble: 'This cannot be empty.' } : { value: text === '' ? null : text };
  }
  if (spec.kind === 'climate' && picked === null) return { trouble: 'Twelve figures are needed, one a month.' };
  return { value: picked };
}

/**
 * A number that may be read two ways ("1,280"): as the field's range allows, else left to whoever typed it.
 * @returns the entry to go by, and both where they must say which
 */
export function readingOf(
  spec: FieldSpec,
  row: PartRow,
  entry: string,
  units: Units,
): { entry: string; ask: { grouped: string; decimal: string } | null } {
  const ways = spec.kind === 'number' ? twoWays(entry) : null;
  if (!ways) return { entry, ask: null };
  const fits = (text: string) => {
    const read = readRange(text, spec.unit, units);
    if (!read) return false;
    const faults = partFaults(row.kind, setOnRow(row, { [spec.path]: read.value }).body);
    return !faults.some(({ path }) => path === spec.path || path.startsWith(`${spec.path}.`));
  };
  const [grouped, decimal] = [fits(ways.grouped), fits(ways.decimal)];
  if (grouped && decimal) return { entry, ask: ways };
  return { entry: decimal ? ways.decimal : ways.grouped, ask: null };
}

/** The battery that a field's amperes and ampere-hours are counted by: a block on the bank itself, else the whole bank. */
export function batteryOf(site: OpenSite | null, row: PartRow): BatteryContext | null {
  const number = (value: unknown) => (typeof value === 'number' && value > 0 ? value : null);
  if (row.kind === 'bank') return { volts: number(row.body.block_V), ah: number(row.body.blockCapacity_Ah) };
  const bank = site?.model.system.bank;
  if (!bank || (row.kind !== 'chargers' && row.kind !== 'controllers' && row.kind !== 'inverters')) return null;
  return { volts: bank.block_V * bank.series, ah: bank.blockCapacity_Ah * bank.parallel };
}

/** What a draft would change: the findings before and after. */
export interface Preview {
  site?: OpenSite;
  trouble: string | null;
  /** Pairs of facts that this value makes disagree. */
  doubts: string[];
}

/** The site as it would be, or the sentence that says why it cannot be so. */
export function previewOf(site: OpenSite, row: PartRow, path: string, value: unknown): Preview {
  const changed = setOnRow(row, { [path]: value });
  const recorded = site.rows.some(({ id }) => id === row.id);
  const rows = recorded ? site.rows.map((other) => (other.id === row.id ? changed : other)) : [...site.rows, changed];
  // The part alone, and where references lead: reading the whole file again at every key would be felt.
  const faults = partFaults(row.kind, changed.body);
  // A part that is being added lacks other fields still: only this one is judged.
  const fault = recorded ? faults[0] : faults.find((other) => other.path === path || other.path.startsWith(`${path}.`));
  if (fault || faults.length > 0) return { trouble: fault ? `It ${fault.message}.` : null, doubts: [] };
  const system = fromRows(rows).system ?? {};
  const [loose] = recorded ? systemFaults(system) : [];
  if (loose) return { trouble: `It ${loose.message}.`, doubts: [] };
  const known = new Set(warningsOf(site.model.system));
  const doubts = warningsOf(system).filter((warning) => !known.has(warning));
  return { site: openSite(site.id, rows, site.stateId), trouble: null, doubts: doubts.map(sentence) };
}

/** "system.bank.block_V: is 13 V, ..." -> "it is 13 V, ...." */
const sentence = (warning: string) => `it ${warning.slice(warning.indexOf(': ') + 2)}.`;

/** What the evidence becomes; null where it stays as it is. A range without a grade is somebody's guess. */
export function evidenceOf(
  old: Evidence | undefined,
  grade: Grade | null,
  { low, high }: Partial<Ranged<unknown>>,
  changed: boolean,
): Evidence | null {
  const ranged = low !== undefined && high !== undefined;
  const now = grade ?? (ranged ? 'assumed' : null);
  if (!now || (now === old?.grade && !changed && !ranged)) return null;
  return { grade: now, ...(ranged ? { low, high } : {}), ...(old?.note ? { note: old.note } : {}) };
}
