import { fieldOf, fuseTypeSaid, said, type Evidence, type PartRow, shownUnit } from '@true-lantern/core';
import type { FieldSpec } from '../data/fields';
import { partName } from '../data/reading';
import type { OpenSite } from '../data/site';
import type { Units } from '../data/units';
import { inUnits, sizeText } from '../kit/units';

/** A field of a part as it is stored. */
export const storedValue = (row: PartRow, path: string): unknown => fieldOf({ ...row, deleted: false }, path) ?? null;

/** The kind of a fuse: of a cable, of either end, of a string. */
const FUSE_TYPE = /(protection|stringFuse)\.type$/i;

/** An answer as a person reads it: parts by what they are called, an end of a cable by what is there. */
export function answerText(site: OpenSite | null, row: PartRow, spec: FieldSpec, answer: string): string {
  if (site && (spec.kind === 'part' || spec.kind === 'parts')) return partName(site, answer);
  if (FUSE_TYPE.test(spec.path)) return fuseTypeSaid(answer);
  if (!site || row.kind !== 'switches' || spec.path !== 'end') return said(answer);
  const run = site.model.system.runs?.find(({ id }) => id === row.body.runId);
  const there = answer === 'from' ? run?.from : run?.to;
  return there ? `at ${partName(site, there)}` : said(answer);
}

/** As it is shown; null where it is not known. */
export function shownValue(row: PartRow, spec: FieldSpec, units: Units, site: OpenSite | null = null): string | null {
  const value = storedValue(row, spec.path);
  if (value === null || value === '') return null;
  if (spec.kind === 'part' || spec.kind === 'choice') return answerText(site, row, spec, String(value));
  if (spec.kind === 'parts')
    return (value as string[]).map((id) => answerText(site, row, spec, id)).join(', ') || 'none';
  if (spec.kind === 'strings') return stringsText(value as string[][]);
  if (spec.kind === 'climate') return climateText(value as Partial<Record<string, number[]>>);
  if (spec.kind === 'horizon')
    return (value as unknown[]).length === 0 ? 'open' : `${(value as unknown[]).length} points`;
  if (spec.kind === 'indices') return (value as number[]).map((index) => `string ${index + 1}`).join(', ') || null;
  if (typeof value === 'number') return inUnits(value, spec.unit ?? '', units, shownDigits(spec.unit, units));
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (Array.isArray(value))
    return value.length === 0
      ? 'none'
      : spec.kind === 'months' && value.length === 12
        ? 'all year'
        : value.map((one) => said(String(one))).join(', ');
  return spec.kind === 'size' ? sizeText(String(value), units) : String(value);
}

function stringsText(strings: string[][]): string {
  const lengths = strings.map(({ length }) => length);
  return lengths.every((length) => length === lengths[0])
    ? `${lengths[0]} \u00d7 ${strings.length}`
    : lengths.join(' + ');
}

/** What was printed is shown whole; what was converted has no more digits than it is worth. */
const shownDigits = (unit: string | undefined, units: Units) => (shownUnit(unit ?? '', units) === (unit ?? '') ? 6 : 4);

/** "10 mm² to 16 mm²" where the evidence gives a range. */
export function rangeText(evidence: Evidence | undefined, spec: FieldSpec, units: Units): string | null {
  const { low, high } = evidence ?? {};
  if (low === null || low === undefined || high === null || high === undefined) return null;
  const text = (end: unknown) =>
    typeof end === 'number' ? inUnits(end, spec.unit ?? '', units, 4) : sizeText(String(end), units);
  return `${text(low)} to ${text(high)}${spec.kind === 'strings' ? ' modules' : ''}`;
}

function climateText({ globalHorizontal_kWh_m2_d: sun }: Partial<Record<string, number[]>>): string | null {
  return sun?.length ? `${Math.min(...sun)} to ${Math.max(...sun)} kWh/m\u00b2 d` : null;
}
