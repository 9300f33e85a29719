import { linesOf } from '@true-lantern/core';

/** The sentence at the head, and how large it is set. */
export interface LeadLayout {
  text: string;
  look: 'lead' | 'station';
}

const LEAD_PX = 22;
const SMALLER_PX = 18;
const MOST_LINES = 2;

/**
 * The sentence at the head in one or two lines, ever: what is longer is set smaller, then said in a shorter way, large where
 * that has the room. What has no shorter way keeps its words.
 * @param ways from the whole sentence to the least of it
 * @param width px that the text has
 */
export function leadLayout(ways: readonly string[], width: number): LeadLayout {
  const all = ways.flatMap((text): LeadLayout[] => [
    { text, look: 'lead' },
    { text, look: 'station' },
  ]);
  const fits = ({ text, look }: LeadLayout) =>
    linesOf(text, look === 'lead' ? LEAD_PX : SMALLER_PX, width) <= MOST_LINES;
  return all.find(fits) ?? all.at(-1) ?? { text: '', look: 'station' };
}
