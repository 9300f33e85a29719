import { figure, fieldOf, type PartRow } from '@true-lantern/core';
import type { FieldSpec } from '../data/fields';
import { pretty, sizeText, unitText } from '../kit/units';

/** A field of a part as it is stored. */
export const storedValue = (row: PartRow, path: string): unknown => fieldOf({ ...row, deleted: false }, path) ?? null;

/** As it is shown; null where it is not known. */
export function shownValue(row: PartRow, spec: FieldSpec): string | null {
  const value = storedValue(row, spec.path);
  if (value === null || value === '') return null;
  if (spec.kind === 'strings') return stringsText(value as string[][]);
  if (typeof value === 'number') return `${pretty(figure(value, 6))}${spec.unit ? ` ${unitText(spec.unit)}` : ''}`;
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (Array.isArray(value))
    return value.length === 0 ? 'none' : spec.kind === 'months' && value.length === 12 ? 'all year' : value.join(', ');
  return spec.kind === 'size' ? sizeText(String(value)) : String(value);
}

function stringsText(strings: string[][]): string {
  const lengths = strings.map(({ length }) => length);
  return lengths.every((length) => length === lengths[0])
    ? `${lengths[0]} \u00d7 ${strings.length}`
    : lengths.join(' + ');
}
