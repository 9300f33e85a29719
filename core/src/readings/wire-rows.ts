import { partName } from '../conductors/names';
import { figure } from '../ledger/figures';
import { CAUTIONS } from '../rules/cautions';
import type { Model } from '../system/model';
import type { Run } from '../system/schema';
import type { FiguresAt } from './figures-at';
import { few, type Row } from './row';

/** A joint of two lugs and a bolt, mohm: as it should be, and from where it is made again. */
const GOOD_JOINT_MOHM = 0.1;
const BAD_JOINT_MOHM = 0.25;
/** A good joint rises so much at its full current, K, and as the current to this power. */
const GOOD_RISE_K = 5;
const RISE_POWER = 1.8;

/** Rows of practice D about a cable and its joints. */
export function runRows(model: Model, run: Run, figures: FiguresAt): Row[] {
  const found = figures.runs.get(run.id);
  if (!found) return [];
  const { drop_V, cable_V, amps } = found;
  const name = partName(model, run.id);
  const rows: Row[] = [
    {
      subject: run.id,
      quantity: 'drop_V',
      expected: drop_V,
      below: 0.2 * drop_V + 0.01,
      above: 0.3 * drop_V + 0.01,
      own: [0.1 * cable_V],
      cannotTell: few(found),
      how:
        run.kind === 'ac'
          ? `${figure(amps)} A flowing: measure the voltage at both ends of ${name} and subtract`
          : `${figure(amps)} A flowing: measure end to end on the positive and on the negative of ${name} and add them; include fuses and joints`,
      tool: run.kind === 'ac' ? 'true-RMS voltmeter and clamp meter' : 'millivoltmeter and DC clamp meter',
      minutes: 4,
      cautions: [run.kind === 'pv' ? CAUTIONS.panelsLive : run.kind === 'ac' ? CAUTIONS.codes : CAUTIONS.bankAmps],
      rule: 'run.drop',
      ...(run.kind === 'ac' ? { licensed: true as const } : {}),
    },
  ];
  if (!run.joints) return rows;
  return [
    ...rows,
    {
      subject: run.id,
      quantity: 'joint_mohm',
      expected: GOOD_JOINT_MOHM,
      below: GOOD_JOINT_MOHM,
      above: BAD_JOINT_MOHM - GOOD_JOINT_MOHM,
      bound: 'most',
      cannotTell: few(found),
      how: `across each joint of ${name} at ${figure(amps)} A; above ${BAD_JOINT_MOHM} mohm, remake it`,
      tool: 'millivoltmeter and DC clamp meter',
      minutes: 3,
      cautions: [CAUTIONS.bankAmps],
      rule: 'run.joints',
    },
    {
      subject: run.id,
      quantity: 'jointRise_K',
      expected: GOOD_RISE_K * found.share ** RISE_POWER,
      below: 0,
      above: 0,
      bound: 'most',
      cannotTell: found.share < 0.5 && 'judge joints after half an hour at half their current or more',
      how: `after 30 min at ${figure(amps)} A, above the air; three times as much is too hot`,
      tool: 'thermal camera or contact thermometer',
      minutes: 5,
      cautions: [CAUTIONS.bankAmps],
      rule: 'run.joints',
    },
  ];
}
