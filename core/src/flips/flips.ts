import type { RuleId } from '../rules/ids';
import { emf_V } from '../bank/bank';
import { tableBlock_mohm } from '../bank/resistance';
import { interrupt_A } from '../conductors/fuses';
import { area_mm2, stepOfSize } from '../conductors/sizes';
import { createLedger } from '../ledger/ledger';
import { memberAt, setMember } from '../system/members';
import { splitPath } from '../system/evidence';
import { partById, withPart } from '../system/parts';
import type { Model } from '../system/model';
import { systemSchema, type Evidence } from '../system/schema';
import { check } from '../rules/check';
import { stoodBefore } from '../rules/wires/fault-current';
import { CONSEQUENCE_ORDER, isInterrupt, keyOf, type Finding, type Verdict } from '../rules/finding';

/** A verdict that turns when one guess does. */
export interface Flipped {
  rule: RuleId;
  subject: string;
  quantity: string | null;
  from: Verdict;
  to: Verdict;
}

/** A field whose value, anywhere in its range, decides a verdict: worth finding out. */
export interface Flip {
  /** As in evidence: `componentId.field`. */
  field: string;
  low: number | string | boolean;
  high: number | string | boolean;
  findings: Flipped[];
}

/** A guess without a range of its own may be this far off either way (the engine's section 1). */
const SPREAD = 0.2;
/** Counted, not measured: one more or one less. With the least there can be. */
const COUNTS: Record<string, number> = {
  series: 1,
  parallel: 1,
  quantity: 1,
  cells: 1,
  perPole: 1,
  bundled: 1,
  slots: 1,
  legs: 1,
  poles: 1,
  bypassDiodes: 1,
  maxSeries: 1,
  maxParallel: 1,
  joints: 0,
};
/** What a value cannot pass, by the end of its name. */
const CEILINGS: [RegExp, number][] = [
  [/(efficiency|health)_pct$/, 100],
  [/powerFactor$/, 1],
  [/(hours_d|Hours_d|_h)$/, 24],
];

/**
 * What would flip it: every field with a range, or graded `assumed` or `stated`, set to both of its ends and the whole
 * book run again. The most consequential first: what turns a danger over before what turns a loss tight.
 */
export function flips(
  model: Model,
  found: readonly Finding[] = check(model),
  progress: (share: number) => void = () => undefined,
): Flip[] {
  const before = new Map(found.map((finding) => [keyOf(finding), finding]));
  const graded = Object.entries(model.evidence).map(([field, evidence]) => ({ field, evidence, about: () => true }));
  // The table's figure for a fault is no figure for a sag: what else it would turn says nothing.
  const tables = tableFields(model, found).map(([field, evidence]) => ({ field, evidence, about: isInterrupt }));
  const fields = [...graded, ...tables, ...cableFields(model, found)];
  const all = fields.flatMap(({ field, evidence, about }, i): (Flip & { weight: number })[] => {
    progress(i / fields.length);
    const range = rangeOf(model, field, evidence);
    if (!range) return [];
    const turned = new Map<string, Flipped>();
    let weight = Infinity;
    for (const end of endsOf(field, range)) {
      const changed = withField(model, field, asStored(model, field, end));
      // An end that no file could hold tells nothing.
      if (!changed || !systemSchema.isValidSync(changed.system, { strict: true })) continue;
      for (const finding of check(changed)) {
        const from = before.get(keyOf(finding))?.verdict;
        const { rule, subject, quantity, verdict: to } = finding;
        if (from === undefined || from === to || !about(finding)) continue;
        // A class of insulation that the basis has no column for is not sold there: it says nothing.
        if (to === 'unknown' && field.endsWith(INSULATION)) continue;
        turned.set(`${keyOf(finding)} ${to}`, { rule, subject, quantity, from, to });
        weight = Math.min(weight, weightOf(finding, from));
      }
    }
    return turned.size > 0 ? [{ field, ...range, findings: [...turned.values()], weight }] : [];
  });
  return all
    .sort((a, b) => a.weight - b.weight || b.findings.length - a.findings.length || (a.field < b.field ? -1 : 1))
    .map(({ weight: _, ...flip }) => flip);
}

/**
 * What only a table says of a short circuit, known to a factor of two: a block's resistance, what a type breaks. Varied
 * where a device is judged by it, though nobody wrote down that it is a guess.
 */
function tableFields(model: Model, found: readonly Finding[]): [string, Evidence][] {
  // Where a fuse before it stands in between, its own sheet would change nothing that matters.
  const doubted = found.filter((finding) => finding.rule === 'run.interrupt' && !stoodBefore(finding));
  const asked = new Set(doubted.flatMap(({ assumed }) => assumed));
  const { bank } = model.system;
  const emf = bank ? emf_V(createLedger(model), bank) : Number.NaN;
  const both = (low: number): Evidence => ({ low, high: 2 * low });
  return [...asked].flatMap((path): [string, Evidence][] => {
    if (model.evidence[path]) return [];
    if (bank && path === `${bank.id}.internal_mohm`) {
      const mohm = tableBlock_mohm(bank);
      return mohm === null ? [] : [[path, both(mohm)]];
    }
    const run = model.system.runs?.find(({ id }) => path === `${id}.protection.interrupt_A`);
    const type = run?.protection?.type;
    const amps = type && type !== 'none' ? interrupt_A(type, emf) : 0;
    return amps > 0 ? [[path, both(amps)]] : [];
  });
}

const INSULATION = '.insulation_C';
/** Classes of insulation that are sold, degC. */
const INSULATION_C = [60, 75, 90, 105];
/** What is tried of a field: both ends of its range; of a jacket that nobody read, every class there is. */
const endsOf = (field: string, { low, high }: Range): (number | string | boolean)[] =>
  field.endsWith(INSULATION) && typeof low === 'number' && typeof high === 'number'
    ? INSULATION_C.filter((degrees) => degrees >= low && degrees <= high)
    : [low, high];

/**
 * What a cable's verdict rests on and nobody wrote down, though it is no guess of anybody's: the jacket's temperature, and
 * whether it lies in free air.
 */
function cableFields(
  model: Model,
  found: readonly Finding[],
): { field: string; evidence: Evidence; about(): boolean }[] {
  const rests = new Set(found.flatMap(({ assumed, missing }) => [...assumed, ...missing]));
  return (model.system.runs ?? []).flatMap(({ id, insulation_C, freeAir }) => {
    const fields: [string, unknown, Evidence][] = [
      [`${id}${INSULATION}`, insulation_C, { low: INSULATION_C[0], high: INSULATION_C.at(-1) }],
      [`${id}.freeAir`, freeAir, { low: false, high: true }],
    ];
    return fields
      .filter(([field, value]) => (value === null || value === undefined) && rests.has(field) && !model.evidence[field])
      .map(([field, , evidence]) => ({ field, evidence, about: () => true }));
  });
}

/** Lower is graver: first what turns to or from over, then by consequence. */
const weightOf = ({ verdict, consequence }: Finding, from: Verdict) =>
  (verdict === 'over' || from === 'over' ? 0 : CONSEQUENCE_ORDER.length) + CONSEQUENCE_ORDER.indexOf(consequence);

type Range = Pick<Flip, 'low' | 'high'>;

/** Both ends of what a field may be; null where there is nothing to vary. */
export function rangeOf(model: Model, field: string, { grade, low, high }: Evidence): Range | null {
  if (given(low) && given(high)) return { low, high };
  if (grade !== 'assumed' && grade !== 'stated') return null;
  const value = valueAt(model, field);
  if (typeof value === 'string') {
    if (!Number.isFinite(area_mm2(value))) return null;
    const [smaller, larger] = [stepOfSize(value, -1), stepOfSize(value, 1)];
    return smaller && larger ? { low: smaller, high: larger } : null;
  }
  if (typeof value !== 'number' || value === 0) return null;
  const name = field.slice(field.lastIndexOf('.') + 1);
  if (field.endsWith(INSULATION)) return { low: INSULATION_C[0] ?? value, high: INSULATION_C.at(-1) ?? value };
  const least = COUNTS[name];
  if (least !== undefined) return { low: Math.max(least, value - 1), high: value + 1 };
  const ends = [value * (1 - SPREAD), value * (1 + SPREAD)];
  const ceiling = CEILINGS.find(([pattern]) => pattern.test(name))?.[1] ?? Infinity;
  return { low: Math.min(...ends), high: Math.min(ceiling, Math.max(...ends)) };
}

/** A size's range may be given in mm2 alone; that of an array's strings is a count of modules. */
function asStored(model: Model, field: string, end: number | string | boolean): unknown {
  const value = valueAt(model, field);
  if (typeof end !== 'number') return end;
  if (typeof value === 'string' || /(^|\.)size$/.test(field)) return `${end}mm2`;
  return isStrings(value) ? withModules(value, end) : end;
}

const isStrings = (value: unknown): value is string[][] =>
  Array.isArray(value) && value.length > 0 && value.every((string) => Array.isArray(string));

/**
 * The same array with another count of modules: strings as long as they are, more or fewer of them where the count
 * divides so; else strings of another length, as many as there are; else the last string longer or shorter.
 */
function withModules(strings: string[][], count: number): string[][] {
  const [first = []] = strings;
  const type = first[0] ?? '';
  const even = strings.every(({ length }) => length === first.length);
  const make = (series: number, parallel: number) =>
    Array.from({ length: parallel }, () => Array.from({ length: series }, (_, i) => first[i] ?? type));
  if (even && strings.length > 1 && first.length > 0 && count % first.length === 0)
    return make(first.length, count / first.length);
  if (even && count % strings.length === 0) return make(count / strings.length, strings.length);
  const others = strings.slice(0, -1);
  const last = strings.at(-1) ?? [];
  const left = count - others.flat().length;
  return [...others, Array.from({ length: Math.max(0, left) }, (_, i) => last[i] ?? last[0] ?? type)];
}

const given = (end: unknown): end is number | string | boolean =>
  typeof end === 'number' || typeof end === 'boolean' || (typeof end === 'string' && Number.isFinite(area_mm2(end)));

/** The part and the path within it that a field of evidence names; null where there is no such part. */
const place = (model: Model, field: string) => splitPath(field, (id) => partById(model.system, id) !== undefined);

const holderOf = (model: Model, partId: string): object | undefined =>
  partId === 'site' || partId === 'schools' || partId === 'system'
    ? model[partId]
    : partById(model.system, partId)?.part;

function valueAt(model: Model, field: string): unknown {
  const at = place(model, field);
  return at ? memberAt(holderOf(model, at.partId), at.field) : undefined;
}

/** The model with one field set to another value; null where the field names nothing. */
export function withField(model: Model, field: string, value: unknown): Model | null {
  const at = place(model, field);
  if (!at) return null;
  const { partId, field: path } = at;
  const set = (holder: object): object => {
    const copy = structuredClone(holder) as Record<string, unknown>;
    setMember(copy, path, value);
    return copy;
  };
  if (partId === 'site' || partId === 'schools' || partId === 'system')
    return { ...model, [partId]: set(model[partId]) };
  const placed = partById(model.system, partId);
  return placed ? { ...model, system: withPart(model.system, placed, set(placed.part)) } : null;
}
