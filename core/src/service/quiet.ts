/** True in the hours in which somebody is left in peace, over midnight too. `from` = `to`: never. */
export const isQuiet = (hour: number, from: number, to: number): boolean =>
  from <= to ? hour >= from && hour < to : hour >= from || hour < to;
