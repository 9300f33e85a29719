import { belongsTo } from '../parts/lists';
import { same } from '../system/changes';
import { flatFields } from '../system/members';
import { eachPart, type PartKind, type Placed } from '../system/parts';
import type { Model } from '../system/model';
import type { Evidence, Site } from '../system/schema';
import type { Body } from '../system/rows';

/**
 * A proposal that was fitted and signed becomes the system as found (docs/work-orders-and-readings.md): what each part's record is
 * to become, field by field, so that history keeps what stood there. What is on a plate was read off it, what was set was
 * read back.
 */
export interface Settled {
  added: { kind: PartKind; body: Body; evidence: Record<string, Evidence> }[];
  /** By the part's id: fields to set, null takes one out; evidence as `evidence/FIELD`. */
  changed: { id: string; kind: PartKind; set: Record<string, unknown> }[];
  removed: { id: string; kind: PartKind }[];
  /** Another system voltage; undefined where it stays. */
  nominal_V?: number | null;
  /** What of the site's observations it settles; null takes one out. */
  observations: Record<string, string | null>;
}

/** What makes a fitted proposal the system as found: rows to set, to add and to take out. */
export function settle({ system: before, site: was }: Found, { system: after, site: is }: Found): Settled {
  const had = new Map(eachPart(before).map((placed) => [placed.part.id, placed]));
  const has = new Map(eachPart(after).map((placed) => [placed.part.id, placed]));
  const settled: Settled = { added: [], changed: [], removed: [], observations: settledObservations(was, is) };
  for (const [id, placed] of has) {
    const old = had.get(id);
    if (old?.kind !== placed.kind)
      settled.added.push({
        kind: placed.kind,
        body: placed.part,
        evidence: evidenceOf(placed, Object.keys(flatFields(placed.part))),
      });
    else {
      const set = changedFields(old, placed);
      if (Object.keys(set).length > 0) settled.changed.push({ id, kind: placed.kind, set });
    }
  }
  for (const [id, { kind }] of had) if (has.get(id)?.kind !== kind) settled.removed.push({ id, kind });
  if (!same(before.nominal_V, after.nominal_V)) settled.nominal_V = after.nominal_V ?? null;
  return settled;
}

/** A system at its site. */
type Found = Pick<Model, 'system' | 'site'>;

function settledObservations({ observations: was }: Site, { observations: is }: Site): Record<string, string | null> {
  const names = new Set([...Object.keys(was ?? {}), ...Object.keys(is ?? {})]);
  return Object.fromEntries(
    [...names].filter((name) => !same(was?.[name], is?.[name])).map((name) => [name, is?.[name] ?? null]),
  );
}

function changedFields(old: Placed, placed: Placed): Record<string, unknown> {
  const [was, is] = [flatFields(old.part), flatFields(placed.part)];
  const paths = [...new Set([...Object.keys(was), ...Object.keys(is)])].filter((path) => !same(was[path], is[path]));
  const graded = evidenceOf(
    placed,
    paths.filter((path) => is[path] !== null && is[path] !== undefined),
  );
  return Object.fromEntries<unknown>([
    ...paths.map((path) => [path, is[path] ?? null] as const),
    // A guess about what stood there before is none about what stands there now.
    ...paths.filter(isGraded).map((path) => [`evidence/${path}`, graded[path] ?? null] as const),
  ]);
}

function evidenceOf({ kind }: Placed, paths: readonly string[]): Record<string, Evidence> {
  return Object.fromEntries(
    paths
      .filter(isGraded)
      .map((path) => [
        path,
        { grade: belongsTo(kind, path) === 'plate' ? 'nameplate' : 'measured' } satisfies Evidence,
      ]),
  );
}

/** A name and a note are nobody's evidence. */
const isGraded = (path: string) => path !== 'id' && path !== 'label' && path !== 'notes';
