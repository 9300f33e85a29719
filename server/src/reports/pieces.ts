import { check, faultAt, layoutLine, lineSvg, type Model, type SystemFile, type Units } from '@true-lantern/core';
import type { Content } from 'pdfmake/interfaces';

/** What the papers are put together from. */

/** A paper's title, what stands under it, and whose it is where that is more than the site's name. */
export type Sheet = [title: string, body: Content[], under?: string];

/** Thin lines between rows, none between columns. */
export const RULED = {
  hLineWidth: () => 0.5,
  vLineWidth: () => 0,
  hLineColor: () => '#9a9282',
  paddingTop: () => 3,
  paddingBottom: () => 3,
};

/** Room above alone, pt. */
export const roomAbove = (pt: number): [number, number, number, number] => [0, pt, 0, 0];

const heading = (text: string): Content => ({ text, style: 'head', margin: [0, 12, 0, 3] });
/** A heading with what stands under it; nothing where that is nothing. */
export const section = (title: string, rows: Content[]): Content[] =>
  rows.length > 0 ? [heading(title), ...rows] : [];
/** Rows ruled with thin lines; `head` is repeated on each page. */
export const table = (widths: (string | number)[], rows: Content[][], head?: string[]): Content => ({
  table: {
    headerRows: head ? 1 : 0,
    widths,
    dontBreakRows: true,
    body: [...(head ? [head.map((text): Content => ({ text, bold: true }))] : []), ...rows],
  },
  layout: RULED,
});
/** A box to be ticked with a pencil; full where it was ticked in the app. */
export const box = (done = false): Content => ({
  canvas: [{ type: 'rect', x: 0, y: 1, w: 9, h: 9, lineWidth: 1, ...(done ? { color: 'black' } : {}) }],
});

/** @throws FaultError where the site has no such proposal */
export function proposalOf(file: SystemFile, id: string) {
  const proposal = (file.proposals ?? []).find((one) => one.id === id);
  if (!proposal) throw faultAt('about', `is "${id}", expected the id of a proposal of this site`);
  return proposal;
}

/** Of the drawing on the screen, and the room that a page has for it, pt. */
const LINE_WIDTH = 620;
const LINE_ROOM: [width: number, height: number] = [499, 640];

/** The Line as strokes and letters, seen whole; beside a base what changes is said. */
export function lineOf(title: string, model: Model, units: Units, base?: Model): Content[] {
  const { system } = model;
  const layout = layoutLine(system, check(model), '', {
    ...(base ? { base: base.system } : {}),
    units,
    width: LINE_WIDTH,
    dense: true,
    foldLoads: true,
  });
  return [{ stack: [heading(title), { svg: lineSvg(layout, LINE_WIDTH), fit: LINE_ROOM }], unbreakable: true }];
}
