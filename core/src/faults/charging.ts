import { charger_A, chargingDevices } from '../bank/charging';
import { CHEMISTRY } from '../chemistry/chemistry';
import { createLedger } from '../ledger/ledger';
import { chargerAlone_A, wayOf } from '../readings/moment';
import type { Model } from '../system/model';
import type { Altered, BankNow } from './altered';
import type { Asked } from './asked';
import { fieldOf, type Field } from './field';
import { MASK, type Grid, type Place } from './grid';
import { settler, type Given, type Input } from './settle';
import type { State } from './state';
import { controllersOf, type Sun } from './sun';

/** What controllers and chargers give a bank, with faults: the least of sun, limit and what bank and loads take. */

/** Half of the 8 % of practice D; where the bank sets the current it is known far less. */
const OUT_SIGMA = 0.04;
const BY_BANK_SIGMA = 0.25;
/** The cells' own warmth moves what a controller gives by less than its band: left at its middle. */
const CHARGING: number = MASK.gain | MASK.soc | MASK.load;

/** Predictions about what charges. */
export interface Charging {
  controller(asked: Asked, state: State, grid: Grid): Field | null;
  charger(asked: Asked, state: State, grid: Grid): Field | null;
  /** A that a controller gives at the middle of everything: what "of now" means of a limit. */
  now_A(controllerId: string, asked: Pick<Asked, 'at'>): number | null;
}

/** @param model as found */
export function createCharging(model: Model, sun: Sun, altered: Altered): Charging {
  const controllers = controllersOf(model);
  const nominal_V = (model.system.nominal_V ?? 12) * (13 / 12);
  const inputsOf = (state: State, asked: Pick<Asked, 'at'>): Input[] => {
    const io = altered.of(state);
    return controllers.flatMap((controller): Input[] => {
      const held = sun.top(controller, state, asked.at, nominal_V);
      if (!held) return [];
      const own = state.controllers?.[controller.id];
      const pwm = controller.type === 'pwm' || own?.pwm === true;
      const set = controller.settings?.maxCharge_A ?? Infinity;
      const way = wayOf(io, 'controller-battery', controller.id);
      const more = altered.added(state, 'controller-battery', controller.id);
      const known = (ohm: number) => (Number.isFinite(ohm) ? ohm : 0);
      return [
        {
          controller,
          held,
          pwm,
          efficiency: pwm ? 1 : io.or(`${controller.id}.efficiency_pct`, controller.efficiency_pct, 97) / 100,
          own_ohm: known(way.own_ohm) + more.own_ohm,
          shared_ohm: known(way.shared_ohm) + more.shared_ohm,
          limit_A: Math.min(controller.maxOutput_A, set, own?.limit ?? Infinity),
        },
      ];
    });
  };
  /** What one controller shows at each place, worked out once for its volts, its amperes and its output. */
  const kept = new WeakMap<State, Map<string, (bank: BankNow, place: Place) => Given | null>>();
  const shownBy = (state: State, asked: Asked, inputs: readonly Input[], at: number) => {
    const own = kept.get(state) ?? new Map<string, (bank: BankNow, place: Place) => Given | null>();
    kept.set(state, own);
    const key = `${asked.subject} ${JSON.stringify(asked.at)}`;
    const found = own.get(key);
    if (found) return found;
    const settle = settler(inputs, at);
    const places = new WeakMap<Place, Given | null>();
    const made = (bank: BankNow, place: Place) => {
      const known = places.get(place);
      if (known !== undefined) return known;
      const given = settle(bank, place);
      places.set(place, given);
      return given;
    };
    own.set(key, made);
    return made;
  };
  return {
    controller(asked, state, grid) {
      const at = controllers.findIndex(({ id }) => id === asked.subject);
      const inputs = inputsOf(state, asked);
      if (at < 0 || inputs.length !== controllers.length) return null;
      const pwm = inputs[at]?.pwm ?? false;
      const bankAt = altered.bank(state, asked.at);
      const shown = shownBy(state, asked, inputs, at);
      return fieldOf(grid, CHARGING, (place) => {
        const bank = bankAt(place.soc);
        const given = bank ? shown(bank, place) : null;
        if (!bank || !given) return { mu: NaN, sigma: NaN };
        const { quantity } = asked;
        const twelfth = 0.05 * bank.twelves;
        if (quantity === 'out_V') return { mu: given.volts, sigma: twelfth };
        const loose = given.bank ? BY_BANK_SIGMA : OUT_SIGMA;
        if (quantity === 'out_A') return { mu: given.out_A, sigma: loose * given.out_A + 0.1 };
        if (quantity === 'pv_A') return { mu: given.pv_A, sigma: loose * given.pv_A + 0.1 };
        // A pwm that holds back chops: its volts swing between the bank's and the open array's.
        return { mu: given.pv_V, sigma: (pwm && given.bank ? 0.25 : given.bank ? 0.05 : 0.015) * given.pv_V + 0.1 };
      });
    },
    charger: (asked, state, grid) => chargerField(model, altered, asked, state, grid),
    now_A(controllerId, asked) {
      const inputs = inputsOf({}, asked);
      const at = controllers.findIndex(({ id }) => id === controllerId);
      const bank = altered.bank({}, asked.at)(0.6);
      if (!bank || at < 0) return null;
      return settler(inputs, at)(bank, { gain: 0, cell_K: 0, soc: 0.6, ohm: 1, load_A: 2.5 })?.out_A ?? null;
    },
  };
}

function chargerField(model: Model, altered: Altered, asked: Asked, state: State, grid: Grid): Field | null {
  const device = chargingDevices(model.system).find(({ id, at }) => at === 'chargers' && id === asked.subject);
  if (!device || asked.quantity !== 'out_A') return null;
  const io = altered.of(state);
  const most_A = charger_A(createLedger(model), device);
  const way = wayOf(io, 'charger', device.id);
  const more = altered.added(state, 'charger', device.id);
  const own_ohm = (Number.isFinite(way.own_ohm) ? way.own_ohm : 0) + more.own_ohm;
  const bankAt = altered.bank(state, asked.at);
  return fieldOf(grid, MASK.soc | MASK.ohm | MASK.load, (place) => {
    const bank = bankAt(place.soc);
    if (!bank) return { mu: NaN, sigma: NaN };
    const set_V =
      (device.settings?.absorb_V ?? bank.cells * CHEMISTRY[bank.bank.chemistry].absorb_V) +
      (state.absorb?.[device.id] ?? 0);
    const takes_A = bank.takes_A + place.load_A;
    const posts = { ...bank.posts, resistance_ohm: bank.posts.resistance_ohm * place.ohm };
    const volts_A = state.bank?.tripped ? 0 : chargerAlone_A(posts, own_ohm, set_V);
    const mu = Math.min(most_A, takes_A, volts_A);
    const byBank = mu < most_A - 1e-6;
    return { mu, sigma: (byBank ? BY_BANK_SIGMA : OUT_SIGMA) * mu + 0.1 };
  });
}
