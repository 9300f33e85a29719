/** Tenths of a pixel are as near as a drawing needs. */
export const tenth = (value: number) => Math.round(value * 10) / 10;
