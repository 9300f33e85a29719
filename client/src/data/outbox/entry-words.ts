import type { PartRow } from '@true-lantern/core/base';
import { fieldSpec, KIND_WORDS } from '../fields';
import type { Entry } from './entries';

/** What an entry is, in a person's words: "Change of Battery bank: Name", "Photo", "Shelf: Brackwell T60". */
export function entryTitle(entry: Entry, row?: PartRow): string {
  if ('file' in entry) return `New site: ${entry.file.site.name}`;
  if ('request' in entry) return requestTitle(entry.request);
  const { create, set } = entry.change;
  const kind = row?.kind ?? create?.kind;
  const name = String(
    set.label ?? set.name ?? row?.body.label ?? row?.body.name ?? (kind && KIND_WORDS[kind]) ?? 'a part',
  );
  if (set['/deleted'] === true) return `${name}: removed`;
  if (create) return `${name}: new`;
  const fields = Object.keys(set).filter((field) => !field.startsWith('evidence/'));
  const words = fields.map((field) => (kind && fieldSpec(kind, field)?.label) ?? field);
  return words.length === 0 ? name : `${name}: ${words.slice(0, 3).join(', ')}${words.length > 3 ? ' ...' : ''}`;
}

function requestTitle({ key, method, body }: { key: string; method: string; body?: unknown }): string {
  const label = (body as { label?: string } | undefined)?.label;
  if (key.startsWith('attachment ')) return 'Photo or spoken note';
  if (key.startsWith('shelf ')) return method === 'DELETE' ? 'Removed from the shelf' : `Shelf: ${label ?? 'an item'}`;
  if (key.startsWith('archived ')) return 'Site archived or restored';
  return 'Design standards of the firm';
}

/** The fields of a change that a person can mend by typing: texts and numbers. */
export const mendable = (set: Record<string, unknown>): [field: string, value: string | number][] =>
  Object.entries(set).flatMap(([field, value]): [string, string | number][] =>
    !field.startsWith('/') && !field.startsWith('evidence/') && (typeof value === 'string' || typeof value === 'number')
      ? [[field, value]]
      : [],
  );

/** As it was typed, in the type that it had. */
export const mendedValue = (before: string | number, typed: string): unknown =>
  typeof before === 'string' || typed.trim() === '' || !Number.isFinite(Number(typed)) ? typed : Number(typed);
