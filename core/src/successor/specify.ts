import { titleOf } from '../rules/check';
import { figure } from '../ledger/figures';
import { memberAt } from '../system/members';
import { type Model } from '../system/model';
import { type PartKind } from '../system/parts';
import type { ShelfKind } from '../shelf/item';
import { batterySpec, type Grouping } from './battery';
import { inputsOf, isInputsOf, type SpecInputs } from './in-its-place';
import { judgeLine, type LineVerdict, type SpecLine } from './line';
import { chargerSpec, joinSpec } from './chargers';
import { controllerSpec } from './controller';
import { inverterSpec } from './inverter';
import { moduleSpec } from './module';
import { converterSpec, sourceSpec } from './sources';
import { boardSpec, cableSpec, fuseSpec, shuntSpec } from './wires';
import { lowered } from '../parts/said';

/** What of a part is to be replaced: a cable has a conductor and a fuse, an array one module. */
export type Aspect = 'part' | 'cable' | 'fuse' | 'module';

/** What the successor of a part must be, line by line. */
export interface Specification {
  partId: string;
  kind: PartKind;
  aspect: Aspect;
  /** The kind of thing to ask the shelf for. */
  shelf: ShelfKind | null;
  lines: SpecLine[];
  grouping: Grouping | null;
  /** Where no part can serve as things stand: two rules that want opposite things, in sentences. */
  conflicts: string[];
  /** What else is touched whatever is bought: to be looked at before anything is ordered. */
  capture: string[];
}

/** What of a kind can be specified anew, the kind of thing to ask the shelf for, and how. */
type Specifiers<K extends PartKind> = readonly (readonly [
  Aspect,
  ShelfKind | null,
  (inputs: SpecInputs<K>, grouping?: Grouping) => SpecLine[],
])[];
const SPECIFIERS: { [K in PartKind]?: Specifiers<K> } = {
  arrays: [['module', 'moduleTypes', (inputs) => moduleSpec(inputs)]],
  controllers: [['part', 'controllers', controllerSpec]],
  bank: [['part', 'bank', batterySpec]],
  inverters: [['part', 'inverters', inverterSpec]],
  chargers: [['part', 'chargers', chargerSpec]],
  otherBanks: [['part', 'chargers', joinSpec]],
  converters: [['part', 'converters', converterSpec]],
  sources: [['part', 'sources', sourceSpec]],
  monitor: [['part', 'monitor', shuntSpec]],
  distribution: [['part', 'distribution', boardSpec]],
  runs: [
    ['cable', 'cable', cableSpec],
    ['fuse', 'fuse', fuseSpec],
  ],
};
/** The specifiers of whatever kind a part is: the table pairs them, the compiler cannot through an index. */
const specifiersOf = (kind: PartKind) => (SPECIFIERS[kind] ?? []) as Specifiers<PartKind>;

/** What of a part of this kind can be specified anew; empty where the book knows nothing of its successor. */
export const aspectsOf = (kind: PartKind): Aspect[] => specifiersOf(kind).map(([aspect]) => aspect);

/** The least specification that the whole system needs of a part's successor; null where there is no such part. */
export function specify(model: Model, partId: string, aspect?: Aspect, grouping?: Grouping): Specification | null {
  const inputs = inputsOf(model, partId);
  const found = inputs && specifiersOf(inputs.kind).find(([each]) => !aspect || each === aspect);
  if (!inputs || !found) return null;
  const [which, shelf, specifier] = found;
  const bank = isInputsOf(inputs, 'bank') ? inputs.part : null;
  const lines = specifier(inputs, grouping);
  return {
    partId,
    kind: inputs.kind,
    aspect: which,
    shelf,
    lines,
    conflicts: conflictsOf(lines),
    grouping: bank ? (grouping ?? { series: bank.series, parallel: bank.parallel }) : null,
    capture: CAPTURE[which === 'part' ? inputs.kind : which] ?? CAPTURE.part ?? [],
  };
}

/** The same figure asked to be at least more than it may be at most; or a line that nothing sold can meet. */
function conflictsOf(lines: readonly SpecLine[]): string[] {
  const ruleTitle = ({ rule }: SpecLine) => (rule ? lowered(titleOf({ rule })) : 'practice');
  const bounds = (test: 'least' | 'most') => lines.filter((line) => line.test === test && line.exact !== null);
  const crossed = bounds('least').flatMap((least) =>
    bounds('most')
      .filter((most) => most.field === least.field && (most.exact ?? 0) < (least.exact ?? 0) - 1e-9)
      .map((most) => {
        const amount = (value: number | null) => `${figure(value ?? Number.NaN)}${least.unit ? ` ${least.unit}` : ''}`;
        return `At least ${amount(least.exact)} (${ruleTitle(least)}) and at most ${amount(most.exact)} (${ruleTitle(most)}): nothing fits until one of the two changes.`;
      }),
  );
  const impossible = lines.filter(
    ({ test, value, words, missing, must }) =>
      must &&
      missing.length === 0 &&
      ((test === 'one-of' && words.length === 0) || ((test === 'most' || test === 'size') && value === null)),
  );
  return [
    ...crossed,
    ...impossible.map(
      (line) =>
        `${line.label}: nothing on the market fits (${ruleTitle(line)}); ${line.why.at(-1) ?? 'see its working'}.`,
    ),
  ];
}

/** Before it is taken out, a photo of each (Practice, B). */
const CAPTURE: Record<string, string[]> = {
  part: [
    'plate',
    'order of the terminals',
    'wire sizes and lug holes',
    'settings as found',
    'what destroyed it, and how to prevent it',
  ],
  controllers: [
    'plate',
    'order of the terminals',
    'wire sizes',
    'settings and logged peaks',
    'firmware',
    'what destroyed it: volts, water, heat, reversed',
  ],
  inverters: [
    'plate',
    'order of the terminals',
    'cable sizes and lug holes',
    'settings',
    'where neutral and earth join',
    'what destroyed it: heat, water, reversed',
  ],
  bank: [
    'labels and dates',
    'order of the terminals',
    'lug holes and link sizes',
    'resting voltage of each block',
    'what destroyed it: volts, cold, water, depth',
  ],
  cable: ['both ends', 'lug holes', 'its route, measured along the cable', 'what it is bundled with', 'why it got hot'],
  fuse: ['the holder', 'the rating and type as printed', 'what made it blow'],
  module: [
    'the plate on the back',
    'both plugs',
    'clamps and holes',
    'voltage and current of the other strings',
    'what broke it',
  ],
};

/** A line of a specification, and how a part stands against it. */
export interface Judged {
  line: SpecLine;
  verdict: LineVerdict;
}

/** A part's figures against every line. Without all of them a successor is never passed. */
export function judgeSpec(
  spec: Specification,
  body: unknown,
  answers: Readonly<Record<string, boolean>> = {},
): Judged[] {
  return spec.lines.map((line) => ({
    line,
    verdict: judgeLine(
      line,
      line.field === null ? answers[line.label] : memberAt(body, inBody(spec.aspect, line.field)),
    ),
  }));
}

/** A fuse of the shelf keeps its figures at the top, a run's protection one below. */
export const inBody = (aspect: Aspect, field: string) =>
  aspect === 'fuse' ? field.replace(/^protection\./, '') : field;

/** Over all lines that must hold: a fail rules it out; a blank leaves it open. */
export function verdictOf(judged: readonly Judged[]): LineVerdict {
  const must = judged.filter(({ line }) => line.must);
  if (must.some(({ verdict }) => verdict === 'fail')) return 'fail';
  return must.some(({ verdict, line }) => verdict === 'not-stated' && line.test !== 'eyes') ? 'not-stated' : 'pass';
}

/** Where a part stands at the counter: every line that must hold, the ones for the eyes too. */
export function atTheCounter(judged: readonly Judged[]): {
  verdict: LineVerdict;
  failed: number;
  open: number;
  outOf: number;
} {
  const must = judged.filter(({ line }) => line.must);
  const count = (verdict: LineVerdict) => must.filter((one) => one.verdict === verdict).length;
  const [failed, open] = [count('fail'), count('not-stated')];
  return { verdict: failed > 0 ? 'fail' : open > 0 ? 'not-stated' : 'pass', failed, open, outOf: must.length };
}
