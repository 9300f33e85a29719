import {
  offerOf,
  type OfferTerms,
  type ShelfItem,
  checkSystemFile,
  dayReadings,
  dueOf,
  FaultError,
  fleetSite,
  type FleetSpan,
  handOver,
  linkFaultsByRow,
  watch,
  type Heard,
  type LiveStep,
  type Outside,
  modelOf,
  toRows,
  type PartRow,
  type SystemFile,
  workOf,
  type ReadResult,
} from '@true-lantern/core';
import { cleanLogo, cleanPicture } from '../photos/picture';
import type { PaperInput } from '../reports/papers';
import { importSchema } from '@true-lantern/wire';
import { parse } from '../parse';
import { pdfOf } from '../reports/pdf';
import { batchesOf, type Batches } from '../store/batches';
import { withOwnTicks, type Importer } from '../sync/rights';

/** For the pool: the keys of licensed steps by proposal; null of one that does not apply, since it has no order. */
export interface LicensedQuestion {
  file: SystemFile;
  proposals: readonly string[];
}

/** Which proposal is offered, at whose prices and terms. */
export interface OfferQuestion {
  file: SystemFile;
  proposal: string;
  shelf: readonly ShelfItem[];
  terms: OfferTerms;
  at: string;
}

/** A job read in a thread, ready for the database. */
export interface ReadJob extends Batches {
  id: string;
  name: string;
  warnings: string[];
}

/** Heavy work, each a plain function of plain values, for the threads of the pool. Never on the request's own thread. */
export const jobs = {
  /** What somebody sends as a new site, read, judged and taken apart; null where it is no JSON. */
  file({ bytes, importer }: { bytes: Uint8Array; importer: Importer }): ReadJob | null {
    const given = json(bytes);
    if (given === undefined) return null;
    const { id, file: value, rowIds = [] } = parse(importSchema, given);
    const { file, warnings }: ReadResult = checkSystemFile(value);
    const unused = [...rowIds];
    const { rows, left } = withOwnTicks(
      toRows(file, () => unused.shift() ?? crypto.randomUUID()),
      importer,
      (proposals) => licensedSteps({ file, proposals }),
    );
    const ticks = left === 1 ? 'One tick' : `${left} ticks`;
    return {
      id,
      ids: rows.map((row) => row.id),
      batches: batchesOf(rows),
      name: file.site.name,
      warnings: left > 0 ? [...warnings, `${ticks} left out: set by somebody else, or licensed work.`] : warnings,
    };
  },
  /** What a site needs within some days, and where it is. */
  due({ file, on, days }: { file: SystemFile; on: number; days: number }) {
    const { latitude_deg, longitude_deg } = file.site;
    return { due: dueOf(file, on, days), latitude_deg: latitude_deg ?? null, longitude_deg: longitude_deg ?? null };
  },
  /** What of a site's live values is out of range. */
  watch: ({ file, before, heard, now }: { file: SystemFile; before: Outside[]; heard: Heard[]; now: number }) =>
    watch(modelOf(file), before, heard, now),
  /** Whether a site may lose power in the days to come. */
  fleet: ({ file, on, span }: { file: SystemFile; on: number; span: FleetSpan }) => fleetSite(file, on, span),
  /** What a day of live values comes to as readings. */
  liveDay: ({ file, day, steps }: { file: SystemFile; day: string; steps: LiveStep[] }) =>
    dayReadings(modelOf(file), day, steps),
  handover: ({ file, on, proposal }: { file: SystemFile; on: number; proposal?: string }) =>
    handOver(file, on, proposal),
  /** The offer that a proposal makes, ready to be accepted. */
  offer: ({ file, proposal, shelf, terms, at }: OfferQuestion) => offerOf(file, proposal, shelf, terms, at),
  /** Keys of the licensed steps of some proposals; null of one that does not apply, since it has no order. */
  licensed: licensedSteps,
  /** Where the references and proposals of a whole job lead. */
  links: ({ rows }: { rows: PartRow[] }) => linkFaultsByRow(rows),
  logo: ({ bytes }: { bytes: Uint8Array }) => cleanLogo(Buffer.from(bytes)),
  paper: (input: PaperInput) => pdfOf(input),
  picture: ({ bytes }: { bytes: Uint8Array }) => cleanPicture(Buffer.from(bytes)),
};
export type Jobs = typeof jobs;

/** @returns undefined where it is none */
function json(bytes: Uint8Array): unknown {
  try {
    return JSON.parse(Buffer.from(bytes).toString('utf8'));
  } catch {
    return undefined;
  }
}

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
