import type { PlateKind } from './labels';
import type { PlateField } from './plate-field';
import { figuresIn } from './quantities';

/** What plates say without a label: sizes, chemistries, waves, "12.8V 100Ah", "390W/12V" (docs/plates.md). */

/** A figure or word of a kind, before it is known how it was printed. */
export type Found = Omit<PlateField, 'text'>;

/** Everything of a kind in a line that stands by itself. */
export function special(kind: PlateKind, text: string): Found[] {
  const out: Found[] = [];
  const add = (field: string, value: number | string, sure = true) => void out.push({ field, value, sure });
  if (kind === 'module') sizes(text, add);
  if (kind === 'controller') controller(text, add);
  if (kind === 'battery') battery(text, add);
  if (kind === 'inverter' || kind === 'source') mains(kind, text, add);
  if (kind === 'charger') charger(text, add);
  return out;
}

type Add = (field: string, value: number | string, sure?: boolean) => void;

/** "1722 x 1134 x 35 mm": the two that are no thickness, the longer along the module. */
function sizes(text: string, add: Add): void {
  const match =
    /(\d{3,4}(?:[.,]\d)?)\s*(?:mm)?\s*[x\u00d7*]\s*(\d{3,4}(?:[.,]\d)?)\s*(?:mm)?(?:\s*[x\u00d7*]\s*(\d{1,3}(?:[.,]\d)?))?\s*(mm)?/i.exec(
      text,
    );
  if (match) {
    const [a, b] = [Number(match[1]?.replace(',', '.')), Number(match[2]?.replace(',', '.'))];
    add('length_mm', Math.max(a, b));
    add('width_mm', Math.min(a, b));
  }
  const cells = /\b(\d{2,3})\s*(?:\([^)]*\)\s*)?(?:cells|zellen|cellules|celdas|celulas|celle)\b/i.exec(text);
  if (cells) add('cells', Number(cells[1]));
}

function controller(text: string, add: Add): void {
  if (/\bMPPT\b/i.test(text)) add('type', 'mppt');
  else if (/\bPWM\b/i.test(text)) add('type', 'pwm');
  // "390W/12V 780W/24V", "12V: 390W", "390 W (12 V)".
  for (const match of text.matchAll(/(\d{2,5})\s*W\s*(?:[/@(]|at|bei|a)\s*\(?\s*(12|24|36|48)\s*V/gi))
    add(`maxPv_W.${match[2]}`, Number(match[1]));
  for (const match of text.matchAll(/\b(12|24|36|48)\s*V\s*[:=/-]?\s*(\d{2,5})\s*W/gi))
    add(`maxPv_W.${match[1]}`, Number(match[2]), !/\d\s*W\s*\/\s*\d/.test(text));
}

const CHEMISTRIES: readonly (readonly [RegExp, string])[] = [
  [/LiFePO|\bLFP\b|lithium[\s-]*(?:iron|eisen|fer|hierro|ferro)/i, 'lfp'],
  [/\bNMC\b|lithium[\s-]*(?:nickel|ion|ionen)|li[\s-]?ion/i, 'nmc'],
  [/\bOPzS\b|tubular/i, 'tubular'],
  [/\bOPzV\b|\bGEL\b|gel\s+(?:battery|batterie)|gelled/i, 'gel'],
  [/\bAGM\b|absorbed\s+glass|vlies/i, 'agm'],
  [/flooded|wet\s+cell|lead[\s-]acid|blei[\s-]saure|plomb|plomo|nass/i, 'flooded'],
];

function battery(text: string, add: Add): void {
  const chemistry = CHEMISTRIES.find(([pattern]) => pattern.test(text));
  if (chemistry) add('chemistry', chemistry[1], chemistry[1] !== 'flooded' || /flooded|wet/i.test(text));
  const figures = figuresIn(text);
  const capacity = figures.find(({ measure, value }) => measure === 'Ah' && value >= 1);
  if (capacity) add('blockCapacity_Ah', capacity.value, !capacity.mended);
  // Not behind words of charging: those volts are no nominal ones.
  const volts = figures.find(
    ({ measure, value, to }) =>
      measure === 'V' && to === undefined && NOMINAL_V.some((one) => Math.abs(one - value) < 0.06),
  );
  if (volts && !/charg|float|cycle\s+use|stand[\s-]?by|cut[\s-]?off|lade|carga|absor|end\s+of/i.test(text))
    add('block_V', volts.value, !volts.mended);
  const rate =
    /\bC\s?\/?\s?(5|10|20|100)\b/.exec(text) ??
    /(?:@|\/|\(|at|bei)\s*(5|8|10|20|100)\s*-?\s*(?:h\b|hrs?\b|hour|Std)/i.exec(text) ??
    /\b(5|8|10|20|100)\s*-?\s*(?:hrs?|hour|h)[\s-]*(?:rate|rating)/i.exec(text);
  if (rate && capacity) add('rate_h', Number(rate[1]));
}
/** Volts that blocks are sold by. */
const NOMINAL_V = [
  2, 3.2, 3.6, 3.7, 4, 6, 6.4, 8, 12, 12.8, 14.4, 14.8, 24, 25.2, 25.6, 25.9, 36, 36.8, 38.4, 48, 51.2, 51.8, 52,
];

function mains(kind: 'inverter' | 'source', text: string, add: Add): void {
  const figures = figuresIn(text);
  const ac = figures.find(
    ({ measure, value, to }) => measure === 'V' && to === undefined && value >= 100 && value <= 250,
  );
  if (ac && !/pv|solar/i.test(text)) add('ac_V', ac.value, !ac.mended);
  const hertz = figures.find(
    ({ measure, value, to }) => measure === 'Hz' && to === undefined && (value === 50 || value === 60),
  );
  if (kind === 'source') {
    const watts = figures.find(({ measure }) => measure === 'W');
    if (watts) add('power_W', watts.value, false);
    return;
  }
  if (hertz && !/50\s*\/\s*60|60\s*\/\s*50/.test(text)) add('ac_Hz', hertz.value);
  const range = figures.find(
    ({ measure, to, value }) => measure === 'V' && to !== undefined && value >= 8 && (to ?? 0) <= 70,
  );
  if (range && !/charg|ac\b/i.test(text.replace(/dc\s*input/i, ''))) {
    add('minDc_V', range.value, !range.mended);
    add('maxDc_V', range.to ?? 0, !range.mended);
  }
  if (
    /pure\s+sine|true\s+sine|reiner?\s+sinus|sinus\s+pur|pur(?:e)?\s+sinus|sinus[\s-]*wechselrichter|sinuso?[\s-]*pura?|onda\s+(?:(?:sinus\w*|senoidal)\s+)?pura|sine\s*wave(?!.*modif)/i.test(
      text,
    ) &&
    !/modif/i.test(text)
  )
    add('waveform', 'sine');
  else if (/modified|modifizier|modifie|modificada|square\s+wave|quasi[\s-]sine/i.test(text))
    add('waveform', 'modified');
  const va = figures.find(({ measure }) => measure === 'VA');
  if (va && !/surge|peak|spitz|crete|pico/i.test(text)) add('continuous_VA', va.value, !va.mended);
  const watts = figures.find(({ measure, value }) => measure === 'W' && value >= 50);
  if (watts && !/surge|peak|spitz|crete|pointe|pico|picco|spunto|idle|no[\s-]load|stand[\s-]?by|leerlauf/i.test(text))
    add('continuous_W', watts.value, false);
}

function charger(text: string, add: Add): void {
  if (/dc[\s/-]*(?:to[\s-]*)?dc|booster|alternator/i.test(text)) add('kind', 'dc-dc');
  else if (
    /(?:100|110|115|120|200|208|220|230|240)\s*(?:-\s*\d+\s*)?V\s*(?:AC|~)?/i.test(text) &&
    /in(?:put|gresso)|eingang|entr|mains|~|ac/i.test(text)
  )
    add('kind', 'mains');
  const figures = figuresIn(text);
  const volts = figures.find(
    ({ measure, to, value }) => measure === 'V' && to === undefined && [12, 24, 36, 48].includes(value),
  );
  if (volts && /out|ausgang|sortie|salida|uscita/i.test(text)) add('output_V', volts.value);
  const amps = figures.find(({ measure, value }) => measure === 'A' && value >= 1);
  if (amps && !/in(?:put)?\b|eingang|entr|ingresso|fuse|sicherung/i.test(text)) add('max_A', amps.value, false);
}
