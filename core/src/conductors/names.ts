import { sizeWords } from './sizes';
import { KINDS, labelOf } from '../parts/kinds';
import { lowered, raised, said } from '../parts/said';
import { eachPart, partById, type Placed } from '../system/parts';
import { oncePer, type Model } from '../system/model';
import type { Run, System } from '../system/schema';

/**
 * What parts are called in a sentence: as somebody named them, else by what they are; never by an id or a field. Two that
 * would be called alike are told apart: cables by where they go, the rest by a number.
 */

const RUN_WORDS: Record<Run['kind'], string> = {
  pv: 'Array to controller',
  'controller-battery': 'Controller to bank',
  'battery-inverter': 'Bank to inverter',
  charger: 'Charger to bank',
  converter: 'Converter cable',
  'dc-load': 'Load cable',
  link: 'Link',
  ac: 'Mains cable',
};

/** "Charger to bank, 10 AWG", "Cable to Lamps, 2.5 mm2": by what it joins and its size. */
export const runName = (system: System, run: Run): string => partTitle(system, run.id) ?? plainRun(system, run);

/** What a part is called where it stands alone: as somebody named it, else what it is: "Isolator", "Controller 2". */
export const partTitle = (system: System, id: string): string | null => titlesOf(system).get(id) ?? null;

/** Which cable it is, without its size, where that stands beside it: "Controller to bank", "Cable to Lamps (2)". */
export function runPlace(system: System, run: Run): string {
  const size = `, ${sizeWords(run.size)}`;
  return run.label ? runName(system, run) : runName(system, run).replace(size, '');
}

/** A part by its id, as a sentence names it; the site itself, or what is not there, by a word. */
export function partName({ system }: Pick<Model, 'system'>, id: string): string {
  const placed = partById(system, id);
  const title = partTitle(system, id);
  if (!placed || title === null) return 'the site';
  if (placed.kind === 'runs' || labelOf(placed.part)) return title;
  // "the inverter", but "inverter 2".
  return /\d$/.test(title) ? lowered(title) : `the ${lowered(title)}`;
}

const titlesOf = oncePer((system: System): Map<string, string> => {
  const titles = new Map<string, string>();
  const parts = eachPart(system);
  const others = parts.filter(({ kind }) => kind !== 'runs');
  const byWord = new Map<string, Placed[]>();
  for (const placed of others) {
    const key = `${placed.kind} ${plainTitle(placed)}`;
    byWord.set(key, [...(byWord.get(key) ?? []), placed]);
  }
  for (const alike of byWord.values())
    alike.forEach((placed, i) =>
      titles.set(placed.part.id, alike.length > 1 ? `${plainTitle(placed)} ${i + 1}` : plainTitle(placed)),
    );
  const runs = system.runs ?? [];
  const first = apart(runs, (run) => plainRun(system, run));
  const second = apart(first.alike, (run) => byEnds(system, run, titles) ?? plainRun(system, run));
  for (const [run, name] of [...first.told, ...second.told]) titles.set(run.id, name);
  const counted = new Map<string, number>();
  for (const run of second.alike) {
    const name = byEnds(system, run, titles) ?? plainRun(system, run);
    counted.set(name, (counted.get(name) ?? 0) + 1);
    titles.set(run.id, `${name} (${counted.get(name)})`);
  }
  return titles;
});

/** Those whose name is theirs alone, and those that share one. */
function apart(runs: readonly Run[], name: (run: Run) => string): { told: [Run, string][]; alike: Run[] } {
  const named = runs.map((run): [Run, string] => [run, name(run)]);
  const times = new Map<string, number>();
  for (const [, text] of named) times.set(text, (times.get(text) ?? 0) + 1);
  return {
    told: named.filter(([, text]) => times.get(text) === 1),
    alike: named.flatMap(([run, text]) => (times.get(text) === 1 ? [] : [run])),
  };
}

function plainTitle({ kind, part }: Placed): string {
  const named = labelOf(part);
  if (named) return raised(named);
  if (kind === 'switches' || kind === 'sources') return raised(said(part.kind));
  if (kind === 'chargers')
    return part.kind === 'alternator-direct' ? 'Alternator' : `${raised(said(part.kind))} charger`;
  return KINDS[kind].word;
}

function plainRun(system: System, run: Run): string {
  if (run.label) return run.label;
  const ends = [run.from, run.to].flatMap((end) => (end ? (partById(system, end) ?? []) : []));
  const load = ends.find(({ kind }) => kind === 'loads');
  const board = ends.find(({ kind }) => kind === 'distribution');
  const what =
    run.kind === 'dc-load' || run.kind === 'link' || run.kind === 'ac'
      ? load
        ? `Cable to ${labelOf(load.part) ?? 'a load'}`
        : board
          ? `Cable to ${labelOf(board.part) ?? 'the board'}`
          : RUN_WORDS[run.kind]
      : RUN_WORDS[run.kind];
  return `${what}, ${sizeWords(run.size)}`;
}

/** "Controller 2 to Bank, 16 mm2": by where it goes, where both ends are recorded. */
function byEnds(system: System, run: Run, titles: ReadonlyMap<string, string>): string | null {
  const from = run.from ? titles.get(run.from) : undefined;
  const to = run.to ? titles.get(run.to) : undefined;
  if (!from || !to || run.label) return null;
  const placed = run.to ? partById(system, run.to) : undefined;
  const end = placed && labelOf(placed.part) ? to : lowered(to);
  return `${from} to ${end}, ${sizeWords(run.size)}`;
}
