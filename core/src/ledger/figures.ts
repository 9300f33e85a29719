/** What stands for a figure that is not known; no line of working with it is ever shown. */
export const UNKNOWN = '?';

/**
 * A figure as a person would write it: about four significant digits, no trailing noise, a true minus sign left to
 * the screen. Used in working and sentences, never in `demand` or `limit`.
 */
export function figure(value: number, digits = 4): string {
  if (!Number.isFinite(value)) return UNKNOWN;
  if (value === 0) return '0';
  const size = Math.abs(value);
  const decimals = Math.max(0, Math.min(4, digits - 1 - Math.floor(Math.log10(size))));
  const fixed = value.toFixed(decimals);
  return fixed.includes('.') ? fixed.replace(/\.?0+$/, '') : fixed;
}

/** For a sentence: whole numbers from 20 up, one decimal below. */
export function round(value: number): string {
  if (!Number.isFinite(value)) return UNKNOWN;
  return Math.abs(value) >= 20 ? String(Math.round(value)) : String(Math.round(value * 10) / 10);
}
