import { DELETED, POSITION, type FieldConflict, type RowKind } from '@true-lantern/core';
import { fieldSpec, KIND_WORDS } from './fields';

/** What a change of the survey did, in words: for the history and for the log. */

const MOST_LETTERS = 60;

function text(value: unknown): string {
  if (value === null || value === undefined) return 'not known';
  const whole = typeof value === 'object' ? JSON.stringify(value) : String(value);
  return whole.length > MOST_LETTERS ? `${whole.slice(0, MOST_LETTERS)}...` : whole;
}

/**
 * "Highest PV voltage: 150 -> 175 (measured)"; a part that was made is one line, not twenty.
 * @param before null where it is not known
 */
export function changeWords(
  kind: RowKind,
  fields: Record<string, unknown>,
  before: Record<string, unknown> | null,
): string[] {
  const made = before !== null && 'id' in fields && (before.id ?? null) === null;
  if (made) return [`${(KIND_WORDS[kind] ?? kind).toLowerCase()} added`];
  const grade = (field: string) => (fields[`evidence/${field}`] as { grade?: string } | null | undefined)?.grade;
  const label = (field: string) => fieldSpec(kind, field)?.label ?? field;
  return Object.entries(fields).flatMap(([field, value]) => {
    if (field === DELETED) return [value ? 'removed' : 'restored'];
    if (field === POSITION) return ['moved'];
    if (!field.startsWith('evidence/')) {
      const was = before ? `${text(before[field])} \u2192 ` : '';
      return [`${label(field)}: ${was}${text(value)}${grade(field) ? ` (${grade(field)})` : ''}`];
    }
    const name = field.slice('evidence/'.length);
    return name in fields ? [] : [`${label(name)}: evidence is now ${grade(name) ?? 'none'}`];
  });
}

/** What of a change was not applied, and which value was kept. */
export const lostWords = (kind: RowKind, { field, current, wanted }: FieldConflict): string =>
  field === DELETED
    ? 'Not applied: somebody had removed this part.'
    : `Not applied: ${fieldSpec(kind, field)?.label ?? field} ${text(wanted)}; ${text(current)} was kept.`;
