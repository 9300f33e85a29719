import type { Database } from './database';

/** One line of a site's history: who set what, when, and what stood there before. */
export interface PastEntry {
  changeId: string;
  partId: string;
  kind: string;
  /** What the part is called now. */
  part: string;
  person: string | null;
  /** On the writer's clock. */
  madeAt: string;
  revision: number;
  fields: Record<string, unknown>;
  before: Record<string, unknown>;
}

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
