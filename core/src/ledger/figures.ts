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
  return bare(fixed);
}

/** For a sentence: whole numbers from 20 up, one decimal below. */
export function round(value: number): string {
  if (!Number.isFinite(value)) return UNKNOWN;
  return Math.abs(value) >= 20 ? String(Math.round(value)) : String(Math.round(value * 10) / 10);
}

/** Two figures for one sentence, with as many digits as tell them apart: "32.3" and "32", never "32" and "32". */
export function apart(
  demand: number | null | undefined,
  limit: number | null | undefined,
): { there: string; allowed: string } {
  const [a, b] = [demand ?? Number.NaN, limit ?? Number.NaN];
  const plain = { there: round(a), allowed: round(b) };
  if (a === b || plain.there !== plain.allowed) return plain;
  for (let decimals = 1; decimals <= 4; decimals += 1) {
    const there = bare(a.toFixed(decimals));
    const allowed = bare(b.toFixed(decimals));
    if (there !== allowed) return { there, allowed };
  }
  return plain;
}

/** "an 80", "a 25": the article that a figure takes when it is read aloud (eight, eleven, eighteen, eighty ...). */
export const aFigure = (written: string): string =>
  `${/^(8|11(?!\d)|18(?!\d)|1[18]\d{3}(?!\d))/.test(written) ? 'an' : 'a'} ${written}`;

/** "1 slot", "4 slots": a count with its noun. */
export const counted = (count: number, noun: string, nouns = `${noun}s`): string =>
  `${count} ${count === 1 ? noun : nouns}`;

const bare = (fixed: string) => (fixed.includes('.') ? fixed.replace(/\.?0+$/, '') : fixed);
