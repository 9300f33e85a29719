import type { Plate } from './plate';
import { withoutAccents } from './words';

/** Words that say what a device is, not what it is called. */
const SORT =
  /^(?:solar|pv|(?:ph|f)otovolt\w*|lithium|litio|lifepo4|lfp|agm|gel|mppt|pwm|pure|pur|pura|sine|sinus|dc|ac|charge|charger|controller|module?|modulo|panel|panneau|pannello|battery|batterie|bateria|batteria|akku|inverter|onduleur|inversor|wechselrichter|laderegler|solarmodul|generator|de|al|di|con|iron|phosphate|fer|hierro|deep|cycle|maintenance|free|rechargeable|caution|warning|made|in|model|type)$/i;
/** The head of a plate, where its maker prints its name. */
const HEAD_LINES = 3;
const MOST_LETTERS = 60;
/** A line read less surely is no name, percent. */
const LEAST_PCT = 60;

/** What a plate calls its device: a line of its head that is no figure and no mere sort of device; null where none is. */
export function nameOn({ lines, fields }: Plate): string | null {
  const figures = new Set(fields.flatMap(({ text, value }) => (typeof value === 'number' ? [text] : [])));
  const found = lines.slice(0, HEAD_LINES).find(({ text, confidence = 100 }) => {
    const words = text.split(/[\s,;:/()]+/).filter((word) => /[a-z]/i.test(word));
    return (
      confidence >= LEAST_PCT &&
      !figures.has(text) &&
      text.length <= MOST_LETTERS &&
      !/@|www\.|https?:|\bS\/?N\b/i.test(text) &&
      words.some((word) => word.length >= 3 && !SORT.test(withoutAccents(word)))
    );
  });
  return found ? found.text.replace(/^[^\p{L}\p{N}]+|[^\p{L}\p{N})]+$/gu, '') : null;
}
