import { brokenInto, widthOf } from '../written/measure';
import { endsOf, isLoud, LINE, SIZE, type LineLayout, type LineRow } from './layout';
import type { Ink } from './rows';
import { arrowPath, MARK, runsOn } from './shapes';
import type { Verdict } from '../rules/finding';

/**
 * The Line as a drawing for paper: SVG of strokes and text, black on white, at the measures of its layout. What a
 * proposal adds or changes says so, since paper has one ink.
 */
export function lineSvg(layout: LineLayout, width: number): string {
  const { rows, stretches, arrows, height, laneX, gutter } = layout;
  const drawn = [
    ...stretches.map(({ lane, from, to, stroke }) => line(laneX(lane), from, laneX(lane), to, stroke)),
    ...rows.map((row, i) => onTheLane(row, rows[i + 1], laneX(row.lane), width)),
    ...arrows.map(
      (arrow) => `<path d="${arrowPath(arrow, laneX(arrow.lane))}" fill="black" stroke="white" stroke-width="1.5"/>`,
    ),
    ...rows.map((row) => words(row, gutter, width)),
  ];
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${height}" width="${width}" height="${height}">${drawn.join('')}</svg>`;
}

const line = (x1: number, y1: number, x2: number, y2: number, stroke: number, more = '') =>
  `<line x1="${x1}" y1="${y1}" x2="${x2}" y2="${y2}" stroke="black" stroke-width="${stroke}"${more}/>`;
const circle = (x: number, y: number, r: number, fill: 'black' | 'white', stroke = 0, more = '') =>
  `<circle cx="${x}" cy="${y}" r="${r}" fill="${fill}"${stroke ? ` stroke="black" stroke-width="${stroke}"` : ''}${more}/>`;

/** A verdict by its shape: broken disc, half disc, open ring, dash, filled disc; a small one where nothing was judged. Black on white, its middle at x, y. */
export function mark(verdict: Verdict | null, x: number, y: number): string {
  if (verdict === null) return circle(x, y, 6, 'black');
  if (verdict === 'holds') return circle(x, y, 12, 'black');
  if (verdict === 'tight')
    return `${circle(x, y, 10.75, 'white', 2.5)}<path transform="translate(${x} ${y})" d="${MARK.half}" fill="black"/>`;
  if (verdict === 'over')
    return `${circle(x, y, 12, 'black')}<path transform="translate(${x} ${y})" d="${MARK.crack}" fill="none" stroke="white" stroke-width="4"/>`;
  if (verdict === 'unknown') return circle(x, y, 10.5, 'white', 2.5, ' stroke-dasharray="5 3.2"');
  return `${circle(x, y, 12, 'white')}${line(x - 9, y, x + 9, y, 4)}`;
}

/** The conductor within one row, and what sits on it. */
function onTheLane(row: LineRow, next: LineRow | undefined, x: number, width: number): string {
  const { y, height } = row;
  const middle = y + height / 2;
  if (row.type === 'sun') {
    const base = y + height - 12;
    return `<path d="M${x - 11} ${base} a11 11 0 0 1 22 0" fill="none" stroke="black" stroke-width="2.5"/>${line(x - 20, base + 1, x + 20, base + 1, 2)}${line(x, base + 1, x, y + height, 3)}`;
  }
  if (row.type === 'bus') return line(4, middle, width - 14, middle, 8);
  if (row.type === 'gap') return line(x, y, x, y + height, 3, ' stroke-dasharray="4 5"');
  if (row.type === 'lever')
    return [
      line(x, y, x, middle - 10, row.stroke),
      line(x, middle + 10, x, y + height, row.stroke),
      line(x, middle + 8, x + 13, middle - 8, 3),
      circle(x, middle - 9, 4, 'white', 2),
      circle(x, middle + 9, 4, 'white', 2),
    ].join('');
  if (row.type === 'cable') {
    const stroke = line(x, y, x, y + height, row.stroke);
    if (row.fuse === null) return isLoud(row) ? stroke + mark(row.worst?.verdict ?? null, x, middle) : stroke;
    const reach = Math.min(12, height / 2 - 2);
    return `${stroke}<path d="M${x - 10} ${middle - reach} h20 v${2 * reach} h-20 z" fill="white"/>${line(x - 9, middle - reach + 1, x + 9, middle - reach + 1, 2.5)}${line(x - 9, middle + reach - 1, x + 9, middle + reach - 1, 2.5)}${text(row.fuse, x, middle + 5, 13, true, 'middle')}`;
  }
  const continues = runsOn(row, next);
  if (row.type === 'load' || row.type === 'loads')
    return `${line(x, y, x, continues ? y + height : middle, 2.5)}${isLoud(row) ? mark(row.worst?.verdict ?? null, x, middle) : circle(x, middle, 5, 'white', 2.5)}`;
  if (row.ink === 'gone') return circle(x, middle, 5, 'white', 2);
  const at = y + Math.min(26, height / 2);
  return line(x, y, x, continues ? y + height : at, 3) + mark(row.worst?.verdict ?? null, x, at);
}

/** What a row says: as on the screen, each line in its place. */
function words(row: LineRow, gutter: number, width: number): string {
  const { y, height } = row;
  const right = width - 14;
  const room = right - gutter - 6;
  if (row.type === 'sun') return text(row.text, gutter + 8, y + height / 2 + 5, SIZE.fact, false);
  if (row.type === 'bus') return row.text ? text(row.text, right, y + height / 2 - 6, 11, true, 'end') : '';
  if (row.type === 'gap') return lines([[row.text, SIZE.fact, true]], room, gutter, y + 4);
  const inked = INK_WORDS[row.ink];
  const said = row.said && (isLoud(row) || row.said.read || row.type === 'station') ? row.said : null;
  const figure = said ? `${said.word}${said.figures ? '' : ':'} ${said.text}` : '';
  if (row.type === 'station') {
    const title = `${row.title}${inked}`;
    const beside = said && widthOf(title, SIZE.title) + 12 + widthOf(figure, SIZE.word) <= room;
    return (
      lines(
        [
          [title, SIZE.title, true],
          ...(row.was ? [[`was: ${row.was}`, SIZE.fact, false] as const] : []),
          [row.fact, SIZE.fact, false],
          ...(said && !beside ? [[figure, SIZE.word, true] as const] : []),
        ],
        room,
        gutter,
        y + 4,
      ) + (beside ? text(figure, right, y + 22, SIZE.word, true, 'end') : '')
    );
  }
  const [start, end] = endsOf(row);
  const whole = `${start}${inked}`;
  const beside = widthOf(whole, SIZE.fact) + 12 + widthOf(end, SIZE.fact) <= room;
  return (
    lines(
      [
        [whole, SIZE.fact, false],
        ...(beside ? [] : [[end, SIZE.fact, false] as const]),
        ...(said ? [[figure, SIZE.word, true] as const] : []),
      ],
      room,
      gutter,
      y + 2,
    ) + (beside ? text(end, right, y + 2 + LINE.fact - 5, SIZE.fact, false, 'end') : '')
  );
}

const INK_WORDS: Readonly<Record<Ink, string>> = {
  plain: '',
  new: ' (new)',
  changed: ' (changed)',
  gone: ' (goes)',
  off: ' (off)',
};

function lines(
  texts: readonly (readonly [text: string, size: number, bold: boolean])[],
  room: number,
  x: number,
  top: number,
): string {
  let y = top;
  return texts
    .flatMap(([whole, size, bold]) =>
      brokenInto(whole, size, room).map((part) => {
        y += size > SIZE.fact ? LINE.title : LINE.fact;
        return text(part, x, y - 5, size, bold);
      }),
    )
    .join('');
}

const text = (
  said: string,
  x: number,
  y: number,
  size: number,
  bold: boolean,
  anchor: 'start' | 'middle' | 'end' = 'start',
) =>
  `<text x="${x}" y="${y}" font-family="Hyperlegible" font-size="${size}" font-weight="${bold ? 'bold' : 'normal'}" text-anchor="${anchor}">${escaped(said)}</text>`;
const escaped = (said: string) =>
  said.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;').replace(/"/g, '&quot;');
