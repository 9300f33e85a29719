import { isLithium } from '../chemistry/chemistry';
import { settingSheets } from '../bank/charging';
import { networkOf, touches } from '../conductors/network';
import { partName, partTitle } from '../conductors/names';
import { counted, figure } from '../ledger/figures';
import { KINDS } from '../parts/kinds';
import { said } from '../parts/said';
import { unit_W, SURGE, SURGE_UNTYPED } from '../power/loads';

import type { ExpectedTest } from '../prove/expect';
import { CAUTIONS, cautionsOf } from '../rules/cautions';
import { mainsSources, type Model } from '../system/model';
import type { Placed } from '../system/parts';
import type { Load, Run, System } from '../system/schema';
import { blocksMoved, type PartWork } from './difference';
import { studOf } from './kit';
import { keyOf, Order, type Step } from './order';

/**
 * The order of work (10-work-prove, section 1, on practice C): it comes from the systems, not from a list. Only what is
 * there is named: as found until it is stripped, as proposed from the fitting on.
 */
export function stepsOf(
  before: Model,
  after: Model,
  works: readonly PartWork[],
  tests: readonly ExpectedTest[],
): Step[] {
  if (works.length === 0) return [];
  const order = new Order();
  const handled = works.some(({ strip, fit }) => strip || fit);
  const off = switchOff(order, before, handled);
  const ready = handled ? handle(order, before.system, after, works, off) : off;
  switchOn(order, after, works, { handled, ready, tests, off: before });
  return order.steps();
}

type Keys = string[];

/** Minutes of each act; planning values. */
const MINUTES = { tell: 5, save: 10, off: 2, cover: 10, bank: 8, dead: 5, cap: 5, set: 10, on: 2, warm: 30 } as const;

const nameList = (model: Pick<Model, 'system'>, ids: readonly string[]) =>
  ids.map((id) => partName(model, id)).join(', ');

/** Everything that is switched off, in its order; what comes next waits for all of it. */
function switchOff(order: Order, model: Model, handled: boolean): Keys {
  const { system } = model;
  const tell = order.add({
    phase: 'tell',
    act: 'tell',
    text: 'Tell everybody here what goes off and for how long: fridge, radio, alarms, medical devices.',
    why: 'nobody is to miss what they rely on, and nobody is to switch it on again',
    minutes: MINUTES.tell,
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
            why: 'what is lost at power-off can then be put back',
            minutes: MINUTES.save,
            after: [tell],
          }),
        ]
      : [];
  // Each waits for all that went off before it.
  let gone: Keys = [tell, ...saved];
  const next = (step: Parameters<Order['add']>[0]) => {
    gone = [...gone, order.add({ ...step, after: gone })];
  };
  const loads = system.loads ?? [];
  if (handled && loads.length > 0)
    next({
      phase: 'off',
      act: 'load-off',
      text: `Switch the loads off: ${nameList(
        model,
        loads.map(({ id }) => id),
      )}.`,
      parts: loads.map(({ id }) => id),
      why: 'nothing draws when a connection opens: no arc',
      minutes: MINUTES.off,
    });
  for (const { id, kind, autoStart } of mainsSources(system))
    next({
      phase: 'off',
      act: 'source-off',
      of: id,
      text:
        kind === 'generator'
          ? `Stop ${partName(model, id)}, ${autoStart ? 'its automatic start off, ' : ''}and lock it.`
          : `Unplug ${partName(model, id)}, and lock the inlet.`,
      parts: [id],
      why: 'an inverter-charger\u2019s switch does not stop what passes through it',
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
        why: 'its draw and its AC side go before the bank does',
        minutes: MINUTES.off,
      });
  const engines = engineParts(system);
  if (engines.length > 0)
    next({
      phase: 'off',
      act: 'engine-off',
      text: `Engine off, key out: ${nameList(model, engines)}.`,
      parts: engines,
      why: 'an alternator that loses its battery rises to 100 V; a joined battery feeds the bus from its own side',
      minutes: MINUTES.off,
    });
  for (const array of system.arrays ?? []) {
    const switches = pvSwitches(system, array.id);
    next({
      phase: 'off',
      act: 'pv-off',
      of: array.id,
      text:
        switches.length > 0
          ? `Open ${nameList(model, switches)} of ${partName(model, array.id)}; the clamp shows 0.5 A or less before any plug is parted.`
          : `No switch: cover all modules of ${partName(model, array.id)} until the clamp shows 0.5 A or less.`,
      parts: [array.id, ...switches],
      why: 'PV before the bank: a controller that loses its battery in the sun can rise to the array\u2019s volts',
      minutes: switches.length > 0 ? MINUTES.off : MINUTES.cover,
      tool: 'DC clamp meter',
      cautions: [CAUTIONS.panelsLive],
    });
  }
  const { bank } = system;
  if (handled && bank) {
    const switches = bankSwitches(system);
    const guarded = bank.protection ? 'Its own protection or contactor off at no current, then ' : 'At no current ';
    next({
      phase: 'off',
      act: 'bank-off',
      text: `${guarded}${switches.length > 0 ? `open ${nameList(model, switches)}` : 'draw the main fuse'} of ${partName(model, bank.id)}, and lock it.`,
      parts: [bank.id, ...switches],
      why: 'the bus has no source left; what is stored in the inverter bleeds off in 5 min, below 5 V',
      minutes: MINUTES.bank,
      cautions: [CAUTIONS.bankAmps],
    });
  }
  return gone;
}

/** What an engine feeds the bus by: alternators, what charges from them, and any battery that is joined. */
function engineParts({ sources, chargers, otherBanks }: System): string[] {
  return [
    ...(sources ?? []).filter(({ kind }) => kind === 'alternator'),
    ...(chargers ?? []).filter(({ kind }) => kind !== 'mains'),
    ...(otherBanks ?? []).filter(({ joinedBy }) => joinedBy && joinedBy !== 'none'),
  ].map(({ id }) => id);
}

const runsOf = ({ runs }: System, id: string) => (runs ?? []).filter((run) => touches(run, id));
const opens = new Set(['isolator', 'breaker', 'ground-fault', 'plug']);
/** Switches of one array: on its own cables, and on those that lead on from its combiner. */
function pvSwitches(system: System, arrayId: string): string[] {
  const own = runsOf(system, arrayId).filter(({ kind }) => kind === 'pv');
  const boards = new Set((system.distribution ?? []).map(({ id }) => id));
  const onward = own.flatMap(({ from, to }) =>
    [from, to].flatMap((end) =>
      end && boards.has(end) ? runsOf(system, end).filter(({ kind }) => kind === 'pv') : [],
    ),
  );
  const runs = new Set([...own, ...onward].map(({ id }) => id));
  return (system.switches ?? []).filter(({ runId, kind }) => runs.has(runId) && opens.has(kind)).map(({ id }) => id);
}
/** Switches on what leaves the bank. */
function bankSwitches(system: System): string[] {
  const runs = new Set(system.bank ? runsOf(system, system.bank.id).map(({ id }) => id) : []);
  return (system.switches ?? []).filter(({ runId, kind }) => runs.has(runId) && opens.has(kind)).map(({ id }) => id);
}

/** Proved dead, stripped and fitted; what is switched on again waits for all of it. */
function handle(order: Order, found: System, after: Model, works: readonly PartWork[], off: Keys): Keys {
  const before = { system: found };
  const dead = proveDead(order, found, off);
  const leaving = works.filter(({ strip }) => strip);
  const stripped = new Map<string, string>();
  // Cables first: a device is lifted out when nothing holds it any more.
  const byWeight = [...leaving].sort((a, b) => stripRank(a) - stripRank(b));
  for (const work of byWeight) {
    const { id, kind, was } = work;
    const held = runsOf(found, id).flatMap(({ id: run }) => stripped.get(run) ?? []);
    stripped.set(
      id,
      order.add({
        phase: 'strip',
        act: 'strip',
        of: id,
        text: stripText(before, work),
        parts: [id],
        why: work.replaced ? 'another takes its place' : 'it is no longer needed',
        after: [...dead, ...held],
        minutes: kind === 'bank' ? 10 * Math.max(1, blocksMoved(work).go) : kind === 'arrays' ? 30 : 10,
        cautions: was ? cautionsOf(kind, was.part as object) : [],
        ...(isLicensed(found, was) ? { licensed: true as const } : {}),
      }),
    );
  }
  return fitAll(order, after, works, { dead, stripped });
}

/** Cables and switches, then what they held; the bank last but for the modules, which nobody waits for. */
const STRIP_ORDER: readonly Placed['kind'][] = ['switches', 'runs'];
const stripRank = ({ kind }: PartWork) => (STRIP_ORDER.includes(kind) ? STRIP_ORDER.indexOf(kind) : STRIP_ORDER.length);

function proveDead(order: Order, system: System, off: Keys): Keys {
  const tester = (of: string, after: Keys, when: string) =>
    order.add({
      phase: 'prove-dead',
      act: 'prove-tester',
      of,
      text: `Prove the tester on a known source ${when}.`,
      why: 'a tester that is dead itself finds everything dead',
      after,
      minutes: 1,
      tool: 'two-pole voltage tester with proving unit',
    });
  const first = tester('before', off, 'before you trust it');
  const proved: Keys = [];
  const prove = (of: string, where: string, parts: string[]) =>
    proved.push(
      order.add({
        phase: 'prove-dead',
        act: 'prove-dead',
        of,
        text: `Prove ${where} dead: pole to pole, each pole to frame; below 5 V.`,
        parts,
        why: 'a switch that is open on the label need not be open inside',
        after: [first],
        minutes: MINUTES.dead,
        tool: 'two-pole voltage tester',
        cautions: [CAUTIONS.bankAmps],
      }),
    );
  const boards = (system.distribution ?? []).map(({ id }) => id);
  if (system.bank || boards.length > 0) prove('bus', 'the DC bus', boards);
  for (const { id } of system.controllers ?? []) prove(id, `the PV terminals of ${partName({ system }, id)}`, [id]);
  const ac = [...(system.inverters ?? []), ...mainsSources(system)].map(({ id }) => id);
  if (ac.length > 0) prove('ac', 'the AC side', ac);
  if (proved.length === 0) prove('bus', 'whatever is to be touched', []);
  const last = tester('after', proved, 'again');
  const live = [...(system.bank ? [system.bank.id] : []), ...(system.arrays ?? []).map(({ id }) => id)];
  if (live.length === 0) return [last];
  return [
    order.add({
      phase: 'prove-dead',
      act: 'cap',
      text: 'The bank\u2019s posts and the PV side ahead of its switch stay live: cap, cover and label them; the grounded pole comes off first.',
      parts: live,
      why: 'no switch reaches them',
      after: [last],
      minutes: MINUTES.cap,
      cautions: [CAUTIONS.bankAmps, CAUTIONS.panelsLive],
    }),
  ];
}

const sentence = (model: Pick<Model, 'system'>, { words }: PartWork, plain: string, id: string) =>
  words.length > 0 ? `${partTitle(model.system, id) ?? ''}: ${words.join('; ')}.` : plain;

function stripText(before: Pick<Model, 'system'>, work: PartWork): string {
  const name = partName(before, work.id);
  if (work.was?.kind === 'runs' && !work.cut && work.is) return `Take the fuse out of the cable: ${name}.`;
  if (work.was?.kind === 'runs') return `Take the cable out, its fuse with it: ${name}.`;
  if (work.was?.kind === 'bank' && work.is && !work.replaced) return sentence(before, work, '', work.id);
  if (work.was?.kind === 'bank') return `Lift ${name} out, one block at a time, caps on; two people.`;
  return work.replaced || !work.is ? `Take ${name} out.` : sentence(before, work, `Take ${name} out.`, work.id);
}

function fitText(after: Model, work: PartWork): string {
  const name = partName(after, work.id);
  const { is, words, replaced, was } = work;
  if (is?.kind === 'runs') {
    if (was && !work.cut) return `Fit the new fuse, ${fuseText(work)}, in the cable: ${name}.`;
    return `Fit the cable${work.fuses.length > 0 ? ` with its fuse, ${fuseText(work)}` : ''}: ${name}.`;
  }
  if (is?.kind === 'bank' && (!was || replaced))
    return `Set ${name} in place, restrained: ${is.part.series} in series, ${is.part.parallel} in parallel${is.part.parallel > 1 ? ', leads of one length to the bars' : ''}.`;
  if (is?.kind === 'arrays')
    return `Fit and string ${name}: ${shape(is.part.strings)}${words.length > 0 ? `; ${words.join('; ')}` : ''}. Strings left open.`;
  return was && !replaced ? sentence(after, work, `Fit ${name}.`, work.id) : `Fit ${name}.`;
}
const fuseText = ({ fuses }: PartWork) =>
  fuses
    .map(({ device, far }) =>
      `${device.type ? said(device.type) : 'fuse'} ${device.rating_A ? `${device.rating_A} A` : ''}${far ? ' at the far end' : ''}`.trim(),
    )
    .join(' and ');
const shape = (strings: readonly (readonly string[])[]) =>
  `${counted(strings.length, 'string')} of ${[...new Set(strings.map(({ length }) => length))].join(' and ')}`;

/** One step for each that comes; bus and main fuse before what hangs on them, a cable after what it joins. */
function fitAll(
  order: Order,
  after: Model,
  works: readonly PartWork[],
  { dead, stripped }: { dead: Keys; stripped: Map<string, string> },
): Keys {
  const { system } = after;
  const network = networkOf(system);
  const coming = works.filter(({ fit }) => fit);
  const fitted = new Set(coming.map(({ id }) => id));
  const alone = chargeAlone(order, after, works, dead);
  const fits = (ids: readonly (string | null | undefined)[]) =>
    ids.flatMap((id) => (id && fitted.has(id) ? [keyOf('fit', id)] : []));
  const feedersOf = (run: Run) => [...(network.feedersOf(run) ?? []).map(({ id }) => id), network.sourceEnd(run)];
  const waitsFor = ({ id, is }: PartWork): Keys => {
    if (!is) return [];
    if (is.kind === 'runs') return fits([is.part.from, is.part.to, ...feedersOf(is.part)]);
    if (is.kind === 'switches') return fits([is.part.runId]);
    if (is.kind === 'bank') return alone;
    // A device hangs on what feeds its own cable; nothing of the PV side hangs on the bus.
    return is.kind === 'arrays'
      ? []
      : fits(
          ownRuns(system, id)
            .flatMap(feedersOf)
            .filter((each) => each !== id),
        );
  };
  const keys = coming.map((work) => {
    const { id, kind, is } = work;
    const own = stripped.get(id);
    const stud =
      studOf(system, id) ?? (is?.kind === 'runs' ? (studOf(system, is.part.to) ?? studOf(system, is.part.from)) : null);
    const torque = stud ? TORQUE_NM[stud] : undefined;
    return order.add({
      phase: 'fit',
      act: 'fit',
      of: id,
      text: fitText(after, work),
      parts: [id],
      why: work.replaced ? `takes the place of ${KINDS[kind].noun} that came out` : 'the proposal adds it',
      after: [...(own ? [own] : dead), ...waitsFor(work)],
      minutes: fitMinutes(work),
      cautions: is ? cautionsOf(kind, is.part as object) : [],
      ...(isLicensed(system, is) ? { licensed: true as const } : {}),
      ...(torque ? { torque_Nm: torque, tool: 'insulated torque wrench' } : {}),
      ...(kind === 'runs' && !torque ? { tool: 'crimp tool with the size\u2019s own die' } : {}),
    });
  });
  return [...dead, ...alone, ...[...stripped.values()], ...keys];
}
/** The cables by which a device hangs on the bank's side. */
const ownRuns = (system: System, id: string) =>
  runsOf(system, id).filter((run) => run.kind !== 'pv' && run.kind !== 'ac' && networkOf(system).ownEnd(run) === id);

/** Planning values for brass and copper studs; the maker's sheet says. Nm by mm of thread. */
const TORQUE_NM: Readonly<Record<number, number>> = { 4: 1.5, 5: 2.5, 6: 5, 8: 12, 10: 22, 12: 35 };

const fitMinutes = (work: PartWork) => {
  if (work.kind === 'bank') return 15 * Math.max(1, blocksMoved(work).come);
  if (work.kind === 'arrays') return 60;
  if (work.kind === 'runs') return work.cut ? 25 : 10;
  return work.kind === 'inverters' || work.kind === 'controllers' ? 30 : 15;
};

/** Lithium that is joined, in parallel or in series, is charged by itself first: equal volts are not equal charge. */
function chargeAlone(order: Order, { system }: Model, works: readonly PartWork[], dead: Keys): Keys {
  const { bank } = system;
  const work = works.find(({ kind, fit, is }) => kind === 'bank' && fit && is);
  if (!bank || !work || !isLithium(bank.chemistry) || bank.series * bank.parallel < 2) return [];
  const comes = blocksMoved(work).come > 0;
  const regrouped = work.words.some((word) => word.startsWith('joined as'));
  if (!comes && !regrouped) return [];
  return [
    order.add({
      phase: 'fit',
      act: 'charge-alone',
      text: `Charge each of the ${bank.series * bank.parallel} packs alone to absorb and tail, let it rest 1 h; join them within 0.05 V per 12 V of each other.`,
      parts: [bank.id],
      why: 'on a flat curve 0.05 V per 12 V can be 40 % of charge: packs joined unequal push hundreds of amperes',
      after: dead,
      minutes: 60,
      tool: 'charger for one pack, voltmeter',
      cautions: [CAUTIONS.bankAmps, CAUTIONS.coldLithium],
    }),
  ];
}

/** AC and building work. */
function isLicensed(system: System, placed: Placed | null): boolean {
  if (!placed) return false;
  const { kind, part } = placed;
  if (kind === 'inverters') return true;
  if (kind === 'runs') return part.kind === 'ac';
  if (kind === 'chargers') return part.kind === 'mains';
  if (kind === 'sources') return part.kind !== 'alternator';
  if (kind === 'switches')
    return part.kind === 'transfer' || (system.runs ?? []).some(({ id, kind: of }) => id === part.runId && of === 'ac');
  // A lamp with a plug is plugged in; what hangs on a panel or a building's wires is wired.
  if (kind === 'loads' && part.kind === 'ac') {
    const feeds = (system.inverters ?? []).find(({ id }) => id === part.inverterId) ?? system.inverters?.[0];
    return feeds?.feeds === 'panel' || feeds?.feeds === 'building';
  }
  return false;
}

/** An inverter of more watts than this is charged through a resistor before the bank closes on it. */
const PRECHARGE_W = 1000;

interface Return {
  handled: boolean;
  ready: Keys;
  tests: readonly ExpectedTest[];
  off: Model;
}

/** Back on: proved, the bank, its settings read back, PV by strings, the inverter, loads, sources, the engine. */
function switchOn(order: Order, model: Model, works: readonly PartWork[], { handled, ready, tests }: Return): void {
  const { system } = model;
  const { bank } = system;
  const find = (subject: string, quantity: string, string?: number) =>
    tests.find((test) => test.subject === subject && test.quantity === quantity && test.position?.string === string);
  const expecting = (test: ExpectedTest | undefined) => (test ? { expect: test } : {});
  let base = ready;
  if (handled) {
    const torqued = order.add({
      phase: 'prove',
      act: 'torque',
      text: 'Torque every joint that was made, mark it, and pull at every lug.',
      parts: works.filter(({ fit }) => fit).map(({ id }) => id),
      why: 'a loose joint is hot within the hour',
      after: ready,
      minutes: 10,
      tool: 'insulated torque wrench',
      cautions: [CAUTIONS.bankAmps],
    });
    base = [...ready, torqued];
    if (bank) base = bankBack(order, model, base, expecting(find(bank.id, 'rest_V')));
  }
  const set = setDevices(order, model, works, base);
  let on: Keys = [...base, ...set];
  on = [...on, ...stringsOn(order, model, on, handled, find)];
  const next = (step: Parameters<Order['add']>[0]) => {
    on = [...on, order.add({ ...step, after: on })];
  };
  if (handled) {
    for (const { id } of system.inverters ?? [])
      next({
        phase: 'on',
        act: 'inverter-on',
        of: id,
        text: `Switch ${partName(model, id)} on without load.`,
        parts: [id],
        why: 'its idle draw tells whether it is well before anything hangs on it',
        minutes: MINUTES.on,
        ...expecting(find(id, 'idle_A')),
      });
    if ((system.inverters ?? []).length > 0)
      next({
        phase: 'on',
        act: 'bond-rcd',
        text: 'Prove one neutral bond in each mode and trip every RCD.',
        parts: (system.inverters ?? []).map(({ id }) => id),
        why: 'without the bond an RCD never trips; with two it trips at once',
        minutes: 15,
        licensed: true,
        tool: 'installation tester',
        cautions: [CAUTIONS.codes],
      });
    loadsOn(model, next, find);
  }
  for (const { id } of mainsSources(system))
    next({
      phase: 'on',
      act: 'source-on',
      of: id,
      text: `Unlock and connect ${partName(model, id)}; see that it charges.`,
      parts: [id],
      why: 'after everything that it feeds is known to be well',
      minutes: MINUTES.on,
      cautions: [CAUTIONS.backfeed],
    });
  const engines = engineParts(system);
  if (engines.length > 0)
    next({
      phase: 'on',
      act: 'engine-on',
      text: `Engine on: ${nameList(model, engines)}; clamp the charging current.`,
      parts: engines,
      why: 'last of all: an alternator suffers most from a bus that opens',
      minutes: 5,
    });
  warmAndSign(order, model, works, { on, handled });
}

type Find = (subject: string, quantity: string, string?: number) => ExpectedTest | undefined;

/** Polarity and volts at the bank's isolator, pre-charge, then the bank. */
function bankBack(order: Order, model: Model, base: Keys, expect: { expect?: ExpectedTest }): Keys {
  const { system } = model;
  const { bank } = system;
  if (!bank) return base;
  const polarity = order.add({
    phase: 'prove',
    act: 'polarity',
    of: bank.id,
    text: 'Polarity and volts on both sides of the bank\u2019s isolator before it closes.',
    parts: [bank.id, ...bankSwitches(system)],
    why: 'a bank the wrong way round destroys everything on the bus at once',
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
        )} through a resistor until 95 % of the bank\u2019s volts stand behind the switch.`,
        parts: large.map(({ id }) => id),
        why: 'empty capacitors draw thousands of amperes and weld the switch',
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
      text: `Close ${partName(model, bank.id)} onto the bus; nothing else is on.`,
      parts: [bank.id, ...bankSwitches(system)],
      why: 'the devices wake on the bank alone, so that they can be set before anything charges',
      after: keys,
      minutes: MINUTES.on,
      cautions: [CAUTIONS.bankAmps],
    }),
  ];
  const comms = bank.protection?.comms;
  if (!comms || comms === 'none') return keys;
  return [
    ...keys,
    order.add({
      phase: 'settings',
      act: 'signals',
      text: 'Bring the bank\u2019s signals up and read the limits that it sends.',
      parts: [bank.id],
      why: 'a device that does not hear the bank charges it blindly',
      after: keys,
      minutes: 5,
    }),
  ];
}

/** One step for each device that is new, replaced or reset; new cells: all of them. Read back before anything charges. */
function setDevices(order: Order, model: Model, works: readonly PartWork[], base: Keys): Keys {
  const { system } = model;
  const newCells = works.some(({ kind, replaced, was, fit }) => kind === 'bank' && fit && (replaced || !was));
  const touched = new Map(works.map((work) => [work.id, work]));
  const sheets = settingSheets(system);
  const devices = [...new Set(sheets.map(({ id }) => id))];
  const switched = (system.switches ?? []).filter(({ kind }) => kind === 'load-disconnect').map(({ id }) => id);
  const wanted = [...devices, ...switched].filter((id) => {
    const work = touched.get(id);
    return newCells || work?.reset || (work?.fit && (work.was === null || work.replaced));
  });
  const lines = works.flatMap(({ was }) => was ?? []);
  return wanted.map((id) => {
    const set = sheets.filter((sheet) => sheet.id === id).flatMap(({ settings }) => settingWords(settings));
    const relay = (system.switches ?? []).find((one) => one.id === id);
    if (relay?.lvd_V) set.push(`lets go at ${figure(relay.lvd_V)} V`);
    if (relay?.reconnect_V) set.push(`joins again at ${figure(relay.reconnect_V)} V`);
    return order.add({
      phase: 'settings',
      act: 'set',
      of: id,
      text: `Set ${partName(model, id)}${set.length > 0 ? `: ${set.join(', ')}` : ' by its settings sheet'}; leave its menu and read everything back.`,
      parts: [id],
      why: newCells
        ? 'the cells are new: what was right for the old ones is not for these'
        : lines.length > 0
          ? 'its settings change, or it is new'
          : 'it is new',
      after: base,
      minutes: MINUTES.set,
    });
  });
}

const SETTINGS: readonly (readonly [string, string, string])[] = [
  ['absorb_V', 'absorb', 'V'],
  ['absorb_min', 'for', 'min'],
  ['tail_A', 'until', 'A'],
  ['float_V', 'float', 'V'],
  ['equalise_V', 'equalise', 'V'],
  ['comp_mV_K_cell', 'compensation', 'mV/K a cell'],
  ['maxCharge_A', 'at most', 'A'],
  ['lowTempCut_C', 'no charge below', 'degC'],
  ['cutoff_V', 'cut-off', 'V'],
  ['restart_V', 'restart', 'V'],
  ['alarm_V', 'alarm', 'V'],
  ['lvd_V', 'loads off at', 'V'],
  ['reconnect_V', 'loads on again at', 'V'],
];
const settingWords = (settings: object | null): string[] =>
  SETTINGS.flatMap(([member, word, unit]) => {
    const value = (settings as Record<string, unknown> | null)?.[member];
    if (typeof value !== 'number') return [];
    return [member === 'equalise_V' && value === 0 ? 'equalise off' : `${word} ${figure(value)} ${unit}`];
  });

/** PV one string at a time, each after its polarity and volts. */
function stringsOn(order: Order, model: Model, base: Keys, handled: boolean, find: Find): Keys {
  const keys: Keys = [];
  for (const array of model.system.arrays ?? []) {
    const name = partName(model, array.id);
    array.strings.forEach((_, s) => {
      const one = array.strings.length > 1 ? `string ${s + 1} of ${name}` : name;
      const test = find(array.id, 'stringVoc_V', s);
      const proved = handled
        ? [
            order.add({
              phase: 'on',
              act: 'polarity',
              of: `${array.id}#${s}`,
              text: `Polarity and open volts of ${one} at its isolator.`,
              parts: [array.id],
              why: 'a reversed string or a module too many is seen here, not in the controller',
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
          text: `Close ${one}; see its current rise before the next.`,
          parts: [array.id, ...pvSwitches(model.system, array.id)],
          why: 'one at a time shows which one is wrong',
          after: [...base, ...keys, ...proved],
          minutes: MINUTES.on,
          cautions: [CAUTIONS.panelsLive],
        }),
      );
    });
  }
  return keys;
}

/** Watts on top of running that a load asks for when it starts. */
const start_W = (load: Load) =>
  (load.surge_W ?? unit_W(load) * (load.type ? SURGE[load.type] : SURGE_UNTYPED)) - unit_W(load);

function loadsOn(model: Model, next: (step: Parameters<Order['add']>[0]) => void, find: Find): void {
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
      why: 'the smallest shows a fault at the least current',
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
    why: 'if anything gives out, it is here, while you look',
    minutes: 5,
    ...(test ? { expect: test } : {}),
  });
}

function warmAndSign(
  order: Order,
  model: Model,
  works: readonly PartWork[],
  { on, handled }: { on: Keys; handled: boolean },
): void {
  const { system } = model;
  const { bank, monitor } = system;
  let done = on;
  const next = (step: Parameters<Order['add']>[0]) => {
    done = [...done, order.add({ ...step, after: done })];
  };
  if (handled)
    next({
      phase: 'warm',
      act: 'warm-run',
      text: 'Run at half load or more for 15 to 30 min; look at every joint with a thermal camera, then torque again.',
      parts: works.filter(({ fit, kind }) => fit && kind === 'runs').map(({ id }) => id),
      why: 'a bad joint shows itself only when it is warm',
      minutes: MINUTES.warm,
      tool: 'thermal camera or contact thermometer',
    });
  if (bank && isLithium(bank.chemistry))
    next({
      phase: 'warm',
      act: 'cold-cut',
      text: 'Prove the cold cut: cool the sensor below its setting, the charge falls to 0 A within seconds.',
      parts: [bank.id],
      why: 'lithium charged below freezing is plated, and lost',
      minutes: 10,
      tool: 'cold spray or ice, DC clamp meter',
      cautions: [CAUTIONS.coldLithium],
    });
  if (monitor && handled)
    next({
      phase: 'warm',
      act: 'sync',
      text: `Let the bank fill, then synchronise ${partName(model, monitor.id)} at full.`,
      parts: [monitor.id],
      why: 'it counts from here on',
      minutes: 5,
    });
  next({
    phase: 'sign',
    act: 'sign',
    text: 'Prove what is left to prove, hand over, sign.',
    why: 'the proposal becomes the system as found',
    minutes: 15,
  });
}
