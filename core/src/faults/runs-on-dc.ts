import { networkOf } from '../conductors/network';
import type { Model } from '../system/model';
import type { Run } from '../system/schema';

/** Cables between the bank and what hangs on it: where a joint or a thin cable can be. */
export const runsOnDc = ({ system }: Model): Run[] =>
  (system.runs ?? []).filter(
    (run) => run.kind !== 'ac' && run.kind !== 'pv' && !networkOf(system).isBatteryLink(run) && (run.from ?? run.to),
  );
