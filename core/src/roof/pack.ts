import { areaOf, edgesOf, holds } from '../numeric/polygon';
import { acrossLine, bendsOf, easedGround, turnedGround, type Ground } from './free';
import type { Size, Spot } from './spots';
import { reachable, Sweep } from './sweep';

/**
 * How many modules of one kind a roof carries (docs/roof.md): an exact search. Of any placement the modules can be pushed
 * to the left, and up or down, until each touches something; then, taken from left to right, each lies at one of a few
 * heights and as far left as those before it let it. So all of them are tried, from left to right, with what is behind
 * the front given up, and a branch is left as soon as the room before it cannot hold more than what is known.
 */

/** What a search found. */
export interface Packing {
  spots: Spot[];
  /** No placement has more. */
  bound: number;
}

/**
 * @param enough stop as soon as so many are placed; absent: the most
 * @param go asked now and then; false stops, and what was found so far counts
 */
export function pack(
  ground: Ground,
  size: Size,
  go: () => boolean = () => true,
  enough = Infinity,
  begin: readonly Spot[] = [],
): Packing {
  let best: Spot[] = [...begin];
  let bound = byArea(ground, size);
  const better = (spots: Spot[]) => {
    if (spots.length > best.length) best = spots;
  };
  const through = () => best.length >= Math.min(bound, enough);
  const answer = () => ({ spots: best, bound: Math.max(best.length, bound) });
  const exact = sweepsOf(ground, size);
  better(exact.rows());
  bound = Math.min(bound, exact.root());
  if (through()) return answer();
  // A short look first: most roofs are done with that.
  const look = exact.search(best, countdown(go, SHORT), Math.min(bound, enough));
  better(look.spots);
  if (look.done) return { spots: best, bound: Math.max(best.length, Math.min(bound, look.bound)) };
  bound = Math.min(bound, byLines(ground, size), byLines(turnedGround(ground), size));
  if (through()) return answer();
  // The same roof with a little more room has far fewer places to rest: what it cannot hold this one cannot.
  const eased = sweepsOf(easedGround(ground), size);
  bound = Math.min(bound, eased.root());
  if (!through()) {
    const room = eased.search(best, go, Math.min(bound, enough));
    if (room.done) bound = Math.min(bound, room.bound);
  }
  if (through()) return answer();
  const found = exact.search(best, go, Math.min(bound, enough));
  better(found.spots);
  return found.done ? { spots: best, bound: Math.max(best.length, Math.min(bound, found.bound)) } : answer();
}
/** Nodes of the short look. */
const SHORT = 24;
/** Looks at the clock until a search gives up. */
function countdown(go: () => boolean, looks: number): () => boolean {
  let left = looks;
  return () => left-- > 0 && go();
}

/** Both ways of taking the modules, the one with fewer heights to be searched. */
function sweepsOf(ground: Ground, size: Size) {
  const along = new Sweep(ground, size);
  const across = new Sweep(turnedGround(ground), size);
  const back = ({ x, y, turned }: Spot): Spot => ({ x: y, y: x, turned: !turned });
  const first = across.complete !== along.complete ? across.complete : across.heights < along.heights;
  const sweep = first ? across : along;
  sweep.beside(first ? along : across);
  return {
    root: () => Math.min(along.root(), across.root()),
    rows() {
      const [one, other] = [along.rows(), across.rows()];
      return other.length > one.length ? other.map(back) : one;
    },
    search(start: readonly Spot[], go: () => boolean, enough: number) {
      const found = sweep.search(first ? start.map(back) : start, go, enough);
      return { ...found, spots: first ? found.spots.map(back) : found.spots };
    },
  };
}

/**
 * What lines along x leave: at each height the roof less what stands there with its clearance, each stretch by what widths
 * and lengths can fill of it.
 */
function byLines({ outline, box, fixed }: Ground, { width, length, gap }: Size): number {
  const reach = reachable(Math.ceil(box.right - box.left) + gap + 2, width + gap, length + gap);
  /** What a line at a height leaves. */
  const along = (y: number): number => {
    const barred = fixed.flatMap((one) => {
      const span = acrossLine(one, y);
      return span ? [span] : [];
    });
    barred.sort((a, b) => a[0] - b[0]);
    let [sum, from] = [0, box.left];
    const stretch = (to: number) => {
      if (to - from < 1 || !holds(outline, [(from + to) / 2, y])) return;
      sum += reach[Math.floor(to - from + 1e-6) + gap] ?? 0;
    };
    for (const [left, right] of barred) {
      if (left > from) stretch(left);
      from = Math.max(from, right);
    }
    stretch(box.right);
    return sum;
  };
  // Where nothing leans or bends, one line is like the next.
  const first = Math.ceil(box.foot);
  const bends = bendsOf(fixed);
  let sum = 0;
  for (let y = first, before = Number.NaN; y < box.top; y++) {
    if (Number.isNaN(before) || bends(y - 0.5, y + 0.5)) before = along(y + 0.5);
    sum += before;
  }
  return Math.floor(sum / (width * length + gap * Math.min(width, length)) + 1e-9);
}

/** Modules with half a gap round each lie apart, within the roof with half a gap round it: its area, mm2. */
export function roomOf({ outline }: Ground, gap: number): number {
  const round = edgesOf(outline).reduce((sum, [a, b]) => sum + Math.hypot(b[0] - a[0], b[1] - a[1]), 0);
  return areaOf(outline) + (round * gap) / 2 + gap * gap;
}
const byArea = (ground: Ground, { width, length, gap }: Size): number =>
  Math.floor(roomOf(ground, gap) / ((width + gap) * (length + gap)));
