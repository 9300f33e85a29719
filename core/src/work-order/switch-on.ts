import { partName } from '../conductors/names';
import { SURGE, SURGE_UNTYPED, unit_W } from '../power/loads';
import type { ExpectedTest } from '../readings/row';
import { CAUTIONS } from '../rules/cautions';
import { mainsSources, type Model } from '../system/model';
import type { Load } from '../system/schema';
import { touches } from '../conductors/network';
import { raised } from '../parts/said';
import { engineParts, MINUTES, nameList, type Keys } from './among';
import { liveBeside, partsBank, partsString } from './parting';
import type { Finding } from '../rules/finding';
import { arrayWithheld, bankWithheld, withheldText } from './danger';
import type { PartWork } from './difference';
import type { Next, Order } from './order';
import { setDevices } from './devices-set';
import { warmAndSign } from './warm-run';

/** An inverter of more watts than this is charged through a resistor before the bank closes on it. */
const PRECHARGE_W = 1000;

interface Return {
  handled: boolean;
  ready: Keys;
  tests: readonly ExpectedTest[];
  /** Of the system as proposed: what is in danger is not switched on. */
  findings: readonly Finding[];
}

/** Back on: proved, the bank, its settings read back, PV by strings, the inverter, loads, sources, the engine. */
export function switchOn(
  order: Order,
  model: Model,
  works: readonly PartWork[],
  { handled, ready, tests, findings }: Return,
): void {
  const { system } = model;
  const { bank } = system;
  const find = (subject: string, quantity: string, string?: number) =>
    tests.find((test) => test.subject === subject && test.quantity === quantity && test.position?.string === string);
  let base = ready;
  if (handled) {
    const torqued = order.add({
      phase: 'prove',
      act: 'torque',
      text: 'Torque and mark every joint you made, and pull on every lug.',
      parts: works.filter(({ fit }) => fit).map(({ id }) => id),
      why: 'a loose joint gets hot within the hour',
      after: ready,
      minutes: 10,
      tool: 'insulated torque wrench',
      cautions: [CAUTIONS.bankAmps],
    });
    base = [...ready, torqued];
    base = [...base, ...postsLast(order, model, works, base)];
    if (bank) base = bankBack(order, model, base, findings, expecting(find(bank.id, 'rest_V')));
  }
  const set = setDevices(order, model, works, base);
  let on: Keys = [...base, ...set];
  on = [...on, ...stringsOn(order, model, on, { handled, find, findings })];
  const next: Next = (step) => {
    on = [...on, order.add({ ...step, after: on })];
  };
  if (handled) {
    invertersOn(model, next, find);
    loadsOn(model, next, find);
  }
  suppliesOn(model, next, handled);
  warmAndSign(order, model, works, { on, handled });
}

/** The bank's own end of what was fitted, when every other joint is made and torqued: the one step in which it comes near. */
function postsLast(order: Order, { system }: Model, works: readonly PartWork[], base: Keys): Keys {
  const { bank } = system;
  const runs = works.flatMap(({ fit, is, cut, landed }) =>
    fit && (cut || landed) && is?.kind === 'runs' && touches(is.part, bank?.id) ? [is.part] : [],
  );
  if (!bank || runs.length === 0) return [];
  return [
    order.add({
      phase: 'prove',
      act: 'torque',
      of: 'posts',
      text: `Last of all, at the bank: land ${runs.map(({ id }) => partName({ system }, id)).join(', ')} on the posts, one pole at a time, every fuse out and every switch open; torque.`,
      parts: [bank.id, ...runs.map(({ id }) => id)],
      why: 'up to here nothing you fitted was live; from now on it is',
      after: base,
      minutes: 5,
      tool: 'insulated torque wrench',
      cautions: [CAUTIONS.bankAmps],
    }),
  ];
}

type Find = (subject: string, quantity: string, string?: number) => ExpectedTest | undefined;

const expecting = (test: ExpectedTest | undefined) => (test ? { expect: test } : {});

/** Without load at first; where there is AC, its bond and its RCDs. */
function invertersOn(model: Model, next: Next, find: Find): void {
  const { system } = model;
  for (const { id } of system.inverters ?? [])
    next({
      phase: 'on',
      act: 'inverter-on',
      of: id,
      text: `Switch ${partName(model, id)} on without load.`,
      parts: [id],
      why: 'its idle draw shows whether it is healthy before any load is connected',
      minutes: MINUTES.on,
      ...expecting(find(id, 'idle_A')),
    });
  if ((system.inverters ?? []).length > 0)
    next({
      phase: 'on',
      act: 'bond-rcd',
      text: 'Verify one neutral bond in each mode and test-trip every RCD.',
      parts: (system.inverters ?? []).map(({ id }) => id),
      why: 'without the bond an RCD never trips; with two it trips at once',
      minutes: 15,
      licensed: true,
      tool: 'installation tester',
      cautions: [CAUTIONS.codes],
    });
}

/** Mains and generators, then the engine. */
function suppliesOn(model: Model, next: Next, handled: boolean): void {
  const { system } = model;
  for (const { id } of mainsSources(system))
    next({
      phase: 'on',
      act: 'source-on',
      of: id,
      text: `Unlock and connect ${partName(model, id)}; check that it charges.`,
      parts: [id],
      why: 'only after everything it feeds has been checked',
      minutes: MINUTES.on,
      cautions: [CAUTIONS.backfeed],
    });
  for (const { id, parting } of handled ? liveBeside(system) : [])
    next({
      phase: 'on',
      act: 'engine-on',
      of: id,
      text: `At ${partName(model, id)}: ${parting.back}.`,
      parts: [id, ...parting.parts],
      why: 'its cable is live again from now on',
      minutes: MINUTES.on,
      cautions: [CAUTIONS.bankAmps],
    });
  const engines = engineParts(system);
  if (engines.length > 0)
    next({
      phase: 'on',
      act: 'engine-on',
      text: `Engine on: ${nameList(model, engines)}; clamp the charging current.`,
      parts: engines,
      why: 'last: an alternator is damaged most easily if the bus opens',
      minutes: 5,
    });
}

/** Polarity and volts at the bank's isolator, pre-charge, then the bank. */
function bankBack(
  order: Order,
  model: Model,
  base: Keys,
  findings: readonly Finding[],
  expect: { expect?: ExpectedTest },
): Keys {
  const { system } = model;
  const { bank } = system;
  if (!bank) return base;
  const polarity = order.add({
    phase: 'prove',
    act: 'polarity',
    of: bank.id,
    text: `Check polarity and voltage on both sides of the bank isolation before closing it: ${partsBank(system)
      .map(({ text }) => text.replace(/^(open|take out) /, ''))
      .join('; ')}.`,
    parts: [bank.id, ...partsBank(system).flatMap(({ parts }) => parts)],
    why: 'a reversed bank destroys everything on the bus at once',
    after: base,
    minutes: 3,
    tool: 'voltmeter',
    cautions: [CAUTIONS.bankAmps],
    ...expect,
  });
  let keys = [...base, polarity];
  const large = (system.inverters ?? []).filter(({ continuous_W }) => continuous_W > PRECHARGE_W);
  if (large.length > 0)
    keys = [
      ...keys,
      order.add({
        phase: 'settings',
        act: 'precharge',
        text: `Pre-charge ${nameList(
          model,
          large.map(({ id }) => id),
        )} through a resistor until the voltage behind the switch is 95 % of the bank\u2019s.`,
        parts: large.map(({ id }) => id),
        why: 'empty capacitors draw thousands of amperes and can weld the switch',
        after: keys,
        minutes: 3,
        tool: 'pre-charge resistor, voltmeter',
        cautions: [CAUTIONS.inrush],
      }),
    ];
  keys = [
    ...keys,
    order.add({
      phase: 'settings',
      act: 'bank-on',
      text: `Connect ${partName(model, bank.id)} to the bus: ${partsBank(system)
        .map(({ back }) => back)
        .join('; ')}. Nothing else is on.`,
      parts: [bank.id, ...partsBank(system).flatMap(({ parts }) => parts)],
      why: 'the devices start on the bank alone, so they can be set before anything charges',
      after: keys,
      minutes: MINUTES.on,
      cautions: [CAUTIONS.bankAmps, ...(bankWithheld(model, findings) ? [withheldText(system, bank.id)] : [])],
      ...(bankWithheld(model, findings) ? { withheld: true as const } : {}),
    }),
  ];
  const comms = bank.protection?.comms;
  if (!comms || comms === 'none') return keys;
  return [
    ...keys,
    order.add({
      phase: 'settings',
      act: 'signals',
      text: 'Start the bank\u2019s data link and read the limits it sends.',
      parts: [bank.id],
      why: "a device without the bank's data charges it blindly",
      after: keys,
      minutes: 5,
    }),
  ];
}

/** PV one string at a time, each after its polarity and volts. */
function stringsOn(
  order: Order,
  model: Model,
  base: Keys,
  { handled, find, findings }: { handled: boolean; find: Find; findings: readonly Finding[] },
): Keys {
  const keys: Keys = [];
  for (const array of model.system.arrays ?? []) {
    const name = partName(model, array.id);
    const withheld = arrayWithheld(model, findings, array.id);
    array.strings.forEach((_, s) => {
      const one = array.strings.length > 1 ? `string ${s + 1} of ${name}` : name;
      const parting = partsString(model.system, array.id, s, array.strings.length);
      const test = find(array.id, 'stringVoc_V', s);
      const proved = handled
        ? [
            order.add({
              phase: 'on',
              act: 'polarity',
              of: `${array.id}#${s}`,
              text: `Check polarity and open-circuit voltage of ${one} before connecting it${parting.covered ? '; covers off for this, controller still disconnected' : ''}.`,
              parts: [array.id],
              why: 'a reversed string or one module too many shows here, before it reaches the controller',
              after: [...base, ...keys],
              minutes: 2,
              tool: 'voltmeter',
              cautions: [CAUTIONS.panelsLive],
              ...(test ? { expect: test } : {}),
            }),
          ]
        : [];
      keys.push(
        ...proved,
        order.add({
          phase: 'on',
          act: 'pv-on',
          of: `${array.id}#${s}`,
          text: `${raised(one)}: ${parting.back}. Check that its current rises before the next one.`,
          parts: [array.id, ...parting.parts],
          why: 'one at a time shows which one is wrong',
          after: [...base, ...keys, ...proved],
          minutes: MINUTES.on,
          cautions: [CAUTIONS.panelsLive, ...(withheld ? [withheldText(model.system, array.id)] : [])],
          ...(withheld ? { withheld: true as const } : {}),
        }),
      );
    });
  }
  return keys;
}

/** Watts on top of running that a load asks for when it starts. */
const start_W = (load: Load) =>
  (load.surge_W ?? unit_W(load) * (load.type ? SURGE[load.type] : SURGE_UNTYPED)) - unit_W(load);

function loadsOn(model: Model, next: Next, find: Find): void {
  const { system } = model;
  const loads = [...(system.loads ?? [])].sort((a, b) => unit_W(a) - unit_W(b));
  const hardest = loads
    .filter(({ kind }) => kind === 'ac')
    .reduce<Load | null>((most, load) => (start_W(load) > (most ? start_W(most) : 0) ? load : most), null);
  const quiet = loads.filter((load) => load !== hardest);
  if (quiet.length > 0)
    next({
      phase: 'on',
      act: 'load-on',
      of: 'smallest',
      text: `Loads on, smallest first: ${nameList(
        model,
        quiet.map(({ id }) => id),
      )}.`,
      parts: quiet.map(({ id }) => id),
      why: 'the smallest load shows a fault at the lowest current',
      minutes: MINUTES.on,
    });
  if (!hardest) return;
  const inverter = hardest.inverterId ?? system.inverters?.[0]?.id ?? '';
  const test = find(inverter, 'minDc_V');
  next({
    phase: 'on',
    act: 'load-on',
    of: hardest.id,
    text: `Then the hardest start: ${partName(model, hardest.id)}, with the others running.`,
    parts: [hardest.id],
    why: 'if anything fails, it is now, while you watch',
    minutes: 5,
    ...(test ? { expect: test } : {}),
  });
}
