import type { Ledger } from '../ledger/ledger';
import { figure } from '../ledger/figures';
import type { Bank } from '../system/schema';
import { chargingDevices } from './charging';
import { CHEMISTRY, cellsPerBlock, familyOf, isLithium } from '../chemistry/chemistry';

/** Cells in series in the whole bank. */
export function cellsInSeries(io: Ledger, bank: Bank): number {
  const { cells, assumed } = cellsPerBlock(bank);
  if (assumed) io.guess(`${bank.id}.cells`);
  return io.need(`${bank.id}.cells`, cells) * bank.series;
}

/** State of health, percent: as recorded, or 20 % lost over the calendar life, never below 50. */
export function health_pct(io: Ledger, bank: Bank): number {
  const age = bank.age_y ?? 0;
  const guess = Math.max(50, 100 - (20 * age) / CHEMISTRY[bank.chemistry].calendar_y);
  return io.or(`${bank.id}.health_pct`, bank.health_pct, guess);
}

/** Ah of the bank as it is, at its rated hours. */
export function capacity_Ah(io: Ledger, bank: Bank): number {
  const health = health_pct(io, bank);
  const amphours = (bank.blockCapacity_Ah * bank.parallel * health) / 100;
  io.work(
    `bank: ${figure(bank.blockCapacity_Ah)} Ah x ${bank.parallel} x ${figure(health)} % = ${figure(amphours)} Ah`,
  );
  return amphours;
}

/** Ah at the 20 h rate, by Peukert: Ah (20/rate_h)^((k-1)/k). Every table fraction is of this. */
export function c20_Ah(io: Ledger, bank: Bank): number {
  const rate = io.or(`${bank.id}.rate_h`, bank.rate_h, 20);
  const { peukert } = CHEMISTRY[bank.chemistry];
  const c20 = capacity_Ah(io, bank) * (20 / rate) ** ((peukert - 1) / peukert);
  if (rate !== 20) io.work(`at the 20 h rate instead of ${figure(rate)} h: C20 = ${figure(c20)} Ah`);
  return c20;
}

/** Volts per cell, full and rested. Lead: density + 0.845 where the full density is known (Vinal). */
export function fullCell_V(io: Ledger, bank: Bank): number {
  const density = io.see(`${bank.id}.fullDensity_kg_L`, bank.fullDensity_kg_L);
  const { overDensity_V } = familyOf(bank.chemistry);
  return overDensity_V !== null && density ? density + overDensity_V : CHEMISTRY[bank.chemistry].full_V;
}

/** Open-circuit volts of the full bank. */
export function emf_V(io: Ledger, bank: Bank): number {
  const cells = cellsInSeries(io, bank);
  const perCell = fullCell_V(io, bank);
  io.work(`bank full and rested: ${cells} cells x ${figure(perCell)} V = ${figure(cells * perCell)} V`);
  return cells * perCell;
}

/** Coldest that the cells get, degC: recorded, or by the place. */
export function place_min_C(io: Ledger, bank: Bank): number {
  const recorded = bank.place?.min_C;
  const path = `${bank.id}.place.min_C`;
  if (recorded !== null && recorded !== undefined) return io.need(path, recorded);
  const space = io.see(`${bank.id}.place.space`, bank.place?.space);
  if (!space) {
    io.miss(path);
    return Number.NaN;
  }
  if (space === 'outside' || space === 'outbuilding') {
    io.guess(path);
    return io.need('site.recordLow_C', io.model.site.recordLow_C);
  }
  return io.or(path, null, 5);
}

/**
 * The highest volts that the bus sees, V: over all devices that charge, absorb and equalise as set, else the
 * chemistry's own; lead with a temperature sensor rises further when the bank is cold.
 */
export function top_V(io: Ledger, bank: Bank): number {
  const table = CHEMISTRY[bank.chemistry];
  const cells = cellsInSeries(io, bank);
  let top = 0;
  let why = '';
  const raise = (volts: number, from: string) => {
    // A NaN must win, or a missing cell count would pass for 0 V.
    if (Number.isNaN(volts) || volts > top) {
      top = volts;
      why = from;
    }
  };
  const devices = chargingDevices(io.model.system);
  if (devices.length === 0)
    raise(cells * table.absorb_V, `${cells} cells x ${table.absorb_V} V, the table's absorption voltage`);
  for (const { name, settings, path: at } of devices) {
    const path = `${at}.settings`;
    const absorb = io.see(`${path}.absorb_V`, settings?.absorb_V);
    if (absorb === null || absorb === undefined) {
      io.guess(`${path}.absorb_V`);
      raise(cells * table.absorb_V, `${name} absorption not recorded: ${cells} cells x ${table.absorb_V} V`);
    } else raise(absorb, `${name} absorption as set`);
    const equalise = io.see(`${path}.equalise_V`, settings?.equalise_V);
    if (equalise !== null && equalise !== undefined) raise(equalise, `${name} equalise as set`);
    else if (table.equalise_V !== null) {
      io.guess(`${path}.equalise_V`);
      raise(cells * table.equalise_V, `${name} equalise not recorded: ${cells} cells x ${table.equalise_V} V`);
    }
  }
  const sensed =
    !isLithium(bank.chemistry) &&
    (io.model.system.controllers ?? [])
      .map(({ id, temperatureSensor }) => io.flag(`${id}.temperatureSensor`, temperatureSensor))
      .some(Boolean);
  if (sensed) {
    const coldest = Math.min(25, Math.max(0, place_min_C(io, bank)));
    const rise = (cells * Math.abs(table.compensation_mV_K) * (25 - coldest)) / 1000;
    io.work(`temperature sensor at ${figure(coldest)} degC adds ${figure(rise)} V`);
    top += rise;
  }
  io.work(`highest on the bus: ${figure(top)} V (${why})`);
  return top;
}
