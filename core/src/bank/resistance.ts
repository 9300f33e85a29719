import { COLD_C, LUGS_OHM, resistance_ohm_m, WARM_C } from '../conductors/sizes';
import type { Ledger } from '../ledger/ledger';
import { solveLinear } from '../numeric/linear';
import type { Bank } from '../system/schema';
import { health_pct, place_min_C } from './bank';
import { CHEMISTRY, cellsPerBlock, familyOf, isLithium } from '../chemistry/chemistry';

/** A protection circuit's switches, a block or a string of cells that it guards as one; planning value. */
const PROTECTION_OHM = 1.5e-3;

/** ohm of one block as the table or the sheet has it, without age or cold. */
function block_ohm(io: Ledger, bank: Bank, row: 'sag' | 'fault'): number {
  const recorded = io.see(`${bank.id}.internal_mohm`, bank.internal_mohm);
  if (recorded !== null && recorded !== undefined) return recorded / 1000;
  const { cells, assumed } = cellsPerBlock(bank);
  if (assumed) io.guess(`${bank.id}.cells`);
  const table = CHEMISTRY[bank.chemistry];
  return (
    (io.need(`${bank.id}.cells`, cells) * (row === 'sag' ? table.sag_ohmAh : table.fault_ohmAh)) / bank.blockCapacity_Ah
  );
}

/**
 * What a lithium block's switch, leads and posts add to a short circuit where its resistance is the table's (still there
 * when the switch fails closed), and a lead block's posts; planning values. A recorded resistance was measured with them.
 */
const LITHIUM_BLOCK_OHM = 1e-3;
const LEAD_BLOCK_OHM = 0.2e-3;
const LEAD_CELL_OHM = 0.05e-3;

function posts_ohm({ chemistry, block_V, salvaged, ...bank }: Bank): number {
  if (isLithium(chemistry)) return block_V >= 12 && !salvaged ? LITHIUM_BLOCK_OHM : 0;
  return cellsPerBlock({ chemistry, block_V, cells: bank.cells }).cells === 1 ? LEAD_CELL_OHM : LEAD_BLOCK_OHM;
}

/** True where the resistance of a block is the table's, not read off a sheet. */
export const isTableResistance = ({ internal_mohm }: Bank) => internal_mohm === null || internal_mohm === undefined;

/** What the table has for a block in a short circuit, mohm; null where its cells are not known. */
export function tableBlock_mohm(bank: Bank): number | null {
  const { cells } = cellsPerBlock(bank);
  if (cells === null) return null;
  return 1000 * ((cells * CHEMISTRY[bank.chemistry].fault_ohmAh) / bank.blockCapacity_Ah + posts_ohm(bank));
}

/** ohm of one block in a short circuit; `doubled` for the other bound of what the table can know. */
function faultBlock_ohm(io: Ledger, bank: Bank, doubled: boolean): number {
  const own = block_ohm(io, bank, 'fault') + (isTableResistance(bank) ? posts_ohm(bank) : 0);
  return doubled ? 2 * own : own;
}

/** ohm of one link between blocks. */
export function link_ohm(io: Ledger, bank: Bank, conductor_C: number): number {
  const length = io.need(`${bank.id}.link.length_m`, bank.link?.length_m);
  const size = bank.link?.size;
  if (!size) {
    io.miss(`${bank.id}.link.size`);
    return Number.NaN;
  }
  return length * resistance_ohm_m(size, 'copper', conductor_C);
}

const inSeries = (io: Ledger, bank: Bank, block: number, conductor_C: number, lugs: number) =>
  bank.series * block + (bank.series > 1 ? (bank.series - 1) * (link_ohm(io, bank, conductor_C) + lugs) : 0);

/** Slow resistance of the bank as it is, ohm; `cold` false leaves it at 25 degC. */
export function sagBank_ohm(io: Ledger, bank: Bank, cold: boolean): number {
  if (!cold) return sagBankAt_ohm(io, bank, 25);
  const coldest = place_min_C(io, bank);
  return sagBankAt_ohm(io, bank, bank.heated ? Math.max(5, coldest) : coldest);
}

/** Slow resistance of the bank as it is at a temperature of its cells, ohm. */
export function sagBankAt_ohm(io: Ledger, bank: Bank, cell_C: number): number {
  const factor = (100 / health_pct(io, bank)) * familyOf(bank.chemistry).coldResistance(cell_C);
  const { cells } = cellsPerBlock(bank);
  // Guarded cell by cell over the whole string, the current passes one switch; block by block, as many as blocks.
  const once = cells === 1 || (bank.series > 1 && bank.protection?.cells === (cells ?? 0) * bank.series);
  const switches = bank.protection ? PROTECTION_OHM * (once ? 1 : bank.series) : 0;
  return (inSeries(io, bank, block_ohm(io, bank, 'sag') * factor, WARM_C, LUGS_OHM) + switches) / bank.parallel;
}

/** Fast resistance of one string for a short circuit, ohm. */
export const faultString_ohm = (io: Ledger, bank: Bank, doubled = false) =>
  inSeries(io, bank, faultBlock_ohm(io, bank, doubled), COLD_C, 0);
/** Fast resistance of the bank for a short circuit, ohm. */
export const faultBank_ohm = (io: Ledger, bank: Bank, doubled = false) =>
  faultString_ohm(io, bank, doubled) / bank.parallel;

/** Volts per cell at half charge, rested. */
export const half_V = ({ chemistry }: Bank) => CHEMISTRY[chemistry].half_V;

/** How the current of a bank divides over its strings. */
export interface Shares {
  /** Each string's share of the current. */
  shares: number[];
  /** The largest share times the number of strings. */
  worst: number;
}

/**
 * How parallel strings share the current: each string a resistance, joined by plus and minus rails of links. Solved as
 * a network of nodes (`solveLinear`); the equal voltages of the strings cancel, so only resistances count.
 */
export function sharing(io: Ledger, bank: Bank): Shares {
  const count = bank.parallel;
  if (count === 1) return { shares: [1], worst: 1 };
  const tapping = bank.tapping;
  if (!tapping) {
    io.miss(`${bank.id}.tapping`);
    return { shares: [], worst: Number.NaN };
  }
  if (tapping === 'busbar') return { shares: Array.from({ length: count }, () => 1 / count), worst: 1 };
  const rail = link_ohm(io, bank, WARM_C) + LUGS_OHM;
  const string = inSeries(io, bank, block_ohm(io, bank, 'sag'), WARM_C, LUGS_OHM);
  if (Number.isNaN(rail + string)) return { shares: [], worst: Number.NaN };
  // 1 A leaves the plus rail at `plus` and returns to the minus rail at `minus`; unknowns: node potentials.
  const minus = tapping === 'same-end' ? 0 : count - 1;
  const size = 2 * count;
  const matrix = Array.from({ length: size }, () => new Float64Array(size + 1));
  const join = (a: number, b: number, ohm: number) => {
    const g = 1 / ohm;
    const [rowA, rowB] = [matrix[a], matrix[b]];
    if (!rowA || !rowB) return;
    rowA[a] = (rowA[a] ?? 0) + g;
    rowB[b] = (rowB[b] ?? 0) + g;
    rowA[b] = (rowA[b] ?? 0) - g;
    rowB[a] = (rowB[a] ?? 0) - g;
  };
  for (let i = 0; i < count; i++) {
    join(i, count + i, string);
    if (i > 0) {
      join(i - 1, i, rail);
      join(count + i - 1, count + i, rail);
    }
  }
  // Current is taken out at plus of string 0 and put in at the minus tap, whose node is the reference.
  const out = matrix[0];
  if (out) out[size] = -1;
  const reference = matrix[count + minus];
  reference?.fill(0);
  if (reference) reference[count + minus] = 1;
  const volts = solveLinear(matrix);
  const shares = Array.from({ length: count }, (_, i) =>
    Math.abs(((volts[count + i] ?? 0) - (volts[i] ?? 0)) / string),
  );
  return { shares, worst: Math.max(...shares) * count };
}
