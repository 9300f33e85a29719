import { isLithium } from '../chemistry/chemistry';
import { networkOf, touches } from '../conductors/network';
import { sizeWords } from '../conductors/sizes';
import { partName, partTitle } from '../conductors/names';
import { counted } from '../ledger/figures';
import { KINDS } from '../parts/kinds';
import { fuseTypeSaid } from '../parts/said';
import { CAUTIONS, cautionsOf } from '../rules/cautions';
import { mainsSources, type Model } from '../system/model';
import type { Placed } from '../system/parts';
import type { Run, System } from '../system/schema';
import { MINUTES, runsOf, type Keys } from './among';
import { blocksMoved, type PartWork } from './difference';
import { studOf } from './parts-list';
import { liveBeside } from './parting';
import { keyOf, type Order } from './order';

/** Proved dead, stripped and fitted; what is switched on again waits for all of it. */
export function handle(order: Order, found: System, after: Model, works: readonly PartWork[], off: Keys): Keys {
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
        why: work.replaced ? 'something else replaces it' : 'it is no longer needed',
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
      why: 'a dead tester finds everything dead',
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
        why: 'a switch that shows open may not be open inside',
        after: [first],
        minutes: MINUTES.dead,
        tool: 'two-pole voltage tester',
        cautions: [CAUTIONS.bankAmps],
      }),
    );
  const boards = (system.distribution ?? []).map(({ id }) => id);
  if (system.bank || boards.length > 0) prove('bus', 'the DC bus', boards);
  for (const { id } of liveBeside(system))
    prove(`beside-${id}`, `the cable that leads to ${partName({ system }, id)}`, [id]);
  for (const { id } of system.controllers ?? []) prove(id, `the PV terminals of ${partName({ system }, id)}`, [id]);
  const ac = [...(system.inverters ?? []), ...mainsSources(system)].map(({ id }) => id);
  if (ac.length > 0) prove('ac', 'the AC side', ac);
  if (proved.length === 0) prove('bus', 'everything you will touch', []);
  const last = tester('after', proved, 'again');
  const capped = liveBeside(system).map(({ id }) =>
    order.add({
      phase: 'prove-dead',
      act: 'cap',
      of: id,
      text: `Cap the disconnected cable of ${partName({ system }, id)} at that battery, and cover its posts.`,
      parts: [id],
      why: 'the battery itself is always live',
      after: [last],
      minutes: MINUTES.cap,
      cautions: [CAUTIONS.bankAmps],
    }),
  );
  const live = [...(system.bank ? [system.bank.id] : []), ...(system.arrays ?? []).map(({ id }) => id)];
  if (live.length === 0) return [last, ...capped];
  return [
    ...capped,
    order.add({
      phase: 'prove-dead',
      act: 'cap',
      text: 'The bank\u2019s posts and the PV side ahead of its switch stay live: cap, cover and label them. Remove the grounded pole first.',
      parts: live,
      why: 'no switch isolates them',
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
  if (work.was?.kind === 'runs' && !work.cut && work.is) return `Remove the fuse of the cable: ${name}.`;
  if (work.was?.kind === 'runs') return `Remove the cable and its fuse: ${name}.`;
  if (work.was?.kind === 'bank' && work.is && !work.replaced) return sentence(before, work, '', work.id);
  if (work.was?.kind === 'bank') return `Lift out ${name}, one block at a time, terminals capped; two people.`;
  return work.replaced || !work.is ? `Take ${name} out.` : sentence(before, work, `Take ${name} out.`, work.id);
}

function fitText(after: Model, work: PartWork): string {
  const name = partName(after, work.id);
  const { is, words, replaced, was } = work;
  if (is?.kind === 'runs') {
    if (work.landed) return landText(after, work, is.part);
    if (work.negative && !work.cut && work.fuses.length === 0)
      return `Move the negative of ${name} to the system side of the shunt.`;
    if (was && !work.cut) return `Fit the new fuse, ${fuseText(work)}, in the cable: ${name}.`;
    const from = farEndFirst(after.system, is.part);
    return `Fit the cable${work.fuses.length > 0 ? ` with its fuse, ${fuseText(work)}` : ''}: ${name}, ${cableText(is.part)}.${from}`;
  }
  if (is?.kind === 'bank' && (!was || replaced))
    return `Put ${name} in place and secure it: ${is.part.series} in series, ${is.part.parallel} in parallel${is.part.parallel > 1 ? ', leads of equal length to the bars' : ''}.`;
  if (is?.kind === 'arrays')
    return `Fit and connect ${name}: ${shape(is.part.strings)}${words.length > 0 ? `; ${words.join('; ')}` : ''}. Leave the strings open.`;
  return was && !replaced ? sentence(after, work, `Fit ${name}.`, work.id) : `Fit ${name}.`;
}
/** "50 mm2, 2.4 m one way": what is in the hand. */
const cableText = ({ size, perPole, length_m }: Run) =>
  `${(perPole ?? 1) > 1 ? `${perPole} a pole of ` : ''}${sizeWords(size)}, ${length_m} m one way`;
/** Nothing that is fitted is live while hands are on it: a cable of the bank begins at the other end. */
const farEndFirst = (system: System, run: Run) =>
  touches(run, system.bank?.id) ? ' Far end first; leave the bank end off its post and its fuse out.' : '';
function landText(after: Model, { was }: PartWork, run: Run): string {
  const ends = [run.from, run.to].flatMap((end) => (end ? [partName(after, end)] : []));
  return `Reconnect the same cable${was ? '' : ','}: ${partName(after, run.id)}, ${cableText(run)}, on ${ends.join(' and ')}.${farEndFirst(after.system, run)}`;
}
const fuseText = ({ fuses }: PartWork) =>
  fuses
    .map(({ device, far }) =>
      `${device.type ? fuseTypeSaid(device.type) : 'fuse'} ${device.rating_A ? `${device.rating_A} A` : ''}${far ? ' at the far end' : ''}`.trim(),
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
      why: work.replaced ? `replaces ${KINDS[kind].noun} that was removed` : 'new in this proposal',
      after: [...(own ? [own] : dead), ...waitsFor(work)],
      minutes: fitMinutes(work),
      cautions: is ? cautionsOf(kind, is.part as object) : [],
      ...(isLicensed(system, is) ? { licensed: true as const } : {}),
      ...(torque ? { torque_Nm: torque, tool: 'insulated torque wrench' } : {}),
      ...(kind === 'runs' && work.cut && !torque ? { tool: 'crimp tool with the right die' } : {}),
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
  const { come } = blocksMoved(work);
  const regrouped = work.words.some((word) => word.startsWith('connected as'));
  if (come === 0 && !regrouped) return [];
  const all = bank.series * bank.parallel;
  const stay = all - come;
  const common = {
    act: 'charge-alone' as const,
    parts: [bank.id],
    why: 'on a flat curve 0.05 V per 12 V can mean 40 % of charge: unequal packs push hundreds of amperes when connected',
    tool: 'charger for one pack, voltmeter',
    cautions: [CAUTIONS.bankAmps, CAUTIONS.coldLithium],
  };
  const join = 'rest 1 h, then connect them within 0.05 V per 12 V of each other';
  return [
    // Most of a day a pack: nobody waits for it on site.
    ...(come > 0
      ? [
          order.add({
            ...common,
            phase: 'tell',
            text: `Before the visit, at the workshop: charge each of the ${come} new packs separately to absorption and tail current, most of a day; ${join}.`,
            minutes: 0,
          }),
        ]
      : []),
    // What is in service is parted, one from the other, before it is charged by itself.
    ...(stay > 0
      ? [
          order.add({
            ...common,
            phase: 'fit',
            of: 'in-service',
            text: `Disconnect ${stay === 1 ? 'the pack in service, charge it' : `the ${stay} packs in service from each other, charge each`} separately to absorption and tail current, ${join}.`,
            after: dead,
            minutes: 60 * stay,
          }),
        ]
      : []),
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
