import { sizeWords } from './sizes';
import { KINDS, labelOf } from '../parts/kinds';
import { lowered, raised, said } from '../parts/said';
import { eachPart, type Placed } from '../system/parts';
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
export const partTitle = (system: System, id: string): string | null =>
  namedParts(system).get(id)?.title ?? namedCables(system).get(id) ?? null;

/** Which cable it is, without its size, where that stands beside it: "Controller to bank", "Cable to Lamps (2)". */
export function runPlace(system: System, run: Run): string {
  const size = `, ${sizeWords(run.size)}`;
  return run.label ? runName(system, run) : runName(system, run).replace(size, '');
}

/** A part by its id, as a sentence names it; the site itself, or what is not there, by a word. */
export function partName({ system }: Pick<Model, 'system'>, id: string): string {
  const known = namedParts(system).get(id);
  if (!known) return namedCables(system).get(id) ?? 'the site';
  const name = endName(system, id);
  // "the inverter", but "inverter 2".
  return labelOf(known.placed.part) || /\d$/.test(name) ? name : `the ${name}`;
}

/** A part within a name, without its article: "bank", "controller 2", "Pell P30". */
export function endName(system: System, id: string): string {
  const known = namedParts(system).get(id);
  return known && !labelOf(known.placed.part) ? lowered(known.title) : (partTitle(system, id) ?? '');
}

/** All parts but the cables. Asked for at nearly every line of working: found by id, and made once for a system. */
const namedParts = oncePer((system: System): Map<string, { placed: Placed; title: string }> => {
  const byWord = new Map<string, Placed[]>();
  for (const placed of eachPart(system)) {
    if (placed.kind === 'runs') continue;
    const key = `${placed.kind} ${plainTitle(placed)}`;
    byWord.set(key, [...(byWord.get(key) ?? []), placed]);
  }
  return new Map(
    [...byWord.values()].flatMap((alike) =>
      alike.map((placed, i): [string, { placed: Placed; title: string }] => {
        const title = plainTitle(placed);
        return [placed.part.id, { placed, title: alike.length > 1 ? `${title} ${i + 1}` : title }];
      }),
    ),
  );
});

/** The cables: those whose name is theirs alone by it, the others by their ends, and what is alike even then counted. */
const namedCables = oncePer((system: System): Map<string, string> => {
  const first = apart(system.runs ?? [], (run) => plainRun(system, run));
  const byEnd = (run: Run) => byEnds(system, run) ?? plainRun(system, run);
  const second = apart(first.alike, byEnd);
  const times = new Map<string, number>();
  const last = second.alike.map((run): [Run, string] => {
    const name = byEnd(run);
    const nth = (times.get(name) ?? 0) + 1;
    times.set(name, nth);
    return [run, `${name} (${nth})`];
  });
  return new Map([...first.told, ...second.told, ...last].map(([run, name]) => [run.id, name]));
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
  const ends = [run.from, run.to].flatMap((end) => (end ? (namedParts(system).get(end)?.placed ?? []) : []));
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

/** "Controller 2 to bank, 16 mm2": by where it goes, where both ends are recorded. */
function byEnds(system: System, { from, to, label, size }: Run): string | null {
  const parts = namedParts(system);
  if (label || !from || !to || !parts.has(from) || !parts.has(to)) return null;
  return `${parts.get(from)?.title} to ${endName(system, to)}, ${sizeWords(size)}`;
}
