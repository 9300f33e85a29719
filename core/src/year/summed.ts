import { byteAt, doubleAt } from '../numeric/element';
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
    const month = byteAt(MONTH_OF_DAY, day);
    for (let i = 0; i < SUM_COUNT; i++) add(sums, month * SUM_COUNT + i, doubleAt(days.sums, day * SUM_COUNT + i));
    for (let p = 0; p < ranks; p++) add(unservedBy, month * ranks + p, doubleAt(days.unservedBy, day * ranks + p));
    if (doubleAt(dayLow, day) < doubleAt(minSoc, month)) minSoc[month] = doubleAt(dayLow, day);
    discharged += doubleAt(days.discharged_Wh, day);
    if (doubleAt(days.worst, day) > worst) {
      worst = doubleAt(days.worst, day);
      worstStart = doubleAt(days.worstStart_h, day);
    }
  }
  run.discharged_Wh = discharged;
  run.worstStart_h = worstStart;
  run.worstHours = worst;
}

const add = (sums: Float64Array, at: number, value: number) => {
  sums[at] = doubleAt(sums, at) + value;
};
