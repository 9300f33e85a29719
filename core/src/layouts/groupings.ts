/** Every way to share out modules over controllers, before anybody judges it. Pure counting. */

/** Strings of one controller: how many modules of which type in each. */
export interface Block {
  /** The type of its modules; null: mixed, as they stand. */
  type: string | null;
  /** Modules in each string, longest first. */
  lengths: number[];
  size: number;
}
/** What one controller gets of the modules. */
export interface Share {
  controllerId: string;
  block: Block;
}

/** After so many the rest is not counted out: nobody reads them, and the best are found long before. */
const MOST_GROUPINGS = 60_000;

/** Even strings of every shape of so many modules, and strings that differ by one module. */
export function blocksOf(type: string, size: number): Block[] {
  const blocks: Block[] = [];
  for (let strings = 1; strings <= size; strings++) {
    const longer = size % strings;
    const least = Math.floor(size / strings);
    const lengths = Array.from({ length: strings }, (_, i) => least + (i < longer ? 1 : 0));
    blocks.push({ type, lengths, size });
  }
  return blocks;
}

/** More types than this beside each other and nobody would build it. */
const MOST_BESIDE = 3;

function* beside(counts: readonly [string, number][], shareOf: (block: Block) => Share): Generator<Share[]> {
  const [first, ...rest] = counts;
  if (!first) return;
  for (const block of blocksOf(first[0], first[1]).filter(isEven)) {
    if (rest.length === 0) yield [shareOf(block)];
    else for (const others of beside(rest, shareOf)) yield [shareOf(block), ...others];
  }
}

/** True where all strings of a block are of equal length. */
export const isEven = ({ lengths }: Block) => lengths.every((length) => length === lengths[0]);

/**
 * Shares of the modules over one or more of the controllers: each feeds modules of one type; one controller alone may
 * leave up to half of them lying, several together at most one of each type. All types mixed on one controller, in
 * strings of equal length, is counted too: it is what is often found. So are the types beside each other, each in strings
 * of its own: one controller then has several shares.
 */
export function* groupings(
  controllerIds: readonly string[],
  counts: ReadonlyMap<string, number>,
  { even = false, most = controllerIds.length }: { even?: boolean; most?: number } = {},
): Generator<Share[]> {
  const total = [...counts.values()].reduce((sum, count) => sum + count, 0);
  // One of each type may be the odd one out.
  const spare = Math.max(1, counts.size);
  let made = 0;
  // The last of several controllers must take all but one of what is left.
  const leastAt = (i: number, taken: number, unused: number) =>
    taken > 0 && counts.size === 1 && (i === controllerIds.length - 1 || taken === most - 1)
      ? Math.max(1, unused - 1)
      : 1;
  function* from(at: number, left: Map<string, number>, used: number, shares: Share[]): Generator<Share[]> {
    if (made >= MOST_GROUPINGS) return;
    const unused = total - used;
    if (shares.length > 0 && (shares.length === 1 ? unused < Math.max(1, total / 2) : unused <= spare)) {
      made++;
      yield shares;
    }
    if (shares.length === most) return;
    for (let i = at; i < controllerIds.length; i++)
      for (const [type, count] of left)
        for (let size = leastAt(i, shares.length, unused); size <= count; size++)
          for (const block of blocksOf(type, size)) {
            if (even && !isEven(block)) continue;
            const rest = new Map(left).set(type, count - size);
            yield* from(i + 1, rest, used + size, [...shares, { controllerId: controllerIds[i] ?? '', block }]);
          }
  }
  // Every type in strings of its own beside the others, on one controller: none is dropped for being unlike.
  if (counts.size > 1 && counts.size <= MOST_BESIDE)
    for (const controllerId of controllerIds) yield* beside([...counts], (block) => ({ controllerId, block }));
  if (counts.size > 1)
    for (const controllerId of controllerIds)
      for (let strings = 1; strings <= total; strings++)
        if (total % strings === 0) {
          const lengths = Array.from({ length: strings }, () => total / strings);
          yield [{ controllerId, block: { type: null, lengths, size: total } }];
        }
  yield* from(0, new Map(counts), 0, []);
}
