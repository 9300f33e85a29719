import { touches } from '../conductors/network';
import type { System } from '../system/schema';
import type { Finding } from './finding';
import { ruleOf } from './index';

/** What a finding comes of, as its rule says: of the cable at its subject, where that is over by another rule. */
export function causeOf(
  { rule, subject }: Finding,
  findings: readonly Finding[],
  { runs }: Pick<System, 'runs'>,
): Finding | undefined {
  const { comesOf } = ruleOf(rule);
  return comesOf
    ? findings.find(
        (one) =>
          one.rule === comesOf &&
          one.verdict === 'over' &&
          (runs ?? []).some((run) => run.id === one.subject && touches(run, subject)),
      )
    : undefined;
}
