import { counted, figure } from '../ledger/figures';
import type { Comparison } from '../proposal/compare';
import { totalsWithTax, type OfferTerms } from '../proposal/offer';
import { partsListOf, type PartsList } from '../proposal/parts-list';
import { proposedOn } from '../proposal/proposed';
import { settingChanges } from '../proposal/settings';
import { settingName, settingText } from '../proposal/settings-words';
import { systemFigures } from '../plan/needs-of-site';
import { check, sentenceOf } from '../rules/check';
import { cautionsOf } from '../rules/cautions';
import type { Finding } from '../rules/finding';
import type { ShelfItem } from '../shelf/item';
import { same } from '../system/changes';
import { FaultError, faultAt } from '../system/faults';
import { modelOf, type Model } from '../system/model';
import { eachPart } from '../system/parts';
import type { SystemFile } from '../system/schema';
import { inUnits, pretty, type Units } from '../written/units';
import { yearStory, type YearStory } from '../year/story';
import { part, type Block, type Column, type Paper } from './blocks';
import { COMPARE_ROWS, overIn, type Column as CompareColumn, type Worked as CompareWorked } from './compare-rows';
import { underOf } from './survey-report';

/** What the paper of an offer is made with, beside the site. */
export interface OptionsAsked {
  /** Proposals, in the order in which they stand beside each other. */
  ids: readonly string[];
  shelf: readonly ShelfItem[];
  terms: OfferTerms;
  units: Units;
  /** The day of the paper, YYYY-MM-DD: how long it is valid is counted from it. */
  day: string;
}

/** More than these are not read on one sheet. */
export const MOST_OPTIONS = 3;
/** As many years of weather as the screen of comparison looks at. */
const YEARS = 50;

/** A proposal as a column of the comparison. */
interface Option extends CompareColumn {
  comparison: Comparison;
  partsList: PartsList;
}

/**
 * One proposal, or up to three side by side, as an offer: what each fixes and leaves, what it gives in a year, what it
 * costs with tax, and where the customer signs (docs/papers.md).
 * @throws FaultError where none is named, more than three are, or one is not there
 */
export function offerPaper(file: SystemFile, { ids, shelf, terms, units, day }: OptionsAsked): Paper {
  if (ids.length === 0 || ids.length > MOST_OPTIONS)
    throw faultAt('about', `names ${ids.length} proposals, expected 1 to ${MOST_OPTIONS}`);
  const found = modelOf(file);
  const before = check(found);
  const options = ids.map((id) => optionOf(file, id, found, before, shelf));
  const several = options.length > 1;
  const [only] = options;
  return {
    title: several ? 'Options' : `Proposal: ${only?.title ?? ''}`,
    under: underOf(found),
    blocks: [
      ...(terms.validity_d ? [{ is: 'text' as const, text: `Valid until ${validUntil(day, terms.validity_d)}.` }] : []),
      ...part(several ? 'Side by side' : 'What it gives', sideBySide(found, options, terms)),
      ...options.flatMap((option, i) => optionBlocks(found, option, units, several ? (LETTERS[i] ?? '') : null, terms)),
      ...part('Terms', { is: 'text', text: terms.payment ?? '' }),
      ...(several
        ? [{ is: 'text' as const, text: 'Option chosen: ____________________', look: 'strong' as const }]
        : []),
      { is: 'sign', who: ['For the firm', 'For the customer'] },
    ],
  };
}

const LETTERS = ['A', 'B', 'C'];
const DAY_MS = 86_400_000;
const validUntil = (day: string, days: number) => new Date(Date.parse(day) + days * DAY_MS).toISOString().slice(0, 10);

function optionOf(
  file: SystemFile,
  id: string,
  found: Model,
  before: readonly Finding[],
  shelf: readonly ShelfItem[],
): Option {
  const proposal = file.proposals?.find((one) => one.id === id);
  if (!proposal) throw faultAt('about', `is "${id}", expected the id of a proposal of this site`);
  const { model, result, lost } = proposedOn(found, proposal, before);
  return {
    id,
    title: proposal.title,
    model,
    comparison: result,
    partsList: partsListOf(found.system, model.system, shelf),
    lost,
  };
}

/** What a customer compares by, of all that is compared on the screen. */
const SAID_TO_CUSTOMERS: ReadonlySet<string> = new Set([
  'Days without sun',
  'Worst month',
  'Chance of a power cut in a year',
  'Generator hours a year',
  'Fuel a year',
  'Life of a new bank',
  'Weight of the bank',
  'Parts kept',
]);

/** As it is and each option, a column each; the sum with tax last. */
function sideBySide(found: Model, options: readonly Option[], { tax_pct }: OfferTerms): Block {
  const asIs: CompareColumn = { id: '', title: 'As it is', model: found, comparison: null, partsList: null, lost: 0 };
  const columns = [asIs, ...options];
  const worked = columns.map(({ model }): CompareWorked => ({ figures: systemFigures(model), year: yearOf(model) }));
  const heads: Column[] = columns.map(({ title }, i) => ({
    title: i > 0 && options.length > 1 ? `${LETTERS[i - 1]}: ${title}` : title,
    wide: 3,
  }));
  const rows = [
    ['Limits exceeded', ...worked.map(({ figures: at }) => String(at ? overIn(at) : ''))],
    ...COMPARE_ROWS.filter(({ label }) => SAID_TO_CUSTOMERS.has(label)).map(({ label, value }) => [
      label,
      ...columns.map((column, i) => (worked[i] ? value(column, worked[i]) : '')),
    ]),
    // What nobody has and nobody is offered (no generator, no fuel) is not said four times.
  ].filter(([, ...cells]) => !cells.every((cell) => /^(0\u00a0[hL]|not known)$/.test(cell)));
  const sums: [label: string, of: (partsList: PartsList) => string][] = [
    ['Parts', ({ totals, unpriced }) => money(Object.entries(totals)) || (unpriced > 0 ? '' : 'nothing to buy')],
    ...taxRows(tax_pct).map(([label, of]): (typeof sums)[number] => [label, ({ totals }) => of(totals)]),
    ['Without a price', ({ unpriced }) => (unpriced > 0 ? counted(unpriced, 'line') : '')],
  ];
  return {
    is: 'table',
    columns: [{ title: '', wide: 3 }, ...heads],
    rows,
    sums: sums
      .map(([label, of]) => [label, ...columns.map(({ partsList }) => (partsList ? of(partsList) : ''))])
      .filter(([, ...cells]) => cells.some((cell) => cell !== '')),
  };
}

const taxed = (totals: PartsList['totals'], tax_pct: number, which: 'tax' | 'gross'): [string, number][] =>
  Object.entries(totalsWithTax(totals, tax_pct)).map(([currency, sum]) => [currency, sum[which]]);

/** What the tax comes to, and both together; none where the firm adds none. */
const taxRows = (tax_pct: OfferTerms['tax_pct']): [label: string, of: (totals: PartsList['totals']) => string][] =>
  tax_pct
    ? [
        [`Tax ${figure(tax_pct)}\u00a0%`, (totals) => money(taxed(totals, tax_pct, 'tax'))],
        ['Total with tax', (totals) => money(taxed(totals, tax_pct, 'gross'))],
      ]
    : [];

/** "1,240.00 GBP": to the cent, so that columns of them end on one line. */
const money = (sums: readonly (readonly [currency: string, sum: number])[]): string =>
  sums.map(([currency, sum]) => `${cents(sum)} ${currency}`.trim()).join(' and ');
const cents = (sum: number) => sum.toFixed(2).replace(/\B(?=(\d{3})+\.)/g, ',');

function yearOf(model: Model): YearStory | 'unknown' {
  try {
    return yearStory(model, { kind: 'seeded', seed: 1 }, YEARS);
  } catch (error) {
    if (error instanceof FaultError) return 'unknown';
    throw error;
  }
}

/** One option whole: what it fixes, leaves, buys and sets. */
function optionBlocks(
  found: Model,
  { title, model, comparison, partsList, lost }: Option,
  units: Units,
  letter: string | null,
  { tax_pct }: OfferTerms,
): Block[] {
  const say = (of: Model, findings: readonly Finding[]): Block => ({
    is: 'list',
    items: findings.map((finding) => pretty(sentenceOf(of, finding), units)),
  });
  return [
    ...(letter === null ? [] : [{ is: 'head' as const, large: true, text: `Option ${letter}: ${title}` }]),
    ...(lost > 0
      ? [
          {
            is: 'text' as const,
            text: `${counted(lost, 'change')} of this proposal no longer ${lost === 1 ? 'matches' : 'match'} the survey and ${lost === 1 ? 'is' : 'are'} left out.`,
          },
        ]
      : []),
    ...part('What it fixes', say(found, comparison.cured)),
    ...part('Still over', say(model, [...comparison.broken, ...comparison.worse, ...comparison.remaining])),
    ...part('Still unknown until measured', say(found, comparison.hidden)),
    ...part('Parts', priceTable(partsList, units, tax_pct)),
    ...part('To set or regroup', lineTable(partsList, 'set', units)),
    ...part('To remove', lineTable(partsList, 'out', units)),
    ...part('Settings', settingsTable(found, model, units)),
    ...part('Cautions', { is: 'list', items: cautionsOfWork(found, model) }),
  ];
}

const countText = ({ quantity, unit }: PartsList['lines'][number], units: Units) =>
  unit === 'm' ? inUnits(quantity, 'm', units) : `${quantity} \u00d7`;
const whatText = ({ label, detail }: PartsList['lines'][number], units: Units) =>
  pretty(`${label}${detail ? `: ${detail}` : ''}`, units);

function priceTable(partsList: PartsList, units: Units, tax_pct: number | null | undefined): Block {
  const { totals } = partsList;
  const sums = [
    ['', 'Together', money(Object.entries(totals))],
    ...taxRows(tax_pct).map(([label, of]) => ['', label, of(totals)]),
  ];
  return {
    is: 'table',
    columns: [
      { title: 'Count', wide: 1.2, figures: true },
      { title: 'What', wide: 6 },
      { title: 'Price', wide: 2, figures: true },
    ],
    rows: partsList.lines
      .filter(({ what }) => what === 'buy')
      .map((line) => [
        countText(line, units),
        whatText(line, units),
        line.price === null ? 'no price' : money([[line.currency ?? '', line.price]]),
      ]),
    ...(Object.keys(totals).length > 0 ? { sums } : {}),
  };
}

const lineTable = (partsList: PartsList, wanted: 'set' | 'out', units: Units): Block => ({
  is: 'table',
  columns: [
    { title: 'Count', wide: 1.2, figures: true },
    { title: 'What', wide: 8 },
  ],
  rows: partsList.lines
    .filter(({ what }) => what === wanted)
    .map((line) => [countText(line, units), whatText(line, units)]),
});

function settingsTable(found: Model, model: Model, units: Units): Block {
  const value = (setting: string, one: unknown) => settingText(setting, one, units) ?? 'not read';
  return {
    is: 'table',
    columns: [
      { title: 'Device', wide: 4 },
      { title: 'Setting', wide: 3 },
      { title: 'Becomes', wide: 2, figures: true },
      { title: 'Was', wide: 2, figures: true },
    ],
    rows: settingChanges(found.system, model.system).map(({ device, setting, before, after }) => [
      device,
      settingName(setting),
      value(setting, after),
      value(setting, before),
    ]),
  };
}

/** Cautions of what the work touches: they are never left off. */
export function cautionsOfWork(before: Pick<Model, 'system'>, after: Pick<Model, 'system'>): string[] {
  const had = new Map(eachPart(before.system).map(({ part: one }) => [one.id, one]));
  const changed = eachPart(after.system).filter(({ part: one }) => !same(had.get(one.id), one));
  return [...new Set(changed.flatMap(({ kind, part: one }) => cautionsOf(kind, kind === 'bank' ? one : {})))];
}
