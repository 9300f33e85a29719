import { fromRows, nameOfRow, type Fault, type SystemFile } from '@true-lantern/core';
import type { Database } from '../store/database';
import { partsOf } from '../store/sites';
import type { Pool } from '../work/pool';
import type { Pusher } from './standing';

/** `work.ticks.STEP.PERSON` of a proposal. */
const TICK = /^work\.ticks\.([^.]+)\.[^.]+$/;

interface Ticked {
  changeId: string;
  /** The proposal's row. */
  partId: string;
  steps: string[];
}

/**
 * Steps of an order that the law leaves to a licensed person, ticked as done by somebody without: refused, by change. The
 * app does not offer it; this is for a device that does. The order is worked out in a thread, and only for such a push.
 */
export async function unlicensedTicks(
  database: Database,
  pool: Pool,
  { firmId, userId, siteId }: Pusher,
  given: readonly unknown[],
): Promise<ReadonlyMap<string, Fault>> {
  const ticked = given.flatMap(ticksOf);
  if (ticked.length === 0) return NONE;
  const who = await database.models.User.findOne({ where: { id: userId, firmId } });
  if (!who || who.licence) return NONE;
  const rows = await partsOf(database, firmId, siteId);
  const proposalOf = new Map(rows.filter(({ kind }) => kind === 'proposal').map((row) => [row.id, nameOfRow(row)]));
  const wanted = [...new Set(ticked.flatMap(({ partId }) => proposalOf.get(partId) ?? []))];
  if (wanted.length === 0) return NONE;
  const licensed = await pool.run('licensed', { file: fromRows(rows), proposals: wanted });
  return new Map(
    ticked.flatMap(({ changeId, partId, steps }): [string, Fault][] => {
      const kept = licensed[proposalOf.get(partId) ?? ''] ?? [];
      const step = steps.find((each) => kept.includes(each));
      return step === undefined
        ? []
        : [
            [
              changeId,
              { path: `work.ticks.${step}`, message: 'is licensed work, expected a tick by a licensed person' },
            ],
          ];
    }),
  );
}

const NONE: ReadonlyMap<string, Fault> = new Map();

/** What of a change says that steps are done; nothing of a change that is none. */
function ticksOf(given: unknown): Ticked[] {
  const { changeId, partId, set } = (given ?? {}) as { changeId?: unknown; partId?: unknown; set?: unknown };
  if (typeof changeId !== 'string' || typeof partId !== 'string' || typeof set !== 'object' || !set) return [];
  const steps = Object.entries(set).flatMap(([field, value]) => {
    const step = TICK.exec(field)?.[1];
    return step && (value as { state?: unknown } | null)?.state === 'done' ? [step] : [];
  });
  return steps.length > 0 ? [{ changeId, partId, steps }] : [];
}

/** For the pool: the keys of licensed steps by proposal; none of one that no longer applies, since it has no order. */
export interface LicensedQuestion {
  file: SystemFile;
  proposals: string[];
}
