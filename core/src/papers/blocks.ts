import type { Model } from '../system/model';
import type { Verdict } from '../rules/finding';

/**
 * A paper as plain values: what it says and in which order, never how it is drawn. The page on the screen and the PDF are
 * both drawn from it, so that one cannot say what the other does not.
 */
export interface Paper {
  title: string;
  /** Whose it is, under the title. */
  under: string;
  blocks: Block[];
}

/** One block of a paper, from the top down. */
export type Block =
  /** `large`: of a chapter, which begins with a stroke. */
  | { is: 'head'; text: string; large?: boolean }
  | { is: 'text'; text: string; look?: 'lead' | 'small' | 'strong' }
  | { is: 'list'; items: string[]; numbered?: boolean }
  | Table
  /** One finding with all that it rests on. */
  | FindingBlock
  /** The drawing of the system; beside a base what changes is said. */
  | { is: 'line'; title: string; model: Model; base?: Model }
  /** A drawing, black on white; `about` says what it shows to whoever cannot see it. */
  | { is: 'svg'; svg: string; about: string }
  /** Lines to sign on, side by side. */
  | { is: 'sign'; who: string[] };

/** Rows under one head, which is repeated on every page. */
export interface Table {
  is: 'table';
  columns: Column[];
  rows: string[][];
  /** Rows below a stroke: sums. */
  sums?: string[][];
  /** Two fields in a row, each of two columns: one below the other where there is no room. */
  pairs?: boolean;
  /** Boxes before each row, to be ticked with a pencil. */
  boxes?: boolean;
}
/** A column: its share of the width, and whether figures stand in it, which end on one line. */
export interface Column {
  title: string;
  wide: number;
  figures?: boolean;
}

/** A finding as a paper says it. */
export interface FindingBlock {
  is: 'finding';
  verdict: Verdict;
  sentence: string;
  /** Verdict, consequence and rule in a line. */
  about: string;
  working: string[];
  /** What it rests on and what would settle it, a line each. */
  notes: string[];
}

/** A heading with what stands under it; nothing where that is nothing. */
export const part = (title: string, ...blocks: (Block | false)[]): Block[] => {
  const shown = blocks.filter((block): block is Block => block !== false && !isEmpty(block));
  return shown.length > 0 ? [{ is: 'head', text: title }, ...shown] : [];
};

function isEmpty(block: Block): boolean {
  if (block.is === 'list') return block.items.length === 0;
  if (block.is === 'table') return block.rows.length === 0;
  return block.is === 'text' && block.text === '';
}
