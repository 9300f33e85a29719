import type { Reading } from '@true-lantern/core';
import { newId } from './ids';
import { enqueue } from './outbox';
import { nextPosition } from './parts';
import { removeRow, rowNamed } from './rows';
import type { OpenSite } from './site';

/** Readings of a site, taken anywhere, at any visit; the latest last. */

/** Of a part, or of all; without a moment first. */
export const readingsOf = (site: OpenSite, subject?: string): Reading[] =>
  (site.file.readings ?? [])
    .filter((reading) => subject === undefined || reading.subject === subject)
    .sort((a, b) => (a.at ?? '').localeCompare(b.at ?? ''));

/** Records one; returns what takes it back. */
export function addReading(site: OpenSite, reading: Omit<Reading, 'id' | 'at'>): () => void {
  const partId = newId();
  enqueue(site.id, {
    partId,
    baseRevision: 0,
    create: { kind: 'reading', position: nextPosition(site, 'reading') },
    set: { id: `r-${partId.slice(0, 8)}`, at: new Date().toISOString(), ...reading },
  });
  return () => enqueue(site.id, { partId, baseRevision: 1, set: { '/deleted': true } });
}

/** Records many at once, those of a log; returns what takes them all back. */
export function addReadings(site: OpenSite, readings: readonly Omit<Reading, 'id'>[]): () => void {
  const position = nextPosition(site, 'reading');
  const ids = readings.map(() => newId());
  enqueue(
    site.id,
    ...readings.map((reading, i) => ({
      partId: ids[i] ?? '',
      baseRevision: 0,
      create: { kind: 'reading' as const, position: position + i },
      set: { id: `r-${(ids[i] ?? '').slice(0, 8)}`, ...reading },
    })),
  );
  return () => enqueue(site.id, ...ids.map((partId) => ({ partId, baseRevision: 1, set: { '/deleted': true } })));
}

/** Takes a reading out; the change log keeps it. Returns what brings it back. */
export const removeReading = (site: OpenSite, readingId: string): (() => void) =>
  removeRow(site, rowNamed(site, 'reading', readingId));
