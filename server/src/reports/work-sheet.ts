import {
  bandText,
  inUnits,
  modelOf,
  pretty,
  runPlace,
  sizeText,
  workOf,
  type Model,
  type SystemFile,
  type Units,
  type Work,
} from '@true-lantern/core';
import type { Content } from 'pdfmake/interfaces';
import { box, lineOf, proposalOf, section, table, type Sheet } from './pieces';

/** Kit, cuts, what comes out, labels and every step with a box: for when the phone dies. */
export function workSheet(file: SystemFile, id: string, units: Units): Sheet {
  const proposal = proposalOf(file, id);
  const found = modelOf(file);
  const after = modelOf(file, id);
  const work = workOf(found, after);
  const ticks = Object.entries(
    (proposal.work?.ticks ?? {}) as Record<string, Record<string, { state?: string } | null>>,
  );
  const done = new Set(
    ticks.flatMap(([key, people]) => (Object.values(people).some((tick) => tick?.state === 'done') ? [key] : [])),
  );
  return [
    `Work sheet: ${proposal.title}`,
    [
      ...section('Kit', kitRows(work, units)),
      ...section('Cuts', cutRows(work, after, units)),
      ...section('To remove', outRows(work, units)),
      ...section('Labels', labelRows(work)),
      ...section('Tools', work.tools.length === 0 ? [] : [{ text: work.tools.join('; ') }]),
      ...section('Steps', [
        table(
          [12, 20, '*', 130],
          work.steps.map(({ n, key, text, licensed, expect }) => [
            box(done.has(key)),
            String(n),
            `${pretty(text, units)}${licensed ? ' Licensed work.' : ''}`,
            { text: expect ? `read: ________ ${bandText(expect, units)}` : '', style: 'small' },
          ]),
        ),
      ]),
      ...lineOf('The Line as it will be', after, units, found),
      {
        columns: [{ text: 'Done by: ______________________' }, { text: 'Date: ______________________' }],
        margin: [0, 24, 0, 0],
      },
    ],
  ];
}

/** What is packed, and what each of it must be. */
function kitRows(work: Work, units: Units): Content[] {
  return work.kit.length === 0
    ? []
    : [
        table(
          [12, 34, '*', 110],
          work.kit.map(({ what, count, spec }) => [
            box(),
            `${count} \u00d7`,
            pretty(what, units),
            { text: specText(spec), style: 'small' },
          ]),
        ),
      ];
}

const SPEC_WORDS: Readonly<Record<string, string>> = {
  rating_A: '',
  voltage_V: 'at least ',
  interrupt_A: 'breaking capacity at least ',
  length_m: 'each ',
};
const specText = (spec: { quantity: string; value: number | string; unit: string }[]) =>
  spec
    .flatMap(({ quantity, value, unit }) => (quantity in SPEC_WORDS ? [`${SPEC_WORDS[quantity]}${value} ${unit}`] : []))
    .join(', ');

/** Each length to be cut, and the coils that they come from. */
function cutRows(work: Work, { system }: Model, units: Units): Content[] {
  const placeOf = (run: string) => {
    const found = system.runs?.find((one) => one.id === run);
    return found ? runPlace(system, found) : '';
  };
  return work.cuts.length === 0
    ? []
    : [
        table(
          [12, '*', 70, 90, 60],
          work.cuts.map(({ run, size, poles, perPole, cut_m, lugs, oneWay_m }) => [
            box(),
            placeOf(run),
            sizeText(size, units),
            `${poles * perPole} \u00d7 ${inUnits(cut_m, 'm', units)}`,
            { text: `${lugs} ends; ${inUnits(oneWay_m, 'm', units)} one way`, style: 'small' },
          ]),
          ['', 'Cable', 'Size', 'Cut', ''],
        ),
        ...work.coils.map(({ size, coil_m, count, total_m, offcut_m }): Content => ({
          text: `${sizeText(size, units)}: ${count === 1 ? 'one coil' : `${count} coils`} of ${inUnits(coil_m, 'm', units)}, ${inUnits(total_m, 'm', units)} used, ${inUnits(offcut_m, 'm', units)} left over`,
          style: 'small',
        })),
      ];
}

/** What leaves the site, how heavy it is and where it goes. */
function outRows(work: Work, units: Units): Content[] {
  return work.removed.length === 0
    ? []
    : [
        table(
          [12, '*', 80, 150],
          work.removed.map(({ what, mass_kg, to, note }) => [
            box(),
            what,
            mass_kg === null ? 'weight not known' : inUnits(mass_kg, 'kg', units),
            { text: `${to}${note ? `; ${note}` : ''}`, style: 'small' },
          ]),
        ),
      ];
}

/** What is written on what is left behind. */
function labelRows(work: Work): Content[] {
  return work.labels.length === 0
    ? []
    : [
        table(
          [12, '*', '*'],
          work.labels.map(({ text, where }) => [box(), text, { text: where, style: 'small' }]),
        ),
      ];
}
