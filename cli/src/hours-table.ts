import type { Trace } from '@true-lantern/core/year/year';

/** A line an hour, for a spreadsheet. */
export function hoursTable({ soc, demand_W, served_W, generator }: Trace, available_W: Float64Array): string {
  const digits = (value: number | undefined) => String(Math.round(1000 * (value ?? 0)) / 1000);
  const rows = Array.from(
    soc,
    (value, h) =>
      `${h},${(value ?? 0).toFixed(6)},${digits(available_W[h])},${digits(demand_W[h])},${digits(served_W[h])},${generator[h] ?? 0}`,
  );
  return `${['hour,soc,available_W,demand_W,served_W,generator', ...rows].join('\n')}\n`;
}
