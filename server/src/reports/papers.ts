import { roomAbove } from './pieces';
import {
  BLOCK_PAPERS,
  makePaper,
  type OfferTerms,
  type StoredItem,
  type SystemFile,
  type Units,
} from '@true-lantern/core';
import type { Content, TDocumentDefinitions } from 'pdfmake/interfaces';
import { record } from './record';
import { drawn } from './drawn';
import type { Sheet } from './pieces';
import { inScripts } from './scripts';
import { settingsSheet } from './settings-sheet';
import { workSheet } from './work-sheet';

/** How large a firm's logo may stand, pt. */
const LOGO_PT: [number, number] = [180, 60];

/** What a firm's papers begin with. */
export interface Letterhead {
  name: string;
  address?: string | null | undefined;
  registration?: string | null | undefined;
  /** A data address of a PNG. */
  logo?: string | null;
  paper?: string | null | undefined;
}
/** The papers that the server prints: those made of blocks, the order of work, the sheet of settings, the record of a visit. */
export const PAPERS = [...BLOCK_PAPERS, 'work', 'settings', 'record'] as const;
export type PaperKind = (typeof PAPERS)[number];

/** What a paper is made of: everything that is printed and is not in the site's file. */
export interface PaperInput {
  kind: PaperKind;
  /** A proposal's id, a visit's, or what a paper of blocks takes. */
  about: string;
  file: SystemFile;
  firm: Letterhead;
  /** The day that it is printed, as the head shows it. */
  day: string;
  /** Those of the person who asked. */
  units: Units;
  /** The firm's shelf, without prices for whom may not see them. */
  shelf: StoredItem[];
  terms: OfferTerms;
}

/** @throws FaultError for what is not there */
function sheetOf({ kind, about, file, units, ...rest }: PaperInput): Sheet {
  if (kind === 'record') return record(file, about, units);
  if (kind === 'work') return workSheet(file, about, units);
  if (kind === 'settings') return settingsSheet(file, about);
  const { title, under, blocks } = makePaper(file, { kind, about, units, ...rest });
  return [title, drawn(blocks, units), under];
}

/**
 * A paper as pdfmake wants it: black on white, in the firm's head, with page numbers.
 * @throws FaultError for a proposal or a visit that is not there, or a proposal that no longer applies
 */
export function paperOf(input: PaperInput): TDocumentDefinitions {
  const { file, firm, day } = input;
  const [title, body, under = file.site.name] = sheetOf(input);
  return {
    pageSize: firm.paper === 'letter' ? 'LETTER' : 'A4',
    // As much across on either sheet: a drawing and a table look alike on both.
    pageMargins: firm.paper === 'letter' ? [56.5, 44, 56.5, 52] : [48, 48, 48, 56],
    info: { title: `${title}, ${file.site.name}`, author: firm.name },
    // Readers speak it in the right language, and show its title instead of a file's name.
    version: '1.7',
    tagged: true,
    displayTitle: true,
    language: 'en',
    defaultStyle: { font: 'Hyperlegible', fontSize: 10, lineHeight: 1.15, color: 'black' },
    styles: { title: { fontSize: 18, bold: true }, head: { fontSize: 12, bold: true }, small: { fontSize: 8.5 } },
    content: inScripts<Content[]>([
      ...(firm.logo?.startsWith('data:image/') ? [{ image: firm.logo, fit: LOGO_PT }] : []),
      {
        columns: [
          { text: firm.name, style: 'head' },
          { text: day, alignment: 'right' },
        ],
      },
      ...(firm.address ? [{ text: firm.address, style: 'small' }] : []),
      { canvas: [{ type: 'line', x1: 0, y1: 4, x2: 499, y2: 4, lineWidth: 1.5 }] },
      { text: title, style: 'title', margin: [0, 12, 0, 0] },
      { text: under, margin: [0, 0, 0, 8] },
      ...body,
      // A customer's own page is no planning paper.
      ...(input.kind === 'handover'
        ? []
        : [
            {
              text: 'Figures are planning values for a competent person; local codes, the maker\u2019s manual and a licensed electrician come first where the law asks for one.',
              style: 'small',
              margin: roomAbove(14),
              unbreakable: true,
            },
          ]),
      ...(firm.registration ? [{ text: firm.registration, style: 'small' }] : []),
    ]),
    // The number first and by itself: a long name never pushes it off the page.
    footer: (page, pages) => ({
      stack: [`${page} of ${pages}`, inScripts<Content>({ text: short(file.site.name), alignment: 'center' })],
      alignment: 'center',
      fontSize: 8.5,
      margin: [0, 16, 0, 0],
    }),
  };
}

/** So many letters stand beside the number of the page on any sheet. */
const FOOT_LETTERS = 80;
/** A name that is longer ends with a whole word. */
const short = (name: string) =>
  name.length <= FOOT_LETTERS ? name : `${name.slice(0, FOOT_LETTERS).replace(/\s+\S*$/, '')} \u2026`;
