import { type SystemFile, type Units } from '@true-lantern/core';
import type { Content, TDocumentDefinitions } from 'pdfmake/interfaces';
import { record } from './record';
import { inScripts } from './scripts';
import { settingsSheet } from './settings-sheet';
import { workSheet } from './work-sheet';

/** What a firm's papers begin with. */
export interface Letterhead {
  name: string;
  address?: string | null | undefined;
  registration?: string | null | undefined;
  /** A data address of a PNG. */
  logo?: string | null;
  paper?: string | null | undefined;
}
/** The papers that the server prints: the order of work, the sheet of settings, the record of a visit. */
export const PAPERS = ['work', 'settings', 'record'] as const;
export type PaperKind = (typeof PAPERS)[number];

/** What a paper is made of: everything that is printed and is not in the site's file. */
export interface PaperInput {
  kind: PaperKind;
  /** A proposal's id, or a visit's. */
  about: string;
  file: SystemFile;
  firm: Letterhead;
  /** The day that it is printed, as the head shows it. */
  day: string;
  /** Those of the person who asked. */
  units: Units;
}

/**
 * A paper as pdfmake wants it: black on white, in the firm's head, with page numbers.
 * @throws FaultError for a proposal or a visit that is not there, or a proposal that no longer applies
 */
export function paperOf({ kind, about, file, firm, day, units }: PaperInput): TDocumentDefinitions {
  const [title, body] =
    kind === 'record'
      ? record(file, about, units)
      : kind === 'work'
        ? workSheet(file, about, units)
        : settingsSheet(file, about);
  return {
    pageSize: firm.paper === 'letter' ? 'LETTER' : 'A4',
    pageMargins: [48, 48, 48, 56],
    info: { title: `${title}, ${file.site.name}`, author: firm.name },
    defaultStyle: { font: 'Hyperlegible', fontSize: 10, lineHeight: 1.15, color: 'black' },
    styles: { title: { fontSize: 18, bold: true }, head: { fontSize: 12, bold: true }, small: { fontSize: 8.5 } },
    content: inScripts<Content[]>([
      ...(firm.logo?.startsWith('data:image/') ? [{ image: firm.logo, fit: [180, 60] as [number, number] }] : []),
      {
        columns: [
          { text: firm.name, style: 'head' },
          { text: day, alignment: 'right' },
        ],
      },
      ...(firm.address ? [{ text: firm.address, style: 'small' }] : []),
      { canvas: [{ type: 'line', x1: 0, y1: 4, x2: 499, y2: 4, lineWidth: 1.5 }] },
      { text: title, style: 'title', margin: [0, 12, 0, 0] },
      { text: file.site.name, margin: [0, 0, 0, 8] },
      ...body,
      {
        text: 'Figures are planning values for a competent person; local codes, the maker\u2019s manual and a licensed electrician come first where the law asks for one.',
        style: 'small',
        margin: [0, 14, 0, 0],
      },
      ...(firm.registration ? [{ text: firm.registration, style: 'small' }] : []),
    ]),
    // The number first and by itself: a long name never pushes it off the page.
    footer: (page, pages) => ({
      stack: [`${page} of ${pages}`, inScripts<Content>({ text: file.site.name.slice(0, 80), alignment: 'center' })],
      alignment: 'center',
      fontSize: 8.5,
      margin: [0, 16, 0, 0],
    }),
  };
}
