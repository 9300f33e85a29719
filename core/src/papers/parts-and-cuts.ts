import { runPlace } from '../conductors/names';
import type { StoredItem } from '../shelf/item';
import { modelOf, type Model } from '../system/model';
import type { SystemFile } from '../system/schema';
import { inGroups, inUnits, pretty, sizeText, type Units } from '../written/units';
import type { KitLine } from '../work-order/parts-list';
import { workOf, type Work } from '../work-order/work';
import { part, type Block, type Paper, type Table } from './blocks';
import { underOf } from './survey-report';

/**
 * What is fetched, cut, and taken away for one proposal: for the counter and the bench (docs/papers.md).
 * @throws FaultError where there is no such proposal, or it no longer applies
 */
export function partsAndCuts(file: SystemFile, proposal: string, shelf: readonly StoredItem[], units: Units): Paper {
  const after = modelOf(file, proposal);
  const work = workOf(modelOf(file), after, shelf);
  const title = file.proposals?.find(({ id }) => id === proposal)?.title ?? '';
  return {
    title: `Parts and cuts: ${title}`,
    under: underOf(after),
    blocks: [
      ...(work.kit.length === 0 ? [{ is: 'text' as const, text: 'Nothing to fetch: only settings change.' }] : []),
      ...part('Kit', kitTable(work, units)),
      ...cutBlocks(work, after, units),
      ...part('Labels to print', {
        is: 'table',
        boxes: true,
        columns: [
          { title: 'Label', wide: 4 },
          { title: 'Where', wide: 4 },
        ],
        rows: work.labels.map(({ text, where }) => [pretty(text, units), pretty(where, units)]),
      }),
      ...part('Tools', { is: 'text', text: work.tools.join('; ') }),
      ...part('To take away', removedTable(work, units)),
    ],
  };
}

/** What is packed, and what each of it must be. */
export const kitTable = ({ kit }: Pick<Work, 'kit'>, units: Units): Table => ({
  is: 'table',
  boxes: true,
  columns: [
    { title: 'Count', wide: 1, figures: true },
    { title: 'What', wide: 5 },
    { title: 'Must be', wide: 3 },
  ],
  rows: kit.map(({ what, count, spec }) => [`${count} \u00d7`, pretty(what, units), specText(spec)]),
});

const SPEC_WORDS: Readonly<Record<string, string>> = {
  rating_A: '',
  voltage_V: 'at least ',
  interrupt_A: 'breaking capacity at least ',
  length_m: 'each ',
};
const specText = (spec: KitLine['spec']) =>
  spec
    .flatMap(({ quantity, value, unit }) =>
      quantity in SPEC_WORDS ? [`${SPEC_WORDS[quantity]}${inGroups(String(value))}\u00a0${unit}`] : [],
    )
    .join(', ');

/** Each length to be cut, and the coils that they come from. */
export function cutBlocks({ cuts, coils }: Pick<Work, 'cuts' | 'coils'>, { system }: Model, units: Units): Block[] {
  const placeOf = (id: string) => {
    const found = system.runs?.find((one) => one.id === id);
    return found ? runPlace(system, found) : '';
  };
  return part(
    'Cuts',
    {
      is: 'table',
      boxes: true,
      columns: [
        { title: 'Cable', wide: 4 },
        { title: 'Size', wide: 2 },
        { title: 'Cut', wide: 2, figures: true },
        { title: 'One way', wide: 1.5, figures: true },
        { title: 'Ends', wide: 1, figures: true },
      ],
      rows: cuts.map(({ run, size, poles, perPole, cut_m, lugs, oneWay_m }) => [
        placeOf(run),
        sizeText(size, units),
        `${poles * perPole} \u00d7 ${inUnits(cut_m, 'm', units)}`,
        inUnits(oneWay_m, 'm', units),
        String(lugs),
      ]),
    },
    ...coils.map(({ size, coil_m, count, total_m, offcut_m }): Block => ({
      is: 'text',
      look: 'small',
      text: `${sizeText(size, units)}: ${count === 1 ? 'one coil' : `${count} coils`} of ${inUnits(coil_m, 'm', units)}, ${inUnits(total_m, 'm', units)} used, ${inUnits(offcut_m, 'm', units)} left over`,
    })),
  );
}

/** What leaves the site, how heavy it is and where it goes. */
export const removedTable = ({ removed }: Pick<Work, 'removed'>, units: Units): Table => ({
  is: 'table',
  boxes: true,
  columns: [
    { title: 'What', wide: 4 },
    { title: 'Weight', wide: 2, figures: true },
    { title: 'Where it goes', wide: 4 },
  ],
  rows: removed.map(({ what, mass_kg, to, note }) => [
    what,
    mass_kg === null ? 'not known' : inUnits(mass_kg, 'kg', units),
    `${to}${note ? `; ${note}` : ''}`,
  ]),
});
