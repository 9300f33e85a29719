import { settingSheets } from '../bank/charging';
import { partName } from '../conductors/names';
import { CAUTIONS } from '../rules/cautions';
import { mainsSources, type Model } from '../system/model';
import { raised } from '../parts/said';
import { engineParts, MINUTES, nameList, type Keys } from './among';
import { liveBeside, partsArray, partsBank } from './parting';
import type { Next, Order } from './order';

/** Everything that is switched off, in its order; what comes next waits for all of it. */
export function switchOff(order: Order, model: Model, handled: boolean, first: Keys = []): Keys {
  let gone = beforehand(order, model, first);
  const next: Next = (step) => {
    gone = [...gone, order.add({ ...step, after: gone })];
  };
  if (handled) loadsOff(next, model);
  suppliesOff(next, model, handled);
  if (handled) besideOff(next, model);
  arraysOff(next, model);
  if (handled) bankOff(next, model);
  return gone;
}

/** Before anything goes off: people are told, and what would be lost is saved. */
function beforehand(order: Order, { system }: Model, first: Keys): Keys {
  const tell = order.add({
    phase: 'tell',
    act: 'tell',
    text: 'Tell everyone on site what goes off and for how long: fridge, radio, alarms, medical devices.',
    why: 'people must know what they lose, and must not switch it back on',
    minutes: MINUTES.tell,
    after: first,
    cautions: [CAUTIONS.codes],
  });
  const sheets = settingSheets(system);
  const saved =
    sheets.length > 0 || system.monitor
      ? [
          order.add({
            phase: 'tell',
            act: 'save',
            text: 'Save the settings and the logs of every device: a photo of each page.',
            parts: [...new Set(sheets.map(({ id }) => id)), ...(system.monitor ? [system.monitor.id] : [])],
            why: 'settings lost at power-off can then be restored',
            minutes: MINUTES.save,
            after: [tell],
          }),
        ]
      : [];
  return [tell, ...saved];
}

function loadsOff(next: Next, model: Model): void {
  const loads = model.system.loads ?? [];
  if (loads.length === 0) return;
  next({
    phase: 'off',
    act: 'load-off',
    text: `Switch the loads off: ${nameList(
      model,
      loads.map(({ id }) => id),
    )}.`,
    parts: loads.map(({ id }) => id),
    why: 'no current flows when a connection opens, so no arc',
    minutes: MINUTES.off,
  });
}

/** Whatever feeds the bus beside the sun: mains and generators, inverters (their AC side), engines. */
function suppliesOff(next: Next, model: Model, handled: boolean): void {
  const { system } = model;
  for (const { id, kind, autoStart } of mainsSources(system))
    next({
      phase: 'off',
      act: 'source-off',
      of: id,
      text:
        kind === 'generator'
          ? `Stop ${partName(model, id)}${autoStart ? ', switch off its automatic start' : ''} and lock it.`
          : `Unplug ${partName(model, id)}, and lock the inlet.`,
      parts: [id],
      why: 'the switch of an inverter-charger does not stop pass-through power',
      minutes: MINUTES.off,
      cautions: [CAUTIONS.backfeed],
    });
  const inverters = system.inverters ?? [];
  if (handled)
    for (const { id } of inverters)
      next({
        phase: 'off',
        act: 'inverter-off',
        of: id,
        text: `Switch ${partName(model, id)} off.`,
        parts: [id],
        why: 'its load and its AC side must be off before the bank',
        minutes: MINUTES.off,
      });
  const engines = engineParts(system);
  if (engines.length > 0)
    next({
      phase: 'off',
      act: 'engine-off',
      text: `Engine off, key out: ${nameList(model, engines)}.`,
      parts: engines,
      why: 'an alternator that loses its battery can reach 100 V; a connected battery feeds the bus from its side',
      minutes: MINUTES.off,
    });
}

/** A battery beside the bank stays live whatever is off here: it is parted at its own end, before hands come near. */
function besideOff(next: Next, model: Model): void {
  for (const { id, parting } of liveBeside(model.system))
    next({
      phase: 'off',
      act: 'engine-off',
      of: id,
      text: `At ${partName(model, id)}: ${parting.text}.`,
      parts: [id, ...parting.parts],
      why: 'it stays live when the bank is off and feeds its cable from its side',
      minutes: MINUTES.bank,
      cautions: [CAUTIONS.bankAmps],
    });
}

function arraysOff(next: Next, model: Model): void {
  const { system } = model;
  for (const array of system.arrays ?? []) {
    const { text, parts, covered } = partsArray(system, array.id);
    next({
      phase: 'off',
      act: 'pv-off',
      of: array.id,
      text: covered
        ? `${partName(model, array.id)} has no switch: ${text}. The clamp meter must show 0.5 A or less before you unplug anything.`
        : `${raised(text)} of ${partName(model, array.id)}. The clamp meter must show 0.5 A or less before you unplug anything.`,
      parts: [array.id, ...parts],
      why: 'PV before the bank: a controller that loses its battery in the sun can rise to the array voltage',
      minutes: covered ? MINUTES.cover : MINUTES.off,
      tool: 'DC clamp meter',
      cautions: [CAUTIONS.panelsLive],
    });
  }
}

function bankOff(next: Next, model: Model): void {
  const { system } = model;
  const { bank } = system;
  if (!bank) return;
  const partings = partsBank(system);
  const guarded = bank.protection ? 'Its own protection or contactor off at no current, then ' : 'At no current ';
  next({
    phase: 'off',
    act: 'bank-off',
    text: `${guarded}${partings.map(({ text }) => text).join('; ')}. Lock or tape each one.`,
    parts: [bank.id, ...partings.flatMap(({ parts }) => parts)],
    why: "the bus has no source left; the inverter's capacitors discharge below 5 V in 5 min",
    minutes: MINUTES.bank,
    cautions: [CAUTIONS.bankAmps],
  });
}
