import { titleOf } from '../rules/check';
import { worstFirst, type Finding } from '../rules/finding';
import type { System } from '../system/schema';
import { bankBranch, branchesAbove, branchesBelow } from './branches';
import { Describer } from './describe';
import { linesOf, widthOf } from '../written/measure';
import { METRIC, type Units } from '../written/units';
import type { Branch, BusRow, CableRow, Ink, LeverRow, LoadRow, LoadsRow, Row, Said, StationRow } from './rows';

/**
 * How a row's words and figures stand. `beside`: the figure to the right of the title, wick below it. `under`: the figure
 * on a line of its own. `stacked`: the word on one line, the figure on the next.
 */
export interface Form {
  figure: 'beside' | 'under' | 'stacked' | 'none';
  /** Width of the wick; 0 where there is no room for it. */
  wick: number;
  titleLines: number;
  factLines: number;
  figureLines: number;
  /** What stands at the end of a row does not fit there: it has a line of its own. */
  broken: boolean;
}

export type LineRow = Row & {
  y: number;
  height: number;
  /** Lanes are counted from the left of the gutter. */
  lane: number;
  form: Form;
};

/** A stretch of conductor that passes rows without stopping: from one height to another on a lane. */
export interface Stretch {
  lane: number;
  from: number;
  to: number;
  stroke: number;
  ink: Ink;
}
/** Which way the energy goes where a branch meets the bus. */
export interface Arrow {
  lane: number;
  y: number;
  way: 'down' | 'both';
}
/** The Line laid out: rows with their heights, stretches of conductor and arrows, px. */
export interface LineLayout {
  rows: LineRow[];
  stretches: Stretch[];
  arrows: Arrow[];
  lanes: number;
  height: number;
  /** From the left edge to where the words begin. */
  gutter: number;
  laneX(lane: number): number;
  branches: { id: string; name: string }[];
}

/** How the Line is to be laid out, and what of it. */
export interface LineOptions {
  /** The system as found, when the other is a proposal. */
  base?: System | undefined;
  units?: Units;
  off?: ReadonlySet<string> | undefined;
  /** Of the whole drawing, px. */
  width?: number;
  /** For a mouse: rows as low as their words, so that a whole system is seen at once. */
  dense?: boolean;
  /** Loads of one branch in one row, but of these branches. */
  foldLoads?: boolean;
  unfolded?: ReadonlySet<string>;
  /** What was read last at each part, by its id: shown in place of the verdicts. */
  read?: ReadonlyMap<string, Said> | undefined;
  /** This branch alone, with the bank. */
  only?: string | null;
}

const FIRST_LANE = 22;
/** Lanes move together where there are many. */
const pitchOf = (lanes: number) => (lanes > 4 ? 16 : 21);
/** What the frame of a row takes at its right, the bar of a chosen one included. */
const RIGHT_MARGIN = 20;
const THIN = 3;
const BUS_STROKE = 8;
/** Lengths of a wick, px: whole, and where there is little room. */
export const WICK = { full: 104, short: 56 } as const;
/** Sizes of the looks, px, and their line heights. */
export const SIZE = { title: 18, fact: 15, word: 16, figure: 20 } as const;
/** Heights of the lines of a row, px. */
export const LINE = { title: 24, fact: 21, figure: 26, wick: 22 } as const;
const HEIGHT = {
  touch: { sun: 56, bus: 40, row: 48, gap: 48, air: 14 },
  dense: { sun: 42, bus: 30, row: 26, gap: 26, air: 3 },
} as const;

/**
 * The system as rows from the sun down to the loads, the bank hung in the fold of the bus. Branches that join there run in
 * lanes of their own. No figure is ever cut: what does not fit takes another line. Pure: the same system gives the same
 * drawing on a phone, on paper and in a test.
 */
export function layoutLine(
  system: System,
  findings: readonly Finding[],
  siteFact: string,
  { base, units = METRIC, off = new Set(), width = 390, dense = false, read, ...fold }: LineOptions = {},
): LineLayout {
  const parts = new Describer(system, findings, base, units, off, read);
  const allAbove = branchesAbove(parts);
  parts.downwards = true;
  const bank = bankBranch(parts);
  const allBelow = branchesBelow(parts);
  const shown = (branches: Branch[]) => branches.filter(({ id }) => !fold.only || id === fold.only);
  const above = shown(allAbove);
  const below = shown(allBelow).map((branch) =>
    fold.foldLoads && !fold.unfolded?.has(branch.id) ? withLoadsFolded(branch) : branch,
  );
  // The bank hangs beside the rail that joins the two sides of the bus.
  const lanes = Math.max(2, above.length, below.length);
  const pitch = pitchOf(lanes);
  const laneX = (lane: number) => FIRST_LANE + lane * pitch;
  const gutter = laneX(lanes - 1) + 24;
  const rows: LineRow[] = [];
  const stretches: Stretch[] = [];
  const arrows: Arrow[] = [];
  let y = 0;
  const heights = dense ? HEIGHT.dense : HEIGHT.touch;
  const place = (row: Row, lane: number) => {
    const form = formOf(row, width - gutter - RIGHT_MARGIN, dense);
    const height = heightOf(row, form, heights);
    rows.push({ ...row, y, height, lane, form });
    y += height;
  };
  place({ type: 'sun', text: siteFact }, 0);
  const starts = above.map(({ rows: each }, lane) => {
    each.forEach((row) => place(row, lane));
    return { end: y, stroke: strokeAt(each.at(-1)), ink: inkOf(each.at(-1)) };
  });
  const bus = (side: BusRow['side'], text: string) => {
    const top = y;
    place({ type: 'bus', side, text }, 0);
    return top + heights.bus / 2;
  };
  const upper = bus('upper', system.nominal_V ? `${system.nominal_V} V bus` : 'bus: volts?');
  starts.forEach(({ end, stroke, ink }, lane) => {
    stretches.push({ lane, from: end, to: upper, stroke, ink });
    arrows.push({ lane, y: upper - heights.bus / 2, way: 'down' });
  });
  const [hung] = bank.rows;
  stretches.push({ lane: 1, from: upper, to: y, stroke: strokeAt(hung), ink: inkOf(hung) });
  arrows.push({ lane: 1, y: upper + heights.bus / 4, way: 'both' });
  bank.rows.forEach((row) => place(row, 1));
  const gone = parts.gone();
  if (below.length > 0) {
    const lower = bus('lower', '');
    stretches.push({ lane: 0, from: upper, to: lower, stroke: BUS_STROKE, ink: 'plain' });
    // The branch that is listed last reaches down past the others: it takes the lane furthest left.
    below.forEach(({ rows: each }, i) => {
      const lane = below.length - 1 - i;
      stretches.push({ lane, from: lower, to: y, stroke: strokeAt(each[0]), ink: inkOf(each[0]) });
      arrows.push({ lane, y: lower + heights.bus / 4, way: 'down' });
      each.forEach((row) => place(row, lane));
    });
  }
  for (const row of gone) place(row, 0);
  return {
    rows,
    stretches,
    arrows,
    lanes,
    height: y,
    gutter,
    laneX,
    branches: [...allAbove, ...allBelow].map(({ id, name }) => ({ id, name })),
  };
}

/** All loads of a branch as one row that says the worst of them. */
function withLoadsFolded(branch: Branch): Branch {
  const loads = branch.rows.flatMap((row) => (row.type === 'load' ? [row] : []));
  const bare = branch.rows.flatMap((row, i) => {
    const after = branch.rows[i + 1];
    // A cable that only leads to a folded load folds with it.
    return row.type === 'load' || (row.type === 'cable' && after?.type === 'load') ? [] : [row];
  });
  if (loads.length < 3) return branch;
  const worst = loads.flatMap(({ worst }) => worst ?? []).sort(worstFirst)[0] ?? null;
  const row: LoadsRow = {
    type: 'loads',
    id: branch.id,
    title: `${loads.length} loads`,
    fact: loads.map(({ title }) => title).join(', '),
    ink: loads.some(({ ink }) => ink === 'new' || ink === 'changed') ? 'changed' : 'plain',
    worst,
    said: loads.find((load) => load.worst === worst)?.said ?? null,
  };
  return { ...branch, rows: [...bare, row] };
}

const strokeAt = (row: Row | undefined) => (row && 'stroke' in row ? row.stroke : THIN);
const inkOf = (row: Row | undefined): Ink => (row && 'ink' in row ? row.ink : 'plain');

const PLAIN: Form = { figure: 'none', wick: 0, titleLines: 1, factLines: 1, figureLines: 0, broken: false };

function formOf(row: Row, width: number, dense: boolean): Form {
  if (row.type === 'station') return stationForm(row, width, dense);
  if (row.type === 'sun' || row.type === 'bus') return PLAIN;
  if (row.type === 'gap') return { ...PLAIN, factLines: linesOf(row.text, SIZE.fact, width) };
  return slenderForm(row, width, dense);
}

/** Width of a verdict's word and figures on one line. */
function saidWidth({ word, text, figures }: NonNullable<StationRow['said']>): number {
  return widthOf(word, SIZE.word) + 8 + widthOf(text, figures ? SIZE.figure : SIZE.word);
}

function stationForm({ title, fact, was, said, worst }: StationRow, width: number, dense: boolean): Form {
  const titleLines = linesOf(title, SIZE.title, width);
  const factLines = linesOf(fact, SIZE.fact, width) + (was ? linesOf(was, SIZE.fact, width) : 0);
  if (!said) return { ...PLAIN, titleLines, factLines };
  const wanted = wickOf(worst);
  const one = saidWidth(said);
  const beside = titleLines === 1 && widthOf(title, SIZE.title) + 12 + one <= width;
  const room = factLines === 1 && widthOf(fact, SIZE.fact) + (wanted ? wanted + 12 : 0) <= width;
  if (beside && (room || dense))
    return { ...PLAIN, figure: 'beside', wick: room ? wanted : 0, factLines, figureLines: 1 };
  return { ...underForm(said, wanted, width), titleLines, factLines };
}

/** A figure on a line of its own: with its wick, with a short one, without, or over several lines. */
function underForm(said: NonNullable<StationRow['said']>, wanted: number, width: number): Form {
  const one = saidWidth(said);
  const wick = [wanted, Math.min(wanted, WICK.short), 0].find((each) => one + (each ? each + 10 : 0) <= width);
  if (wick !== undefined) return { ...PLAIN, figure: 'under', wick, figureLines: 1 };
  const figureLines = linesOf(said.text, said.figures ? SIZE.figure : SIZE.word, width);
  const room = width - widthOf(said.word, SIZE.word) - 10;
  return { ...PLAIN, figure: 'stacked', wick: wanted && room >= WICK.short ? WICK.short : 0, figureLines };
}

/** Width of the wick that a finding wants: none where nothing limits it. */
const wickOf = (worst: Finding | null) => (worst && worst.limit !== null ? WICK.full : 0);

/** Is a verdict one to read from across the locker? */
export const isLoud = ({ worst }: Pick<StationRow, 'worst'>) =>
  worst !== null && (worst.verdict === 'over' || worst.verdict === 'tight');

/** Cables, switches and loads: one line, and a second for what is over or tight. */
function slenderForm(row: CableRow | LeverRow | LoadRow | LoadsRow, width: number, dense: boolean): Form {
  const [start, end] = endsOf(row);
  const loud = (isLoud(row) || row.said?.read) && row.said;
  if (dense && loud && widthOf(start, SIZE.fact) + 12 + saidWidth(loud) <= width)
    return { ...PLAIN, figure: 'beside', figureLines: 1 };
  const startSize = SIZE.fact;
  const broken = end !== '' && widthOf(start, startSize) + 12 + widthOf(end, SIZE.fact) > width;
  const factLines = Math.max(1, linesOf(start, startSize, width));
  const endLines = broken ? (row.type === 'loads' ? 1 : linesOf(end, SIZE.fact, width)) : 0;
  const plain = { ...PLAIN, factLines: factLines + endLines, broken };
  if (!loud) return plain;
  return {
    ...underForm(loud, wickOf(row.worst), width),
    factLines: factLines + endLines,
    broken,
  };
}

/** What a slender row says at its left and at its right. */
export function endsOf(row: CableRow | LeverRow | LoadRow | LoadsRow): [start: string, end: string] {
  if (row.type !== 'cable') return [row.title, row.fact];
  if (row.was) return [row.fact, row.was];
  // Where the cable is over, what of it is over says more than which cable it is.
  if (isLoud(row) && row.worst) return [row.fact, titleOf(row.worst)];
  return [row.fact, row.fuse === '?' ? 'fuse: not checked' : row.label];
}

function heightOf(row: Row, form: Form, heights: (typeof HEIGHT)['touch' | 'dense']): number {
  if (row.type === 'sun') return heights.sun;
  if (row.type === 'bus') return heights.bus;
  if (row.type === 'gap') return Math.max(heights.gap, form.factLines * LINE.fact + heights.air);
  const said =
    form.figure === 'under' || form.figure === 'stacked'
      ? form.figureLines * LINE.figure + (form.figure === 'stacked' ? LINE.wick : 0)
      : 0;
  if (row.type === 'station')
    return Math.max(
      heights.row,
      heights.air +
        form.titleLines * LINE.title +
        form.factLines * LINE.fact +
        said +
        (form.figure === 'beside' ? 2 : 0),
    );
  return Math.max(heights.row, form.factLines * LINE.fact + said + heights.air);
}
