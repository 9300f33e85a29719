import type { Finding } from '../rules/finding';

/**
 * What a proposal does to a part: plain ink stays, the second ink is new or changed, gone is struck through. Off is what
 * does not run in the state that is looked at.
 */
export type Ink = 'plain' | 'new' | 'changed' | 'gone' | 'off';

/** What is said of a part's verdict: its word, its figures (or what it is about), and whether these are figures. */
export interface Said {
  word: string;
  text: string;
  figures: boolean;
  /** What was read there, in place of a verdict. */
  read?: true;
}

interface Judged {
  id: string;
  ink: Ink;
  /** The finding that matters most; null where nothing has been judged. */
  worst: Finding | null;
  said: Said | null;
}
/** A part on the Line. */
export interface StationRow extends Judged {
  type: 'station';
  title: string;
  fact: string;
  /** The fact before a proposal changed it. */
  was: string | null;
  over: number;
}
/** A cable on the Line, with its fuse. */
export interface CableRow extends Judged {
  type: 'cable';
  fact: string;
  was: string | null;
  /** Which cable it is: "Controller to bank". */
  label: string;
  stroke: number;
  /** Null: none is asked for here. '?': one belongs here and was not seen. */
  fuse: string | null;
}
/** What opens a cable, where it sits on it. */
export interface LeverRow extends Judged {
  type: 'lever';
  title: string;
  fact: string;
  stroke: number;
}
/** A load on the Line. */
export interface LoadRow extends Judged {
  type: 'load';
  title: string;
  fact: string;
}
/** Several loads in one row, where all of them would be too long. */
export interface LoadsRow extends Judged {
  type: 'loads';
  title: string;
  fact: string;
}
/** What is not recorded yet, where it would stand. */
export interface GapRow {
  type: 'gap';
  id: string;
  text: string;
}
/** The bus is one conductor, folded round the bank: what charges ends on its upper side, what draws begins on its lower. */
export interface BusRow {
  type: 'bus';
  side: 'upper' | 'lower';
  text: string;
}
/** The sun at the head of the Line, with what is known of the site. */
export interface SunRow {
  type: 'sun';
  text: string;
}
export type Row = StationRow | CableRow | LeverRow | LoadRow | LoadsRow | GapRow | BusRow | SunRow;

/** A stretch of the system from its head to the bus, or from the bus to its end. */
export interface Branch {
  /** The part that it is named after. */
  id: string;
  name: string;
  rows: Row[];
}
