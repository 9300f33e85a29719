import { tenth } from '../ui/tenth';

/** Money over the years as steps: where everything stands, px. Pure: the same figures give the same drawing. */

/** The drawing's height and margins, px. */
export const STEPS = { height: 210, left: 58, right: 96, top: 14, bottom: 28 } as const;

/** A proposal's money by year. */
export interface Stepped {
  id: string;
  title: string;
  /** What one set costs, and the years that it lasts. */
  price: number;
  life_y: number;
}

/** The same as lines in px. */
export interface StepsLayout {
  x(year: number): number;
  y(money: number): number;
  most: number;
  lines: { id: string; title: string; path: string; end: { x: number; y: number }; labelY: number; total: number }[];
}

/** Spent by the end of each year in which a set is bought, the first at once. */
export function stepsOf(
  { price, life_y }: Pick<Stepped, 'price' | 'life_y'>,
  horizon_y: number,
): [year: number, total: number][] {
  const steps: [number, number][] = [];
  for (let set = 0; set === 0 || set * life_y < horizon_y - 1e-9; set++) {
    steps.push([set * life_y, (set + 1) * price]);
    if (!(life_y > 0)) break;
  }
  return steps;
}

const LABEL = 18;

/** Proposals' spending over a horizon in years, laid out for a width in px. */
export function stepsLayout(all: readonly Stepped[], horizon_y: number, width: number): StepsLayout {
  const across = width - STEPS.left - STEPS.right;
  const down = STEPS.height - STEPS.top - STEPS.bottom;
  const totals = all.map((one) => stepsOf(one, horizon_y).at(-1)?.[1] ?? 0);
  const most = Math.max(1, ...totals);
  const x = (year: number) => STEPS.left + (across * year) / horizon_y;
  const y = (money: number) => STEPS.top + down * (1 - money / most);
  const lines = all.map((one, i) => {
    const steps = stepsOf(one, horizon_y);
    const path = steps
      .map(
        ([year, total], k) =>
          `${k === 0 ? `M${tenth(x(0))} ${tenth(y(0))}V` : `H${tenth(x(year))}V`}${tenth(y(total))}`,
      )
      .join('');
    const total = totals[i] ?? 0;
    return {
      id: one.id,
      title: one.title,
      path: `${path}H${tenth(x(horizon_y))}`,
      end: { x: x(horizon_y), y: y(total) },
      labelY: y(total) + 5,
      total,
    };
  });
  // Words that would lie on one another move apart, the dearest stays.
  const sorted = [...lines].sort((a, b) => a.labelY - b.labelY);
  sorted.forEach((line, i) => {
    const above = sorted[i - 1];
    if (above && line.labelY < above.labelY + LABEL) line.labelY = above.labelY + LABEL;
  });
  return { x, y, most, lines };
}
