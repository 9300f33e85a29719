import type { PartRow } from '@true-lantern/core';

/** Rows of a job as text that the database takes apart itself: a thread writes it, the main thread only hands it on. */
export interface Batches {
  /** Of all rows. */
  ids: string[];
  /** JSON arrays of rows, each small enough to be sent in a moment. */
  batches: string[];
}

/** Of one batch, characters. */
const BATCH = 256 * 1024;

/** Rows in batches, in their order. */
export function batchesOf(rows: readonly PartRow[]): string[] {
  const batches: string[] = [];
  let open: string[] = [];
  let size = 0;
  for (const row of rows) {
    const text = JSON.stringify(row);
    if (size > 0 && size + text.length > BATCH) {
      batches.push(`[${open.join()}]`);
      [open, size] = [[], 0];
    }
    open.push(text);
    size += text.length;
  }
  return open.length > 0 ? [...batches, `[${open.join()}]`] : batches;
}
