import { freeSpans, leaningAt, restsOf, turnedGround, type Ground } from './free';
import type { Way } from './spots';

/** More heights than this are no exact search any more. */
const MOST_HEIGHTS = 700;

/** Rounds in which heights give places along, and those give heights again. */
const ROUNDS = 2;

/**
 * Every height at which a module can rest: on what is fixed, on others in a stack; where what is fixed leans, at the place
 * along that others give, or pressed down on it by one above.
 */
export function heightsOf(ground: Ground, sizes: readonly Way[], gap: number): { ys: number[]; complete: boolean } {
  const along = new Heights(ground, sizes, gap);
  const sideways = turnedGround(ground);
  const across = new Heights(
    sideways,
    sizes.map(({ turned, width, height }) => ({ turned, width: height, height: width })),
    gap,
  );
  for (let round = 0; round < ROUNDS; round++) {
    along.hang();
    across.hang();
    const [ys, xs] = [along.all(), across.all()];
    // At each place along, the lowest height that holds; at each height the leftmost place.
    for (const { width, height } of sizes) {
      for (const x of xs) for (const { from } of freeSpans(sideways, height, width, x)) along.grow(from);
      for (const y of ys) for (const { from } of freeSpans(ground, width, height, y)) across.grow(from);
    }
  }
  return { ys: along.all(), complete: !along.full };
}

/** Heights that follow from one another. */
class Heights {
  private readonly ys = new Set<number>();
  private readonly leans: (y: number) => boolean;
  full = false;

  constructor(
    private readonly ground: Ground,
    private readonly sizes: readonly Way[],
    private readonly gap: number,
  ) {
    this.leans = leaningAt(ground);
    for (const { height } of sizes) restsOf(ground, height).up.forEach((y) => this.grow(y));
  }

  all(): number[] {
    return [...this.ys].sort((a, b) => a - b);
  }

  /** A height, and those of what is stacked on a module there. */
  grow(y: number): void {
    const { foot, top } = this.ground.box;
    if (this.ys.has(y) || y < foot || y > top) return;
    if (this.ys.size >= MOST_HEIGHTS) {
      this.full = true;
      return;
    }
    this.ys.add(y);
    for (const { height } of this.sizes) this.grow(y + height + this.gap);
  }

  /** From what hangs under something down to what leans: all of such a chain, and none that ends in the air. */
  hang(): void {
    const { foot, top } = this.ground.box;
    const seen = new Map<number, boolean>();
    const visit = (y: number): boolean => {
      if (y < foot || y > top) return false;
      const known = seen.get(y);
      if (known !== undefined) return known;
      seen.set(y, false);
      let held = this.leans(y);
      for (const { height } of this.sizes) if (visit(y - height - this.gap)) held = true;
      seen.set(y, held);
      return held;
    };
    for (const { height } of this.sizes) {
      restsOf(this.ground, height).down.forEach(visit);
      for (const y of [...this.ys]) visit(y - height - this.gap);
    }
    for (const [y, held] of seen) if (held) this.grow(y);
  }
}
