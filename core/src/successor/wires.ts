import type { RuleId } from '../rules/ids';
import { RULES } from '../rules/index';
import { hasCharger } from '../bank/charging';
import { design_A } from '../power/design';
import { FUSES_A, ratingsSold, SOLD_V } from '../conductors/fuses';
import { networkOf, touches } from '../conductors/network';
import { area_mm2, AWG_SIZES, METRIC_SIZES, sizeWords, cutTenths_m } from '../conductors/sizes';
import { figure } from '../ledger/figures';
import type { Finding } from '../rules/finding';
import { sentenceOf } from '../rules/check';
import { createLedger } from '../ledger/ledger';
import { cableAndFuse, typesFor } from '../rules/cures/wires';
import { deviceOf, onSource, type Type } from '../rules/wires/run-limits';
import { withChanges } from '../system/model';

import { SHUNT_A } from '../rules/cures/sold';
import { findingsOf, leastOf, pathsOf, up, type SpecInputs } from './in-its-place';
import { eyes, line, type SpecLine } from './line';

/** Every rule that a larger cable cures, with what its size then does. */
const SIZE_RULES = RULES.flatMap(({ id, sizeDoes }) => (sizeDoes ? [[id, sizeDoes] as const] : []));

/** What a cable must be: the smallest size for each rule; the largest of them wins, and is named. */
export function cableSpec(inputs: SpecInputs<'runs'>): SpecLine[] {
  const { model } = inputs;
  const run = inputs.part;
  const sizes = run.size.endsWith('AWG') ? AWG_SIZES : METRIC_SIZES;
  const inverter = run.kind === 'battery-inverter' ? [run.from, run.to] : [];
  const asked = SIZE_RULES.flatMap(([rule, label]): SpecLine[] => {
    const subjects = rule === 'system.sag' ? inverter.filter((id): id is string => Boolean(id)) : [run.id];
    if (subjects.length === 0) return [];
    const at = (size: string) => findingsOf(inputs.put({ size, material: 'copper' }), [rule], subjects);
    const last = at(sizes.at(-1) ?? run.size);
    if (last.length === 0) return [];
    const missing = pathsOf(last, 'missing');
    const base = { field: 'size', label, test: 'size' as const, rule, assumed: pathsOf(last, 'assumed') };
    if (missing.length > 0) return [line({ ...base, value: null, why: [], missing })];
    const size = sizes.find((one) => at(one).every(({ verdict }) => verdict === 'holds')) ?? null;
    const working = size ? at(size).flatMap((finding) => finding.working) : last.flatMap((finding) => finding.working);
    return size
      ? [line({ ...base, value: size, exact: area_mm2(size), why: working })]
      : [
          line({
            ...base,
            value: null,
            why: [
              ...working,
              'no size sold is large enough: shorten it, use parallel conductors, or raise the voltage',
            ],
          }),
        ];
  });
  const most = Math.max(0, ...asked.map(({ exact }) => exact ?? 0));
  const wins = asked.find(({ exact }) => exact === most);
  const winner = wins ? `${sizeWords(String(wins.value))}: ${wins.label} decides` : null;
  const io = createLedger(model);
  const insulation = io.or(`${run.id}.insulation_C`, run.insulation_C, io.school('conductor') === 'vehicle' ? 105 : 90);
  return [
    ...asked.sort((a, b) => (b.exact ?? Infinity) - (a.exact ?? Infinity)),
    line({
      field: 'insulation_C',
      label: 'Insulation for',
      test: 'least',
      value: insulation,
      exact: insulation,
      unit: 'degC',
      rule: 'run.ampacity',
      why: ['the ampacity above counts on it'],
    }),
    line({
      field: 'material',
      label: 'Conductor',
      test: 'one-of',
      value: 'copper',
      words: ['copper'],
      why: ['fine-stranded, tinned in damp places; copper-clad aluminium looks the same but carries less'],
    }),
    eyes(
      `${figure(cutTenths_m(run))} m in all: both ways plus 10 %`,
      `${figure(run.length_m)} m one way${(run.perPole ?? 1) > 1 ? `, ${run.perPole} a pole, equal within 1 %` : ''}`,
    ),
    eyes('Lugs to fit the stud, crimped with the right die', winner ?? "torque to the maker's figure; label both ends"),
  ];
}

/** What a run's fuse or breaker must be: between the current and the conductor, of a type that breaks the fault here. */
export function fuseSpec(inputs: SpecInputs<'runs'>): SpecLine[] {
  const { model, part: run } = inputs;
  const bothWays =
    touches(run, model.system.bank?.id) ||
    (model.system.inverters ?? []).some((inverter) => hasCharger(inverter) && touches(run, inverter.id));
  return [
    typeLine(inputs),
    ...boundLines(inputs),
    ...(bothWays || run.kind === 'pv'
      ? [
          line({
            field: 'protection.polarised',
            label: 'Not polarised',
            test: 'false',
            value: null,
            rule: 'run.dc-rating',
            why: ['current flows both ways here'],
          }),
        ]
      : []),
    ...(onSource(run, model) && run.kind !== 'pv'
      ? [
          {
            ...eyes(
              `Sits within ${figure(model.schools.sourceEnd_m || 0.18)} m of the source`,
              'the cable before it is unprotected',
            ),
            rule: 'run.source-end' as const,
          },
        ]
      : []),
    eyes('A holder of its own make and size, and a spare fuse next to it', 'never "same as found" unchecked'),
  ];
}

/** Types with their ratings that are sold and serve, or why none does. */
function typeLine(inputs: SpecInputs<'runs'>): SpecLine {
  const types = fusesThatServe(inputs);
  const design = design_A(createLedger(inputs.model), inputs.part);
  return line({
    field: 'protection.type',
    label: 'Type and rating',
    test: 'one-of',
    value:
      types.map(({ type: sold, ratings }) => `${sold} ${ratings.map((amps) => `${amps} A`).join(', ')}`).join('; ') ||
      'none that is sold',
    words: types.map(({ type: sold }) => sold),
    rule: 'run.interrupt',
    why: [
      types.length > 0
        ? 'every pair here was checked: current, protection, breaking capacity, clearing'
        : `none on the market lies between 1.25 x ${figure(design)} A and what cable and fault allow`,
      ...(types.length > 0 ? [] : [...nearestFuses(inputs, design), ...wouldServe(inputs)]),
    ],
  });
}

/** Bounds read off the rules: each is asked of a fuse that is far too large or far too small, for its limit. */
function boundLines(inputs: SpecInputs<'runs'>): SpecLine[] {
  const run = inputs.part;
  const type = deviceOf(run) ?? 'class-t';
  const found = (figures: Record<string, unknown>, rule: RuleId) =>
    findingsOf(inputs.put({ 'protection.type': type, ...figures }), [rule], [run.id])[0];
  const clears = (amps: number) => found({ 'protection.rating_A': amps }, 'run.far-fault');
  const bound = (
    finding: Finding | undefined,
    words: { field: string; label: string; test: 'least' | 'most'; unit: string },
    read: (finding: Finding) => { value: number | null; exact: number | null },
  ): SpecLine[] => {
    if (!finding) return [];
    const { rule, working, missing, assumed } = finding;
    const known = missing.length > 0 ? { value: null, exact: null } : read(finding);
    return [line({ ...words, ...known, rule, why: working, missing, assumed })];
  };
  return [
    ...bound(
      found({ 'protection.rating_A': 1000 }, 'run.fuse-carries'),
      { field: 'protection.rating_A', label: 'Rating, at least', test: 'least', unit: 'A' },
      ({ limit }) => ({ value: up(limit ?? 0, FUSES_A), exact: limit }),
    ),
    ...bound(
      found({ 'protection.rating_A': 1 }, 'run.fuse-protects'),
      { field: 'protection.rating_A', label: 'Rating, for this cable at most', test: 'most', unit: 'A' },
      ({ limit }) => ({ value: limit, exact: limit }),
    ),
    ...bound(
      clears(1),
      { field: 'protection.rating_A', label: 'Rating, for a far fault at most', test: 'most', unit: 'A' },
      // A small fuse's own resistance holds the fault back: each is asked with itself in the way.
      () => {
        const most = FUSES_A.findLast((amps) => clears(amps)?.verdict === 'holds') ?? 0;
        return { value: most, exact: most };
      },
    ),
    ...bound(
      found({ 'protection.voltage_V': 1500, 'protection.dcRated': true }, 'run.dc-rating'),
      { field: 'protection.voltage_V', label: 'DC voltage', test: 'least', unit: 'V' },
      ({ demand }) => ({ value: up(demand ?? 0, 1), exact: demand }),
    ),
    line({
      field: 'protection.dcRated',
      label: 'Rated for DC',
      test: 'true',
      value: null,
      rule: 'run.dc-rating',
      why: ['an AC breaker holds a DC arc alight'],
    }),
    ...bound(
      found({ 'protection.interrupt_A': 1_000_000 }, 'run.interrupt'),
      { field: 'protection.interrupt_A', label: 'Breaking capacity', test: 'least', unit: 'A' },
      ({ demand, tightAbove }) => {
        const breaks_A = (demand ?? 0) / (tightAbove ?? 1);
        return { value: up(breaks_A, 100), exact: breaks_A };
      },
    ),
  ];
}

/** What a fuse itself must pass, wherever it sits. */
export const FUSE_ITSELF = [
  'run.fuse-protects',
  'run.fuse-carries',
  'run.far-fault',
  'run.interrupt',
  'run.dc-rating',
] as const;

/** Types and ratings that are sold and pass every rule of the run as a whole. */
export function fusesThatServe(inputs: SpecInputs<'runs'>): { type: Type; ratings: number[] }[] {
  const run = inputs.part;
  const design = design_A(createLedger(inputs.model), run);
  if (Number.isNaN(design)) return [];
  return typesFor(inputs.model, run)
    .map((type) => ({ type, ratings: ratingsThatServe(inputs, type, design) }))
    .filter(({ ratings }) => ratings.length > 0);
}

/** More of one type and nobody reads them. */
const MOST_RATINGS = 3;

/** The smallest ratings of a type that pass; above what the conductor allows none is tried. */
function ratingsThatServe(inputs: SpecInputs<'runs'>, type: Type, design: number): number[] {
  const serve: number[] = [];
  for (const amps of ratingsSold(type)) {
    if (amps < 1.25 * design - 1e-9) continue;
    const judged = judgedFuse(inputs, type, amps);
    if (judged.every(({ verdict }) => verdict === 'holds' || verdict === 'tight')) serve.push(amps);
    if (serve.length === MOST_RATINGS) break;
    if (judged.some(({ rule, verdict }) => rule === 'run.fuse-protects' && verdict === 'over')) break;
  }
  return serve;
}

/** Why none serves: the first rating above the current, type by type, and the first rule that it fails. */
function nearestFuses(inputs: SpecInputs<'runs'>, design: number): string[] {
  if (Number.isNaN(design)) return [];
  return typesFor(inputs.model, inputs.part).flatMap((type) => {
    const amps = ratingsSold(type).find((rating) => rating >= 1.25 * design - 1e-9);
    if (amps === undefined) return [];
    const worst = judgedFuse(inputs, type, amps).find(({ verdict }) => verdict === 'over');
    return worst ? [`${type} ${amps} A: ${sentenceOf(inputs.model, worst)}`] : [];
  });
}

/** What would have to change so that a fuse serves: the cable, and which fuse then does. */
function wouldServe(inputs: SpecInputs<'runs'>): string[] {
  const { model, part } = inputs;
  for (const { title, changes } of cableAndFuse(model, part)) {
    const changed = withChanges(model, changes);
    const judged = findingsOf(changed, FUSE_ITSELF, [part.id]);
    if (judged.every(({ verdict }) => verdict === 'holds' || verdict === 'tight'))
      return [`with ${title} one would fit`];
  }
  return ['a larger cable alone does not help: reduce the current, shorten it, or raise the voltage'];
}

const judgedFuse = (inputs: SpecInputs<'runs'>, type: Type, amps: number): Finding[] =>
  findingsOf(
    inputs.put({
      'protection.type': type,
      'protection.rating_A': amps,
      'protection.voltage_V': SOLD_V[type],
      'protection.interrupt_A': null,
      'protection.dcRated': true,
      'protection.polarised': false,
    }),
    FUSE_ITSELF,
    [inputs.part.id],
  );

/** What a shunt's successor must be. */
export function shuntSpec(inputs: SpecInputs<'monitor'>): SpecLine[] {
  const part = inputs.part;
  const asked = leastOf(inputs, {
    field: 'shunt_A',
    label: 'Shunt',
    unit: 'A',
    rules: ['monitor.shunt'],
    subjects: [part.id],
    sold: SHUNT_A,
  });
  const [coverage] = findingsOf(inputs.model, ['monitor.coverage'], [part.id]);
  return [
    ...(asked ? [asked] : []),
    eyes('Same millivolts as the display', 'shunts are rated in amperes and millivolts: both must match'),
    {
      ...eyes('Every negative on the system side', 'whatever bypasses it is not counted'),
      rule: 'monitor.coverage',
      why: coverage?.working.length ? coverage.working : ['whatever bypasses it is not counted'],
    },
    eyes(
      'Settings: capacity, charged voltage, tail current 4 %, efficiency, exponent',
      'zero set with all isolated; synchronised when full',
    ),
  ];
}

/** What a board's successor must be. */
export function boardSpec(inputs: SpecInputs<'distribution'>): SpecLine[] {
  const part = inputs.part;
  const circuits = (part.circuits ?? []).length;
  const rated = leastOf(inputs, {
    field: 'rating_A',
    label: 'Rating',
    unit: 'A',
    rules: ['distribution.rating'],
    subjects: [part.id],
    sold: FUSES_A,
  });
  return [
    line({
      field: 'slots',
      label: 'Slots',
      test: 'least',
      value: circuits,
      exact: circuits,
      rule: 'distribution.slots',
      why: [`${circuits} circuits leave it; a spare way is useful`],
    }),
    ...(rated ? [rated] : []),
    eyes('Each circuit keeps a fuse sized for its own cable', 'fuse sizes differ from circuit to circuit'),
    ...(networkOf(inputs.model.system).feedersTo(part.id)
      ? []
      : [eyes('How it is fed', 'not recorded, so the rating may be too low')]),
  ];
}
