import { partTitle } from '../conductors/names';
import { FIELDS } from '../parts/lists';
import { lowered, raised, fuseTypeSaid, said } from '../parts/said';
import { MONTHS } from '../sun/months';
import type { Field } from '../parts/field-list';
import { OBSERVED } from '../rules/site/site';
import { SCHOOLS } from '../rules/schools';
import { splitPath } from '../system/evidence';
import { memberAt } from '../system/members';
import type { Model } from '../system/model';
import { KINDS, partById, type PartKind } from '../system/parts';
import type { Evidence } from '../system/schema';
import { inUnits, shownUnit, sizeText, type Units } from '../written/units';

/** Fields and inputs as a person reads them: on a part's page, in a working, on a paper. */

/** A field as it is shown. */
export type ShownField = Pick<Field, 'path' | 'kind'> & Partial<Pick<Field, 'unit'>>;

/** The kind of a fuse: of a cable, of either end, of a string. */
const FUSE_TYPE = /(protection|stringFuse)\.type$/i;

/**
 * An answer as a person reads it: parts by what they are called, an end of a cable by what is there.
 * @param body of the part whose answer it is
 */
export function answerText(
  model: Pick<Model, 'system'> | null,
  kind: string,
  body: Readonly<Record<string, unknown>>,
  { path, kind: entry }: ShownField,
  answer: string,
): string {
  if (model && (entry === 'part' || entry === 'parts')) return partTitle(model.system, answer) ?? answer;
  if (FUSE_TYPE.test(path)) return fuseTypeSaid(answer);
  if (!model || kind !== 'switches' || path !== 'end') return said(answer);
  const run = model.system.runs?.find(({ id }) => id === body.runId);
  const there = answer === 'from' ? run?.from : run?.to;
  return there ? `at ${partTitle(model.system, there) ?? there}` : said(answer);
}

/** A field of a part as it is shown; null where it is not known. */
export function fieldText(
  model: Pick<Model, 'system'> | null,
  kind: string,
  body: Readonly<Record<string, unknown>>,
  field: ShownField,
  units: Units,
): string | null {
  const value: unknown = memberAt(body, field.path) ?? null;
  const { kind: entry, unit } = field;
  if (value === null || value === '') return null;
  const answer = (text: string) => answerText(model, kind, body, field, text);
  if (entry === 'part' || entry === 'choice') return answer(String(value));
  if (entry === 'parts') return (value as string[]).map(answer).join(', ') || 'none';
  if (entry === 'strings') return stringsText(value as string[][]);
  if (entry === 'climate') return climateText(value as Partial<Record<string, number[]>>);
  if (entry === 'horizon') return (value as unknown[]).length === 0 ? 'open' : `${(value as unknown[]).length} points`;
  if (entry === 'indices') return (value as number[]).map((index) => `string ${index + 1}`).join(', ') || null;
  if (typeof value === 'number') return inUnits(value, unit ?? '', units, shownDigits(unit, units));
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (Array.isArray(value))
    return value.length === 0
      ? 'none'
      : entry === 'months'
        ? monthsText(value as number[])
        : value.map((one) => said(String(one))).join(', ');
  return entry === 'size' ? sizeText(String(value), units) : String(value);
}

/** "March to October, December"; over New Year "October to February". */
function monthsText(months: readonly number[]): string {
  const is = new Set(months);
  if (is.size >= 12) return 'all year';
  const name = (month: number) => MONTHS[(month + 11) % 12] ?? '';
  return [...is]
    .sort((a, b) => a - b)
    .filter((month) => !is.has(((month + 10) % 12) + 1))
    .map((first) => {
      let last = first;
      while (is.has((last % 12) + 1)) last = (last % 12) + 1;
      return last === first ? name(first) : `${name(first)} to ${name(last)}`;
    })
    .join(', ');
}

/** "3 × 2", or "3 + 2" where the strings are not alike. */
function stringsText(strings: string[][]): string {
  const lengths = strings.map(({ length }) => length);
  return lengths.every((length) => length === lengths[0])
    ? `${lengths[0]} \u00d7 ${strings.length}`
    : lengths.join(' + ');
}

/** What was printed is shown whole; what was converted has no more digits than it is worth. */
const shownDigits = (unit: string | undefined, units: Units) => (shownUnit(unit ?? '', units) === (unit ?? '') ? 6 : 4);

/** "10 mm² to 16 mm²" where the evidence gives a range. */
export function rangeText(evidence: Evidence | undefined, { kind, unit }: ShownField, units: Units): string | null {
  const { low, high } = evidence ?? {};
  if (low === null || low === undefined || high === null || high === undefined) return null;
  const text = (end: unknown) =>
    typeof end === 'number' ? inUnits(end, unit ?? '', units, 4) : sizeText(String(end), units);
  return `${text(low)} to ${text(high)}${kind === 'strings' ? ' modules' : ''}`;
}

function climateText({ globalHorizontal_kWh_m2_d: sun }: Partial<Record<string, number[]>>): string | null {
  return sun?.length ? `${Math.min(...sun)} to ${Math.max(...sun)} kWh/m\u00b2 d` : null;
}

/** A part of a proposal by what it is called; one that stands in no list by its id, as words. */
export function nameIn({ system }: Pick<Model, 'system'>, id: string): string {
  const title = partTitle(system, id);
  if (title !== null) return title;
  return id === 'site' ? 'The site' : raised(id.replace(/-/g, ' '));
}

/** Standards that are a figure and no question. */
const STANDARDS: Readonly<Record<string, string>> = { refill_d: 'days to refill', autonomy_d: 'days without sun' };

/** What an input's path is called: "m235.betaVoc_pct_C" -> "Tarnlight 235: Voc coefficient". */
export function inputName({ system }: Pick<Model, 'system'>, path: string): string {
  const known = (id: string) => partById(system, id) !== undefined;
  const { partId, field } = splitPath(path, known) ?? { partId: path, field: '' };
  const placed = partById(system, partId);
  const kind = placed?.kind ?? (partId === 'site' ? 'site' : null);
  const spec = kind ? FIELDS[kind]?.find((one) => one.path === field) : undefined;
  const observed = OBSERVED[field.replace(/^observations\./, '')];
  if (kind === 'site' && observed) return `On site: ${lowered(observed.label)}`;
  if (partId === 'schools') {
    const school = SCHOOLS.find((one) => one.path === field);
    return `Design standard: ${lowered(school?.label ?? STANDARDS[field] ?? field.replace(/[._]/g, ' '))}`;
  }
  const whose = partTitle(system, partId) ?? (partId in KINDS ? KINDS[partId as PartKind].word : raised(partId));
  return field ? `${whose}: ${lowered(spec?.label ?? field.replace(/[._]/g, ' '))}` : whose;
}
