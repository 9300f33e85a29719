import { DAYS_Y, MONTH_OF_DAY } from '../sun/calendar';
import { SUM_COUNT, type Run } from './run';

/** The rest of a year from a day on as another run of it has it, with where that ended. */
export function takeRest(run: Run, from: Run, day: number, ranks: number): void {
  const [a, b] = [run.days, from.days];
  a.sums.set(b.sums.subarray(day * SUM_COUNT), day * SUM_COUNT);
  a.unservedBy.set(b.unservedBy.subarray(day * ranks), day * ranks);
  a.discharged_Wh.set(b.discharged_Wh.subarray(day), day);
  a.worst.set(b.worst.subarray(day), day);
  a.worstStart_h.set(b.worstStart_h.subarray(day), day);
  run.dayLow.set(from.dayLow.subarray(day), day);
  run.store_Wh = from.store_Wh;
  run.off = from.off;
  run.generating = from.generating;
}

/** Months and the year out of their days. */
export function sumUp(run: Run, ranks: number): void {
  const { sums, unservedBy, minSoc, dayLow, days } = run;
  sums.fill(0);
  unservedBy.fill(0);
  minSoc.fill(1);
  let discharged = 0;
  let worst = 0;
  let worstStart = 0;
  for (let day = 0; day < DAYS_Y; day++) {
    const month = MONTH_OF_DAY[day] as number;
    for (let i = 0; i < SUM_COUNT; i++) add(sums, month * SUM_COUNT + i, days.sums[day * SUM_COUNT + i] as number);
    for (let p = 0; p < ranks; p++) add(unservedBy, month * ranks + p, days.unservedBy[day * ranks + p] as number);
    if ((dayLow[day] as number) < (minSoc[month] as number)) minSoc[month] = dayLow[day] as number;
    discharged += days.discharged_Wh[day] as number;
    if ((days.worst[day] as number) > worst) {
      worst = days.worst[day] as number;
      worstStart = days.worstStart_h[day] as number;
    }
  }
  run.discharged_Wh = discharged;
  run.worstStart_h = worstStart;
  run.worstHours = worst;
}

const add = (sums: Float64Array, at: number, value: number) => {
  sums[at] = (sums[at] as number) + value;
};
