import { check, sentenceOf } from '../rules/check';
import { fuseWord, postFuses, soldFuse, stringFuseBodies } from '../rules/cures/wires';
import { keyOf, overOf, worstFirst, type Finding, type Verdict } from '../rules/finding';
import { ruleOf } from '../rules/index';
import { partName, runName } from '../conductors/names';
import { sizeWords } from '../conductors/sizes';
import { remediesOf } from '../rules/cures/remedies';
import { STRING } from '../rules/wires/string-own';
import { SHUNT_A, sizeSold } from '../rules/cures/sold';
import { settledBy } from '../rules/cures/settles';
import { harmed } from '../rules/cures/worse';
import { createLedger } from '../ledger/ledger';
import { continuousDischarge_A } from '../power/discharge';
import type { ShelfItem } from '../shelf/item';
import { candidates, leastChanges, type Candidate } from '../successor/swap';
import { specify, type Specification } from '../successor/specify';
import { freeId } from '../system/free-id';
import { withSystem, type Model, withChanges, faultsOfChanges } from '../system/model';

import { partById } from '../system/parts';
import type { Change } from '../system/schema';
import { takenOut } from '../system/taken-out';
import { bankChanges, type ConversionOption } from './convert';
import { judgeParts, type PartVerdict } from './parts-after';
import { raised } from '../parts/said';

/**
 * A conversion with everything that it needs. What is judged "replace", "add" or "remove" comes with the best that the
 * shelf has, each with its reason, so that the proposal that is saved is the conversion that was judged.
 */
export interface WholeConversion {
  steps: ConversionStep[];
  /** The bank, its settings, and every step taken, as one proposal holds them. */
  changes: Change[];
  /** What no part cures, in sentences. */
  left: { finding: Finding; text: string }[];
  /** Steps that could not be put into a proposal, and why: nothing is saved of them. */
  refused: string[];
  /** Every part as the steps leave it: one that a step changes is not said to stay as it is. */
  parts: PartVerdict[];
}
/** One thing that a conversion asks for besides the packs. */
export interface ConversionStep {
  id: string;
  title: string;
  why: string;
  changes: Change[];
  /** From the shelf; null where it has none that serves, or nothing is to be bought. */
  item: ShelfItem | null;
  /** False: left out by the person, and not in the changes. */
  taken: boolean;
}

/** More than so many cures and the conversion is another job. */
const MOST_CURES = 60;

/**
 * @param skip ids of steps that a person leaves out
 */
export function wholeConversion(
  model: Model,
  option: Pick<ConversionOption, 'changes'> & Partial<Pick<ConversionOption, 'parting'>>,
  shelf: readonly ShelfItem[],
  skip: ReadonlySet<string> = new Set(),
  progress: (share: number) => void = () => undefined,
): WholeConversion {
  const bare = bankChanges(option);
  const job = new Job(model, bare, shelf, skip);
  const based = withChanges(model, bare);
  const parts = judgeParts(model, based, check(based).sort(worstFirst));
  const asked = parts.filter(({ verdict }) => verdict !== 'keep' && verdict !== 'keep-reset');
  asked.forEach((part, i) => {
    progress(i / (asked.length + 1));
    job.take(part);
  });
  job.cure(check(model));
  job.settle();
  const left = overOf(check(job.now)).sort(worstFirst);
  return {
    steps: job.steps,
    changes: job.changes,
    left: left.map((finding) => ({ finding, text: sentenceOf(job.now, finding) })),
    refused: job.refused,
    parts: parts.map((part) => asTaken(part, job.steps)),
  };
}

/** A part that was to stay and that a step changes all the same, for what was over before, is not kept. */
function asTaken(part: PartVerdict, steps: readonly ConversionStep[]): PartVerdict {
  if (part.verdict !== 'keep' && part.verdict !== 'keep-reset') return part;
  const on = steps.filter(({ taken, changes }) => taken && changes.some(({ id }) => id === part.id));
  const [first] = on;
  if (!first) return part;
  const changed = on.flatMap(({ changes }) => changes.filter(({ id }) => id === part.id));
  const cable = changed.some(({ at, value }) => at === 'runs' && value && ('size' in value || 'protection' in value));
  const gone = changed.some(({ op }) => op === 'remove');
  return { ...part, verdict: gone ? 'remove' : cable ? 'replace' : 'reconfigure', why: first.why };
}

class Job {
  readonly steps: ConversionStep[] = [];
  readonly changes: Change[];
  /** Steps that no file may hold, with the reason: left out, and said. */
  readonly refused: string[] = [];
  now: Model;

  constructor(
    private readonly model: Model,
    bank: readonly Change[],
    private readonly shelf: readonly ShelfItem[],
    private readonly skip: ReadonlySet<string>,
  ) {
    this.changes = [...bank];
    this.now = withChanges(model, this.changes);
  }

  private step(id: string, title: string, why: string, changes: Change[], item: ShelfItem | null = null): void {
    if (changes.length === 0) return;
    const [fault] = faultsOfChanges(this.now, changes);
    if (fault) {
      this.refused.push(`${title}: ${fault.path.replace(/^.*> /, '')} ${fault.message}.`);
      return;
    }
    const taken = !this.skip.has(id);
    // One cable is one purchase, whatever it is thickened for.
    const [only, ...others] = new Set(changes.map((change) => `${change.at} ${change.id}`));
    const same =
      taken && others.length === 0 && only?.startsWith('runs ')
        ? this.steps.find((one) => one.taken && one.changes.every((change) => `${change.at} ${change.id}` === only))
        : undefined;
    if (same) {
      same.why = `${same.why} ${why}`;
      same.changes.push(...changes);
    } else this.steps.push({ id, title, why, changes: [...changes], item, taken });
    if (!taken) return;
    this.changes.push(...changes);
    this.now = withChanges(this.model, this.changes);
    if (same && only) same.title = this.cableTitle(only.slice('runs '.length), same.title);
  }

  /** What becomes of a cable in all: its size, its fuse, and what else was done to it. */
  private cableTitle(id: string, plain: string): string {
    const of = (model: Model) => model.system.runs?.find((run) => run.id === id);
    const [was, is] = [of(this.model), of(this.now)];
    if (!is) return plain;
    const fuse = is.protection;
    const said = [
      ...(is.size !== was?.size || is.perPole !== was.perPole
        ? [(is.perPole ?? 1) > 1 ? `${is.perPole} of ${sizeWords(is.size)} a pole` : sizeWords(is.size)]
        : []),
      ...(fuse?.type &&
      fuse.type !== 'none' &&
      (fuse.type !== was?.protection?.type || fuse.rating_A !== was.protection.rating_A)
        ? [`${fuseWord(fuse.type)} of ${fuse.rating_A} A`]
        : []),
      ...(fuse?.fromSource_m !== was?.protection?.fromSource_m ? ['the fuse at its source'] : []),
      ...(is.remoteSense && !was?.remoteSense ? ['sense wires'] : []),
    ];
    return said.length > 0 ? `${runName(this.now.system, is)}: ${said.join(', ')}` : plain;
  }

  /** One part that the conversion judged, made so. */
  take({ id, verdict, why }: PartVerdict): void {
    const { system } = this.now;
    const { bank } = system;
    if (!bank || id === bank.id) return;
    if (id === 'string-fuses') return this.stringFuses(why);
    if (id === 'heating')
      return this.step(id, 'Insulation and heat for the cells', why, [
        { op: 'set', at: 'bank', id: bank.id, value: { heated: true } },
      ]);
    if (id === 'shunt') return this.shunt(why);
    const inverter = (system.inverters ?? []).find((one) => `${one.id}-precharge` === id);
    if (inverter)
      return this.step(id, `Pre-charge for ${partName(this.model, inverter.id)}`, why, [
        { op: 'set', at: 'inverters', id: inverter.id, value: { precharge: true } },
      ]);
    const placed = partById(system, id);
    if (!placed) return;
    const { kind, part } = placed;
    const label = ('label' in part && part.label) || id;
    if (verdict === 'remove' && kind === 'chargers')
      return this.step(id, `${label} out`, why, takenOut(system, 'chargers', id));
    const joined = kind === 'otherBanks' && placed.part.joinedBy && placed.part.joinedBy !== 'none';
    const device = kind === 'controllers' || kind === 'inverters' || kind === 'chargers';
    if ((verdict === 'replace' && device) || (joined && verdict === 'reconfigure')) this.successor(id, label, why);
  }

  /** The best that the shelf has in a part's place; where it has none, a part of just the figures that are asked. */
  private successor(id: string, label: string, why: string): void {
    const spec = specify(this.now, id, 'part');
    if (!spec) return;
    const { meet, nearly } = candidates(this.now, spec, this.shelf);
    const best = meet.find(sound) ?? meet[0] ?? nearly.find((one) => open(one) && sound(one));
    if (best) {
      this.step(id, `${best.item.label} in place of ${label}`, why, best.changes, best.item);
      return;
    }
    const made = leastChanges(this.now, spec, `${wordOf(spec)}, to be chosen`);
    this.step(id, `${wordOf(spec)} to be chosen, in place of ${label}`, `${why} Nothing on the shelf fits.`, made);
  }

  private stringFuses(why: string): void {
    const { bank } = this.now.system;
    if (!bank) return;
    const bodies = stringFuseBodies(this.now, bank);
    const withFuse = (fuse: (typeof bodies)[number]) =>
      withSystem(this.now, { ...this.now.system, bank: { ...bank, stringFuse: soldFuse(fuse.type, fuse.rating_A) } });
    // Of those that carry the current, the one that breaks what the other strings push through it.
    const breaks = (fuse: (typeof bodies)[number], well: Verdict[]) =>
      check(withFuse(fuse), [INTERRUPT]).every(
        ({ quantity, verdict }) => quantity !== STRING || well.includes(verdict),
      );
    const fuse =
      bodies.find((one) => breaks(one, ['holds'])) ??
      bodies.find((one) => breaks(one, ['holds', 'tight'])) ??
      bodies[0];
    if (!fuse) return;
    this.step('string-fuses', `${raised(fuseWord(fuse.type))} of ${fuse.rating_A} A at the post of each string`, why, [
      postFuses(bank, fuse.type, fuse.rating_A),
    ]);
  }

  private shunt(why: string): void {
    const amps = continuousDischarge_A(createLedger(this.now)) / SHUNT_USE;
    const shunt_A = Number.isFinite(amps) ? sizeSold(SHUNT_A, amps) : undefined;
    if (!shunt_A) return;
    const item = this.shelf.find(({ kind, body }) => kind === 'monitor' && (body.shunt_A as number) >= shunt_A) ?? null;
    const value = item
      ? { ...structuredClone(item.body), label: item.label }
      : { shunt_A, label: `${shunt_A} A shunt with its display` };
    this.step(
      'shunt',
      item?.label ?? `A shunt of ${shunt_A} A`,
      why,
      [
        { op: 'add', at: 'monitor', value: { ...value, id: freeId(this.now, 'shunt') } },
        ...(this.now.system.runs ?? [])
          .filter(({ kind, negativeThroughShunt }) => kind !== 'pv' && kind !== 'ac' && negativeThroughShunt !== true)
          .map(({ id }): Change => ({ op: 'set', at: 'runs', id, value: { negativeThroughShunt: true } })),
      ],
      item,
    );
  }

  /** What the conversion settles of what only eyes could tell. */
  settle(): void {
    this.changes.push(...settledBy(this.model, this.now));
    this.now = withChanges(this.model, this.changes);
  }

  /**
   * What is still over, cured part by part: first what the conversion brings, then what was over before, each time the
   * gravest. The bank was chosen; more modules and the habits of the house are another job.
   */
  cure(found: readonly Finding[]): void {
    // What one cure makes possible for another is looked at once more.
    for (let pass = 0; pass < PASSES; pass++) if (!this.cureOnce(found)) return;
  }

  private cureOnce(found: readonly Finding[]): boolean {
    const hopeless = new Set<string>();
    let cured = false;
    for (let round = 0; round < MOST_CURES; round++) {
      const findings = check(this.now);
      const own = new Set(harmed(found, findings));
      const next = overOf(findings)
        .filter((one) => !hopeless.has(keyOf(one)))
        .sort((a, b) => Number(own.has(b)) - Number(own.has(a)) || worstFirst(a, b))[0];
      if (!next) return cured;
      const remedy = remediesOf(this.now, next, findings).find(({ changes }) => changes.every(isPart));
      const id = `${next.rule} ${next.subject} ${next.quantity ?? ''}`.trim();
      const fresh = !this.steps.some((step) => step.id === id);
      if (remedy && fresh) this.step(id, remedy.title, sentenceOf(this.now, next), remedy.changes);
      if (!remedy || !fresh || this.skip.has(id)) hopeless.add(keyOf(next));
      else cured = true;
    }
    return cured;
  }
}
const PASSES = 3;

const INTERRUPT = ruleOf('run.interrupt');
/** A shunt carries its current with so much of its rating (engine, section 6). */
const SHUNT_USE = 0.8;

/** A change of parts and settings: not of the bank that was chosen, nor of the modules, nor of what people plug in. */
const isPart = ({ at, value }: Change) => {
  if (at === 'loads') return false;
  if (at === 'arrays') return !('strings' in (value as object));
  return at !== 'bank' || !('parallel' in (value as object));
};

/** A candidate that turns nothing over by itself. */
const sound = ({ broken }: Candidate) => broken.length === 0;
/** Nothing rules it out; what its sheet does not say is to be read. */
const open = ({ judged }: Candidate) => judged.every(({ line, verdict }) => !line.must || verdict !== 'fail');

const WORDS: Record<string, string> = {
  controllers: 'A controller',
  inverters: 'An inverter',
  chargers: 'A charger',
  otherBanks: 'A DC-DC charger',
};
const wordOf = ({ kind }: Specification) => WORDS[kind] ?? 'A part';
