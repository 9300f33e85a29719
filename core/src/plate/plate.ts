import { KIND_WORDS, LABELS, PLATE_KINDS, type Label, type PlateKind } from './labels';
import type { PlateField } from './plate-field';
import { figuresIn, type Figure } from './quantities';
import { special, type Found } from './special';
import { mendedWords, withoutAccents } from './words';

/** A nameplate's text as fields of a part (docs/plates.md): what is sure, what is to be asked, what contradicts itself. */

export type { PlateField };
/** What a plate says. */
export interface Plate {
  kind: PlateKind | null;
  lines: { text: string; confidence?: number }[];
  fields: PlateField[];
  contradictions: { fields: string[]; why: string }[];
}

/** What is under this sureness of the words themselves is asked about, percent. */
const SURE_PCT = 80;
/** The same for a figure that no other of the plate bears out. */
const SURE_ALONE_PCT = 87;

/** @param kind where it is known */
export function readPlate(lines: readonly { text: string; confidence?: number }[], kind?: PlateKind): Plate {
  const clean = lines
    .map(({ text, ...rest }) => ({
      ...rest,
      text: text
        .normalize('NFKC')
        .replace(/[\u2212\u2010-\u2015]/g, '-')
        .replace(/\s+/g, ' ')
        .trim(),
    }))
    .filter(({ text }) => text !== '');
  // What is looked for labels: the printed text is told as it was read.
  const said = clean.map(({ text, confidence }) => saidBy(text, confidence !== undefined));
  const found = kind ?? kindOf(said);
  if (found === null) return { kind: null, lines: clean, fields: [], contradictions: [] };
  const fields = new Map<string, PlateField>();
  const weak = new Set<string>();
  const take = (one: PlateField, confidence: number | undefined) => {
    if (confidence !== undefined && confidence < SURE_ALONE_PCT && typeof one.value === 'number') weak.add(one.field);
    const sure = one.sure && (confidence === undefined || (confidence >= SURE_PCT && isUsual(one)));
    const before = fields.get(one.field);
    // What is said twice alike is said; what is said twice otherwise is asked about.
    if (!before) fields.set(one.field, { ...one, sure });
    else if (before.value !== one.value && !(before.sure && !sure))
      fields.set(one.field, { ...(sure && !before.sure ? { ...one, sure } : before), sure: sure && !before.sure });
  };
  for (const [i, { confidence }] of clean.entries())
    for (const { field, value, line, sure } of labelled(said, i, LABELS[found]))
      take({ field, value, text: clean[line]?.text ?? '', sure }, confidence);
  for (const [i, { text, confidence }] of clean.entries())
    for (const { field, value, sure } of special(found, said[i] ?? ''))
      if (!fields.has(field)) take({ field, value, text, sure }, confidence);
  const list = [...fields.values()];
  const contradictions = contradictionsIn(found, list, said);
  const borneOut = borneOutIn(found, list, said);
  const doubtful = new Set([
    ...contradictions.flatMap((one) => one.fields),
    ...[...weak].filter((field) => !borneOut.has(field)),
  ]);
  return {
    kind: found,
    lines: clean,
    fields: list.map((one) => (doubtful.has(one.field) ? { ...one, sure: false } : one)),
    contradictions,
  };
}

/** A line by the letters that labels are made of; from a photo also with its words put right. */
const saidBy = (text: string, fromPhoto: boolean): string =>
  fromPhoto ? mendedWords(withoutAccents(text)) : withoutAccents(text);

/** What is sold: another figure read from a photo is more often misread than printed. V. */
const USUAL: Readonly<Record<string, readonly number[]>> = {
  maxSystem_V: [50, 100, 150, 300, 500, 600, 715, 750, 800, 1000, 1100, 1500],
  maxPv_V: [
    25, 28, 30, 40, 45, 50, 55, 60, 75, 80, 92, 95, 100, 120, 130, 140, 145, 150, 200, 250, 300, 400, 450, 500, 550,
    600,
  ],
};
const isUsual = ({ field, value }: PlateField): boolean =>
  typeof value !== 'number' || (USUAL[field]?.includes(value) ?? true);

/** The kind that most of its words speak for; null where none does. */
export function kindOf(lines: readonly string[]): PlateKind | null {
  const all = lines.join('\n');
  const scores = PLATE_KINDS.map((kind) => ({
    kind,
    score: KIND_WORDS[kind].reduce((sum, [pattern, weight]) => sum + (pattern.test(all) ? weight : 0), 0),
  }));
  const best = scores.reduce((a, b) => (b.score > a.score ? b : a));
  return best.score >= LEAST_SCORE ? best.kind : null;
}
const LEAST_SCORE = 2;

/** Figures behind their labels in one of the lines; where it ends with a label, at the head of the next. */
function labelled(lines: readonly string[], at: number, labels: readonly Label[]): (Found & { line: number })[] {
  const [line = '', next = ''] = [lines[at], lines[at + 1]];
  const figures = figuresIn(line);
  const hits = labels
    .flatMap((label) => {
      const match = label.names.exec(line);
      return match && label.names.source !== '.*'
        ? [{ label, at: match.index, end: match.index + match[0].length }]
        : [];
    })
    .sort((a, b) => a.at - b.at || b.end - a.end);
  // Of names within one another the longer counts: "open-circuit voltage" is no "voltage". A name counts for one thing
  // unless what it measures is told apart by the unit.
  const kept = hits.filter(
    (one) =>
      !hits.some(
        (other) =>
          other !== one &&
          other.at <= one.at &&
          one.end <= other.end &&
          other.end - other.at > one.end - one.at &&
          other.label.measure === one.label.measure,
      ),
  );
  const used = new Set<Figure>();
  return kept.flatMap(({ label, end }): (Found & { line: number })[] => {
    const later = kept.filter((other) => other.at >= end && other.label.measure === label.measure).map(({ at }) => at);
    const until = Math.min(...later, Infinity);
    // "Vmp -41.0 V": a dash between label and figure, where nothing below zero is sold.
    const valueOf = ({ value }: Figure) => (label.range[0] > 0 ? Math.abs(value) : value);
    const fits = (one: Figure) => one.to === undefined && inRange(valueOf(one), label);
    // A label that names another unit is of another figure.
    const named = /^[^0-9]{0,20}[([]\s*(V|A|W|Ah|kg)(?:dc|p|c)?\s*[)\]]/i.exec(line.slice(end))?.[1];
    if (named && named.toLowerCase() !== label.measure.toLowerCase()) return [];
    const bracket = new RegExp(`^[^0-9]{0,20}[([]\\s*${UNIT_NAMES[label.measure] ?? '?'}\\s*[)\\]]`, 'i').test(
      line.slice(end),
    );
    const candidates = figures.filter((one) => !used.has(one) && one.at >= end - 1 && one.at < until);
    const exact = candidates.find((one) => one.measure === label.measure && fits(one));
    if (exact) {
      used.add(exact);
      return [{ field: label.field, value: valueOf(exact), line: at, sure: !exact.mended }];
    }
    const bare = candidates.find((one) => one.measure === '' && fits(one));
    if (bare) {
      used.add(bare);
      return [{ field: label.field, value: valueOf(bare), line: at, sure: bracket && !bare.mended }];
    }
    // The figure before its label, as some print it: "150 V max PV".
    const before = figures
      .filter((one) => !used.has(one) && one.end <= end && one.measure === label.measure && fits(one))
      .at(-1);
    if (before && kept.length === 1 && figures.length === 1) {
      used.add(before);
      return [{ field: label.field, value: valueOf(before), line: at, sure: !before.mended }];
    }
    const [first] = figures.length === 0 ? figuresIn(next) : [];
    return first && first.at <= 2 && first.measure === label.measure && fits(first)
      ? [{ field: label.field, value: valueOf(first), line: at + 1, sure: false }]
      : [];
  });
}
const UNIT_NAMES: Readonly<Record<string, string>> = {
  V: 'V(?:dc)?',
  A: 'A(?:dc)?',
  W: 'W(?:p|c)?',
  Ah: 'Ah',
  kg: 'kg',
  pct_C: '%/\\s?\u00b0?[CK]',
};
const inRange = (value: number, { range: [low, high] }: Label) => value >= low && value <= high;

/** Figures that bear one another out: power with voltage times current, what lies a little beyond both, energy with capacity. */
function borneOutIn(kind: PlateKind, fields: readonly PlateField[], lines: readonly string[]): Set<string> {
  const of = numbersOf(fields);
  const out = new Set<string>();
  const [volts, ah, wh] = [of('block_V'), of('blockCapacity_Ah'), energyIn(lines)];
  if (kind === 'battery' && volts !== null && ah !== null && wh !== null && Math.abs((volts * ah) / wh - 1) < 0.01)
    for (const field of ['block_V', 'blockCapacity_Ah']) out.add(field);
  if (kind !== 'module') return out;
  const [p, voc, isc, vmp, imp] = [of('pmax_W'), of('voc_V'), of('isc_A'), of('vmp_V'), of('imp_A')];
  if (p === null || vmp === null || imp === null || Math.abs((vmp * imp) / p - 1) > 0.01) return out;
  for (const field of ['pmax_W', 'vmp_V', 'imp_A']) out.add(field);
  // A silicon cell's best point lies at 77 to 88 % of its open voltage and 90 to 97 % of its short-circuit current.
  if (voc !== null && vmp / voc > 0.77 && vmp / voc < 0.88) out.add('voc_V');
  if (isc !== null && imp / isc > 0.9 && imp / isc < 0.97) out.add('isc_A');
  return out;
}

/** Watt-hours that a plate tells, wherever. */
const energyIn = (lines: readonly string[]): number | null =>
  lines.flatMap(figuresIn).find(({ measure }) => measure === 'Wh')?.value ?? null;

const numbersOf = (fields: readonly PlateField[]) => (name: string) => {
  const value = fields.find(({ field }) => field === name)?.value;
  return typeof value === 'number' ? value : null;
};

/** What cannot be: figures of which one must be wrong. */
function contradictionsIn(
  kind: PlateKind,
  fields: readonly PlateField[],
  lines: readonly string[],
): Plate['contradictions'] {
  const of = numbersOf(fields);
  const out: Plate['contradictions'] = [];
  if (kind === 'module') {
    const [p, voc, isc, vmp, imp] = [of('pmax_W'), of('voc_V'), of('isc_A'), of('vmp_V'), of('imp_A')];
    if (p !== null && vmp !== null && imp !== null && Math.abs((vmp * imp) / p - 1) > 0.06)
      out.push({
        fields: ['pmax_W', 'vmp_V', 'imp_A'],
        why: `${vmp} V x ${imp} A is ${(vmp * imp).toFixed(0)} W, not ${p} W`,
      });
    if (voc !== null && vmp !== null && vmp >= voc)
      out.push({ fields: ['voc_V', 'vmp_V'], why: `Vmp ${vmp} V is not below Voc ${voc} V` });
    // Flexible ones weigh a hundredth of a kilogram a watt, glass on glass a seventh: ten times off is a figure misread.
    const mass = of('mass_kg');
    if (p !== null && mass !== null && (mass < 0.008 * p || mass > 0.4 * p))
      out.push({ fields: ['mass_kg'], why: `${mass} kg is not what a module of ${p} W weighs` });
    if (isc !== null && imp !== null && imp >= isc)
      out.push({ fields: ['isc_A', 'imp_A'], why: `Imp ${imp} A is not below Isc ${isc} A` });
  }
  if (kind === 'battery') {
    const [volts, ah] = [of('block_V'), of('blockCapacity_Ah')];
    const wh = energyIn(lines);
    if (volts !== null && ah !== null && wh !== null && Math.abs((volts * ah) / wh - 1) > 0.06)
      out.push({
        fields: ['block_V', 'blockCapacity_Ah'],
        why: `${volts} V x ${ah} Ah is ${(volts * ah).toFixed(0)} Wh, not ${wh} Wh`,
      });
  }
  return out;
}
