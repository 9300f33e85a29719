import { chargingDevices } from '../bank/charging';
import { bankAt, type BankAt } from '../readings/bank-at';
import type { Conditions } from '../readings/conditions';
import { postsAt, type Posts } from '../readings/moment';
import { acceptance_A } from '../readings/sun-at';
import { createLedger, type Ledger } from '../ledger/ledger';
import { start_W } from '../power/loads';
import { CHEMISTRY, floatCell_V, isLithium } from '../chemistry/chemistry';
import { cellsInSeries, fullCell_V } from '../bank/bank';
import { restCell_V } from '../bank/rest';
import { networkOf, touches } from '../conductors/network';
import { withSystem, type Model } from '../system/model';
import type { Bank, Run, System } from '../system/schema';
import { kept } from '../numeric/kept';
import type { State } from './state';

/** The system as a fault leaves it, where a fault is another value of a part; and its bank at a state of charge. */
export interface Altered {
  /** The ledger of the system with those values. */
  of(state: State): Ledger;
  /** The bank at a moment by its charge; null where there is none. */
  bank(state: State, at: Conditions): (soc: number) => BankNow | null;
  /** ohm that a fault adds between the posts and a device, on its own run and on what it shares. */
  added(state: State, kind: Run['kind'], deviceId: string): { own_ohm: number; shared_ohm: number };
  /** What of a state's faults in cables lies on the way to a device. */
  bearing(state: State, kind: Run['kind'], deviceId: string): unknown;
}
/** A bank with a fault at some charge. */
export interface BankNow extends BankAt {
  bank: Bank;
  posts: Posts;
  /** What it takes, A. */
  takes_A: number;
  /** V at rest by a whole charge, here: how much a step of the grid hides. */
  slope_V: number;
  /** Volts of one cell at rest, V. */
  cell_V: number;
  twelves: number;
}

/** @param model as found */
export function createAltered(model: Model): Altered {
  const of = createLedgers(model);
  const shapeOf = createShapes(of);
  const wayTo = createWays(model);
  const banks = kept<string, (soc: number) => BankNow | null>(Infinity);
  return {
    of,
    bank: (state, at) =>
      banks(JSON.stringify([state.bank, state.absorb, at.ambient_C, at.share, at.current_A ?? null]), () => {
        const { capacity, sameEnd, cell_C } = state.bank ?? {};
        // What is set and what is drawn leave the bank itself as it is.
        const own: State =
          capacity || sameEnd ? { bank: { ...(capacity ? { capacity } : {}), ...(sameEnd ? { sameEnd } : {}) } } : {};
        const shape = shapeOf(own, cell_C === undefined ? at : { ...at, ambient_C: cell_C });
        if (!shape) return () => null;
        const fault = faulty(shape(0.5), state, loweredBy(of, shapeOf, state, at));
        const bySoc = kept<number, BankNow>(Infinity);
        return (soc) => bySoc(soc, () => fault(shape(soc)));
      }),
    added(state, kind, deviceId) {
      if (!state.runs) return { own_ohm: 0, shared_ohm: 0 };
      const { own, shared } = wayTo(kind, deviceId);
      const ohm = (id: string) => state.runs?.[id]?.ohm ?? 0;
      return { own_ohm: own ? ohm(own) : 0, shared_ohm: shared.reduce((sum, id) => sum + ohm(id), 0) };
    },
    bearing(state, kind, deviceId) {
      const { own, shared } = wayTo(kind, deviceId);
      return [own, ...shared].flatMap((id) => (id && state.runs?.[id] ? [[id, state.runs[id]]] : []));
    },
  };
}

type Ledgers = (state: State) => Ledger;
/** A ledger of the system with each set of other values, made once. */
function createLedgers(model: Model): Ledgers {
  const ledgers = kept<string, Ledger>(Infinity);
  return (state) =>
    ledgers(
      state.absorb || state.starts || state.runs || state.bank
        ? JSON.stringify([state.absorb, state.starts, timesOf(state), state.bank?.capacity, state.bank?.sameEnd])
        : '',
      () => createLedger(withSystem(model, changed(model, state))),
    );
}

type Shapes = (own: State, moment: Conditions) => ((soc: number) => SoundBank) | null;
/** A bank without regard to its charge is worked out once: its resistance, how it shares, what it is set to. */
function createShapes(of: Ledgers): Shapes {
  const shapes = kept<string, ((soc: number) => SoundBank) | null>(Infinity);
  return (own, moment) => {
    const { ambient_C, share, current_A } = moment;
    const key = `${own.bank?.capacity ?? ''} ${own.bank?.sameEnd ?? ''} ${ambient_C} ${share} ${current_A ?? ''}`;
    return shapes(key, () => {
      const io = of(own);
      const { bank } = io.model.system;
      return bank ? shapeOfBank(io, bank, moment) : null;
    });
  };
}

function shapeOfBank(io: Ledger, bank: Bank, moment: Conditions): (soc: number) => SoundBank {
  const half = bankAt(io, bank, { ...moment, soc: 0.5 });
  const halfPosts = postsAt(io, bank, { ...moment, soc: 0.5 });
  const full_V = fullCell_V(io, bank);
  const rest = (soc: number) => half.cells * restCell_V(bank.chemistry, soc, full_V);
  const bySoc = kept<number, SoundBank>(Infinity);
  return (soc) =>
    bySoc(soc, () => {
      const rest_V = rest(soc);
      return {
        bank,
        plain: {
          ...half,
          rest_V,
          load_V: rest_V - half.drawn_A * half.resistance_ohm,
          density_kg_L: half.density_kg_L === null ? null : half.density_kg_L + (rest_V - half.rest_V) / half.cells,
        },
        posts: { ...halfPosts, rest_V },
        takes_A: acceptance_A(io, bank, soc, moment.ambient_C),
        slope_V: (rest_V - rest(Math.max(0, soc - NEAR))) / NEAR,
      };
    });
}

/** The runs between the bank and a device. */
function createWays(model: Model) {
  const ways = kept<string, { own: string | null; shared: string[] }>(Infinity);
  return (kind: Run['kind'], deviceId: string) =>
    ways(`${kind} ${deviceId}`, () => {
      const run = (model.system.runs ?? []).find((one) => one.kind === kind && touches(one, deviceId));
      const shared = run ? (networkOf(model.system).feedersOf(run) ?? []) : [];
      return { own: run?.id ?? null, shared: shared.map(({ id }) => id) };
    });
}

/** By how much the absorption at the posts is another than it should be: only what is set highest is felt. */
const loweredBy = (of: Ledgers, shapeOf: Shapes, { absorb }: State, at: Conditions): number =>
  Object.entries(absorb ?? {}).reduce((sum, [device, by]) => {
    const sound = shapeOf({}, at)?.(0.5).plain.absorb_V;
    const io = of({ absorb: { [device]: -FAR_V } });
    const { bank } = io.model.system;
    if (!bank || sound === undefined) return sum;
    const others = bankAt(io, bank, { ...at, soc: 0.5 }).absorb_V;
    return sum + (by > 0 ? by : Math.max(others - sound, by));
  }, 0);

const timesOf = ({ runs }: State) =>
  Object.entries(runs ?? {}).flatMap(([id, { times }]) => (times === undefined ? [] : [[id, times]]));

function changed(model: Model, state: State): System {
  const { system } = model;
  const io = createLedger(model);
  const { bank } = system;
  const capacity = state.bank?.capacity;
  const cells = bank ? cellsInSeries(io, bank) : Number.NaN;
  const absorb = new Map(
    chargingDevices(system).map(({ id, settings }) => [
      id,
      settings?.absorb_V ?? (bank ? cells * CHEMISTRY[bank.chemistry].absorb_V : Number.NaN),
    ]),
  );
  const reset = <P extends { id: string; settings?: object | null | undefined }>(part: P): P => {
    const by = state.absorb?.[part.id];
    const was = absorb.get(part.id);
    return by === undefined || was === undefined
      ? part
      : { ...part, settings: { ...part.settings, absorb_V: was + by } };
  };
  return {
    ...system,
    ...(bank
      ? {
          bank: {
            ...bank,
            ...(capacity
              ? {
                  blockCapacity_Ah: bank.blockCapacity_Ah * capacity,
                  internal_mohm: bank.internal_mohm ? bank.internal_mohm / capacity : bank.internal_mohm,
                }
              : {}),
            ...(state.bank?.sameEnd ? { tapping: 'same-end' as const } : {}),
          },
        }
      : {}),
    controllers: system.controllers?.map(reset) ?? null,
    chargers: system.chargers?.map(reset) ?? null,
    inverters:
      system.inverters?.map((inverter) =>
        inverter.charger ? { ...inverter, charger: resetCharger(inverter, reset) } : inverter,
      ) ?? null,
    loads:
      system.loads?.map((load) => {
        const times = state.starts?.[load.id];
        return times ? { ...load, surge_W: times * start_W(io, load) } : load;
      }) ?? null,
    runs:
      system.runs?.map((run) => {
        const times = state.runs?.[run.id]?.times;
        return times ? { ...run, length_m: run.length_m * times } : run;
      }) ?? null,
  };
}

type Inverter = NonNullable<System['inverters']>[number];
function resetCharger(
  { id, charger }: Inverter,
  reset: <P extends { id: string; settings?: object | null | undefined }>(part: P) => P,
): Inverter['charger'] {
  if (!charger) return charger;
  const { id: _, ...own } = reset({ ...charger, id });
  return own;
}

/** A bank without a fault but for its capacity and how it is tapped. */
interface SoundBank {
  bank: Bank;
  plain: BankAt;
  posts: Posts;
  takes_A: number;
  slope_V: number;
}
/** From one charge to the next for a slope. */
const NEAR = 0.03;
/** So much lower nothing is felt of a device any more, V. */
const FAR_V = 100;

/** What a fault does to a bank, but for its charge: worked out once, then said of each charge. */
function faulty({ bank, plain }: SoundBank, state: State, lowered_V: number): (sound: SoundBank) => BankNow {
  const table = CHEMISTRY[bank.chemistry];
  const { parallel: p, series } = bank;
  const { block, openString, tripped, stopsBelow_V = 0, floating } = state.bank ?? {};
  const twelves = (plain.cells * table.nominal_V) / 12;
  const whole = plain.resistance_ohm * p;
  // String by string: what a block's fault does to its own string's resistance.
  const gives = Array.from({ length: p }, (_, s) => {
    if (openString === s) return 0;
    return block?.string === s && block.capacity
      ? 1 / (whole + (whole / series) * (1 / block.capacity - 1))
      : 1 / whole;
  });
  const total = gives.reduce((sum, one) => sum + one, 0);
  const weighted = gives.map((one, s) => (plain.shares[s] ?? 1 / p) * one);
  const sum = weighted.reduce((all, one) => all + one, 0);
  const shares = weighted.map((one) => one / sum);
  // The string of a shorted cell pulls the others down with it.
  const lost = block?.shorted ? (gives[block.string] ?? 0) / total : 0;
  const resistance_ohm = 1 / total;
  const absorb_V = floating
    ? plain.cells * floatCell_V(bank.chemistry)
    : plain.absorb_V + lowered_V - stopsBelow_V * twelves;
  const accepts = openString === undefined ? 1 : (p - 1) / p;
  const trickle_A = TRICKLE * bank.blockCapacity_Ah * p;
  return (sound) => {
    const cell_V = sound.plain.rest_V / plain.cells;
    const rest_V = tripped ? TRIPPED_V : sound.plain.rest_V - lost * cell_V;
    const { above_V } = sound.posts;
    const takes_A = sound.takes_A * accepts;
    return {
      ...sound.plain,
      bank,
      slope_V: sound.slope_V,
      cell_V,
      twelves,
      rest_V,
      resistance_ohm,
      load_V: tripped ? TRIPPED_V : rest_V - plain.drawn_A * resistance_ohm,
      absorb_V,
      shares,
      posts: {
        ...sound.posts,
        rest_V,
        absorb_V,
        resistance_ohm,
        volts: (amps) => Math.min(absorb_V, rest_V + amps * resistance_ohm + above_V(amps)),
      },
      // Held at float it takes what keeps it there; stopped by one cell, a trickle.
      takes_A: tripped ? 0 : floating || stopsBelow_V > 0 ? Math.min(takes_A, trickle_A) : takes_A,
    };
  };
}
const TRIPPED_V = 1;
/** Of C20: what a bank takes that is held and not charged. */
const TRICKLE = 0.005;

/** Half of the band of practice D of the resting voltage: lead and lithium, V per 12 V. */
export const restSigma_V = (bank: Bank) => (isLithium(bank.chemistry) ? 0.02 : 0.05) / 2;
