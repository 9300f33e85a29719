import { doubleAt, elementAt } from '../numeric/element';
import { freeSpans, type Ground, type Span } from './free';
import { heightsOf } from './heights';
import type { Size, Spot, Way } from './spots';

interface Row extends Way {
  y: number;
  spans: Span[];
  /** The same a millimetre lower: where it could sink further it does not rest. */
  below: Span[];
  /** Strips that it covers with its gap: from, and the one before which they end. */
  from: number;
  end: number;
}

/** A module that nothing holds from below yet. */
interface Waiting {
  x: number;
  end: number;
  y: number;
  held: boolean;
}

/** Nodes between two looks at the clock. */
const LOOK = 512;
const MOST_KNOWN = 300_000;

/** One way of taking the modules: from left to right. */
export class Sweep {
  private readonly rowList: Row[] = [];
  /** Lines between strips, from the foot up. */
  private readonly lines: number[];
  /** Of each strip the x that any module may cover; what lies between two of these no module covers. */
  private readonly open: Span[][];
  /** The largest sum of widths and lengths, with their gaps, up to each number of mm. */
  private readonly reach: Int32Array;
  private readonly area: number;
  readonly complete: boolean;
  private readonly left: number;

  constructor(
    ground: Ground,
    private readonly size: Size,
  ) {
    const { width, length, gap } = size;
    const ways = width === length ? [false] : [false, true];
    const sizes = ways.map((turned) => ({
      turned,
      width: turned ? length : width,
      height: turned ? width : length,
    }));
    this.left = Math.ceil(ground.box.left) - 1;
    const { ys, complete } = heightsOf(ground, sizes, gap);
    this.complete = complete;
    for (const y of ys)
      for (const way of sizes) {
        const spans = freeSpans(ground, way.width, way.height, y);
        if (spans.length > 0)
          this.rowList.push({
            ...way,
            y,
            spans,
            below: freeSpans(ground, way.width, way.height, y - 1),
            from: 0,
            end: 0,
          });
      }
    const lines = new Set<number>();
    for (const { y, height } of this.rowList) lines.add(y).add(y + height + gap);
    this.lines = [...lines].sort((a, b) => a - b);
    const index = new Map(this.lines.map((y, i) => [y, i]));
    for (const row of this.rowList) {
      row.from = index.get(row.y) ?? 0;
      row.end = index.get(row.y + row.height + gap) ?? 0;
    }
    this.open = this.lines
      .slice(1)
      .map((_, strip) =>
        joined(
          this.rowList
            .filter(({ from, end }) => from <= strip && strip < end)
            .flatMap(({ spans, width: wide }) => spans.map(({ from, to }) => ({ from, to: to + wide }))),
        ),
      );
    const longest = Math.ceil(ground.box.right - ground.box.left) + gap + 2;
    this.reach = reachable(longest, width + gap, length + gap);
    this.area = (width + gap) * (length + gap);
  }

  get heights(): number {
    return this.rowList.length;
  }

  /** The most that the whole roof could hold by its strips. */
  root(): number {
    // Of heights that were not all looked at the strips say nothing.
    return !this.complete ? Infinity : this.room(new Int32Array(this.open.length).fill(this.left), -Infinity);
  }

  /** Modules that the strips right of a front could hold at most. */
  private room(front: Int32Array, least: number): number {
    let sum = 0;
    for (let strip = 0; strip < this.open.length; strip++) {
      const spans = elementAt(this.open, strip);
      const from = Math.max(elementAt(front, strip), least);
      let length = 0;
      for (const span of spans) {
        if (span.to <= from) continue;
        length += elementAt(this.reach, span.to + this.size.gap - (span.from > from ? span.from : from));
      }
      sum += length * (elementAt(this.lines, strip + 1) - elementAt(this.lines, strip));
    }
    return Math.floor(sum / this.area + 1e-9);
  }

  /** Columns that the other way round has as its strips: what of their height modules can use. */
  private columns: { x: Float64Array; rest: Float64Array; use: Float64Array } | null = null;

  /** Takes the other way round beside this one, for a second bound. */
  beside(other: Sweep): void {
    if (!other.complete) return;
    const count = other.open.length;
    const x = Float64Array.from(other.lines);
    const use = new Float64Array(count);
    const rest = new Float64Array(count + 1);
    for (let i = count - 1; i >= 0; i--) {
      let height = 0;
      for (const { from, to } of elementAt(other.open, i)) height += elementAt(other.reach, to + this.size.gap - from);
      use[i] = height;
      rest[i] = doubleAt(rest, i + 1) + height * (doubleAt(x, i + 1) - doubleAt(x, i));
    }
    this.columns = { x, rest, use };
  }

  /** Area that modules can use right of an x, by the columns there. */
  private rightOf(at: number): number {
    const { columns } = this;
    if (!columns) return Infinity;
    const { x, rest, use } = columns;
    let [low, high] = [0, x.length - 1];
    if (high < 1 || at <= doubleAt(x, 0)) return rest[0] ?? 0;
    if (at >= doubleAt(x, high)) return 0;
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if (doubleAt(x, middle) <= at) low = middle;
      else high = middle;
    }
    return doubleAt(rest, low + 1) + doubleAt(use, low) * (doubleAt(x, low + 1) - at);
  }

  /** Modules that still fit by the columns: right of the whole front, and right of the last one beside those placed. */
  private byColumns(front: Int32Array, least: number, spots: readonly Spot[]): number {
    if (!this.columns) return Infinity;
    let far = this.left;
    for (let strip = 0; strip < front.length; strip++) if (elementAt(front, strip) > far) far = elementAt(front, strip);
    if (least > far) far = least;
    const { width, length, gap } = this.size;
    let open = 0;
    for (let strip = 0; strip < this.open.length; strip++) {
      const from = Math.max(elementAt(front, strip), least);
      if (from >= far) continue;
      let long = 0;
      for (const span of elementAt(this.open, strip)) {
        const to = Math.min(far, span.to + gap);
        const start = span.from > from ? span.from : from;
        if (to > start) long += to - start;
      }
      open += long * (elementAt(this.lines, strip + 1) - elementAt(this.lines, strip));
    }
    let placed = 0;
    for (const { x, turned } of spots) {
      const end = x + (turned ? length : width) + gap;
      if (end > least) placed += (end - Math.max(x, least)) * ((turned ? width : length) + gap);
    }
    const one = this.rightOf(far) + open;
    const two = least === -Infinity ? Infinity : this.rightOf(least) - placed;
    return Math.floor(Math.min(one, two) / this.area + 1e-9);
  }

  /** Rows from one side to the other, each filled from its end past what stands there; the best stack of them. */
  rows(): Spot[] {
    const { gap } = this.size;
    const filled = this.rowList.map(({ spans, width, y, turned }) => {
      const spots: Spot[] = [];
      let next = -Infinity;
      for (const { from, to } of spans)
        for (let x = Math.max(from, next); x <= to; x += width + gap) {
          spots.push({ x, y, turned });
          next = x + width + gap;
        }
      return spots;
    });
    const best = new Int32Array(this.lines.length);
    const chosen = new Int32Array(this.lines.length).fill(-1);
    for (let line = this.lines.length - 1; line >= 0; line--) {
      best[line] = best[line + 1] ?? 0;
      this.rowList.forEach(({ from, end }, i) => {
        const total = (filled[i]?.length ?? 0) + (best[end] ?? 0);
        if (from === line && total > elementAt(best, line)) {
          best[line] = total;
          chosen[line] = i;
        }
      });
    }
    const spots: Spot[] = [];
    for (let line = 0; line < this.lines.length;) {
      const i = elementAt(chosen, line);
      if (i < 0) line += 1;
      else {
        spots.push(...(filled[i] ?? []));
        line = this.rowList[i]?.end ?? this.lines.length;
      }
    }
    return spots;
  }

  /** The furthest front over each run of strips whose length is a power of two. */
  private readonly furthest: Int32Array[] = [];
  private levels(front: Int32Array): void {
    const count = front.length;
    (this.furthest[0] ??= new Int32Array(count)).set(front);
    for (let level = 1, span = 2; span <= count; level++, span *= 2) {
      const below = elementAt(this.furthest, level - 1);
      const here = (this.furthest[level] ??= new Int32Array(count));
      for (let i = 0; i + span <= count; i++) {
        const [a, b] = [elementAt(below, i), elementAt(below, i + span / 2)];
        here[i] = a > b ? a : b;
      }
    }
  }
  private highest(from: number, end: number): number {
    const level = 31 - Math.clz32(end - from);
    const list = elementAt(this.furthest, level);
    return Math.max(elementAt(list, from), elementAt(list, end - (1 << level)));
  }

  /** True for a module that another at this height and over these x rests on. */
  private carries({ x, y, turned }: Spot, at: number, from: number, end: number): boolean {
    const { width, length, gap } = this.size;
    return y + (turned ? width : length) + gap === at && x < end && from < x + (turned ? length : width) + gap;
  }

  /** All placements from left to right. */
  search(start: readonly Spot[], go: () => boolean, enough: number): { spots: Spot[]; done: boolean; bound: number } {
    const { gap } = this.size;
    let best: Spot[] = [...start];
    const spots: Spot[] = [];
    const front = new Int32Array(this.open.length).fill(this.left);
    const known = new Map<string, number>();
    // What rests on nothing yet: only a module that comes later can still hold it, from under it.
    const waiting: Waiting[] = [];
    let nodes = 0;
    let stopped = false;
    const visit = (lastX: number, lastY: number): void => {
      if (spots.length > best.length) best = [...spots];
      if (stopped || best.length >= enough) return;
      if (++nodes % LOOK === 0 && !go()) {
        stopped = true;
        return;
      }
      if (spots.length + this.room(front, lastX) <= best.length) return;
      if (spots.length + this.byColumns(front, lastX, spots) <= best.length) return;
      const key = `${lastX} ${lastY} ${waiting
        .filter(({ held }) => !held)
        .map(({ end, y }) => `${end}/${y}`)
        .join()} ${front.join()}`;
      const before = known.get(key);
      if (before !== undefined && before >= spots.length) return;
      if (known.size < MOST_KNOWN) known.set(key, spots.length);
      const moves: { row: Row; x: number }[] = [];
      this.levels(front);
      for (const row of this.rowList) {
        const base = this.highest(row.from, row.end);
        for (const { from, to } of row.spans) {
          const x = Math.max(from, base);
          if (x > to || x < lastX || (x === lastX && row.y < lastY)) continue;
          moves.push({ row, x });
        }
      }
      moves.sort((a, b) => a.x - b.x || a.row.y - b.row.y || a.row.width - b.row.width);
      // What comes later lies further right: once the room there cannot do it, nothing later can.
      const enoughAt = (x: number) =>
        spots.length + this.room(front, x) > best.length &&
        spots.length + this.byColumns(front, x, spots) > best.length;
      let sure = -1;
      for (let at = 0; at < moves.length; at++) {
        const { row, x } = elementAt(moves, at);
        if (at > sure) {
          if (!enoughAt(x)) break;
          // As far as it is so, in strides: the room only shrinks to the right.
          sure = at;
          for (let stride = 8; at + stride < moves.length && enoughAt(elementAt(moves, at + stride).x); stride *= 2)
            sure = at + stride;
        }
        // From here on nothing comes under what ends before.
        if (waiting.some(({ end, held }) => !held && end <= x)) break;
        const saved = front.slice(row.from, row.end);
        const end = x + row.width + gap;
        const top = row.y + row.height + gap;
        const holding = waiting.filter((one) => !one.held && one.y === top && one.x < end && x < one.end);
        const rests = !within(row.below, x) || spots.some((one) => this.carries(one, row.y, x, end));
        for (const one of holding) one.held = true;
        if (!rests) waiting.push({ x, end, y: row.y, held: false });
        front.fill(x + row.width + gap, row.from, row.end);
        spots.push({ x, y: row.y, turned: row.turned });
        visit(x, row.y);
        spots.pop();
        front.set(saved, row.from);
        if (!rests) waiting.pop();
        for (const one of holding) one.held = false;
        if (stopped || best.length >= enough) return;
      }
    };
    visit(-Infinity, -Infinity);
    return { spots: best, done: !stopped && this.complete, bound: best.length >= enough ? enough : best.length };
  }
}

const within = (spans: readonly Span[], x: number) => spans.some(({ from, to }) => from <= x && x <= to);

/** Spans that overlap or touch as one. */
function joined(spans: readonly Span[]): Span[] {
  const sorted = [...spans].sort((a, b) => a.from - b.from);
  const out: Span[] = [];
  for (const { from, to } of sorted) {
    const last = out.at(-1);
    if (last && from <= last.to) last.to = Math.max(last.to, to);
    else out.push({ from, to });
  }
  return out;
}

/** The largest sum of two numbers, each any number of times, up to each whole number. */
export function reachable(most: number, a: number, b: number): Int32Array {
  const can = new Uint8Array(most + 1);
  can[0] = 1;
  const best = new Int32Array(most + 1);
  for (let sum = 1; sum <= most; sum++) {
    if ((sum >= a && can[sum - a] === 1) || (sum >= b && can[sum - b] === 1)) can[sum] = 1;
    best[sum] = can[sum] === 1 ? sum : elementAt(best, sum - 1);
  }
  return best;
}
