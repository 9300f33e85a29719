import type { ExpectedTest } from '../readings/row';
import type { Finding } from '../rules/finding';
import type { Model } from '../system/model';
import { answerFor } from './danger';
import type { PartWork } from './difference';
import { handle } from './handle';
import { Order, type Step } from './order';
import { switchOff } from './switch-off';
import { switchOn } from './switch-on';

/**
 * The order of work (docs/work-orders-and-readings.md, on practice C): it comes from the systems, not from a list. Only what is
 * there is named: as found until it is stripped, as proposed from the fitting on.
 */
export function stepsOf(
  before: Model,
  after: Model,
  works: readonly PartWork[],
  tests: readonly ExpectedTest[],
  findings: readonly Finding[],
): Step[] {
  if (works.length === 0) return [];
  const order = new Order();
  const handled = works.some(({ strip, fit }) => strip || fit);
  const answered = answerFor(order, after, findings);
  const off = [...answered, ...switchOff(order, before, handled, answered)];
  const ready = handled ? handle(order, before.system, after, works, off) : off;
  switchOn(order, after, works, { handled, ready, tests, findings });
  return order.steps();
}
