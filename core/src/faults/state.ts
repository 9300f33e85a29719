/**
 * What a fault changes about a system, in the terms in which its readings are predicted. Faults are laid over each other
 * by merging: two at once are one state.
 */

/** What is the matter with one string of modules. */
export interface StringState {
  /** `module`: parted at a module, dead from end to end; `fuse`: its fuse or plug is open, the string itself sound. */
  open?: 'module' | 'fuse';
  /** A module, or one cell group of it, gets this share of the light. */
  shade?: { module: number; whole: boolean; share: number };
  /** A module of which one cell group is shorted out by its bypass diode. */
  bypassed?: number;
  /** A module turned round, or one of other volts or amperes, as shares of the plate's. */
  wrong?: { module: number; how: 'reversed' | 'volts' | 'amps' };
}
/** What is the matter with an array. */
export interface ArrayState {
  /** Share of the light that reaches all of its cells. */
  light?: number;
  /** Resistance of a joint in its way to the controller, ohm. */
  ohm?: number;
  strings?: Readonly<Record<number, StringState>>;
  /** A string touches its frame behind so many of its modules, from the negative. */
  earth?: { string: number; behind: number };
}
/** What is the matter with the bank. */
export interface BankState {
  /** Share of its capacity that is left. */
  capacity?: number;
  /** One block: share of its own capacity left, or a cell of it shorted. */
  block?: { string: number; block: number; capacity?: number; shorted?: true };
  /** A string that carries nothing. */
  openString?: number;
  /** Both leads at the same end. */
  sameEnd?: true;
  /** Its cells are so cold, degC. */
  cell_C?: number;
  /** Its charging devices hold it at float though it is not full. */
  floating?: true;
  /** Its protection has opened. */
  tripped?: true;
  /** One cell reaches its limit before the rest: charging stops this far below absorption, V per 12 V. */
  stopsBelow_V?: number;
}
/** What is the matter with a cable run. */
export interface RunState {
  ohm?: number;
  /** Its conductor's resistance is so many times what is recorded. */
  times?: number;
}

/** A whole system's faults. */
export interface State {
  arrays?: Readonly<Record<string, ArrayState>>;
  bank?: BankState;
  runs?: Readonly<Record<string, RunState>>;
  /** By controller: gives at most this share of what flows today, works as a pwm, or stands at a lower top. */
  controllers?: Readonly<Record<string, { limit?: number; pwm?: true; vmpShare?: number }>>;
  /** By device that charges: its absorption is off by so much, V at the posts. */
  absorb?: Readonly<Record<string, number>>;
  /** By inverter: its cut-off is off by so much, V; its neutral bond, ohm. */
  inverters?: Readonly<Record<string, { cutoff_V?: number; bond_ohm?: number }>>;
  /** By load: it starts with so many times its starting current. */
  starts?: Readonly<Record<string, number>>;
  /** The monitor: adds A, multiplies, or sees only this share of the current. */
  shunt?: { zero_A?: number; scale?: number; sees?: number };
  /** By other bank: what joins it to the house bank is stuck shut. */
  stuck?: Readonly<Record<string, true>>;
  /** Drawn all the time, W. */
  drain_W?: number;
}

type Tree = Readonly<Record<string, unknown>>;
const isTree = (value: unknown): value is Tree => typeof value === 'object' && value !== null;

/** Two faults at once. */
export const both = (a: State, b: State): State => merged(a as Tree, b as Tree);

const merged = (a: Tree, b: Tree): Tree => ({
  ...a,
  ...Object.fromEntries(
    Object.entries(b).map(([key, value]) => {
      const before = a[key];
      return [key, isTree(before) && isTree(value) ? merged(before, value) : value];
    }),
  ),
});
