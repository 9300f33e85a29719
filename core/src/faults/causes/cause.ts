import type { Change } from '../../system/schema';
import type { Model } from '../../system/model';
import type { Position } from '../../readings/row';
import type { State } from '../state';

/** The causes that are weighed, by the names of the open format (docs/faults.md). */
export const CODES = [
  'nothing-wrong',
  'bank-full',
  'joint',
  'capacity-lost',
  'group-shaded',
  'undercharged',
  'soiled',
  'string-open',
  'absorb-low',
  'cable-thin',
  'misread',
  'bypass-shorted',
  'controller-limited',
  'block-open',
  'parasitic',
  'shunt-parameters',
  'pv-joint',
  'earth-fault',
  'cell-shorted',
  'same-end',
  'shunt-bypassed',
  'lithium-cold',
  'lithium-imbalance',
  'lithium-tripped',
  'cutoff-misset',
  'start-grown',
  'module-wrong',
  'pwm-as-mppt',
  'local-maximum',
  'charger-loop',
  'relay-stuck',
  'bond-fault',
] as const;
export type CauseCode = (typeof CODES)[number];

/** What a customer says, in their own words; "other" raises nothing. */
export const COMPLAINTS = {
  'dim-at-night': 'Lights dim at night',
  'never-full': 'The battery is never full',
  'cuts-out': 'The inverter cuts out',
  'nothing-in': 'Nothing comes in',
  'runs-down': 'It runs down by itself',
  'hot-or-smells': 'Something is hot or smells',
  other: 'Something else',
} as const;
export type Complaint = keyof typeof COMPLAINTS;

/** What to do once a cause is found. */
export interface CauseCure {
  /** `change`: another value of the system, as a proposal; `setting`: a setting of a device; `step`: work with a hand. */
  kind: 'change' | 'setting' | 'step' | 'none';
  text: string;
  /** As a proposal holds them; empty where it is work alone. */
  changes: Change[];
}

/** One place where a cause may be, with every size of it that is tried. */
export interface Candidate {
  code: CauseCode;
  subject: string;
  position?: Position;
  sizes: readonly { size: number | null; state: State }[];
  /** Charge at which it is possible: as open as nobody knows, full, or between two shares. */
  soc?: 'full' | readonly [low: number, high: number];
  /** Of the misread: the id of the reading. */
  misread?: string;
}

/** A kind of fault: where it may be, what it changes, what cures it and what tells it from its neighbours. */
export interface Cause {
  code: CauseCode;
  /** Planning value: weight before anything was read, shared by its places and sizes (docs/faults.md). */
  prior: number;
  /** In words, of a place. */
  title(name: string): string;
  complaints: readonly Complaint[];
  /** It can burn, shock or gas: ruled out before a likelier harmless one is believed. */
  hurts?: true;
  /** @param now_A what each controller gives at the middle of what is not known */
  candidates(model: Model, now_A: (controllerId: string) => number | null): Candidate[];
  cure(model: Model, candidate: Candidate, name: string): CauseCure;
  /** How it is told from what looks like it. */
  apart: string;
}

/** From one size to another in steps by a factor, both ends in. */
export function byFactor(from: number, to: number, factor: number): number[] {
  const steps = Math.max(1, Math.round(Math.log(to / from) / Math.log(factor)));
  return Array.from({ length: steps + 1 }, (_, i) => from * (to / from) ** (i / steps));
}
/** From one size to another in equal steps, both ends in. */
export function byStep(from: number, to: number, step: number): number[] {
  const steps = Math.max(1, Math.round((to - from) / step));
  return Array.from({ length: steps + 1 }, (_, i) => from + ((to - from) * i) / steps);
}
/** Work with a hand: nothing of the survey changes by it. */
export const step = (text: string): CauseCure => ({ kind: 'step', text, changes: [] });
