import {
  FIELDS as OF_PARTS,
  KIND_ORDER,
  KINDS,
  OBSERVED,
  type Field,
  type RowKind,
  tableOf,
} from '@true-lantern/core/base';

/** How a field of a part is asked for and shown: as the part's own description has it. */
export type FieldSpec = Pick<Field, 'path' | 'label' | 'kind'> &
  Partial<Pick<Field, 'unit' | 'choices' | 'refersTo' | 'required' | 'first' | 'hint'>>;

/** Fields by kind, in the order in which the checks need them; of the site with what only eyes can tell. */
export const FIELDS: Partial<Record<RowKind, readonly FieldSpec[]>> = {
  ...OF_PARTS,
  site: [
    ...OF_PARTS.site,
    ...Object.entries(OBSERVED).map(([seen, { label }]): FieldSpec => ({
      path: `observations.${seen}`,
      label,
      kind: 'choice',
      choices: ['yes', 'no', 'cannot-see'],
    })),
  ],
};

const PART_WORDS = tableOf(KIND_ORDER, (kind) => KINDS[kind].word);
/** What a row is called to a person. */
export const KIND_WORDS: Partial<Record<RowKind, string>> = { ...PART_WORDS, site: 'Site', system: 'System' };

/** The spec of a field of one kind. */
export const fieldSpec = (kind: RowKind, path: string) => FIELDS[kind]?.find((spec) => spec.path === path);
