import type { Arrow, LineRow } from './layout';

/** What the Line is drawn with on the glass and on paper alike, as paths of SVG. */

/** Into the bus, out of it, or both ways: at the bank energy comes and goes. */
export const arrowPath = ({ y, way }: Pick<Arrow, 'y' | 'way'>, x: number): string =>
  way === 'down' ? `M${x - 8} ${y} h16 l-8 9 z` : `M${x - 8} ${y + 5} h16 l-8 8 z M${x - 8} ${y + 1} h16 l-8 -8 z`;

/** Of the marks, centred on 0, 0, radius 12: the filled half of what is tight, the break through what is over. */
export const MARK = { half: 'M0 -10 A10 10 0 0 0 0 10 Z', crack: 'M4 -14 L-4 -3 L4 3 L-4 14' } as const;

/** Whether a conductor runs on from a row into the one below it. */
export const runsOn = ({ lane }: Pick<LineRow, 'lane'>, next: LineRow | undefined): boolean =>
  next !== undefined && next.lane === lane && next.type !== 'station' && next.type !== 'bus' && next.type !== 'sun';
