import { figure } from '../../ledger/figures';
import { FaultError } from '../../system/faults';
import { arraysOf, type Model, withChanges, faultsOfChanges } from '../../system/model';

import type { Change } from '../../system/schema';
import { check, sentenceOf } from '../check';
import { keyOf, type Finding, type Remedy } from '../finding';
import { causeOf } from '../cause';
import { RULES, ruleOf } from '../index';
import type { Cure } from '../rule';
import { settledBy } from './settles';
import { harmed } from './worse';
import { partName } from '../../conductors/names';
import { isObject } from '../../parts/objects';
import { lowered } from '../../parts/said';

/** More than this and nobody reads them. */
const MOST_REMEDIES = 3;
/** So many first steps that cure but harm elsewhere are tried with a second one, and so many second steps with each. */
const MOST_FIRST = 3;
const MOST_SECOND = 4;

/** A first step that cures, and what it turns over. */
interface Half {
  cure: Cure;
  changed: Model;
  harm: Finding;
}

/**
 * The smallest changes that would make a finding hold. Each cure is applied to a copy of the system and the whole
 * rule book is run again: kept only if this finding then holds and nothing is newly over or worse than it was. A graver
 * finding is not left uncured because a mere loss turns over: its cost is said. Where one change is not enough, two are
 * tried together. The cable that is the root of several is cured first.
 */
export function remediesOf(model: Model, finding: Finding, before: Finding[]): Remedy[] {
  if (finding.verdict !== 'over' && finding.verdict !== 'tight') return [];
  const search = new Search(model, finding, before);
  const cures = curesFor(model, finding, before);
  // What only stands close to its limit because something lets it off is not worth a summer's sun.
  const letOff = finding.verdict === 'tight' && (finding.use ?? 0) > 1 + 1e-9;
  const plain = cures.filter(({ limits }) => !limits);
  search.single(plain.filter(({ last }) => !last));
  if (search.kept.length === 0) search.single(plain.filter(({ last }) => last));
  if (!letOff) search.single(cures.filter(({ limits }) => limits));
  if (search.kept.length === 0) search.double();
  const { kept, costly, near } = search;
  return kept.length > 0 ? kept : costly.length > 0 ? costly.slice(0, MOST_REMEDIES) : near.slice(0, 1);
}

/** One finding's way through its cures. */
class Search {
  readonly kept: Remedy[] = [];
  /** What only brings it within its limit, close to it: better than nothing, and said. */
  readonly near: Remedy[] = [];
  /** What brings a loss with it: only where nothing else cures. */
  readonly costly: Remedy[] = [];
  private readonly halves: Half[] = [];
  // Of one kind (the same part changed in the same place) the first that works is the smallest.
  private readonly kinds = new Set<string>();

  constructor(
    private readonly model: Model,
    private readonly finding: Finding,
    private readonly before: readonly Finding[],
  ) {}

  single(cures: readonly Cure[]): void {
    for (const cure of cures) {
      if (this.kept.length === MOST_REMEDIES) return;
      if (this.kinds.has(kindOf(cure.changes))) continue;
      const tried = this.attempt(cure);
      if (!tried) continue;
      if (tried.harm === null) this.take(cure, tried);
      else if (this.halves.length < MOST_FIRST && this.finding.verdict === 'over')
        this.halves.push({ cure, changed: tried.changed, harm: tried.harm });
    }
  }

  /** A second step for what the first one turns over; never one that undoes the first. */
  double(): void {
    for (const { cure, changed, harm } of this.halves) {
      if (this.kinds.has(kindOf(cure.changes))) continue;
      const set = new Set(leavesOf(cure.changes));
      const seconds = ownCures(changed, harm)
        .filter(({ changes }) => leavesOf(changes).every((leaf) => !set.has(leaf)))
        .slice(0, MOST_SECOND);
      for (const second of seconds) {
        const both: Cure = {
          ...cure,
          title: `${cure.title}; with it ${lowered(second.title)}`,
          detail: `the first alone: ${clause(sentenceOf(changed, harm))}`,
          changes: [...cure.changes, ...second.changes],
        };
        const tried = this.attempt(both);
        if (!tried || tried.harm !== null) continue;
        this.take(both, tried);
        this.kinds.add(kindOf(cure.changes));
        break;
      }
      if (this.kept.length === MOST_REMEDIES) return;
    }
  }

  private take(cure: Cure, { close, costs, changed }: Tried): void {
    const { title, detail, limits } = cure;
    const changes = [...cure.changes, ...settledBy(this.model, changed)];
    // What no file may hold is no cure.
    if (faultsOfChanges(this.model, changes).length > 0) return;
    const cost = costs.length > 0 ? `${detail}; costs: ${costs.map(clause).join('; ')}` : detail;
    if (close) {
      this.near.push({ title, detail: `${cost}; still close to its limit`, changes });
      return;
    }
    this.kinds.add(kindOf(changes));
    (costs.length > 0 ? this.costly : this.kept).push({ title, detail: cost, changes, ...(limits ? { limits } : {}) });
  }

  private harms(changes: readonly Change[], changed: Model, allows?: string): Harms {
    const known = weighed.get(this.before) ?? new Map<string, Harms>();
    weighed.set(this.before, known);
    const key = JSON.stringify([this.finding.consequence === 'loss', allows ?? null, changes]);
    const found = known.get(key) ?? harmsAlong(this.before, changed, this.finding, allows);
    known.set(key, found);
    return found;
  }

  /** The system with a cure, judged by the whole book; null where it does not cure, or hides a danger. */
  private attempt({ changes, eases, allows }: Cure): Tried | null {
    const { model, finding } = this;
    try {
      const changed = withChanges(model, changes);
      // The rule itself first: most cures fail there, and the rest of the book need not be asked.
      const same = check(changed, [ruleOf(finding.rule)]).find((one) => keyOf(one) === keyOf(finding));
      // A finding that is gone is cured too: one string left needs no string fuse.
      const eased = Boolean(eases) && finding.verdict === 'over' && same?.verdict === 'tight';
      if (same && same.verdict !== 'holds' && !eased && !softer(finding, same)) return null;
      const { harm, losses, blind } = this.harms(changes, changed, allows);
      if (blind) return null;
      return { changed, harm, close: same?.verdict === 'tight' && !eased, costs: losses };
    } catch (error) {
      if (error instanceof FaultError) return null;
      throw error;
    }
  }
}

interface Harms {
  harm: Finding | null;
  losses: string[];
  blind: boolean;
}
/** What changes harm, kept by the findings that they were weighed against: one fuse may be asked for by seven findings. */
const weighed = new WeakMap<readonly Finding[], Map<string, Harms>>();

interface Tried {
  changed: Model;
  /** Within its limit, and tight. */
  close: boolean;
  /** The first of what it harms; null where nothing that counts. */
  harm: Finding | null;
  /** Losses that a graver cure is allowed to bring, in sentences. */
  costs: string[];
}

/**
 * What a change harms, rule by rule, as far as the first that counts: to know that one is harmed is enough. `blind`:
 * danger or damage that could be judged no longer can; nobody is told to do what hides a danger.
 */
function harmsAlong(before: readonly Finding[], changed: Model, finding: Finding, allows?: string): Harms {
  const losses: string[] = [];
  const was = byRule(before);
  for (const rule of RULES) {
    const old = was.get(rule.id) ?? [];
    const after = check(changed, [rule]);
    if (after.some((one) => isBlind(one, old) && !isPairOfStrings(changed, one)))
      return { harm: null, losses, blind: true };
    for (const one of harmed(old, after)) {
      if (allows !== undefined && keyOf(one) === allows) continue;
      if (one.consequence !== 'loss' || finding.consequence === 'loss') return { harm: one, losses, blind: false };
      losses.push(sentenceOf(changed, one));
    }
  }
  return { harm: null, losses, blind: false };
}
const isBlind = (one: Finding, old: readonly Finding[]) =>
  one.verdict === 'unknown' &&
  (one.consequence === 'danger' || one.consequence === 'damage') &&
  !old.some((was) => was.verdict === 'unknown' && keyOf(was) === keyOf(one));
/**
 * Two strings feed each other no more than one string's own current, which its modules stand whatever their series fuse
 * (IEC 62548): that this was not read keeps nobody from joining them so.
 */
function isPairOfStrings({ system }: Model, { rule, subject }: Finding): boolean {
  const array = (system.arrays ?? []).find(({ id }) => id === subject);
  const count = arraysOf(system, array?.controllerId ?? '').reduce((sum, { strings }) => sum + strings.length, 0);
  return rule === 'pv.string-protection' && count === 2;
}

const byRule = (findings: readonly Finding[]) => {
  const rules = new Map<string, Finding[]>();
  for (const finding of findings) {
    const list = rules.get(finding.rule);
    if (list) list.push(finding);
    else rules.set(finding.rule, [finding]);
  }
  return rules;
};

/** Over becomes tight with its own room: what only stands close to its limit is cured, what was merely softened is not. */
const softer = (was: Finding, is: Finding) =>
  was.verdict === 'over' && is.verdict === 'tight' && is.use !== null && is.use <= 1 + 1e-9;

const clause = (sentence: string) => lowered(sentence).replace(/\.$/, '');

/** All findings with their remedies filled in. */
export function checkWithRemedies(model: Model): Finding[] {
  const findings = check(model);
  return findings.map((finding) => ({ ...finding, remedies: remediesOf(model, finding, findings) }));
}

/** What its rule proposes; first what cures the cable from which it comes. */
function curesFor(model: Model, finding: Finding, before: readonly Finding[]): Cure[] {
  const root = causeOf(finding, before, model.system);
  return [...(root ? ownCures(model, root) : []), ...ownCures(model, finding)];
}

function ownCures(model: Model, finding: Finding): Cure[] {
  const { remedies, cases } = ruleOf(finding.rule);
  if (!remedies) return [];
  const { subject, quantity } = finding;
  const found = cases(model).find((item) => item.subject === subject && (item.quantity ?? null) === quantity);
  return found ? remedies(model, found.about, finding) : [];
}

/** What would be needed where no change of ours fixes it: by the rule, or by its own two figures. */
export function neededFor(model: Model, finding: Finding): string {
  const { needs } = ruleOf(finding.rule);
  if (needs) return typeof needs === 'function' ? needs(finding, model) : needs;
  const { demand, limit, unit, sense, tightAbove } = finding;
  if (demand === null || limit === null)
    return `Needs ${partName(model, finding.subject)} checked on site: read its nameplate and manual, then check again.`;
  const share = tightAbove ?? 1;
  const of = (value: number) => `${figure(value, 3)}${unit ? ` ${unit}` : ''}`;
  const what = partName(model, finding.subject);
  if (sense === 'min') return `Needs ${of(limit / share)} or more at ${what}; it has ${of(demand)}.`;
  return limit > 0
    ? `Needs ${of(demand / share)} or more at ${what}, or its load brought down to ${of(limit * share)}.`
    : `Needs ${of(demand / share)} or more at ${what}. As it is, it cannot be used at all.`;
}

const kindOf = (changes: readonly Change[]) => leavesOf(changes).join();

/** Every member that changes set, by its part. */
const leavesOf = (changes: readonly Change[]): string[] =>
  changes.flatMap(({ at, id, value }) => memberPaths(value).map((path) => `${at} ${id} ${path}`));

const memberPaths = (value: unknown): string[] =>
  isObject(value)
    ? Object.entries(value).flatMap(([key, member]) => {
        const inside = memberPaths(member);
        return inside.length > 0 ? inside.map((path) => `${key}.${path}`) : [key];
      })
    : [];
