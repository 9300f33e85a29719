import { partTitle, runPlace } from '../conductors/names';
import { counted } from '../ledger/figures';
import { FIELDS } from '../parts/lists';
import type { Field } from '../parts/field-list';
import { lowered, raised, said } from '../parts/said';
import { unit_W } from '../power/loads';
import { check, sentenceOf } from '../rules/check';
import { worstFirst } from '../rules/finding';
import { OBSERVED } from '../rules/site/site';
import { stopsOf } from '../rules/stop-card';
import { memberAt } from '../system/members';
import { modelOf, type Model } from '../system/model';
import { eachPart, KINDS, type PartKind, type Placed } from '../system/parts';
import type { Grade, SystemFile } from '../system/schema';
import { inUnits, pretty, sizeText, withUnit, type Units } from '../written/units';
import { type Block, part, type Paper, type Table } from './blocks';
import { fieldText, inputName, rangeText } from './names';

/** What was found on site, part by part, each figure with where it comes from (docs/papers.md). */
export function surveyReport(file: SystemFile, units: Units): Paper {
  const model = modelOf(file);
  const findings = check(model);
  const [worst] = [...findings].sort(worstFirst);
  const open = stopsOf(model, findings).filter(({ settled }) => !settled);
  const missing = [...new Set(findings.flatMap((finding) => finding.missing))];
  const placed = eachPart(model.system);
  return {
    title: 'Survey report',
    under: underOf(model),
    blocks: [
      ...(worst && (worst.verdict === 'over' || worst.verdict === 'tight')
        ? [{ is: 'text' as const, look: 'lead' as const, text: pretty(sentenceOf(model, worst), units) }]
        : []),
      { is: 'text', text: `${counted(placed.length, 'part')} recorded; ${gradesText(file)}.` },
      ...part('Stop: make safe before any other work', { is: 'list', items: open.map(({ title }) => title) }),
      { is: 'line', title: 'The system as found', model },
      ...siteBlocks(model, units),
      ...ORDER.flatMap((kind) =>
        sectionOf(
          model,
          kind,
          placed.filter((one) => one.kind === kind),
          units,
        ),
      ),
      ...part('Not known yet', {
        is: 'list',
        items: missing.map((path) => inputName(model, path)).sort((a, b) => a.localeCompare(b)),
      }),
      ...part('Notes', {
        is: 'list',
        items: (file.log ?? []).flatMap(({ kind, text, struckOut }) =>
          kind === 'note' && text && !struckOut ? [text] : [],
        ),
      }),
    ],
  };
}

/** From the sun down, what many are last; cables and loads have a table of their own. */
const ORDER: readonly PartKind[] = [
  'moduleTypes',
  'arrays',
  'controllers',
  'bank',
  'otherBanks',
  'inverters',
  'chargers',
  'sources',
  'converters',
  'distribution',
  'monitor',
  'runs',
  'switches',
  'loads',
  'roofs',
];

/** "Skerrow refuge, hut": whose system it is, and what it is where the name does not say it. */
export const underOf = ({ site: { name, kind } }: Pick<Model, 'site'>): string =>
  kind && !name.toLowerCase().includes(kind.toLowerCase()) ? `${name}, ${kind}` : name;

const GRADE_WORDS: readonly (readonly [grade: Grade, words: string])[] = [
  ['measured', 'measured'],
  ['nameplate', 'read from a plate'],
  ['datasheet', 'read from a data sheet'],
  ['stated', 'stated by somebody'],
  ['assumed', 'assumed'],
];

/** "12 measured, 40 read from a plate, 3 assumed": what the figures are worth. */
function gradesText({ evidence = {} }: SystemFile): string {
  const grades = Object.values(evidence ?? {}).map(({ grade }) => grade);
  const said = GRADE_WORDS.flatMap(([grade, words]) => {
    const count = grades.filter((one) => one === grade).length;
    return count > 0 ? [`${count} ${words}`] : [];
  });
  return said.length > 0 ? `of their figures ${said.join(', ')}` : 'where their figures come from was not noted';
}

/** A figure with where it comes from, as far as that was noted: "45.1 V (nameplate)". */
function sourcedText(
  model: Model,
  whose: string,
  kind: string,
  body: object,
  field: Field,
  units: Units,
): [label: string, text: string] | null {
  const text = fieldText(model, kind, { ...body }, field, units);
  if (text === null) return null;
  const evidence = model.evidence[`${whose}.${field.path}`];
  const { grade, note } = evidence ?? {};
  const source = [grade ? said(grade) : null, rangeText(evidence, field, units), note].filter(Boolean).join(', ');
  return [pretty(field.label), source ? `${text} (${source})` : text];
}

/** Two fields in a row: a plate of twenty figures is read at a glance. */
function inPairs(fields: readonly (readonly [label: string, text: string])[]): Table {
  const half = Math.ceil(fields.length / 2);
  return {
    is: 'table',
    columns: [
      { title: '', wide: 3 },
      { title: '', wide: 3 },
      { title: '', wide: 3 },
      { title: '', wide: 3 },
    ],
    pairs: true,
    rows: fields.slice(0, half).map((field, i) => [...field, ...(fields[half + i] ?? ['', ''])]),
  };
}

/** What the site is, and what was looked at there: what is as it should be in one sentence, the rest by itself. */
function siteBlocks(model: Model, units: Units): Block[] {
  const { site } = model;
  const fields = FIELDS.site.flatMap((field) => {
    const shown = field.path === 'name' ? null : sourcedText(model, 'site', 'site', site, field, units);
    return shown ? [shown] : [];
  });
  const seen = Object.entries(OBSERVED).map(([key, { label }]) => ({
    label,
    answer: memberAt(site, `observations.${key}`),
  }));
  const of = (wanted: string) => seen.filter(({ answer }) => answer === wanted).map(({ label }) => lowered(label));
  const line = (title: string, labels: string[]): Block => ({
    is: 'text',
    text: labels.length > 0 ? `${title}: ${labels.join('; ')}.` : '',
  });
  return [
    ...part('The site', inPairs(fields)),
    ...part(
      'Looked at on site',
      line('Missing or wrong', of('no')),
      line('Could not be seen', of('cannot-see')),
      line('In order', of('yes')),
    ),
  ];
}

function sectionOf(model: Model, kind: PartKind, placed: Placed[], units: Units): Block[] {
  if (placed.length === 0) return [];
  const { word } = KINDS[kind];
  if (kind === 'runs') return part('Cables', cableTable(model, units));
  if (kind === 'loads') return part('Loads', loadTable(model));
  return part(
    placed.length > 1 ? severalOf(word) : word,
    ...placed.flatMap(({ part: one }): Block[] => [
      { is: 'text', look: 'strong', text: partTitle(model.system, one.id) ?? word },
      fieldTable(model, kind, one, units),
    ]),
  );
}

/** Words that do not take a mere "s" where there are several. */
const SEVERAL: Readonly<Record<string, string>> = {
  'Other battery': 'Other batteries',
  Distribution: 'Distribution boards',
  Switch: 'Switches',
  'Generator, inlet or alternator': 'Generators, inlets and alternators',
};
const severalOf = (word: string): string => SEVERAL[word] ?? `${word}s`;

const fieldTable = (model: Model, kind: PartKind, one: Placed['part'], units: Units): Table =>
  inPairs(
    FIELDS[kind].flatMap((field) => {
      const shown = field.path === 'label' ? null : sourcedText(model, one.id, kind, one, field, units);
      return shown ? [shown] : [];
    }),
  );

function cableTable(model: Model, units: Units): Table {
  const { system, evidence } = model;
  return {
    is: 'table',
    columns: [
      { title: 'Cable', wide: 4 },
      { title: 'Size', wide: 2 },
      { title: 'One way', wide: 1.5, figures: true },
      { title: 'Fuse or breaker', wide: 3 },
      { title: 'Source', wide: 2 },
    ],
    rows: (system.runs ?? []).map((run) => {
      const { id, size, perPole, length_m, protection } = run;
      const guessed = ['size', 'length_m', 'protection.rating_A'].some(
        (path) => evidence[`${id}.${path}`]?.grade === 'assumed',
      );
      const rating = protection?.rating_A;
      return [
        runPlace(system, run),
        `${(perPole ?? 1) > 1 ? `${perPole} \u00d7 ` : ''}${sizeText(size, units)}`,
        inUnits(length_m, 'm', units),
        !protection?.type
          ? 'not read'
          : protection.type === 'none'
            ? 'none'
            : `${raised(said(protection.type))}${rating ? `, ${withUnit(rating, 'A')}` : ''}`,
        guessed ? 'assumed in part' : '',
      ];
    }),
  };
}

function loadTable({ system }: Model): Table {
  return {
    is: 'table',
    columns: [
      { title: 'Load', wide: 4 },
      { title: 'Count', wide: 1, figures: true },
      { title: 'Power', wide: 1.5, figures: true },
      { title: 'Hours a day', wide: 1.5, figures: true },
      { title: 'Energy a day', wide: 1.8, figures: true },
    ],
    rows: (system.loads ?? []).map((load) => {
      const watts = unit_W(load);
      const { quantity, hours_d } = load;
      const count = quantity ?? 1;
      return [
        partTitle(system, load.id) ?? KINDS.loads.word,
        String(count),
        withUnit(watts, 'W'),
        withUnit(hours_d, 'h'),
        withUnit(watts * count * hours_d, 'Wh'),
      ];
    }),
  };
}
