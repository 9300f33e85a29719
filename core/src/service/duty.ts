/** One duty: what a part needs regularly, and when it was last done. */

/** What each duty is called in files and feeds. */
export type DutyKey =
  | 'water'
  | 'density'
  | 'equalise'
  | 'rest'
  | 'resistance'
  | 'capacity'
  | 'joints'
  | 'clean'
  | 'insulation'
  | 'shunt'
  | 'rcd'
  | 'alarm'
  | 'isolator'
  | 'genset'
  | 'settings'
  | 'meter'
  | 'lay-up'
  | 'open';

/** One duty of one part. */
export interface Duty {
  key: DutyKey;
  what: string;
  subject: string;
  every_d: number;
  /** The day it was last done; null: never. */
  last: number | null;
  /** Where it is not simply so long after the last: the day. */
  due?: number;
  licensed?: true;
  why: string;
}

/** A duty with the day on which it is due. */
export interface Dated extends Omit<Duty, 'last' | 'due'> {
  last: number | null;
  day: number;
}
