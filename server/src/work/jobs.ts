import {
  checkSystemFile,
  FaultError,
  modelOf,
  toRows,
  workOf,
  type PartRow,
  type ReadResult,
} from '@true-lantern/core';
import { cleanLogo, cleanPicture } from '../photos/picture';
import type { PaperInput } from '../reports/papers';
import { pdfOf } from '../reports/pdf';
import type { LicensedQuestion } from '../sync/licence';

/** Heavy work, each a plain function of plain values, for the threads of the pool. Never on the request's own thread. */
export const jobs = {
  /** A system file judged and taken apart. */
  file({ file: value, ids }: { file: unknown; ids: string[] }): { rows: PartRow[]; name: string; warnings: string[] } {
    const { file, warnings }: ReadResult = checkSystemFile(value);
    const left = [...ids];
    const rows = toRows(file, () => left.shift() ?? crypto.randomUUID());
    return { rows, name: file.site.name, warnings };
  },
  /** Keys of the licensed steps of some proposals; none of one that no longer applies, since it has no order. */
  licensed({ file, proposals }: LicensedQuestion): Record<string, string[]> {
    const found = modelOf(file);
    const keysOf = (id: string): string[] => {
      try {
        return workOf(found, modelOf(file, id)).steps.flatMap(({ key, licensed }) => (licensed ? [key] : []));
      } catch (error) {
        if (error instanceof FaultError) return [];
        throw error;
      }
    };
    return Object.fromEntries(proposals.map((id) => [id, keysOf(id)]));
  },
  logo: ({ bytes }: { bytes: Uint8Array }) => cleanLogo(Buffer.from(bytes)),
  paper: (input: PaperInput) => pdfOf(input),
  picture: ({ bytes }: { bytes: Uint8Array }) => cleanPicture(Buffer.from(bytes)),
};
export type Jobs = typeof jobs;
