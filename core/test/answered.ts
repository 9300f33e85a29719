import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  aheadOf,
  check,
  dueOf,
  expectedTests,
  farOut,
  FaultError,
  faultsOf,
  flips,
  handOver,
  headroom,
  interim,
  inverseOf,
  partsListOf,
  layoutLine,
  layouts,
  lineSvg,
  makePaper,
  modelOf,
  neededFor,
  practice,
  raiseVoltage,
  readPlate,
  readSystemFile,
  roofSentence,
  roofsOf,
  sentenceOf,
  timelineOf,
  trendSentence,
  trendsOf,
  tripKit,
  wholeConversion,
  workOf,
  yearAdvice,
  type Finding,
  type Model,
  type SystemFile,
} from '../src/index';
import { strangePlate } from './strange-plates';
import { TROUBLED } from './troubled-sites';
import { CONDITIONS } from '../src/readings/conditions';
import { convert } from '../src/plan/convert';
import { poolOf } from '../src/layouts/pool';
import { remediesOf } from '../src/rules/cures/remedies';
import { aspectsOf, specify } from '../src/successor/specify';
import { followed } from '../src/successor/follow';
import { dayFrom } from '../src/service/days';
import { eachPart } from '../src/system/parts';
import { simulateYears } from '../src/year/year';

/**
 * What the core answers to everything it can be asked, of a few whole systems: kept in `answers/` and read by a person
 * where it changes (`npm run answers` keeps them). It holds nothing to be right - the other
 * tests compare with independent figures - but no figure, word or order changes unseen.
 */

const DOCS = join(__dirname, '../../docs/format/reference');
const DEMO = join(__dirname, '../../demo/sites');
const file = (folder: string, name: string): SystemFile =>
  readSystemFile(readFileSync(join(folder, `${name}.lantern.json`), 'utf8')).file;

const ON = dayFrom('2026-06-01') ?? 0;

/** Sites of which everything is kept; of the others what is short. */
const WHOLE: ReadonlySet<string> = new Set(['corrach-bothy', 'gannet-ledge', 'motorhome']);

/** Every question, by the file in `answers/` that holds its answer. */
export const QUESTIONS: readonly (readonly [name: string, ask: () => unknown])[] = [
  ...(
    [
      [DEMO, 'corrach-bothy', 'p-relay'],
      [DEMO, 'gannet-ledge', 'p-lfp'],
      [DEMO, 'seal-sound', 'p-set'],
      [DEMO, 'harbour-workshop', 'p-48'],
      [DEMO, 'whelk-bank', null],
      [DOCS, 'motorhome', null],
      [DOCS, 'upgrade-24v', null],
    ] as const
  ).flatMap(([folder, name, proposal]) => ofSite(name, file(folder, name), proposal)),
  ...['p07-aerial-moves', 's04-chimney', 's13-regroup'].map(
    (name) => [`${name}.roof`, () => roofAnswer(file(join(DOCS, 'roof'), name))] as const,
  ),
  ...['t13-currents', 'd01-window', 'a4-south-van'].flatMap((name) => ofService(name, file(join(DOCS, 'look'), name))),
  ['troubled', () => TROUBLED.map(({ name, model }) => [name, brief(model)])],
  [
    'strange-plates',
    () => Array.from({ length: 80 }, (_, seed) => readPlate(strangePlate(seed).lines.map((text) => ({ text })))),
  ],
  ['plates', () => PLATES.map((lines) => readPlate(lines.split('\n').map((text) => ({ text }))))],
];

function ofSite(name: string, found: SystemFile, proposal: string | null): [string, () => unknown][] {
  const model = modelOf(found);
  const questions: [string, () => unknown][] = [
    ['check', () => checkAnswer(model)],
    ['headroom', () => ({ headroom: headroom(model), flips: flips(model), interim: interimAnswer(model) })],
    ...(WHOLE.has(name)
      ? ([
          ['layouts', () => layouts(model, poolOf(model).length, [])?.slice(0, 5) ?? null],
          ['replace', () => replaceAnswer(model)],
          ['line', () => lineAnswer(model)],
        ] as [string, () => unknown][])
      : []),
    ['plan', () => planAnswer(model)],
    ['year', () => yearAnswer(model)],
    ['expect', () => expectedTests(model, { ...CONDITIONS }).tests],
  ];
  if (proposal !== null) {
    const after = modelOf(found, proposal);
    questions.push(
      ['work', () => workOf(model, after)],
      ['kit', () => ({ partsList: partsListOf(model.system, after.system, []), back: inverse(found, proposal) })],
      ['proposed', () => checkAnswer(after)],
    );
  }
  return [...questions, ...ofService('', found)].map(([what, ask]) => [`${name}.${what.replace(/^\./, '')}`, ask]);
}

function ofService(name: string, found: SystemFile): [string, () => unknown][] {
  const model = modelOf(found);
  return [
    [
      `${name}.service`,
      () => ({
        due: dueOf(found, ON, 365),
        trends: trendsOf(found, ON).map((trend) => [trend, trendSentence(model, trend)]),
        far: farOut(found, ON),
        trip: tripKit(dueOf(found, ON, 60).map(({ key }) => key)),
        timeline: timelineOf(found).slice(0, 40),
        handover: handOver(found, ON),
      }),
    ],
    [`${name}.ahead`, () => aheadOf(model, { on: ON, soc: 0.45, days: 4, seed: 1, draws: 20 })],
    [`${name}.faults`, () => faultAnswer(found, model)],
  ];
}

const named = ({ rule, subject, quantity }: Finding) => [rule, subject, quantity].filter(Boolean).join(' ');

function checkAnswer(model: Model) {
  const findings = check(model);
  return findings.map((finding) => {
    const { verdict, consequence, gravity, demand, limit, unit, sense, use, tightAbove, working, assumed, missing } =
      finding;
    const remedies = remediesOf(model, finding, findings);
    return [
      named(finding),
      verdict,
      consequence,
      gravity ?? null,
      [demand, limit, unit, sense, use, tightAbove],
      sentenceOf(model, finding),
      working,
      assumed,
      missing,
      remedies,
      verdict === 'over' && remedies.length === 0 ? neededFor(model, finding) : '',
    ];
  });
}

/** What is not OK, in a few figures, with what would help. */
function brief(model: Model) {
  const findings = check(model);
  return findings
    .filter(({ verdict }) => verdict !== 'holds')
    .map((finding) => [
      named(finding),
      finding.verdict,
      finding.demand,
      finding.limit,
      remediesOf(model, finding, findings).map(({ title, changes }) => [title, changes]),
    ]);
}

function interimAnswer(model: Model) {
  const { limits, off, findOut, left, cured } = interim(model);
  return {
    limits,
    off,
    findOut: findOut.map(({ finding, text, fields }) => [named(finding), text, fields]),
    left: left.map(({ finding, text }) => [named(finding), text]),
    cured: cured.map(named),
  };
}

function planAnswer(model: Model) {
  const conversion = convert(model);
  const [best] = conversion.options;
  const whole = best && conversion.missing.length === 0 ? wholeConversion(model, best, []) : null;
  const raised = raiseVoltage(model, 48);
  return {
    conversion,
    whole: whole && { parts: whole.parts, steps: whole.steps, changes: whole.changes },
    voltage: raised,
  };
}

function replaceAnswer(model: Model) {
  const kinds = new Set(['controllers', 'inverters', 'bank', 'runs', 'chargers']);
  return eachPart(model.system).flatMap(({ kind, part }) =>
    kinds.has(kind)
      ? aspectsOf(kind).map((aspect) => {
          const spec = specify(model, part.id, aspect);
          const after = spec ? followed(model, spec) : null;
          return [part.id, aspect, spec?.lines, spec?.conflicts, spec?.capture, after];
        })
      : [],
  );
}

function yearAnswer(model: Model) {
  const asked = { accept: 1 / 20, years: 6, seed: 3 };
  return {
    mean: simulateYears(model, { kind: 'mean' }).years,
    seeded: simulateYears(model, { kind: 'seeded', seed: 5 }, 3).years.map(({ totals }) => totals),
    advice: yearAdvice(model, asked),
  };
}

function lineAnswer(model: Model) {
  const layout = layoutLine(model.system, check(model), '', { width: 620, dense: true, foldLoads: true });
  const narrow = layoutLine(model.system, check(model), '', { width: 360 });
  const papers = (['survey', 'check'] as const).map(
    (kind) =>
      makePaper(
        {
          format: 'true-lantern',
          version: 1,
          site: model.site,
          schools: model.schools,
          system: model.system,
          evidence: model.evidence,
        },
        {
          kind,
          about: 'found',
          units: { length: 'ft', small: 'in', mass: 'lb', temperature: 'degF', size: 'AWG' },
          day: '2026-06-01',
          shelf: [],
          terms: { firm: '' },
        },
      ).blocks,
  );
  const small = narrow.rows.map((row) => [row.type, row.y, row.height, row.type === 'station' ? row.said : null]);
  return { svg: lineSvg(layout, 620).split('>'), small, papers: papers.flat().filter(({ is }) => is !== 'line') };
}

function inverse(found: SystemFile, proposal: string) {
  const changes = found.proposals?.find(({ id }) => id === proposal)?.changes ?? [];
  return inverseOf(found.system ?? {}, changes);
}

function roofAnswer(found: SystemFile) {
  const model = modelOf(found);
  const roofs = model.system.roofs ?? [];
  return roofsOf(model, { clock: () => () => true }).map((answer, i) => [
    answer,
    roofs[i] ? roofSentence(roofs[i], answer) : '',
  ]);
}

function faultAnswer(found: SystemFile, model: Model) {
  const { ranking, next, ...rest } = faultsOf(model, found.readings ?? []);
  const begun = practice(model, { seed: 7, level: 2, read: [], answer: null });
  return { ranking: ranking.slice(0, 12), next: next.slice(0, 12), rest, begun };
}

const PLATES = ['battery-01', 'controller-01', 'module-00'].map((name) =>
  readFileSync(join(DOCS, 'plates', `${name}.txt`), 'utf8'),
);

/** The answer, or what is said where there is none. */
export function answerOf(ask: () => unknown): unknown {
  try {
    return ask();
  } catch (error) {
    if (error instanceof FaultError) return { refused: error.faults };
    throw error;
  }
}

/** An answer as lines that a person can read the difference of: figures to six digits, each element of a list by itself. */
export function linesOf(answer: unknown): string[] {
  if (Array.isArray(answer)) return answer.map(written);
  if (answer === null || typeof answer !== 'object') return [written(answer)];
  return Object.entries(answer).flatMap(([key, value]: [string, unknown]) =>
    value === undefined ? [] : [`${key}:`, ...linesOf(value).map((line) => `  ${line}`)],
  );
}

const written = (value: unknown): string =>
  JSON.stringify(value, (key, one: unknown) => {
    // A whole system within an answer is the question again.
    if (key === 'model' || key === 'changed') return undefined;
    if (ArrayBuffer.isView(one)) return Array.from(one as unknown as Iterable<number>);
    if (one instanceof Map) return [...one];
    return typeof one === 'number' ? rounded(one) : one;
  }) ?? 'undefined';
const rounded = (value: number) => (Math.abs(value) < 1e-9 ? 0 : Number(value.toPrecision(6)));
