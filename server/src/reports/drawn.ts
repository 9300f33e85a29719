import { markSvg, type Block, type FindingBlock, type PaperTable, type Units, type Verdict } from '@true-lantern/core';
import type { Content, TableCell } from 'pdfmake/interfaces';
import { box, lineOf, RULED, roomAbove } from './pieces';

/** Headings above a table, and the table that they stand in as its first rows: so that no page ends with one of them. */
type Titled = Extract<Block, { is: 'head' | 'text' }>;
const isTitle = (block: Block | undefined): block is Titled =>
  block?.is === 'head' || (block?.is === 'text' && block.look === 'strong');

/** Blocks of a paper as pdfmake wants them; a heading stays with the first of what it heads. */
export function drawn(blocks: readonly Block[], units: Units): Content[] {
  const contents: Content[] = [];
  for (let i = 0; i < blocks.length; i++) {
    const titles: Titled[] = [];
    for (let block = blocks[i]; isTitle(block); block = blocks[++i]) titles.push(block);
    const block = blocks[i];
    if (block?.is === 'table') {
      contents.push(tableOf(block, titles));
      continue;
    }
    const heads = titles.flatMap((title) => drawnBlock(title, units));
    const body = block ? drawnBlock(block, units) : [];
    if (heads.length === 0) contents.push(...body);
    else if (block?.is === 'list') {
      // A list may be longer than a page: its first point stays with the heading.
      const [first = '', ...rest] = block.items;
      contents.push({ stack: [...heads, listOf([first], block.numbered)], unbreakable: true });
      if (rest.length > 0) contents.push(listOf(rest, block.numbered, 2));
    } else contents.push({ stack: [...heads, ...body], unbreakable: true });
  }
  return contents;
}

function drawnBlock(block: Block, units: Units): Content[] {
  switch (block.is) {
    case 'head':
      return [
        ...(block.large
          ? [
              {
                canvas: [{ type: 'line' as const, x1: 0, y1: 0, x2: PAGE_PT, y2: 0, lineWidth: 1.5 }],
                margin: roomAbove(18),
              },
            ]
          : []),
        {
          text: block.text,
          style: 'head',
          ...(block.large ? { fontSize: 14 } : {}),
          margin: [0, block.large ? 6 : 12, 0, 3],
        },
      ];
    case 'text':
      return [{ text: block.text, ...TEXTS[block.look ?? 'plain'] }];
    case 'list':
      return [listOf(block.items, block.numbered)];
    case 'table':
      return [tableOf(block, [])];
    case 'finding':
      return [findingOf(block)];
    case 'line':
      return lineOf(block.title, block.model, units, block.base);
    case 'svg':
      return [{ svg: block.svg, fit: [PAGE_PT, 560], margin: [0, 6, 0, 6] }];
    case 'sign':
      return [
        {
          columns: block.who.map((who) => ({
            stack: [
              { canvas: [{ type: 'line', x1: 0, y1: 0, x2: 210, y2: 0, lineWidth: 0.75 }] },
              { text: `${who}: name, date, signature`, style: 'small', margin: [0, 2, 0, 0] },
            ],
          })),
          margin: [0, 34, 0, 0],
          unbreakable: true,
        },
      ];
  }
}

const listOf = (items: string[], numbered = false, start = 1): Content =>
  numbered ? { ol: items, start } : { ul: items };

const TEXTS = {
  plain: { margin: [0, 2, 0, 2] },
  lead: { fontSize: 13, bold: true, margin: [0, 4, 0, 6] },
  small: { style: 'small', margin: [0, 4, 0, 0] },
  strong: { bold: true, margin: [0, 8, 0, 1] },
} satisfies Record<string, Partial<Extract<Content, { text: unknown }>>>;

/** What a page has across, and what a box to tick takes of it, pt. */
const PAGE_PT = 499;
const BOX_PT = 14;
/** Between two columns, both sides together, pt. */
const GAP_PT = 8;

/** Ruled rows under their headings; figures end on one line; sums stand below a stroke. */
function tableOf({ columns, rows, sums = [], boxes = false }: PaperTable, titles: readonly Titled[]): Content {
  const room = PAGE_PT - (boxes ? BOX_PT + GAP_PT : 0) - columns.length * GAP_PT;
  const whole = columns.reduce((sum, { wide }) => sum + wide, 0);
  const cells = (row: readonly string[], bold = false): TableCell[] => [
    ...(boxes ? [bold ? '' : box()] : []),
    ...columns.map(({ figures }, i): TableCell => ({
      text: row[i] ?? '',
      ...(figures ? { alignment: 'right' } : {}),
      ...(bold ? { bold } : {}),
    })),
  ];
  const titled = columns.some(({ title }) => title !== '');
  const across = columns.length + (boxes ? 1 : 0);
  const body = [
    ...titles.map((title): TableCell[] => [
      {
        text: title.text,
        ...(title.is === 'head' ? { style: 'head', fontSize: title.large ? 14 : 12 } : { bold: true, fontSize: 10 }),
        colSpan: across,
        margin: [-4, title.is === 'head' ? 10 : 6, 0, 0],
      },
      ...Array.from({ length: across - 1 }, () => ''),
    ]),
    ...(titled
      ? [
          cells(
            columns.map(({ title }) => title),
            true,
          ),
        ]
      : []),
    ...rows.map((row) => cells(row)),
    ...sums.map((row) => cells(row, true)),
  ];
  const firstSum = body.length - sums.length;
  const headRows = titles.length + (titled ? 1 : 0);
  return {
    table: {
      headerRows: headRows,
      widths: [...(boxes ? [BOX_PT] : []), ...columns.map(({ wide }) => (room * wide) / whole)],
      dontBreakRows: true,
      // Never a head alone at the foot of a page.
      keepWithHeaderRows: headRows > 0 ? 1 : 0,
      body,
    },
    layout: {
      ...RULED,
      hLineWidth: (i) => (i < titles.length ? 0 : sums.length > 0 && i === firstSum ? 1.25 : 0.5),
      hLineColor: (i) => (sums.length > 0 && i === firstSum ? 'black' : RULED.hLineColor()),
    },
    fontSize: 9,
  };
}

/** The mark of its verdict, the sentence, its working, what it rests on; its head stays with what follows. */
function findingOf({ verdict, sentence, about, working, notes }: FindingBlock): Content {
  return {
    columns: [
      { svg: markOf(verdict), width: 16, margin: [0, 1, 0, 0] },
      {
        stack: [
          { text: sentence, bold: true },
          { text: about, style: 'small' },
          ...working.map((text): Content => ({ text, fontSize: 8.5, margin: [0, 1, 0, 0] })),
          ...notes.map((text): Content => ({ text, style: 'small', margin: [0, 2, 0, 0] })),
        ],
      },
    ],
    columnGap: 6,
    margin: [0, 5, 0, 5],
    unbreakable: true,
  };
}

const markOf = (verdict: Verdict) =>
  `<svg viewBox="-13 -13 26 26" width="13" height="13">${markSvg(verdict, 0, 0)}</svg>`;
