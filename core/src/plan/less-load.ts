import { derating, loadsOf, running_W, surge_W, unit_W } from '../power/loads';
import { partTitle } from '../conductors/names';
import { figure } from '../ledger/figures';
import { createLedger } from '../ledger/ledger';
import { lastHolding } from '../numeric/roots';
import { type Model, withChanges } from '../system/model';

import type { Change, Inverter, Load } from '../system/schema';
import { type InterimLimit, LOAD_RULES, hurting } from './hurting';

const STEP_W = 10;

/** The most that may run through an inverter at once, and what must not be started at all. */
export function lessLoad(model: Model, inverter: Inverter): { limits: InterimLimit[]; changes: Change[] } | null {
  const found = hurting(model, LOAD_RULES);
  if (found.size === 0) return null;
  const io = createLedger(model);
  const loads = loadsOf(model.system, inverter);
  if (loads.length === 0) return null;
  // The one that is hardest to start goes first, then the one that draws most.
  const hardest = [...loads].sort((a, b) => surge_W(io, [b]) - surge_W(io, [a]) || unit_W(b) - unit_W(a));
  const bare = hurting(capped(model, inverter, [], 0), LOAD_RULES);
  if (bare.size >= found.size) return null;
  for (let dropped = 0; dropped < hardest.length; dropped++) {
    const kept = hardest.slice(dropped);
    const hurts_W = (watts: number) => hurting(capped(model, inverter, kept, watts), LOAD_RULES).size > bare.size;
    const wanted = Math.min(inverter.continuous_W, running_W(io, kept));
    // Each of what may run must at least be able to run by itself.
    const least = Math.max(...kept.map(unit_W));
    if (hurts_W(least)) continue;
    const most = hurts_W(wanted)
      ? lastHolding((watts) => !hurts_W(watts), Math.min(least, wanted), wanted, STEP_W)
      : wanted;
    const watts = Math.max(STEP_W, Math.floor(most / STEP_W) * STEP_W);
    const name = partTitle(model.system, inverter.id) ?? 'The inverter';
    return {
      limits: [
        {
          kind: 'load',
          id: inverter.id,
          setting: null,
          value: watts,
          unit: 'W',
          text: `${name}: no more than ${figure(watts)} W at once`,
        },
        ...hardest.slice(0, dropped).map(({ id, label }): InterimLimit => ({
          kind: 'not-started',
          id,
          setting: null,
          value: null,
          unit: null,
          text: `${label}: not to be started`,
        })),
      ],
      changes: cappedChanges(model, inverter, kept, watts),
    };
  }
  return null;
}

const CAPPED_ID = 'interim-load';

/** What may run, as one load of so many watts that starts as hard as the hardest of them. */
function cappedChanges(model: Model, inverter: Inverter, kept: readonly Load[], watts: number): Change[] {
  const io = createLedger(model);
  const excess = Math.max(0, ...kept.map((load) => surge_W(io, [{ ...load, quantity: 1 }]) - unit_W(load)));
  const wh = kept.reduce((sum, load) => sum + unit_W(load) * (load.quantity ?? 1) * load.hours_d, 0);
  const factor = kept.reduce((worst, { powerFactor }) => Math.min(worst, powerFactor ?? 1), 1);
  const { continuous_W, continuous_VA, surge_W: surge } = inverter;
  const left = derating(io, inverter);
  // In the heat a plate gives less: so much of it stands for the watts that may run.
  const rated = (plate: number, asked: number) => Math.max(1, Math.min(plate, asked / (left > 0 ? left : 1)));
  return [
    ...loadsOf(model.system, inverter).map(({ id }): Change => ({ op: 'remove', at: 'loads', id })),
    ...(watts > 0
      ? [
          {
            op: 'add' as const,
            at: 'loads',
            value: {
              id: `${CAPPED_ID}-${inverter.id}`,
              label: 'What may run',
              kind: 'ac',
              type: 'other',
              power_W: watts,
              surge_W: watts + excess,
              powerFactor: factor,
              hours_d: Math.min(24, wh / Math.max(1, watts)),
              overlap: 'base',
              inverterId: inverter.id,
              needsSine: kept.some(({ needsSine }) => needsSine),
            },
          },
        ]
      : []),
    // As long as somebody keeps to it, bank and cable never see more than this.
    {
      op: 'set',
      at: 'inverters',
      id: inverter.id,
      value: {
        continuous_W: rated(continuous_W, watts),
        ...(continuous_VA ? { continuous_VA: rated(continuous_VA, watts / factor) } : {}),
        ...(surge ? { surge_W: rated(surge, watts + excess) } : {}),
      },
    },
  ];
}

const capped = (model: Model, inverter: Inverter, kept: readonly Load[], watts: number): Model =>
  withChanges(model, cappedChanges(model, inverter, kept, watts));
