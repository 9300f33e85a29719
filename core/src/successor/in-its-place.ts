import type { RuleId } from '../rules/ids';
import { check } from '../rules/check';
import { overOf, type Finding } from '../rules/finding';
import { ruleOf } from '../rules/index';
import { sizeSold } from '../rules/cures/sold';
import { harmed } from '../rules/cures/worse';
import { setMember } from '../system/members';
import { withSystem, type Model } from '../system/model';
import { partById, withPart, type PartKind, type PartOf } from '../system/parts';
import { line, type SpecLine } from './line';

/** A part taken out of its system and put back with other figures, so that the rules say what it must be. */
export interface SpecInputs<K extends PartKind = PartKind> {
  model: Model;
  kind: K;
  part: PartOf<K>;
  /** The system with members of the part set (null takes one out). */
  put(figures: Record<string, unknown>): Model;
}

/** Tells the compiler what kind of part lies on the inputs. */
export const isInputsOf = <K extends PartKind>(inputs: SpecInputs, kind: K): inputs is SpecInputs<K> =>
  inputs.kind === kind;

/** @returns null where the system has no such part */
export function inputsOf(model: Model, partId: string): SpecInputs | null {
  const placed = partById(model.system, partId);
  if (!placed) return null;
  const { kind, part } = placed;
  return {
    model,
    kind,
    part,
    put(figures) {
      const changed: Record<string, unknown> = { ...structuredClone(part) };
      for (const [path, value] of Object.entries(figures)) setMember(changed, path, value);
      return withSystem(model, withPart(model.system, placed, changed));
    },
  };
}

/** As `inputsOf`, where only one kind will do. */
export function inputsOfKind<K extends PartKind>(model: Model, partId: string, kind: K): SpecInputs<K> | null {
  const inputs = inputsOf(model, partId);
  return inputs && isInputsOf(inputs, kind) ? inputs : null;
}

/** The findings of some rules on some subjects (all, where none are named). */
export function findingsOf(model: Model, rules: readonly RuleId[], subjects?: readonly string[]): Finding[] {
  return check(model, rules.map(ruleOf)).filter(({ subject }) => !subjects || subjects.includes(subject));
}

/** What some findings lack, or rest on as a guess, each path once. */
export const pathsOf = (findings: readonly Finding[], what: 'missing' | 'assumed'): string[] =>
  [...new Set(findings.flatMap((finding) => finding[what]))].sort();

interface Bound {
  field: string;
  label: string;
  unit: string;
  rules: readonly RuleId[];
  subjects?: readonly string[];
  quantity?: string;
  /** What stands in the other members meanwhile, so that only this one is asked for. */
  ideal?: Record<string, unknown>;
  /** Sizes sold, or the step to round up to. */
  sold: readonly number[] | number;
  must?: boolean;
}

/** Large enough to never be what gives out, and inside every range of the format. */
const AMPLE = 1000;

/**
 * The least figure at which rules hold whose limit is in proportion to it: read off at an ample value. Tight is not
 * enough: a new part starts with the room that the rule asks for. Null where no rule asks.
 */
export function leastOf(inputs: SpecInputs, bound: Bound): SpecLine | null {
  const { field, label, unit, rules, subjects, quantity, ideal, sold, must = true } = bound;
  const asked = findingsOf(inputs.put({ ...ideal, [field]: AMPLE }), rules, subjects).filter(
    (finding) => (quantity === undefined || finding.quantity === quantity) && finding.verdict !== 'note',
  );
  if (asked.length === 0) return null;
  const missing = pathsOf(asked, 'missing');
  const need = (finding: Finding) => (AMPLE * (finding.use ?? 0)) / (finding.tightAbove ?? 1);
  const worst = asked.reduce((most, next) => (need(next) > need(most) ? next : most));
  const exact = missing.length > 0 ? null : need(worst);
  return line({
    field,
    label,
    test: 'least',
    unit,
    exact,
    value: exact === null ? null : up(exact, sold),
    rule: worst.rule,
    why: [
      ...worst.working,
      ...(worst.tightAbove && worst.tightAbove < 1 ? [`held at ${Math.round(100 * worst.tightAbove)} % of it`] : []),
    ],
    missing,
    assumed: pathsOf(asked, 'assumed'),
    must,
  });
}

/** Up to what is sold; beyond the list, up to two digits. */
export function up(value: number, sold: readonly number[] | number): number {
  if (typeof sold === 'number') return stepped(Math.ceil(value / sold - 1e-9), sold);
  return sizeSold(sold, value) ?? up(value, 10 ** Math.max(0, Math.floor(Math.log10(Math.max(1, value))) - 1));
}
/** Down to a step. */
export const down = (value: number, step: number) => stepped(Math.floor(value / step + 1e-9), step);
/** Steps like 0.1 are counted in whole tenths, or 2.3 becomes 2.3000000000000003. */
const stepped = (count: number, step: number) => (step < 1 ? count / Math.round(1 / step) : count * step);

/**
 * The largest of some figures at which nothing is newly over or worse than with none of it; null where not even the
 * smallest is borne, all of them where none gives out. What is over without this part is another device's fault: `others`
 * says so, and it rules nothing out here.
 */
export function mostHolding(
  inputs: SpecInputs,
  field: string,
  sizes: readonly number[],
  rules: readonly RuleId[],
  ideal: Record<string, unknown> = {},
): { value: number | null; first: Finding | null; others: boolean; missing: string[] } {
  let value: number | null = null;
  let first: Finding | null = null;
  const without = findingsOf(inputs.put({ ...ideal, [field]: NONE }), rules);
  const others = overOf(without).length > 0;
  for (const size of sizes) {
    const found = findingsOf(inputs.put({ ...ideal, [field]: size }), rules);
    const missing = pathsOf(found, 'missing');
    if (missing.length > 0) return { value: null, first: null, others, missing };
    first = harmed(without, found)[0] ?? null;
    if (first) break;
    value = size;
  }
  return { value, first, others, missing: [] };
}
/** As good as nothing, and still a rating. */
const NONE = 0.001;
