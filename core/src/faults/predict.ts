import { oncePer, type Model } from '../system/model';
import type { Run } from '../system/schema';
import type { Quantity } from '../readings/quantities';
import type { Asked } from './asked';
import type { Engine, Tools } from './engine';
import type { Field } from './field';
import { bankField, monitorField, otherBankField } from './fields-bank';
import { inverterField, loadField, runField, siteField } from './fields-devices';
import { arrayField } from './fields-pv';
import { MASK, type Grid, type Mask } from './grid';
import type { State } from './state';

/**
 * Every reading under a fault, by the engine that says what a meter should read (`expect`): its curves, its posts, its
 * cables. What a reading does not depend on leaves it as it is, and is worked out once.
 */
export interface Predictor {
  /** Null where nothing is predicted of it. */
  field(asked: Asked, state: State): Field | null;
}

const LIGHT = MASK.gain | MASK.cell;

/** Predictions over one grid; each is kept. */
export function createPredictor(engine: Engine, grid: Grid): Predictor {
  const tools: Tools = { ...engine, grid };
  const known = new WeakMap<Asked, { sound: Field | null; faulty: Map<string, Field | null> }>();
  return {
    field(asked, state) {
      const own = known.get(asked) ?? { sound: predicted(tools, asked, {}), faulty: new Map<string, Field | null>() };
      known.set(asked, own);
      const bears = bearing(tools, asked, state);
      if (!bears.some(isSomething)) return own.sound;
      const key = JSON.stringify(bears);
      const found = own.faulty.get(key);
      if (found !== undefined) return found;
      const made = predicted(tools, asked, state);
      own.faulty.set(key, made);
      return made;
    },
  };
}

const isSomething = (value: unknown): boolean =>
  value !== undefined && value !== null && !(Array.isArray(value) && value.every((one) => !isSomething(one)));

/** What of a fault a reading can depend on; the rest of it makes no other prediction. */
function bearing({ model, altered }: Tools, { subject, quantity }: Asked, state: State): unknown[] {
  const { system } = model;
  /** Of faults in cables only what lies on the way to some devices. */
  const ways = (kind: Run['kind'], ids: readonly string[]) =>
    state.runs ? ids.map((id) => altered.bearing(state, kind, id)) : null;
  switch (kindOf(model, subject)) {
    case 'array':
      return [state.arrays?.[subject]];
    case 'run':
      return [state.runs?.[subject]];
    case 'controller':
      return [
        state.arrays,
        state.bank,
        state.controllers,
        state.absorb,
        ways(
          'controller-battery',
          (system.controllers ?? []).map(({ id }) => id),
        ),
      ];
    case 'charger':
      return [state.bank, state.absorb?.[subject], ways('charger', [subject])];
    case 'bank':
      return [state.bank, quantity === 'absorb_V' ? state.absorb : null];
    case 'monitor':
      return [state.shunt, state.bank, state.drain_W];
    case 'site':
      return [state.drain_W, state.bank?.tripped];
    case 'inverter':
      return [state.inverters?.[subject], state.bank, state.starts, ways('battery-inverter', [subject])];
    case 'load':
      return [state.starts?.[subject]];
    case 'other':
      return state.stuck?.[subject] ? [true, state.bank] : [];
  }
}

type Kind = 'array' | 'run' | 'controller' | 'charger' | 'bank' | 'monitor' | 'site' | 'inverter' | 'load' | 'other';
const kinds = oncePer((system) => {
  const made = new Map<string, Kind>([['site', 'site']]);
  const put = (kind: Kind, parts: readonly { id: string }[] | null | undefined) =>
    (parts ?? []).forEach(({ id }) => made.set(id, kind));
  put('array', system.arrays);
  put('run', system.runs);
  put('controller', system.controllers);
  put('charger', system.chargers);
  put('inverter', system.inverters);
  put('load', system.loads);
  put('bank', system.bank ? [system.bank] : []);
  put('monitor', system.monitor ? [system.monitor] : []);
  return made;
});
/** What kind of part a reading is of. */
const kindOf = ({ system }: Model, subject: string): Kind => kinds(system).get(subject) ?? 'other';

const PREDICTED: Readonly<Record<Kind, (tools: Tools, asked: Asked, state: State) => Field | null>> = {
  array: arrayField,
  run: runField,
  controller: ({ charging, grid }, asked, state) => charging.controller(asked, state, grid),
  charger: ({ charging, grid }, asked, state) => charging.charger(asked, state, grid),
  bank: bankField,
  monitor: monitorField,
  site: siteField,
  inverter: inverterField,
  load: loadField,
  other: otherBankField,
};
const predicted = (tools: Tools, asked: Asked, state: State): Field | null =>
  PREDICTED[kindOf(tools.model, asked.subject)](tools, asked, state);

/** The axes of the grid that a reading depends on, before any of it is worked out. */
export function maskOf(model: Model, { subject, quantity }: Pick<Asked, 'subject' | 'quantity'>): Mask {
  switch (kindOf(model, subject)) {
    case 'array':
      return quantity === 'insulation_Mohm' ? 0 : LIGHT;
    case 'controller':
      return MASK.gain | MASK.soc | MASK.load;
    case 'charger':
      return MASK.soc | MASK.ohm | MASK.load;
    default:
      return BY_QUANTITY[quantity] ?? 0;
  }
}
const BY_QUANTITY: Partial<Record<Quantity, Mask>> = {
  rest_V: MASK.soc,
  restVoltage_V: MASK.soc,
  absorb_V: MASK.soc,
  blockRest_V: MASK.soc,
  density_kg_L: MASK.soc,
  load_V: MASK.soc | MASK.ohm,
  blockLoad_V: MASK.soc | MASK.ohm,
  resistance_mohm: MASK.ohm,
  head_soc: MASK.soc,
  idle_A: MASK.soc,
  dc_V: MASK.soc | MASK.ohm,
  minDc_V: MASK.soc | MASK.ohm,
};
