import { recordOf } from '../parts/objects';
import { belongsTo } from '../parts/lists';
import { same } from '../system/changes';
import { flatFields } from '../system/members';
import { eachPart, type PartKind, type Placed } from '../system/parts';
import type { Bank, PvArray, Run, System } from '../system/schema';
import { fusesOf, type PartFuse } from './fuses-of';

/**
 * What is to be done to each part so that a system becomes another (docs/work-orders-and-readings.md): replaced where its plate
 * differs, reset where settings do, grown, shrunk or rewired, cut or fused anew. Everything else is left alone.
 */
export interface PartWork {
  id: string;
  kind: PartKind;
  /** As found, and as proposed. */
  was: Placed | null;
  is: Placed | null;
  /** Leaves, in whole or in part. */
  strip: boolean;
  /** Comes, in whole or in part. */
  fit: boolean;
  reset: boolean;
  /** Another in its place: stripped and fitted under one id. */
  replaced: boolean;
  /** A run that is cut. */
  cut: boolean;
  /** A run whose conductor, size and fuse stay, landed on another device or another place. */
  landed: boolean;
  /** A run whose negative comes to the system side of the shunt. */
  negative: boolean;
  /** Fuses that come: at the source end of a run or in each string, and at the far end. */
  fuses: PartFuse[];
  /** What is done in words, where it is not the whole part. */
  words: string[];
}

const nothing = (id: string, kind: PartKind, was: Placed | null, is: Placed | null): PartWork => ({
  id,
  kind,
  was,
  is,
  strip: false,
  fit: false,
  reset: false,
  replaced: false,
  cut: false,
  landed: false,
  negative: false,
  fuses: [],
  words: [],
});

/** Every part of which there is something to do, in the order of the system. */
export function differences(before: System, after: System): PartWork[] {
  const had = new Map(eachPart(before).map((placed) => [placed.part.id, placed]));
  const has = new Map(eachPart(after).map((placed) => [placed.part.id, placed]));
  const works: PartWork[] = [];
  for (const [id, is] of has) {
    if (!isThing(is.kind)) continue;
    const found = had.get(id) ?? null;
    // One id that became another kind of part is two parts.
    const was = found?.kind === is.kind ? found : null;
    const plain = was ? changed(was, is, before, after) : added(is);
    const work = countedNow(plain, before, after) ? { ...plain, fit: true, negative: true } : plain;
    if (found && !was && isThing(found.kind)) works.push({ ...nothing(id, found.kind, found, null), strip: true });
    works.push(work);
  }
  for (const [id, was] of had)
    if (!has.has(id) && isThing(was.kind)) works.push({ ...nothing(id, was.kind, was, null), strip: true });
  // A device that is another: what stays of its cables is landed on it again.
  const another = new Set(
    works.filter(({ kind, replaced, was }) => kind !== 'runs' && replaced && was).map(({ id }) => id),
  );
  return works
    .map((work) => {
      if (work.is?.kind !== 'runs' || work.was?.kind !== 'runs' || work.cut) return work;
      const { from, to } = work.is.part;
      return another.has(from ?? '') || another.has(to ?? '') ? landedWork(work) : work;
    })
    .filter(({ strip, fit, reset, fuses }) => strip || fit || reset || fuses.length > 0);
}

const landedWork = (work: PartWork): PartWork => ({
  ...work,
  landed: true,
  fit: true,
  words: [...work.words.filter((word) => word !== NO_FUSE_WORDS), 'reconnected'],
});

/** A run that stood beside the shunt, or before there was one, and is counted now. */
function countedNow({ was, is }: PartWork, before: System, after: System): boolean {
  if (was?.kind !== 'runs' || is?.kind !== 'runs' || !after.monitor) return false;
  if (is.part.kind === 'pv' || is.part.kind === 'ac' || is.part.negativeThroughShunt !== true) return false;
  return !before.monitor || was.part.negativeThroughShunt === false;
}

/** Types of modules are in arrays, states are in nobody's van. */
const isThing = (kind: PartKind) => kind !== 'moduleTypes' && kind !== 'states';

function added(is: Placed): PartWork {
  return { ...nothing(is.part.id, is.kind, null, is), fit: true, cut: is.kind === 'runs', fuses: fusesOf(is, null) };
}

function changed(was: Placed, is: Placed, before: System, after: System): PartWork {
  const work = nothing(is.part.id, is.kind, was, is);
  if (was.kind === 'arrays' && is.kind === 'arrays') return arrayWork(work, was.part, is.part, before, after);
  if (was.kind === 'runs' && is.kind === 'runs') return runWork(work, was.part, is.part);
  const replaced = plateOf(was) !== plateOf(is) || renewed(was, is);
  if (replaced)
    return { ...work, strip: true, fit: true, replaced: true, reset: isSet(is.kind), fuses: fusesOf(is, null) };
  const reset = !same(settingsOf(was), settingsOf(is));
  if (was.kind === 'bank' && is.kind === 'bank') return { ...bankWork(work, was.part, is.part), reset };
  if (was.kind === 'switches' && is.kind === 'switches') {
    const moved = was.part.runId !== is.part.runId || (was.part.end ?? null) !== (is.part.end ?? null);
    return { ...work, strip: moved, fit: moved, reset, words: moved ? ['moved'] : [] };
  }
  if (was.kind === 'loads' && is.kind === 'loads') {
    const more = (is.part.quantity ?? 1) - (was.part.quantity ?? 1);
    return { ...work, fit: more > 0, strip: more < 0, words: more === 0 ? [] : [`${Math.abs(more)} of them`] };
  }
  if (was.kind === 'otherBanks' && is.kind === 'otherBanks') {
    const [from, to] = [was.part.joinedBy ?? 'none', is.part.joinedBy ?? 'none'];
    if (from === to) return work;
    return {
      ...work,
      strip: from !== 'none',
      fit: from === 'none' && to !== 'none',
      words: [from === 'none' ? `connected by a ${to}` : `its ${from} is removed`],
    };
  }
  const fittings = fittedTo(is.kind, was.part, is.part);
  const transfer =
    was.kind === 'inverters' &&
    is.kind === 'inverters' &&
    is.part.transfer === 'external' &&
    was.part.transfer !== 'external'
      ? [TRANSFER]
      : [];
  const words = [...fittings, ...transfer];
  return { ...work, reset, fit: words.length > 0, words };
}

/** What keeps two supplies apart, wired by a licensed person. */
const TRANSFER = 'an external transfer switch that cannot connect both supplies at once';

/** What is fitted to a part that stays. */
const FITTED: readonly (readonly [PartKind, string, string])[] = [
  ['bank', 'heated', 'insulation, a heater and its thermostat'],
  ['bank', 'balancer', 'a balancer'],
  ['inverters', 'precharge', 'a pre-charge resistor with its switch'],
];
/** Whether words say what is fitted to a part that stays: a thing to bring, not a way to wire. */
export const isFitting = (words: string) => words === TRANSFER || FITTED.some(([, , each]) => each === words);
const fittedTo = (of: PartKind, was: object, is: object): string[] => {
  const there = (part: object, member: string) => recordOf(part)[member] === true;
  return FITTED.filter(([kind, member]) => kind === of && there(is, member) && !there(was, member)).map(
    ([, , words]) => words,
  );
};

/** By what a plate tells one device from another: type, chemistry, volts, amperes, watts, Ah, cells, slots. */
const TELLS = /(_V|_A|_W|_VA|_Ah)$/;
const WORDS = new Set(['type', 'kind', 'chemistry', 'waveform', 'cells', 'slots', 'poles', 'dcRated', 'salvaged']);
/** Printed, but set like any other setting; or a measured state of the place. */
const SET_ALL_THE_SAME = new Set(['lowCutoff_V', 'recordedPeak_W']);

const tells = (kind: PartKind, path: string) => {
  if (SET_ALL_THE_SAME.has(path)) return false;
  const belongs = belongsTo(kind, path);
  if (belongs !== 'plate' && belongs !== 'state') return false;
  // "maxPv_W.24": watts by voltage carry their unit one step up.
  const named = path.split('.').findLast((step) => !/^\d+$/.test(step)) ?? '';
  return WORDS.has(named) || TELLS.test(named);
};

/** What tells it from another, in a form that can be compared; unknown and "no" are alike. */
function plateOf({ kind, part }: Placed): string {
  const plate = Object.entries(flatFields(part)).filter(
    ([path, value]) => value !== null && value !== undefined && value !== false && tells(kind, path),
  );
  return JSON.stringify(plate.sort(([a], [b]) => (a < b ? -1 : 1)));
}

/** The same make again, but new: a bank that is younger than it was. */
const renewed = (was: Placed, is: Placed) =>
  was.kind === 'bank' && is.kind === 'bank' && (is.part.age_y ?? was.part.age_y ?? 0) < (was.part.age_y ?? 0);

/** What is set on a device: all its settings, an inverter's cut-off, the volts at which a switch lets go. */
function settingsOf({ kind, part }: Placed) {
  return Object.fromEntries(
    Object.entries(flatFields(part)).filter(
      ([path, value]) =>
        value !== null &&
        value !== undefined &&
        !path.endsWith('.firmware') &&
        (belongsTo(kind, path) === 'setting' || path === 'lowCutoff_V'),
    ),
  );
}

/** Kinds that have something to set. */
export const isSet = (kind: PartKind) => kind === 'controllers' || kind === 'inverters' || kind === 'chargers';

/** Modules by the plates of their types: a type that reads otherwise is another module. */
const stringsOf = (array: PvArray, { moduleTypes }: System) =>
  array.strings.map((string) =>
    string.map((id) => {
      const type = (moduleTypes ?? []).find((one) => one.id === id);
      return type
        ? JSON.stringify([id, type.pmax_W, type.voc_V, type.isc_A, type.vmp_V, type.imp_A, type.cells ?? null])
        : id;
    }),
  );
const countOf = (strings: readonly (readonly string[])[]) => {
  const counts = new Map<string, number>();
  for (const module of strings.flat()) counts.set(module, (counts.get(module) ?? 0) + 1);
  return counts;
};

/** Modules that come and that go between two arrays, by type. */
export function modulesMoved(was: PvArray | null, is: PvArray | null, before: System, after: System) {
  const [old, now] = [countOf(was ? stringsOf(was, before) : []), countOf(is ? stringsOf(is, after) : [])];
  const moved = (of: Map<string, number>, than: Map<string, number>) =>
    [...of].flatMap(([plate, count]) => {
      const more = count - (than.get(plate) ?? 0);
      const id = plate.startsWith('[') ? (JSON.parse(plate) as [string])[0] : plate;
      return more > 0 ? [{ id, count: more }] : [];
    });
  return { come: moved(now, old), go: moved(old, now) };
}

function arrayWork(work: PartWork, was: PvArray, is: PvArray, before: System, after: System): PartWork {
  const { come, go } = modulesMoved(was, is, before, after);
  const rewired =
    !same(stringsOf(was, before), stringsOf(is, after)) || (was.controllerId ?? null) !== (is.controllerId ?? null);
  const fuses = fusesOf({ ...(work.is as Placed) }, work.was);
  const total = (of: { count: number }[]) => of.reduce((sum, { count }) => sum + count, 0);
  const all = total(go) > 0 && total(go) === was.strings.flat().length;
  return {
    ...work,
    strip: go.length > 0,
    fit: rewired || fuses.length > 0,
    replaced: all && come.length > 0,
    fuses,
    words: [
      ...(go.length > 0 && !all ? [`${total(go)} modules come off`] : []),
      ...(come.length > 0 && !all ? [`${total(come)} modules go up`] : []),
      ...(rewired && come.length === 0 ? ['rewired'] : []),
    ],
  };
}

const blocks = ({ series, parallel }: Bank) => series * parallel;

function bankWork(work: PartWork, was: Bank, is: Bank): PartWork {
  const more = blocks(is) - blocks(was);
  const regrouped = was.series !== is.series || was.parallel !== is.parallel;
  const rewired =
    regrouped || (was.tapping ?? null) !== (is.tapping ?? null) || (was.link?.size ?? null) !== (is.link?.size ?? null);
  const fuses = fusesOf(work.is as Placed, work.was);
  const fittings = fittedTo('bank', was, is);
  return {
    ...work,
    strip: more < 0,
    fit: rewired || fuses.length > 0 || fittings.length > 0,
    fuses,
    words: [
      ...(more > 0 ? [`${more} blocks more`] : more < 0 ? [`${-more} blocks are removed`] : []),
      ...(rewired ? [`joined as ${is.series} in series, ${is.parallel} in parallel`] : []),
      ...fittings,
    ],
  };
}

/** Blocks that come, and that go: all of another's, else as many as it grows or shrinks by. */
export function blocksMoved(work: PartWork): { come: number; go: number } {
  const was = work.was?.kind === 'bank' ? work.was.part : null;
  const is = work.is?.kind === 'bank' ? work.is.part : null;
  if (work.replaced || !was || !is) return { come: is ? blocks(is) : 0, go: was ? blocks(was) : 0 };
  const more = blocks(is) - blocks(was);
  return { come: Math.max(0, more), go: Math.max(0, -more) };
}

/** Another cable: its conductors or its length. One that ends elsewhere is landed there, not cut anew. */
function isCut(was: Run, is: Run): boolean {
  return (
    was.size !== is.size ||
    was.length_m !== is.length_m ||
    (was.material ?? 'copper') !== (is.material ?? 'copper') ||
    (was.perPole ?? 1) !== (is.perPole ?? 1) ||
    (is.insulation_C ?? was.insulation_C ?? null) !== (was.insulation_C ?? is.insulation_C ?? null)
  );
}
/** Where a run ends: which end was written first means nothing. */
const endsOf = ({ from, to }: Run) => [from ?? '', to ?? ''].sort().join(' ');

const NO_FUSE_WORDS = 'stays as it is';
function runWork(work: PartWork, was: Run, is: Run): PartWork {
  const cut = isCut(was, is);
  const fuses = fusesOf(work.is as Placed, work.was);
  const out = fusesOf(work.was as Placed, work.is);
  return {
    ...work,
    cut,
    replaced: cut,
    strip: cut || out.length > 0,
    fit: cut || fuses.length > 0,
    fuses,
    landed: !cut && endsOf(was) !== endsOf(is),
    ...(!cut && endsOf(was) !== endsOf(is) ? { fit: true } : {}),
    words: cut
      ? []
      : [fuses.length > 0 ? 'its fuse is replaced' : out.length > 0 ? 'its fuse is removed' : NO_FUSE_WORDS],
  };
}
