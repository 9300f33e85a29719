import { fromRows, nameOfRow, toRows } from '@true-lantern/core/base';
import { newId } from '../ids';
import { drain } from './drain';
import { keyOfEntry, nameOfEntry, type ChangeEntry, type Entry, type SiteEntry } from './entries';
import { heldBy, rowsOf, withPending } from './pending';
import { addEntries, changeEntries, state } from './store';

/** What a person can do about an entry that the server did not take. */

/** Tries it again as it is. A site goes with everything that was mended in it since. */
export async function sendAgain(entry: Entry): Promise<void> {
  if ('file' in entry) await refile(entry);
  else
    await changeEntries((known) =>
      nameOfEntry(known) === nameOfEntry(entry) ? { ...known, state: 'waiting', faults: [], tries: 0 } : known,
    );
  void drain();
}

/** The same change with other values, under an id of its own: the server remembers what it was told of the old one. */
export async function sendMended(entry: ChangeEntry, set: Record<string, unknown>): Promise<void> {
  const change = { ...entry.change, set, changeId: newId(), at: new Date().toISOString() };
  const mended: ChangeEntry = { siteId: entry.siteId, owner: entry.owner, state: 'waiting', change };
  await addEntries([mended]);
  await giveUp(entry, false);
  void drain();
}

/** Takes it off the list, with what depends on it: work on a site or a part that will never be. */
export function giveUp(entry: Entry, withHeld = true): Promise<void> {
  const gone = new Set([entry, ...(withHeld ? heldBy(entry, state().entries) : [])].map(nameOfEntry));
  return changeEntries((known) => (gone.has(nameOfEntry(known)) ? null : known));
}

/** How much would go with it. */
export const dependsOn = (entry: Entry): number => heldBy(entry, state().entries).length;

/** The site as it stands now, with its changes in it; each part keeps the id by which this device knows it. */
async function refile(entry: SiteEntry): Promise<void> {
  const { entries } = state();
  const rows = withPending(rowsOf(entry), entry.siteId, entries);
  const idOf = new Map(rows.map((row) => [`${row.kind} ${nameOfRow(row)}`, row.id]));
  const file = fromRows(rows);
  const made: string[] = toRows(file, newId).map((row) => idOf.get(`${row.kind} ${nameOfRow(row)}`) ?? row.id);
  await changeEntries((known) => {
    if (nameOfEntry(known) === nameOfEntry(entry))
      return {
        ...entry,
        ...(known.n === undefined ? {} : { n: known.n }),
        file,
        rowIds: made,
        state: 'waiting',
        faults: [],
        tries: 0,
      };
    const within = known.siteId === entry.siteId && known.owner === entry.owner && 'change' in known;
    return within && known.state === 'waiting' ? null : known;
  });
}

/** Everything of one person that has not reached the server, as a file to keep or to send to a helper. */
export const unsentText = (entries: readonly Entry[]): string =>
  JSON.stringify(
    {
      format: 'true-lantern-unsent',
      version: 1,
      entries: entries.map((entry) => ({ key: keyOfEntry(entry), ...entry })),
    },
    null,
    2,
  );
