import type { RuleId } from '../rules/ids';
import { createLedger } from '../ledger/ledger';
import { check } from '../rules/check';
import { keyOf, overOf, worstFirst, type Finding } from '../rules/finding';
import { RULES, ruleOf } from '../rules/index';
import { groupOf } from '../power/groups';
import { derating, loadsOf, running_VA, running_W } from '../power/loads';
import { isWorse } from '../rules/cures/worse';
import { modulesRoom, type ModulesRoom } from './modules';
import { partMargins, type PartMargins } from './margins';
import { largestWhole } from '../numeric/roots';
import { withSystem, type Model } from '../system/model';
import type { Inverter, Load, System } from '../system/schema';

/**
 * How much more it can take: answered by bisection on the same rules, so that it cannot disagree with them (the
 * engine's section 8).
 */

/** One thing that gives out. */
export interface Rung {
  /** So much can be added before it does, W; 0: it is over already. */
  extra_W: number;
  rule: RuleId;
  subject: string;
  quantity: string | null;
}
/** What gives out one after the other as a load grows. */
export interface Ladder {
  rungs: Rung[];
  /** Findings that the load would move and that cannot be judged: the ladder does not speak for these. */
  unknown: Pick<Rung, 'rule' | 'subject' | 'quantity'>[];
}
/** How much more a day the system could bring, and store. */
export interface EnergyRoom {
  /** Wh a day more at the bank with the worst month and the autonomy held; null where that cannot be judged. */
  extra_Wh_d: number | null;
  /** What gives out first beyond it. */
  rule: RuleId | null;
  subject: string | null;
  missing: string[];
}
/** How much more the system can take, in load, energy and modules. */
export interface Headroom {
  load: Rung[];
  surgingLoad: Rung[];
  energy: EnergyRoom;
  modules: ModulesRoom;
  /** What each of its parts would take by itself. */
  partMargins: PartMargins;
  /** As in `Ladder`, of both load ladders. */
  unknown: Ladder['unknown'];
}

const RUNGS = 5;
const SURGE = 3;
/** The largest load the format holds, W. */
const MOST_W = 1_000_000;
const MOST_WH = 10_000_000;

/**
 * Both ladders, the energy and the modules of a system.
 * @param progress share done, 0 to 1
 */
export function headroom(model: Model, progress: (share: number) => void = () => undefined): Headroom {
  const found = check(model);
  const load = loadLadder(model, 1, found);
  const surging = loadLadder(model, SURGE, found);
  const unknown = new Map([...load.unknown, ...surging.unknown].map((item) => [keyOf(item), item]));
  return {
    load: load.rungs,
    surgingLoad: surging.rungs,
    energy: energyRoom(model),
    modules: modulesRoom(model, found, progress),
    partMargins: partMargins(model, found),
    unknown: [...unknown.values()],
  };
}

/**
 * Rungs of a load with `surge` times its running watts at the start: what is over already and rests on the load first
 * (with 0), then five more, each with those before it set aside.
 */
export function loadLadder(model: Model, surge: number, found: Finding[] = check(model)): Ladder {
  const inverter = model.system.inverters?.[0];
  if (!inverter && !model.system.bank) return { rungs: [], unknown: [] };
  const more = (extra_W: number, follows: boolean) =>
    inverter ? withLoad(model, inverter, extra_W, surge, follows) : withDcLoad(model, extra_W);
  // Far beyond its rating, and the rating following: whatever does not move now does not rest on the load.
  const far = 2 * (inverter?.continuous_W ?? PROBE_DC_W) + PROBE_W;
  const nudged = check(more(far, true));
  const touched = differing(found, nudged);
  // Only what a load can move is asked again and again; the rest of the book is the same at every step.
  const rules = RULES.filter(
    ({ id, bearsOn }) =>
      nudged.some((finding) => finding.rule === id && touched.has(keyOf(finding))) &&
      // Where a DC load goes is not known yet: what names its cable, its fuse or what lets go of it is asked later.
      (inverter || bearsOn.includes('load')),
  );
  const givesOut = (findings: readonly Finding[]) => (inverter ? overOf(findings) : overWithPlanned(findings));
  const aside = new Set(givesOut(found).map(keyOf));
  // The plain system so loaded, and the one whose inverter follows: a harm in either is one.
  const loaded = [check(more(far, false)), nudged].map(
    (findings) => new Map(findings.map((finding) => [keyOf(finding), finding])),
  );
  // Over already, and more load makes it worse: that limits to nothing, and what comes after it is conditional.
  const limiting = (was: Finding) => {
    const key = keyOf(was);
    return loaded.some((then) => {
      const is = then.get(key);
      // A collapse has no figure that could grow: that it moves at all is enough.
      return is && givesOut([is]).length > 0 && (isWorse(was, is) || (is.use === null && touched.has(key)));
    });
  };
  const rungs: Rung[] = givesOut(found)
    .filter(limiting)
    .sort(worstFirst)
    .map((finding) => rungOf(finding, 0));
  // What names a cable or a board elsewhere in the system is no affair of this load, known or not.
  const bank = model.system.bank?.id;
  const rests = (finding: Finding) =>
    ruleOf(finding.rule).bearsOn.includes('load') &&
    (touched.has(keyOf(finding)) || finding.subject === inverter?.id || finding.subject === bank);
  const unknown = nudged
    .filter((finding) => finding.verdict === 'unknown' && rests(finding))
    .map(({ rule, subject, quantity }) => ({ rule, subject, quantity }));

  const lifted = (key: string) =>
    inverter !== undefined &&
    (key.startsWith(`inverter.continuous|${inverter.id}|`) || key.startsWith(`inverter.apparent|${inverter.id}|`));
  let from = 0;
  for (let rung = 0; rung < RUNGS; rung++) {
    const follows = [...aside].some(lifted);
    const over = (extra: number) =>
      givesOut(check(more(extra, follows), rules))
        .filter((finding) => !aside.has(keyOf(finding)))
        .sort(worstFirst);
    const extra = largestWhole((watts) => over(watts).length === 0, from, MOST_W);
    if (extra === null) break;
    // Over from the start with this one lifted: nothing more can be added before the next gives out.
    const next = over(extra + 1)[0];
    if (!next) break;
    rungs.push(rungOf(next, Math.max(0, extra)));
    aside.add(keyOf(next));
    from = Math.max(0, extra);
  }
  return { rungs, unknown };
}

/**
 * What is over, and a bank of lead that is asked for more than its planning limit: no inverter is there to give out first,
 * and a ladder that ends at the sky is none.
 */
const overWithPlanned = (findings: readonly Finding[]) =>
  findings.filter(
    ({ rule, verdict, use }) =>
      verdict === 'over' || (rule === 'bank.discharge' && verdict === 'tight' && (use ?? 0) > 1),
  );

/** Where there is no inverter, far beyond what such a bank feeds, W. */
const PROBE_DC_W = 10_000;
/** The system with one more DC load on the bus, whose cable is still to be laid. */
const withDcLoad = (model: Model, power_W: number, hours_d = 0): Model =>
  power_W <= 0
    ? model
    : withSystem(model, {
        ...model.system,
        loads: [
          ...(model.system.loads ?? []),
          { id: PROBE_ID, label: 'More load', kind: 'dc', type: 'other', power_W, hours_d, overlap: 'base' },
        ],
      });

const PROBE_W = 100;
const rungOf = ({ rule, subject, quantity }: Finding, extra_W: number): Rung => ({ extra_W, rule, subject, quantity });

/** Findings that are not the same in both: another figure, another verdict, another working (a collapse has no figure). */
function differing(before: Finding[], after: Finding[]): Set<string> {
  const print = ({ verdict, demand, limit, working }: Finding) => JSON.stringify([verdict, demand, limit, working]);
  const was = new Map(before.map((finding) => [keyOf(finding), print(finding)]));
  return new Set(after.filter((finding) => was.get(keyOf(finding)) !== print(finding)).map(keyOf));
}

/** The system with one more load on its first inverter; `follows`: the inverter is as large as its load needs. */
function withLoad(model: Model, inverter: Inverter, extra_W: number, surge: number, follows: boolean): Model {
  if (extra_W <= 0 && !follows) return model;
  const { system } = model;
  const load: Load = {
    id: PROBE_ID,
    label: 'More load',
    kind: 'ac',
    type: 'other',
    power_W: extra_W,
    surge_W: surge * extra_W,
    powerFactor: 1,
    // Running watts alone are asked for here; energy is a question of its own.
    hours_d: 0,
    overlap: 'base',
    inverterId: inverter.id,
  };
  const next: System = { ...system, ...(extra_W > 0 ? { loads: [...(system.loads ?? []), load] } : {}) };
  const grown = follows
    ? {
        ...next,
        inverters: next.inverters?.map((one) => (one.id === inverter.id ? asLarge(withSystem(model, next), one) : one)),
      }
    : next;
  return withSystem(model, grown);
}

const PROBE_ID = 'headroom-load';

/** An inverter rated for what runs on it at its place; never smaller than it is. */
function asLarge(model: Model, inverter: Inverter): Inverter {
  const io = createLedger(model);
  const loads = loadsOf(model.system, inverter);
  const left = derating(io, inverter);
  if (!(left > 0)) return inverter;
  // What works with it as one carries its part.
  const others = (rating: 'continuous_W' | 'continuous_VA') =>
    groupOf(model.system, inverter)
      .members.filter(({ id }) => id !== inverter.id)
      .reduce((sum, one) => sum + (one[rating] ?? 0) * derating(io, one), 0);
  const grown = (rated: number, running: number) => Math.max(rated, running / left);
  const { continuous_VA } = inverter;
  return {
    ...inverter,
    continuous_W: grown(inverter.continuous_W, running_W(io, loads) - others('continuous_W')),
    ...(continuous_VA ? { continuous_VA: grown(continuous_VA, running_VA(io, loads) - others('continuous_VA')) } : {}),
  };
}

/** By the book, worst month and autonomy: refilling and lay-up are no room for more. */
const ENERGY_RULES = (['energy.worst-month', 'bank.autonomy'] as const).map(ruleOf);

/** Wh a day more, spread over the day and drawn at the bank, with worst month and autonomy not over. */
export function energyRoom(model: Model): EnergyRoom {
  const judged = (extra: number) => check(withEnergy(model, extra), ENERGY_RULES);
  const now = judged(0);
  const missing = [...new Set(now.flatMap((finding) => finding.missing))].sort();
  const absent = ENERGY_RULES.filter(({ id }) => !now.some(({ rule }) => rule === id));
  if (missing.length > 0 || absent.length > 0)
    return { extra_Wh_d: null, rule: null, subject: null, missing: missing.length > 0 ? missing : ['system.arrays'] };
  const over = (extra: number) => overOf(judged(extra)).sort(worstFirst);
  const extra = largestWhole((wh) => over(wh).length === 0, 0, MOST_WH);
  if (extra === null) return { extra_Wh_d: MOST_WH, rule: null, subject: null, missing };
  const first = over(extra + 1)[0];
  return { extra_Wh_d: Math.max(0, extra), rule: first?.rule ?? null, subject: first?.subject ?? null, missing };
}

/** Spread over the day, and drawn at the bank. */
const withEnergy = (model: Model, extra_Wh: number): Model => withDcLoad(model, extra_Wh / 24, 24);
