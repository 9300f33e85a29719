import {
  KIND_ORDER,
  KINDS,
  memberAt,
  nameOfRow,
  OBSERVED,
  partTitle,
  type PartKind,
  type PartRow,
  liesOnRoof,
  lowered,
} from '@true-lantern/core';
import { FIELDS, KIND_WORDS, type FieldSpec } from './fields';
import { gapsOf } from './reading';
import type { OpenSite } from './site';

/** One question of the walk-round. */
export type WalkStep =
  | { key: string; type: 'part'; kind: PartKind; question: string }
  | { key: string; type: 'field'; row: PartRow; spec: FieldSpec; question: string };

/** Asked right after the bank: with these the first verdicts stand. */
const OF_THE_SITE = ['recordLow_C', 'recordHigh_C', 'elevation_m', 'latitude_deg', 'livingSpace'];

/**
 * Everything that is still to be asked, from the sun down: first that a part is there, then of each part what the
 * checks wait for, last what only eyes can tell. A question that has its answer is not here any more.
 */
export function walkOf(site: OpenSite): WalkStep[] {
  const waited = new Set(gapsOf(site).map(({ path }) => path));
  const asked = (row: PartRow): WalkStep[] =>
    (FIELDS[row.kind] ?? [])
      .filter(
        ({ path, first }) => !path.startsWith('observations.') && (first || waited.has(`${nameOfRow(row)}.${path}`)),
      )
      .filter(({ path }) => path !== 'label' && empty(row, path))
      .map((spec) => field(site, row, spec));
  const parts = KIND_ORDER.flatMap((kind): WalkStep[] => {
    const rows = site.rows.filter((row) => row.kind === kind);
    const { question } = KINDS[kind];
    return rows.length === 0 && question && hasItsPlace(site, kind)
      ? [{ key: `part ${kind}`, type: 'part', kind, question }]
      : rows.flatMap(asked);
  });
  const place = site.rows.find(({ kind }) => kind === 'site');
  const ofPlace = (paths: readonly string[]) =>
    place
      ? paths.flatMap((path) => {
          const spec = FIELDS.site?.find((other) => other.path === path);
          return spec && empty(place, path) ? [field(site, place, spec)] : [];
        })
      : [];
  const seen = Object.keys(OBSERVED).map((name) => `observations.${name}`);
  return [...parts, ...ofPlace([...OF_THE_SITE, 'climate']), ...ofPlace(seen), ...roofOf(site)];
}

/** No check waits for the roof, so it comes last; where modules lie on none it is not asked for. */
const roofOf = ({ rows, model }: OpenSite): WalkStep[] =>
  model.system.arrays?.some(liesOnRoof) && !rows.some(({ kind }) => kind === 'roofs')
    ? [{ key: 'part roofs', type: 'part', kind: 'roofs', question: 'How large is the roof, and what stands on it?' }]
    : [];

/** What cannot be without another part (a switch without its cable) is asked for once there is one. */
const hasItsPlace = (site: OpenSite, kind: PartKind): boolean =>
  (FIELDS[kind] ?? [])
    .filter((spec) => spec.kind === 'part' && spec.required)
    .every(({ refersTo }) => site.rows.some((row) => refersTo?.includes(row.kind)));

function field(site: OpenSite, row: PartRow, spec: FieldSpec): WalkStep {
  const name = partTitle(site.model.system, nameOfRow(row)) ?? KIND_WORDS[row.kind] ?? row.kind;
  return {
    key: `${row.id} ${spec.path}`,
    type: 'field',
    row,
    spec,
    question: row.kind === 'site' ? `${spec.label}?` : `${name}: ${lowered(spec.label)}?`,
  };
}

const empty = (row: PartRow, path: string) => (memberAt(row.body, path) ?? null) === null;
