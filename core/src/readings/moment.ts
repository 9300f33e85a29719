import { c20_Ah } from '../bank/bank';
import { isLithium } from '../chemistry/chemistry';
import { networkOf, touches } from '../conductors/network';
import { WARM_C } from '../conductors/sizes';
import type { Ledger } from '../ledger/ledger';
import { straddled } from '../numeric/roots';
import { devices_ohm, runBothWays_ohm } from '../rules/wires/run-limits';
import type { Bank, Run } from '../system/schema';
import { bankAt } from './bank-at';
import type { Conditions } from './conditions';

/**
 * The volts of the moment (docs/work-orders-and-readings.md): at its posts a bank stands above rest by what it takes, and a device
 * stands above the posts by what its cables lose. What meters read while something charges rests on them.
 */

/** What a bank stands above rest while it charges, V a cell; planning value. */
const CHARGING_V = { lead: 0.1, lithium: 0.05 } as const;
/** It stands so far above from this share of its C20 on. */
const FROM_SHARE = 0.05;

/** A bank while it charges: where its posts stand by the current that flows into it. */
export interface Posts {
  rest_V: number;
  absorb_V: number;
  resistance_ohm: number;
  /** V above rest beside what its resistance makes, by the current into it, A. */
  above_V(amps: number): number;
  /** V at its posts, never above its absorb. */
  volts(amps: number): number;
}

/** The posts of a bank under some conditions. */
export function postsAt(io: Ledger, bank: Bank, at: Conditions): Posts {
  const { cells, rest_V, absorb_V, resistance_ohm } = bankAt(io, bank, at);
  const full_A = FROM_SHARE * c20_Ah(io, bank);
  const most_V = cells * (isLithium(bank.chemistry) ? CHARGING_V.lithium : CHARGING_V.lead);
  const above_V = (amps: number) => most_V * Math.max(0, Math.min(1, amps / full_A));
  return {
    rest_V,
    absorb_V,
    resistance_ohm,
    above_V,
    volts: (amps) => Math.min(absorb_V, rest_V + amps * resistance_ohm + above_V(amps)),
  };
}

/** ohm of a device's own run, and of what lies between that and the bank: cables, joints, fuses and switches. */
export interface Way {
  own_ohm: number;
  shared_ohm: number;
}

/** The way from the bank to a device by a run of a kind; what nobody recorded loses nothing. */
export function wayOf(io: Ledger, kind: Run['kind'], deviceId: string): Way {
  const { system } = io.model;
  const network = networkOf(system);
  const run = (system.runs ?? []).find(
    (one) => one.kind === kind && touches(one, deviceId) && network.feedersOf(one) !== null,
  );
  if (!run) return { own_ohm: 0, shared_ohm: 0 };
  const ohm = (each: Run) => runBothWays_ohm(io, each, WARM_C, true) + devices_ohm(io, each);
  return {
    own_ohm: ohm(run),
    shared_ohm: (network.feedersOf(run) ?? []).reduce((sum, each) => sum + ohm(each), 0),
  };
}

/** A within which two currents of the moment are the same. */
const CLOSE_A = 1e-6;

/**
 * The current into a bank at which what charges it gives as much as it takes, A.
 * @param gives what all of it gives, A, less what runs, by the current into the bank; it never rises with it
 */
export function settled_A(gives: (amps: number) => number): number {
  const most = gives(0);
  if (!(most > 0)) return most;
  return straddled((amps) => gives(amps) - amps, 0, most, CLOSE_A);
}

/**
 * What one charger alone gives a bank that stands at rest, A: as much as lifts the volts at its terminals to its absorb.
 * A charger of low volts gives little to a full bank, and is sound.
 */
export function chargerAlone_A(posts: Posts, own_ohm: number, absorb_V: number): number {
  const left_V = absorb_V - posts.rest_V;
  if (left_V <= 0) return 0;
  const ohm = posts.resistance_ohm + own_ohm;
  return straddled((amps) => left_V - amps * ohm - posts.above_V(amps), 0, left_V / ohm, CLOSE_A);
}
