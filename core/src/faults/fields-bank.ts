import { CHEMISTRY } from '../chemistry/chemistry';
import { restSigma_V, type BankNow } from './altered';
import type { Asked } from './asked';
import type { Tools } from './engine';
import { fieldOf, scalar, type Field } from './field';
import { MASK, type Place } from './grid';
import type { State } from './state';

/** What a step of the grid's charge may hide of a figure that follows it. */
const STEP = 0.0625 / Math.sqrt(12);
const widened = (sigma: number, slope: number) => Math.hypot(sigma, slope * STEP);

/** Readings of the bank. */
export function bankField({ grid, altered }: Tools, asked: Asked, state: State): Field | null {
  const { quantity, position, at } = asked;
  const bankAt = altered.bank(state, at);
  const overCharge = (
    mask: number,
    figure: (bank: BankNow, place: Place) => number,
    sigma: (bank: BankNow, mu: number) => number,
  ) =>
    fieldOf(grid, mask, (place) => {
      const bank = bankAt(place.soc);
      if (!bank) return { mu: NaN, sigma: NaN };
      const mu = figure(bank, place);
      // What follows the charge may lie anywhere within a step of the grid.
      return {
        mu,
        sigma: widened(sigma(bank, mu), mask & MASK.soc ? bank.slope_V * follows(bank, quantity, state) : 0),
      };
    });
  const rest = (bank: BankNow) => restSigma_V(bank.bank) * bank.twelves;
  const s = position?.string ?? 0;
  const own = state.bank?.block;
  const here = own && own.string === s && own.block === (position?.block ?? 0);
  const block_V = (bank: BankNow) =>
    (bank.cells * bank.cell_V) / bank.bank.series - (here && own.shorted ? bank.cell_V : 0);
  switch (quantity) {
    case 'rest_V':
    case 'restVoltage_V':
      return overCharge(MASK.soc, (bank) => bank.rest_V, rest);
    case 'load_V':
      return overCharge(
        MASK.soc | MASK.ohm,
        (bank, { ohm }) => (state.bank?.tripped ? bank.rest_V : bank.rest_V - bank.drawn_A * bank.resistance_ohm * ohm),
        (bank) => Math.hypot(0.025 * bank.twelves, rest(bank)),
      );
    case 'absorb_V':
      return overCharge(
        MASK.soc,
        (bank) => (state.bank?.tripped ? 1 : bank.absorb_V),
        (bank) => 0.05 * bank.twelves,
      );
    case 'stringCurrent_A':
      return overCharge(
        0,
        (bank) => -bank.drawn_A * (bank.shares[s] ?? NaN),
        (bank, mu) => 0.05 * Math.max(Math.abs(mu), bank.drawn_A / bank.shares.length) + 0.1,
      );
    case 'blockRest_V':
      return overCharge(MASK.soc, block_V, (bank) => (restSigma_V(bank.bank) * bank.twelves) / bank.bank.series);
    case 'blockLoad_V':
      return overCharge(
        MASK.soc | MASK.ohm,
        (bank, { ohm }) => {
          const block_ohm = ohmOf(bank, own?.capacity, Boolean(here));
          return block_V(bank) - bank.drawn_A * (bank.shares[s] ?? 0) * block_ohm * ohm;
        },
        (bank) => (0.05 * bank.twelves) / bank.bank.series,
      );
    case 'density_kg_L':
      return overCharge(
        MASK.soc,
        (bank) =>
          bank.density_kg_L === null
            ? NaN
            : here && own.shorted && (position?.cell ?? -1) >= 0
              ? bank.density_kg_L - 0.04
              : bank.density_kg_L,
        () => 0.0125,
      );
    case 'resistance_mohm':
      return position?.block !== undefined
        ? null
        : overCharge(
            MASK.ohm,
            (bank, { ohm }) => 1000 * bank.resistance_ohm * ohm,
            (_, mu) => 0.1 * mu,
          );
    default:
      return null;
  }
}

/** ohm of one block of a string in which one is weak: the others, and the weak one. The whole is what the bank shows. */
const soundOhm = (bank: BankNow, capacity: number) => {
  const { parallel, series } = bank.bank;
  // One weak block makes its string's resistance (series - 1 + 1/capacity) of a sound one's; the others stay.
  const weak = series - 1 + 1 / capacity;
  const gives = (parallel - 1) / series + 1 / weak;
  return bank.resistance_ohm * gives;
};
const blockOhm = (bank: BankNow, capacity: number) => soundOhm(bank, capacity) / capacity;

/** Readings of what counts for the bank. */
export function monitorField({ grid, altered }: Tools, asked: Asked, state: State): Field | null {
  const { quantity, at } = asked;
  const { zero_A = 0, scale = 1, sees = 1 } = state.shunt ?? {};
  if (quantity === 'zero_A') return scalar(grid, zero_A, 0.05);
  if (quantity === 'head_soc')
    return fieldOf(grid, MASK.soc, ({ soc }) => ({
      mu: soc,
      sigma: scale !== 1 || sees !== 1 ? 0.3 : widened(0.05, 1),
    }));
  if (quantity !== 'head_A' && quantity !== 'clamp_A') return null;
  const bankAt = altered.bank(state, at);
  return fieldOf(grid, 0, ({ soc }) => {
    const bank = bankAt(soc);
    if (!bank) return { mu: NaN, sigma: NaN };
    // A current that was recorded has its sign; else it is drawn.
    const flows = (at.current_A ?? -bank.drawn_A) - (state.drain_W ?? 0) / Math.max(1, bank.rest_V);
    const drawn = Math.abs(flows);
    return quantity === 'clamp_A'
      ? { mu: flows, sigma: 0.02 * drawn + 0.25 }
      : { mu: flows * scale * sees + zero_A, sigma: 0.01 * drawn + 0.25 };
  });
}

/** Readings of another battery. */
export function otherBankField({ model, grid, altered }: Tools, asked: Asked, state: State): Field | null {
  const other = model.system.otherBanks?.find(({ id }) => id === asked.subject);
  if (!other || asked.quantity !== 'rest_V') return null;
  const { nominal_V: cell_V, full_V } = CHEMISTRY[other.chemistry ?? 'flooded'];
  const cells = Math.round(other.nominal_V / cell_V);
  if (!state.stuck?.[other.id]) return scalar(grid, cells * full_V, cells * 0.035);
  const bankAt = altered.bank(state, asked.at);
  return fieldOf(grid, MASK.soc, ({ soc }) => {
    const bank = bankAt(soc);
    return { mu: bank?.rest_V ?? NaN, sigma: bank ? 0.05 * bank.twelves : NaN };
  });
}

/** How much of the bank's own volts a reading follows as the charge moves. */
const follows = (bank: BankNow, quantity: string, state: State) =>
  quantity === 'absorb_V' || state.bank?.tripped
    ? 0
    : quantity === 'density_kg_L'
      ? 1 / bank.cells
      : quantity.startsWith('block')
        ? 1 / bank.bank.series
        : 1;

/** ohm of a block: alike where none is weak, else by which of them it is. */
const ohmOf = (bank: BankNow, capacity: number | undefined, weak: boolean) =>
  capacity === undefined
    ? (bank.resistance_ohm * bank.bank.parallel) / bank.bank.series
    : weak
      ? blockOhm(bank, capacity)
      : soundOhm(bank, capacity);
