import type { PastEntry } from '@true-lantern/core';
import type { Database } from './database';

/** A screen shows no more than a season's work; the log itself keeps everything. */
const MOST = 400;

/** The newest changes of a site first. */
export async function changesOf({ models }: Database, firmId: string, siteId: string): Promise<PastEntry[]> {
  const { Change, Part, User } = models;
  const [changes, parts, people] = await Promise.all([
    Change.findAll({
      where: { firmId, siteId },
      order: [
        ['createdAt', 'DESC'],
        ['revision', 'DESC'],
      ],
      limit: MOST,
    }),
    Part.findAll({ where: { firmId, siteId } }),
    User.findAll({ where: { firmId } }),
  ]);
  const partById = new Map(parts.map((part) => [part.id, part]));
  const names = new Map(people.map(({ id, name }) => [id, name]));
  return changes.map(({ changeId, partId, userId, madeAt, revision, fields, before }) => {
    const part = partById.get(partId);
    const { label, name, title, role } = part?.body ?? {};
    return {
      changeId,
      partId,
      kind: part?.kind ?? '',
      part: String(label ?? name ?? title ?? role ?? part?.kind ?? ''),
      person: (userId && names.get(userId)) || null,
      madeAt: madeAt.toISOString(),
      revision,
      fields,
      before,
    };
  });
}
