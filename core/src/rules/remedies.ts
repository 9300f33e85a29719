import { FaultError } from '../system/faults';
import { withSystem, type Model } from '../system/model';
import { mergeChanges } from '../system/proposals';
import { check } from './check';
import { keyOf, overOf, type Finding, type Remedy } from './finding';
import { ruleOf } from './index';
import type { Candidate } from './rule';

/** More than this and nobody reads them. */
const MOST_REMEDIES = 3;

/**
 * The smallest changes that would make a finding hold. Each candidate is applied to a copy of the system and the whole
 * rule book is run again: kept only if this finding then holds and nothing else is newly over.
 */
export function remediesOf(model: Model, finding: Finding, before: Finding[]): Remedy[] {
  if (finding.verdict !== 'over' && finding.verdict !== 'tight') return [];
  const rule = ruleOf(finding.rule);
  const subject = rule
    .cases(model)
    .find((item) => item.subject === finding.subject && (item.quantity ?? null) === finding.quantity);
  if (!rule.remedies || !subject) return [];
  const kept: Remedy[] = [];
  const kinds = new Set<string>();
  for (const candidate of rule.remedies(model, subject.about, finding)) {
    // Of one kind (the same part changed in the same place) the first that works is the smallest.
    const kind = candidate.changes.map(({ at, id, value }) => `${at} ${id} ${memberPath(value)}`).join();
    if (kinds.has(kind)) continue;
    if (!cures(model, finding, before, candidate)) continue;
    kinds.add(kind);
    const { title, detail, changes } = candidate;
    kept.push({ title, detail, changes });
    if (kept.length === MOST_REMEDIES) break;
  }
  return kept;
}

/** All findings with their remedies filled in. */
export function checkWithRemedies(model: Model): Finding[] {
  const findings = check(model);
  return findings.map((finding) => ({ ...finding, remedies: remediesOf(model, finding, findings) }));
}

function cures(model: Model, finding: Finding, before: Finding[], { changes, eases }: Candidate): boolean {
  try {
    const changed = withSystem(model, mergeChanges(model.system, changes));
    // The rule itself first: most candidates fail there, and the rest of the book need not be asked.
    const same = check(changed, [ruleOf(finding.rule)]).find((candidate) => keyOf(candidate) === keyOf(finding));
    // A finding that is gone is cured too: one string left needs no string fuse.
    const eased = eases && finding.verdict === 'over' && same?.verdict === 'tight';
    if (same && same.verdict !== 'holds' && !eased) return false;
    const after = check(changed);
    const wasOver = new Set(overOf(before).map(keyOf));
    return overOf(after).every((candidate) => wasOver.has(keyOf(candidate)));
  } catch (error) {
    if (error instanceof FaultError) return false;
    throw error;
  }
}

const memberPath = (value: unknown): string =>
  value !== null && typeof value === 'object' && !Array.isArray(value)
    ? Object.entries(value)
        .map(([key, member]) => `${key}.${memberPath(member)}`)
        .join()
    : '';
