import { figure } from '../ledger/figures';
import type { Finding } from '../rules/finding';
import { inGroups, pretty, unitText } from '../written/units';

/** "154 / 150 V"; for what must be reached "11.5 \u2265 9 V" */
export function figures(finding: Finding): string {
  const { demand, limit, sense } = finding;
  const { there, allowed, unit } = figurePair(finding);
  // Where more is better, a stroke would read as too much: say which way it must be.
  const between = sense === 'max' ? '/' : (demand ?? 0) >= (limit ?? 0) ? '\u2265' : '<';
  return `${there} ${between} ${allowed} ${unit}`.trim();
}

/** Both figures of a finding as they are written, with as few digits as tell them apart, and their unit. */
export function figurePair(finding: Finding): { there: string; allowed: string; unit: string } {
  const { demand, limit, unit } = inKilo(finding);
  const [there, allowed] = apartBy(demand ?? Number.NaN, limit ?? Number.NaN);
  return { there, allowed, unit: unitText(unit ?? '') };
}

/** A fault's amperes are spoken of in thousands. */
const inKilo = (finding: Finding): Pick<Finding, 'demand' | 'limit' | 'unit' | 'sense'> =>
  finding.unit === 'A' && (finding.limit ?? 0) >= 1000
    ? { ...finding, demand: (finding.demand ?? 0) / 1000, limit: (finding.limit ?? 0) / 1000, unit: 'kA' }
    : finding;

/** As few digits as tell the two apart, three at least. */
function apartBy(demand: number, limit: number): [string, string] {
  for (const digits of [3, 4, 5, 6]) {
    const said: [string, string] = [written(demand, digits), written(limit, digits)];
    if (said[0] !== said[1] || demand === limit) return said;
  }
  return [written(demand, 6), written(limit, 6)];
}

const written = (value: number, digits: number) => inGroups(pretty(figure(value, digits)));
