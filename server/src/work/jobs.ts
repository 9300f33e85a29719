import { checkSystemFile, toRows, type PartRow, type ReadResult } from '@true-lantern/core';
import { cleanLogo, cleanPicture } from '../photos/picture';
import type { PaperInput } from '../reports/papers';
import { pdfOf } from '../reports/pdf';

/** Heavy work, each a plain function of plain values, for the threads of the pool. Never on the request's own thread. */
export const jobs = {
  /** A system file judged and taken apart. */
  file({ file: value, ids }: { file: unknown; ids: string[] }): { rows: PartRow[]; name: string; warnings: string[] } {
    const { file, warnings }: ReadResult = checkSystemFile(value);
    const left = [...ids];
    const rows = toRows(file, () => left.shift() ?? crypto.randomUUID());
    return { rows, name: file.site.name, warnings };
  },
  logo: ({ bytes }: { bytes: Uint8Array }) => cleanLogo(Buffer.from(bytes)),
  paper: (input: PaperInput) => pdfOf(input),
  picture: ({ bytes }: { bytes: Uint8Array }) => cleanPicture(Buffer.from(bytes)),
};
export type Jobs = typeof jobs;
