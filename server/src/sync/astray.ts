import { FIELDS, isPartKind, linkFaultsByRow, nameOfRow, type Fault, type StoredPart } from '@true-lantern/core';
import type { Pool } from '../threads/pool';
import type { Logged, Standing } from './as-stored';

/** Which changes of a push lead astray: a reference into nothing, a proposal that no longer applies, too much in one job. */

/** What is wrong with a job as a whole, and in which row. */
export type AstrayFault = ReturnType<typeof linkFaultsByRow>[number];

/** Asks a job as a whole where its references and proposals lead. */
export type Links = (rows: readonly StoredPart[]) => Promise<AstrayFault[]>;

/** Rows up to which a whole job is read where it is asked; beyond, reading it would hold up everybody else. */
const FEW_ROWS = 300;

/** Large jobs are read in a thread, with its limit of time. */
export const linksIn =
  (pool: Pool | null): Links =>
  async (rows) =>
    pool && rows.length > FEW_ROWS ? await pool.run('links', { rows: [...rows] }) : linkFaultsByRow(rows);

/** Volts that inverters of one group must have in common. */
const IN_COMMON = new Set(['minDc_V', 'maxDc_V']);

/**
 * Whether a change can break links between parts: references, counts of strings, proposals, volts in common. A figure
 * or a tick in a field that the format knows, of a part that stands, cannot, and a job that was sound need not be read again for it.
 */
export function mayLeadAstray({ made }: Standing, { part, set }: Logged): boolean {
  const { kind } = part;
  if (made.has(part.id) || part.deleted || !(isPartKind(kind) || kind === 'site')) return true;
  return Object.entries(set).some(
    ([field, value]) =>
      !field.startsWith('evidence/') &&
      (IN_COMMON.has(field) ||
        !FIELDS[kind].some(({ path }) => path === field) ||
        !(value === null || typeof value === 'number' || typeof value === 'boolean')),
  );
}

/**
 * The changes that a push must do without, each with its fault: of each row at fault the last that touched it, or the last
 * that removed or renamed what it speaks of. One reading of the job finds them all, so that a bad change among fifty costs
 * one reading more. Where nothing tells, each that may have done it.
 */
export function ledAstray(standing: Standing, faults: readonly AstrayFault[]): Map<string, Fault[]> {
  const asked = standing.log.filter((one) => mayLeadAstray(standing, one));
  const found = new Map<string, Fault[]>();
  const blame = (changeId: string, fault: Fault) => found.set(changeId, [...(found.get(changeId) ?? []), fault]);
  for (const { rowId, path, message } of faults) {
    const row = rowId === null ? undefined : standing.parts.get(rowId);
    const text = row ? JSON.stringify(row.body) : '';
    const culprit =
      asked.findLast(({ part, set }) => part.id === rowId && Object.keys(set).some((field) => path.includes(field))) ??
      asked.findLast(({ part }) => part.id === rowId) ??
      asked.findLast(({ was, part }) => was && goneName(was, part) && text.includes(JSON.stringify(nameOfRow(was)))) ??
      (row ? undefined : asked.findLast(({ was }) => was === null));
    if (culprit) blame(culprit.change.changeId, { path, message });
  }
  const [first] = faults;
  if (found.size === 0 && first)
    for (const { change } of asked) blame(change.changeId, { path: first.path, message: first.message });
  return found;
}

/** True where a part no longer answers to the name that it had. */
const goneName = (was: StoredPart, is: StoredPart): boolean => is.deleted || nameOfRow(was) !== nameOfRow(is);
