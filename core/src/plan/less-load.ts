import { derating, loadsOf, surge_W, unit_W } from '../power/loads';
import { partTitle } from '../conductors/names';
import { figure } from '../ledger/figures';
import { createLedger } from '../ledger/ledger';
import { lastHolding } from '../numeric/roots';
import { type Model, withChanges } from '../system/model';

import type { Change, Inverter, Load } from '../system/schema';
import { bindingIn, type InterimLimit, LOAD_RULES, hurting } from './hurting';
import { check } from '../rules/check';

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
  // Where none of them may run there is still what the cable bears for something smaller.
  for (let dropped = 0; dropped <= hardest.length; dropped++) {
    const kept = hardest.slice(dropped);
    const hurts_W = (watts: number) => hurting(capped(model, inverter, kept, watts), LOAD_RULES).size > bare.size;
    // What the binding part bears, up to what the inverter gives at all: not what happens to be left plugged in.
    const full = inverter.continuous_W;
    // Each of what may run must at least be able to run by itself.
    const least = Math.min(full, Math.max(STEP_W, ...kept.map(unit_W)));
    if (hurts_W(least)) continue;
    const most = hurts_W(full) ? lastHolding((watts) => !hurts_W(watts), least, full, 1) : full;
    const watts = Math.max(STEP_W, Math.floor(most / STEP_W) * STEP_W);
    const name = partTitle(model.system, inverter.id) ?? 'The inverter';
    const at = (some: readonly Load[], limit: number) => check(capped(model, inverter, some, limit), LOAD_RULES);
    const held = at(kept, watts);
    const byStart = bindingIn(at(hardest, watts), held);
    return {
      limits: [
        ...(most < full
          ? [
              {
                kind: 'load' as const,
                id: inverter.id,
                setting: null,
                value: watts,
                unit: 'W',
                rule: bindingIn(at(kept, watts + 2 * STEP_W), held),
                text: `${name}: no more than ${figure(watts)} W at once`,
              },
            ]
          : []),
        ...hardest.slice(0, dropped).map(({ id }): InterimLimit => ({
          kind: 'not-started',
          id,
          setting: null,
          value: null,
          unit: null,
          rule: byStart,
          text: `${partTitle(model.system, id) ?? 'That load'}: not to be started`,
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
