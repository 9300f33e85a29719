import { partTitle, runPlace } from '../conductors/names';
import { bearsFuse, networkOf } from '../conductors/network';
import { KINDS, type PartKind } from '../parts/kinds';
import { titleOf } from '../rules/check';
import type { Finding } from '../rules/finding';
import { keyFinding } from '../rules/key-figure';
import { same } from '../system/changes';
import { eachPart, type PartOf, type Placed as PlacedPart } from '../system/parts';
import type { System } from '../system/schema';
import { written, type Units } from '../written/units';
import { strokeOf } from './facts';
import { figures } from './figures';
import { VERDICT_WORDS } from './verdicts';
import type { CableRow, Ink, LeverRow, LoadRow, Row, Said, StationRow } from './rows';

type Run = PartOf<'runs'>;
type LoadPart = PartOf<'loads'>;

/** Turns parts into rows, remembering what has been drawn and how it differs from the system as found. */
export class Describer {
  readonly drawn = new Set<string>();
  private readonly before: Map<string, PlacedPart> | null;
  private readonly now: Map<string, PlacedPart>;
  /** Below the bus a cable's near end is drawn first; above it, last. */
  downwards = false;

  constructor(
    readonly system: System,
    private readonly findings: readonly Finding[],
    private readonly base: System | undefined,
    private readonly units: Units,
    private readonly off: ReadonlySet<string>,
    private readonly read?: ReadonlyMap<string, Said>,
  ) {
    const byId = (system: System) => new Map(eachPart(system).map((placed) => [placed.part.id, placed]));
    this.before = base ? byId(base) : null;
    this.now = byId(system);
  }

  station(placed: PlacedPart): StationRow {
    const { kind, part } = placed;
    this.drawn.add(part.id);
    const fact = this.fact(part.id, factOf(placed, this.system, this.units));
    return {
      type: 'station',
      id: part.id,
      title: partTitle(this.system, part.id) ?? KINDS[kind].word,
      fact,
      was: this.factBefore(part.id, fact),
      ink: this.ink(part.id),
      ...this.judged(kind, part.id),
      over: this.findings.filter(({ subject, verdict }) => subject === part.id && verdict === 'over').length,
    };
  }

  /** A cable with what opens it, each at the end where it sits. */
  cable(run: Run): Row[] {
    const device = networkOf(this.system).ownEnd(run);
    const farther = (part: PartOf<'switches'>) =>
      part.end !== undefined && part.end !== null && run[part.end] === device;
    const levers = (this.system.switches ?? []).filter(({ runId }) => runId === run.id);
    const near = levers.filter((part) => !farther(part)).map((part) => this.lever(part, run));
    const far = levers.filter(farther).map((part) => this.lever(part, run));
    const cable = this.cableAlone(run);
    return this.downwards ? [...near, cable, ...far] : [...far, cable, ...near];
  }

  private lever(part: PartOf<'switches'>, run: Run): LeverRow {
    this.drawn.add(part.id);
    const fact = KINDS.switches.fact(part, this.system, written(this.units));
    return {
      type: 'lever',
      id: part.id,
      title: partTitle(this.system, part.id) ?? KINDS.switches.word,
      // Unnamed it is called what it is: that need not be said twice.
      fact: this.fact(part.id, part.label ? fact : fact.split(' \u00b7 ').slice(1).join(' \u00b7 ')),
      ink: this.ink(part.id),
      stroke: strokeOf(run.size, run.perPole ?? 1),
      ...this.judged('switches', part.id),
    };
  }

  private cableAlone(run: Run): CableRow {
    const fact = KINDS.runs.fact(run, this.system, written(this.units));
    const { protection } = run;
    const type = protection?.type;
    const fuse =
      type === 'none' ? null : protection?.rating_A ? String(protection.rating_A) : type || bearsFuse(run) ? '?' : null;
    this.drawn.add(run.id);
    return {
      type: 'cable',
      id: run.id,
      fact,
      was: this.factBefore(run.id, fact),
      label: runPlace(this.system, run),
      ink: this.ink(run.id),
      stroke: strokeOf(run.size, run.perPole ?? 1),
      fuse,
      ...this.judged('runs', run.id),
    };
  }

  load(load: LoadPart): LoadRow {
    this.drawn.add(load.id);
    return {
      type: 'load',
      id: load.id,
      title: partTitle(this.system, load.id) ?? load.label,
      fact: this.fact(load.id, KINDS.loads.fact(load, this.system, written(this.units))),
      ink: this.ink(load.id),
      ...this.judged('loads', load.id),
    };
  }

  loadAt(loads: LoadPart[], { from, to }: Run): LoadRow[] {
    return loads.filter(({ id }) => (id === to || id === from) && !this.drawn.has(id)).map((load) => this.load(load));
  }

  /** The runs at a part that are wanted and not drawn yet. */
  runsAt(id: string, wanted: (run: Run) => boolean): Run[] {
    return (this.system.runs ?? []).filter(
      (run) => wanted(run) && (run.from === id || run.to === id) && !this.drawn.has(run.id),
    );
  }

  /** The runs of one kind at a part, or a gap where there should be one. */
  runsOf(id: string, wanted: (run: Run) => boolean, gap: string): Row[] {
    const runs = this.runsAt(id, wanted);
    return runs.length > 0 ? runs.flatMap((run) => this.cable(run)) : [{ type: 'gap', id: `${id}.run`, text: gap }];
  }

  /** Parts that a proposal takes out. */
  gone(): StationRow[] {
    const { base } = this;
    if (!base) return [];
    // Modules are told by the arrays that they are in.
    return eachPart(base)
      .filter(({ part, kind }) => !this.now.has(part.id) && kind !== 'moduleTypes')
      .map(({ kind, part }) => ({
        type: 'station',
        id: part.id,
        title: partTitle(base, part.id) ?? KINDS[kind].word,
        fact: 'taken out',
        was: null,
        ink: 'gone',
        worst: null,
        said: null,
        over: 0,
      }));
  }

  private judged(kind: PartKind, id: string): { worst: Finding | null; said: Said | null } {
    if (this.read) return { worst: null, said: this.read.get(id) ?? null };
    const worst = keyFinding(
      kind,
      this.findings.filter(({ subject }) => subject === id),
    );
    return { worst, said: worst && saidOf(worst) };
  }

  private fact(id: string, text: string): string {
    return this.off.has(id) ? `off \u00b7 ${text}` : text;
  }

  private ink(id: string): Ink {
    if (this.off.has(id)) return 'off';
    if (!this.before) return 'plain';
    const old = this.before.get(id);
    if (!old) return 'new';
    return same(old.part, this.now.get(id)?.part) ? 'plain' : 'changed';
  }

  private factBefore(id: string, fact: string): string | null {
    const old = this.before?.get(id);
    if (!old || !this.base) return null;
    const text = factOf(old, this.base, this.units);
    return text !== fact ? text : null;
  }
}

/** Every part has a figure; what has no ratio says what it is about. */
const saidOf = (finding: Finding): Said =>
  finding.demand !== null && finding.limit !== null
    ? { word: VERDICT_WORDS[finding.verdict], text: figures(finding), figures: true }
    : { word: VERDICT_WORDS[finding.verdict], text: titleOf(finding), figures: false };

/** A part's figures in a line, as its kind has them. */
const factOf = (placed: PlacedPart, system: System, units: Units): string =>
  // The fact of a kind takes a part of that kind; the compiler cannot pair the two through an index.
  (KINDS[placed.kind].fact as (part: PlacedPart['part'], among: System, write: ReturnType<typeof written>) => string)(
    placed.part,
    system,
    written(units),
  );
