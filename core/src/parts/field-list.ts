import type { Schema } from 'yup';
import type { Belongs, Entry, GroupWords, Words } from './words';

/** A field of a part as it is asked for and shown. What it may hold is the schema's business. */
export interface Field {
  /** Path in the part's body: `settings.absorb_V`. */
  path: string;
  label: string;
  /** Of its number; empty where it is a plain count. */
  unit: string;
  kind: Entry;
  choices?: readonly string[];
  refersTo?: readonly string[];
  /** Cannot be unknown: the part does not exist without it. */
  required: boolean;
  /** Asked when the part is added; the rest can wait. */
  first: boolean;
  hint?: string;
  belongs: Belongs;
  typical?: unknown;
  passesOn: boolean;
}

/** The parts of yup's own description that are read here. */
interface Described {
  type: string;
  optional?: boolean;
  nullable?: boolean;
  fields?: Record<string, Described>;
  innerType?: Described;
  oneOf?: unknown[];
  meta?: { words?: Words; group?: GroupWords; hidden?: string; size?: boolean };
}

/** Unit by the ending of a field's name, longest first: the names of the format carry it. */
const UNITS: readonly (readonly [ending: string, unit: string])[] = [
  ['_mV_K_cell', 'mV/K cell'],
  ['_V_cell', 'V'],
  ['_pct_C', '%/K'],
  ['_kg_L', 'kg/L'],
  ['_months', 'months'],
  ['ours_d', 'h'],
  ['_mohm', 'mohm'],
  ['_cm2', 'cm2'],
  ['_deg', 'deg'],
  ['_min', 'min'],
  ['_pct', '%'],
  ['_Ah', 'Ah'],
  ['_VA', 'VA'],
  ['_mm', 'mm'],
  ['_kg', 'kg'],
  ['_V', 'V'],
  ['_A', 'A'],
  ['_W', 'W'],
  ['_C', 'degC'],
  ['_m', 'm'],
  ['_h', 'h'],
  ['_d', 'd'],
  ['_s', 's'],
  ['_y', 'y'],
];
/** The unit that a field's name carries; watts by voltage (`maxPv_W.24`) have it one step up. */
export function unitOf(path: string): string {
  const steps = path.split('.');
  const name = steps.findLast((step) => !/^\d+$/.test(step)) ?? '';
  return UNITS.find(([ending]) => name.endsWith(ending))?.[1] ?? '';
}

/** A leaf that is not in the editor, and why. */
export interface HiddenField {
  path: string;
  why: string;
}

/**
 * Every leaf of a schema, in its order: as a field, or as hidden with the reason.
 * @throws Error for a leaf that has neither: a field nobody can enter is a mistake of ours
 */
export function fieldsOf(
  schema: Schema,
  cabled: readonly string[] = [],
  any: readonly string[] = [],
): { fields: Field[]; hidden: HiddenField[] } {
  const fields: Field[] = [];
  const hidden: HiddenField[] = [];
  const walk = (described: Described, path: string, above: GroupWords) => {
    const { meta, fields: members } = described;
    const around = { ...above, ...meta?.group };
    if (meta?.hidden) hidden.push({ path, why: meta.hidden });
    else if (meta?.words) fields.push(fieldOf(described, path, meta.words, around, { cabled, any }));
    else if (members)
      for (const [name, member] of Object.entries(members))
        walk(member, path === '' ? name : `${path}.${name}`, around);
    else throw new Error(`"${path}" is neither asked for nor hidden, expected words for it`);
  };
  walk(schema.describe(), '', {});
  return { fields, hidden };
}

function fieldOf(
  described: Described,
  path: string,
  words: Words,
  around: GroupWords,
  kinds: Record<'cabled' | 'any', readonly string[]>,
): Field {
  const { label, unit, first = false, entry, refersTo: named, belongs, typical, passesOn = false, hint } = words;
  const refersTo = typeof named === 'string' ? kinds[named] : named;
  const required = described.optional === false;
  const choices = (described.innerType?.oneOf ?? described.oneOf ?? []).filter(
    (choice): choice is string => typeof choice === 'string',
  );
  return {
    path,
    label: `${label}${around.suffix ?? ''}`,
    unit: unit ?? unitOf(path),
    kind: entry ?? entryOf(described, refersTo),
    ...(choices.length > 0 ? { choices } : {}),
    ...(refersTo ? { refersTo } : {}),
    required,
    first: (first || required) && !around.later,
    ...(hint ? { hint } : {}),
    belongs: belongs ?? around.belongs ?? 'plate',
    ...(typical === undefined ? {} : { typical }),
    passesOn: passesOn || required,
  };
}

function entryOf({ type, oneOf = [], meta }: Described, refersTo: readonly string[] | undefined): Entry {
  if (refersTo) return type === 'array' ? 'parts' : 'part';
  if (meta?.size) return 'size';
  if (type === 'number') return 'number';
  if (type === 'boolean') return 'flag';
  if (type === 'array') return 'choices';
  return oneOf.length > 0 ? 'choice' : 'text';
}
