import {
  checkSystemFile,
  FaultError,
  linkFaultsByRow,
  modelOf,
  toRows,
  type SystemFile,
  workOf,
  type PartRow,
  type ReadResult,
} from '@true-lantern/core';
import { cleanLogo, cleanPicture } from '../photos/picture';
import type { PaperInput } from '../reports/papers';
import { pdfOf } from '../reports/pdf';
import { withOwnTicks, type Importer } from '../sync/rights';

/** For the pool: the keys of licensed steps by proposal; null of one that does not apply, since it has no order. */
export interface LicensedQuestion {
  file: SystemFile;
  proposals: readonly string[];
}

/** Heavy work, each a plain function of plain values, for the threads of the pool. Never on the request's own thread. */
export const jobs = {
  /** A system file judged and taken apart. */
  file({ file: value, ids, importer }: { file: unknown; ids: string[]; importer: Importer }): {
    rows: PartRow[];
    name: string;
    warnings: string[];
  } {
    const { file, warnings }: ReadResult = checkSystemFile(value);
    const unused = [...ids];
    const { rows, left } = withOwnTicks(
      toRows(file, () => unused.shift() ?? crypto.randomUUID()),
      importer,
      (proposals) => licensedSteps({ file, proposals }),
    );
    const ticks = left === 1 ? 'One tick' : `${left} ticks`;
    return {
      rows,
      name: file.site.name,
      warnings: left > 0 ? [...warnings, `${ticks} left out: set by somebody else, or licensed work.`] : warnings,
    };
  },
  /** Keys of the licensed steps of some proposals; null of one that does not apply, since it has no order. */
  licensed: licensedSteps,
  /** Where the references and proposals of a whole job lead. */
  links: ({ rows }: { rows: PartRow[] }) => linkFaultsByRow(rows),
  logo: ({ bytes }: { bytes: Uint8Array }) => cleanLogo(Buffer.from(bytes)),
  paper: (input: PaperInput) => pdfOf(input),
  picture: ({ bytes }: { bytes: Uint8Array }) => cleanPicture(Buffer.from(bytes)),
};
export type Jobs = typeof jobs;

function licensedSteps({ file, proposals }: LicensedQuestion): Record<string, string[] | null> {
  const found = modelOf(file);
  const keysOf = (id: string): string[] | null => {
    try {
      return workOf(found, modelOf(file, id)).steps.flatMap(({ key, licensed }) => (licensed ? [key] : []));
    } catch (error) {
      if (error instanceof FaultError) return null;
      throw error;
    }
  };
  return Object.fromEntries(proposals.map((id) => [id, keysOf(id)]));
}
