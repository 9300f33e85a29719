import { networkOf, touches } from '../conductors/network';
import { partName, partTitle } from '../conductors/names';
import { fuseSaid } from '../parts/said';
import { isBreaker } from '../rules/wires/run-limits';
import { isFuse } from '../rules/wires/string-own';
import type { Protection, Run, Switch, System } from '../system/schema';
import { runsOf } from './among';

/**
 * What parts a bank, an array, another battery from the rest: read from the file, never a list of what is usual. In this
 * order: a switch, a breaker recorded as a run's protection, a fuse, the lug on the post.
 */
export interface Parting {
  /** What a hand does, within a sentence: "open Main isolator". */
  text: string;
  /** The switches that it opens: they are closed again. */
  parts: string[];
  /** What a hand does to join it again. */
  back: string;
}

/** What may be opened while current flows, or at least by its own handle. */
export const HANDLES: ReadonlySet<Switch['kind']> = new Set<Switch['kind']>(['isolator', 'breaker', 'ground-fault']);
const handlesOn = (system: System, run: Run) =>
  (system.switches ?? []).filter(({ runId, kind }) => runId === run.id && HANDLES.has(kind));
const plugsOn = (system: System, run: Run) =>
  (system.switches ?? []).filter(({ runId, kind }) => runId === run.id && kind === 'plug');

const name = (system: System, id: string) => partName({ system }, id);
const fuseOf = ({ type, rating_A }: Protection) =>
  `${type ? fuseSaid(type) : 'fuse'}${rating_A ? ` of ${rating_A} A` : ''}`;

/** How one run is parted at the end where it is fed; null: by nothing but its lug. */
function ofRun(system: System, run: Run): Parting | null {
  const switches = handlesOn(system, run);
  if (switches.length > 0) {
    const named = switches.map(({ id }) => name(system, id)).join(', ');
    return { text: `open ${named}`, parts: switches.map(({ id }) => id), back: `close ${named}` };
  }
  const { protection } = run;
  if (!isFuse(protection)) return null;
  const device = fuseOf(protection);
  const where = partTitle(system, run.id) ?? 'its cable';
  return isBreaker(protection.type as never)
    ? { text: `open the ${device} of ${where}`, parts: [run.id], back: `close the ${device} of ${where}` }
    : { text: `take out the ${device} of ${where}`, parts: [run.id], back: `put back the ${device} of ${where}` };
}

/** Runs that stand on the posts of the bank. */
const onPosts = (system: System): Run[] =>
  system.bank
    ? runsOf(system, system.bank.id).filter((run) => run.kind !== 'ac' && !networkOf(system).isBatteryLink(run))
    : [];

/** The runs that leave a board, where the bank feeds it by this run. */
function behindOf(system: System, run: Run): Run[] {
  const network = networkOf(system);
  const board = (system.distribution ?? []).find(({ id }) => id === network.ownEnd(run));
  return board
    ? runsOf(system, board.id).filter((one) => one.id !== run.id && one.kind !== 'pv' && one.kind !== 'ac')
    : [];
}

/** Every way by which the bank is parted: each run on its posts by what that has, or by all that leaves its bar. */
export function partsBank(system: System): Parting[] {
  const { bank } = system;
  if (!bank) return [];
  const runs = onPosts(system);
  const partings = runs.flatMap((run): Parting[] => {
    if (handlesOn(system, run).length > 0) return [ofRun(system, run) as Parting];
    // Behind the bar every one of them must have its handle, or the bar is not parted.
    const behind = behindOf(system, run);
    if (behind.length > 0 && behind.every((one) => handlesOn(system, one).length > 0))
      return behind.map((one) => ofRun(system, one) as Parting);
    return [ofRun(system, run) ?? lugOf(system, run, bank.id)];
  });
  if (isFuse(bank.stringFuse) && partings.every(({ parts }) => parts.length === 0))
    return [
      {
        text: `take out the ${fuseOf(bank.stringFuse)} at the post of ${bank.parallel > 1 ? 'each string' : 'the bank'}`,
        parts: [bank.id],
        back: `put back the ${fuseOf(bank.stringFuse)} at the post of ${bank.parallel > 1 ? 'each string' : 'the bank'}`,
      },
    ];
  return partings.length > 0
    ? partings
    : [
        {
          text: 'take the leads off its posts, negative first',
          parts: [],
          back: 'put the leads back on its posts, negative last',
        },
      ];
}

const lugOf = (system: System, run: Run, postsOf: string): Parting => ({
  text: `take ${partTitle(system, run.id) ?? 'its cable'} off the posts of ${name(system, postsOf)}, negative first`,
  parts: [],
  back: `put ${partTitle(system, run.id) ?? 'its cable'} on the posts of ${name(system, postsOf)}, negative last`,
});

/** How an array is parted from its controller. `covered`: only once no light falls on it. */
export interface PvParting extends Parting {
  covered: boolean;
}

/** What an array's cables have: handles, breakers recorded as their protection, else covers; plugs only without load. */
export function partsArray(system: System, arrayId: string): PvParting {
  const runs = pvRuns(system, arrayId);
  const handles = runs.flatMap((run) => handlesOn(system, run));
  if (handles.length > 0) {
    const named = handles.map(({ id }) => name(system, id)).join(', ');
    return { text: `open ${named}`, parts: handles.map(({ id }) => id), back: `close ${named}`, covered: false };
  }
  const breakers = runs.filter(({ protection }) => isFuse(protection) && isBreaker(protection.type as never));
  // Each of its own cables, or the one that leads on: one that has none leaves the array joined.
  const own = runs.filter((run) => touches(run, arrayId));
  const onward = runs.filter((run) => !touches(run, arrayId));
  const all = (some: readonly Run[]) => some.length > 0 && some.every((run) => breakers.includes(run));
  const opened = all(own) ? own : all(onward) ? onward : [];
  if (opened.length > 0) {
    const each = opened.map((run) => ofRun(system, run) as Parting);
    return {
      text: each.map(({ text }) => text).join(', '),
      parts: each.flatMap(({ parts }) => parts),
      back: each.map(({ back }) => back).join(', '),
      covered: false,
    };
  }
  const plugs = runs.flatMap((run) => plugsOn(system, run));
  const named = plugs.map(({ id }) => name(system, id)).join(', ');
  return {
    text: plugs.length > 0 ? `cover all modules, then unplug ${named} at no current` : 'cover all modules',
    parts: plugs.map(({ id }) => id),
    back: plugs.length > 0 ? `plug ${named} in, then take the covers off` : 'take the covers off',
    covered: true,
  };
}

/** The handle or plug of one string: on the run that carries it alone, else what parts its array. */
export function partsString(system: System, arrayId: string, index: number, count: number): PvParting {
  const whole = partsArray(system, arrayId);
  const own = runsOf(system, arrayId).filter(
    ({ kind, strings }) => kind === 'pv' && (strings ? strings.length === 1 && strings[0] === index : count === 1),
  );
  const handles = own.flatMap((run) => handlesOn(system, run));
  const plugs = own.flatMap((run) => plugsOn(system, run));
  const at = (those: readonly Switch[]) => those.map(({ id }) => name(system, id)).join(', ');
  if (handles.length > 0)
    return { ...whole, text: `open ${at(handles)}`, back: `close ${at(handles)}`, parts: handles.map(({ id }) => id) };
  const breaker = own.find(({ protection }) => isFuse(protection) && isBreaker(protection.type as never));
  const byBreaker = breaker ? ofRun(system, breaker) : null;
  if (byBreaker) return { ...whole, ...byBreaker, covered: false };
  if (plugs.length > 0)
    return { ...whole, text: `part ${at(plugs)}`, back: `plug ${at(plugs)} in`, parts: plugs.map(({ id }) => id) };
  if (count > 1 && !whole.covered) return whole;
  return {
    ...whole,
    text: 'unplug it',
    back: count > 1 ? `plug in string ${index + 1}` : whole.back,
    parts: whole.parts,
  };
}

function pvRuns(system: System, arrayId: string): Run[] {
  const own = runsOf(system, arrayId).filter(({ kind }) => kind === 'pv');
  const boards = new Set((system.distribution ?? []).map(({ id }) => id));
  const onward = own.flatMap(({ from, to }) =>
    [from, to].flatMap((end) =>
      end && boards.has(end)
        ? runsOf(system, end).filter(({ kind, from: a, to: b }) => kind === 'pv' && !isOfArray(system, a, b))
        : [],
    ),
  );
  return [...new Map([...own, ...onward].map((run) => [run.id, run])).values()];
}
const isOfArray = (system: System, from: string | null | undefined, to: string | null | undefined) =>
  (system.arrays ?? []).some(({ id }) => id === from || id === to);

/** Another battery that stays live beside the work, and how it is parted at its own end. */
export interface LiveBeside {
  id: string;
  parting: Parting;
}

/** Batteries beside the bank whose cables lead into the work: each by what stands at its own end of them. */
export function liveBeside(system: System): LiveBeside[] {
  return (system.otherBanks ?? []).flatMap(({ id, joinedBy }): LiveBeside[] => {
    const runs = runsOf(system, id).filter(({ kind }) => kind !== 'ac' && kind !== 'pv');
    if (runs.length === 0 && (!joinedBy || joinedBy === 'none' || joinedBy === 'dc-dc')) return [];
    const each = runs.map((run): Parting => {
      // The protection of a run sits at the end nearer the bank: what is at this battery is the far one.
      const atFar = networkOf(system).feedersOf(run) !== null;
      const device = atFar ? run.farProtection : run.protection;
      const other = atFar ? null : run.farProtection;
      const handles = handlesOn(system, run).filter(({ end }) => !end || run[end] === id);
      if (handles.length > 0) {
        const named = handles.map((one) => name(system, one.id)).join(', ');
        return { text: `open ${named}`, parts: handles.map((one) => one.id), back: `close ${named}` };
      }
      const fuse = isFuse(device) ? device : isFuse(other) ? other : null;
      const where = partTitle(system, run.id) ?? 'its cable';
      if (fuse)
        return {
          text: `take out the ${fuseOf(fuse)} of ${where}`,
          parts: [run.id],
          back: `put back the ${fuseOf(fuse)} of ${where}`,
        };
      return lugOf(system, run, id);
    });
    const joined: Parting = {
      text: `take its ${joinedBy ?? 'lead'} connection off its posts, negative first`,
      parts: [],
      back: 'put it back on its posts, negative last',
    };
    const partings = each.length > 0 ? each : [joined];
    return [
      {
        id,
        parting: {
          text: partings.map(({ text }) => text).join('; '),
          parts: partings.flatMap(({ parts }) => parts),
          back: partings.map(({ back }) => back).join('; '),
        },
      },
    ];
  });
}
