import { byteAt, doubleAt, elementAt, wordAt } from '../numeric/element';
import { familyOf } from '../chemistry/chemistry';
import { isWinter } from '../power/loads';
import { readTable } from '../pv/array-power';
import { DAYS_Y, HOURS_Y, MEAN_HOUR, MONTH_OF_DAY } from '../sun/calendar';
import type { Given } from './run';
import { readMix } from './mix';
import type { YearPlan } from './setup';
import { onPlane, sunSeen } from '../sun/sky';
import type { Weather } from '../sun/weather';

/** What a year's sky gives at the bank, written over what the year before gave. */
export class Sky {
  private readonly plane = new Float64Array(HOURS_Y);
  private readonly net: Float64Array;
  /** Of an input whose arrays drag each other down: the light on each, W/m2, and its watts before its cable. */
  private readonly mixed: { light: Float64Array; watts: Float64Array }[];
  private seen: Uint8Array | null = null;
  private seenOf: Float64Array | null = null;
  private airOf: Float64Array | null = null;
  private writtenTo: Given | null = null;

  constructor(private readonly plan: YearPlan) {
    const members = plan.groups.reduce((most, { members }) => Math.max(most, members.length), 0);
    this.net = new Float64Array(HOURS_Y * Math.max(1, members));
    const most = plan.groups
      .flatMap((group) => group.members)
      .reduce((count, { arrays, mixes }) => Math.max(count, mixes.length > 0 ? arrays.length : 0), 0);
    this.mixed = Array.from({ length: most }, () => ({
      light: new Float64Array(HOURS_Y),
      watts: new Float64Array(HOURS_Y),
    }));
  }

  /** @param days the first that is asked for, and the one before which it ends; the others keep what they had */
  write(weather: Weather, given: Given, [first, last]: readonly [number, number] = [0, DAYS_Y]): void {
    const [from, to] = [24 * first, 24 * last];
    const { plan, net, plane } = this;
    const { available_W, excess_W } = given;
    available_W.fill(0, from, to);
    excess_W.fill(0, from, to);
    // Where the sun stands does not change from one seeded year to the next.
    if (this.seenOf !== weather.up || this.seen === null) {
      this.seen = sunSeen(weather, plan.horizon);
      this.seenOf = weather.up;
    }
    const { temp_C } = weather;
    const perVolt = 1 / plan.float_V;
    for (const { members, most_W } of plan.groups) {
      for (let m = 0; m < members.length; m++) {
        const at = m * HOURS_Y;
        net.fill(0, at + from, at + to);
        if ((members[m]?.mixes.length ?? 0) > 0) {
          this.mixedInput(weather, elementAt(members, m), at, from, to);
          continue;
        }
        for (const index of members[m]?.arrays ?? []) {
          const array = plan.arrays[index];
          if (!array) continue;
          const { table, heat_K_m2_W, cable_ohm, vmp_V, efficiency, tilt_deg, azimuth_deg, roof } = array;
          onPlane(weather, this.seen, tilt_deg, azimuth_deg, plane, from, to);
          const lossy = cable_ohm / (vmp_V * vmp_V);
          for (let h = from; h < to; h++) {
            const light = doubleAt(plane, h);
            if (light <= 0) continue;
            const clear = readTable(table.watts, light, doubleAt(temp_C, h) + heat_K_m2_W * light);
            const watts = roof === null ? clear : clear * doubleAt(roof, wordAt(MEAN_HOUR, h));
            const arrives = watts - watts * watts * lossy;
            if (arrives > 0) net[at + h] = doubleAt(net, at + h) + arrives * efficiency;
          }
        }
      }
      if (members.length === 1) {
        // One controller by itself, as most are: nothing to be shared out.
        const ohm = members[0]?.cable_ohm ?? 0;
        for (let h = from; h < to; h++) {
          const sum = doubleAt(net, h);
          if (sum <= 0) continue;
          const out = sum > most_W ? most_W : sum;
          if (sum > most_W) excess_W[h] = doubleAt(excess_W, h) + sum - most_W;
          const amps = out * perVolt;
          available_W[h] = doubleAt(available_W, h) + out - amps * amps * ohm;
        }
        continue;
      }
      for (let h = from; h < to; h++) {
        let sum = 0;
        for (let m = 0; m < members.length; m++) sum += doubleAt(net, m * HOURS_Y + h);
        if (sum <= 0) continue;
        const share = sum > most_W ? most_W / sum : 1;
        if (share < 1) excess_W[h] = doubleAt(excess_W, h) + sum - most_W;
        for (let m = 0; m < members.length; m++) {
          const out = doubleAt(net, m * HOURS_Y + h) * share;
          const amps = out * perVolt;
          available_W[h] = doubleAt(available_W, h) + out - amps * amps * (members[m]?.cable_ohm ?? 0);
        }
      }
    }
    // Neither does the air of the months, nor who drives when.
    if (this.airOf === weather.temp_C && this.writtenTo === given) return;
    this.bankByDay(weather, given);
    this.engines(weather, given);
    this.airOf = weather.temp_C;
    this.writtenTo = given;
  }

  /** An input whose unlike arrays work at one voltage: each array's watts by the share that its pairs keep, hour by hour. */
  private mixedInput(weather: Weather, { arrays, mixes }: Member, at: number, from: number, to: number): void {
    const { plan, net, mixed, seen } = this;
    if (seen === null) return;
    arrays.forEach((index, place) => {
      const array = plan.arrays[index];
      const room = mixed[place];
      if (!array || !room) return;
      onPlane(weather, seen, array.tilt_deg, array.azimuth_deg, room.light, from, to);
      for (let h = from; h < to; h++) {
        const light = doubleAt(room.light, h);
        room.watts[h] =
          light <= 0
            ? 0
            : readTable(array.table.watts, light, doubleAt(weather.temp_C, h) + array.heat_K_m2_W * light) *
              (array.roof?.[wordAt(MEAN_HOUR, h)] ?? 1);
      }
    });
    for (const { first, second, share } of mixes) {
      const [a, b] = [mixed[first], mixed[second]];
      if (!a || !b) continue;
      for (let h = from; h < to; h++) {
        const [lightA, lightB] = [doubleAt(a.light, h), doubleAt(b.light, h)];
        if (lightA <= 0 && lightB <= 0) continue;
        const kept = readMix(share, lightA, lightB);
        a.watts[h] = doubleAt(a.watts, h) * kept;
        b.watts[h] = doubleAt(b.watts, h) * kept;
      }
    }
    arrays.forEach((index, place) => {
      const array = plan.arrays[index];
      const room = mixed[place];
      if (!array || !room) return;
      const lossy = array.cable_ohm / (array.vmp_V * array.vmp_V);
      for (let h = from; h < to; h++) {
        const watts = doubleAt(room.watts, h);
        const arrives = watts - watts * watts * lossy;
        if (arrives > 0) net[at + h] = doubleAt(net, at + h) + arrives * array.efficiency;
      }
    });
  }

  /** The bank's temperature each day, the share of its capacity that is there, and the most that it takes. */
  private bankByDay({ temp_C }: Weather, { bank_C, factor, most_A }: Given): void {
    const { bank, occupied } = this.plan;
    const { coldCapacity } = familyOf(bank.chemistry);
    for (let day = 0; day < DAYS_Y; day++) {
      let mean = 0;
      for (let h = 0; h < 24; h++) mean += doubleAt(temp_C, 24 * day + h);
      mean /= 24;
      const lived = bank.place === 'living' && occupied[byteAt(MONTH_OF_DAY, day)] === true;
      let at = lived ? LIVED_C : bank.place === 'box' ? mean + BOX_K : mean;
      at = Math.max(bank.min_C, Math.min(bank.max_C, at));
      if (bank.heated && at < HEATED_C) at = HEATED_C;
      bank_C[day] = at;
      factor[day] = coldCapacity(at);
      most_A[day] =
        at < bank.lowestCharge_C
          ? 0
          : bank.lithium
            ? Math.min(bank.largest_A, at < 5 ? 0.05 * bank.c20_Ah : at < 10 ? 0.2 * bank.c20_Ah : Infinity)
            : bank.largest_A;
    }
  }

  /** Alternators run their hours from nine in the morning, in months in which somebody drives. */
  private engines({ latitude_deg }: Weather, { engine_W, driving, inlet: mains }: Given): void {
    const { alternators, occupied, inlet } = this.plan;
    engine_W.fill(0);
    driving.fill(0);
    mains.fill(0);
    // The mains of a house are there whether or not somebody is.
    for (let day = 0; inlet !== null && day < DAYS_Y; day++) {
      const daily = isWinter(latitude_deg, byteAt(MONTH_OF_DAY, day) + 1) ? inlet.winterHours : inlet.hours;
      for (let h = 0; h < 24; h++) mains[24 * day + h] = partOf(daily, h);
    }
    for (const { watts, hours, winterHours } of alternators)
      for (let day = 0; day < DAYS_Y; day++) {
        const month = byteAt(MONTH_OF_DAY, day);
        if (!occupied[month]) continue;
        const daily = isWinter(latitude_deg, month + 1) ? winterHours : hours;
        for (let h = 0; h < 24; h++) {
          const part = partOf(daily, h);
          const at = 24 * day + h;
          engine_W[at] = doubleAt(engine_W, at) + part * watts;
          if (part > 0) driving[at] = 1;
        }
      }
  }
}
const LIVED_C = 18;
const BOX_K = 3;
const HEATED_C = 5;
const STARTS_H = 9;
/** The part of an hour of the day that lies within so many hours from nine on; past midnight they go on in the same day. */
const partOf = (daily_h: number, h: number) => Math.max(0, Math.min(1, daily_h - ((h + 24 - STARTS_H) % 24)));

type Member = YearPlan['groups'][number]['members'][number];
