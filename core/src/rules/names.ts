import { sizeWords } from '../conductors/sizes';
import { KINDS, labelOf } from '../parts/kinds';
import { partById } from '../system/parts';
import type { Model } from '../system/model';
import type { Run, System } from '../system/schema';

/** What parts are called in a sentence: as somebody named them, else by what they are; never by an id or a field. */

const RUN_WORDS: Record<Run['kind'], string> = {
  pv: 'Array to controller',
  'controller-battery': 'Controller to bank',
  'battery-inverter': 'Bank to inverter',
  charger: 'Charger cable',
  converter: 'Converter cable',
  'dc-load': 'Load cable',
  link: 'Link',
  ac: 'Mains cable',
};

/** "Charger fuse", "Controller to bank, 10 AWG", "Lamp cable, 2.5 mm2". */
export function runName(system: System, run: Run): string {
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

/** What a part is called where it stands alone: as somebody named it, else what it is: "Isolator", "Generator". */
export function partTitle(system: System, id: string): string | null {
  const placed = partById(system, id);
  if (!placed) return null;
  const { kind, part } = placed;
  if (kind === 'runs') return runName(system, part);
  const named = labelOf(part);
  if (named) return named;
  const what = kind === 'switches' || kind === 'sources' ? part.kind.replace('-', ' ') : KINDS[kind].word;
  return what.charAt(0).toUpperCase() + what.slice(1);
}

/** A part by its id, as a sentence names it; the site itself, or what is not there, by a word. */
export function partName({ system }: Pick<Model, 'system'>, id: string): string {
  const placed = partById(system, id);
  const title = partTitle(system, id);
  if (!placed || title === null) return 'the site';
  return placed.kind === 'runs' || labelOf(placed.part) ? title : `the ${title.toLowerCase()}`;
}
