import { answerText as textOfAnswer, fieldOf, fieldText, rangeText, type PartRow } from '@true-lantern/core';
import type { FieldSpec } from '../data/fields';
import type { OpenSite } from '../data/site';
import type { Units } from '../data/units';

export { rangeText };

/** A field of a part as it is stored. */
export const storedValue = (row: PartRow, path: string): unknown => fieldOf({ ...row, deleted: false }, path) ?? null;

/** An answer as a person reads it: parts by what they are called, an end of a cable by what is there. */
export const answerText = (site: OpenSite | null, row: PartRow, spec: FieldSpec, answer: string): string =>
  textOfAnswer(site?.model ?? null, row.kind, row.body, spec, answer);

/** As it is shown; null where it is not known. */
export const shownValue = (row: PartRow, spec: FieldSpec, units: Units, site: OpenSite | null = null): string | null =>
  fieldText(site?.model ?? null, row.kind, row.body, spec, units);
