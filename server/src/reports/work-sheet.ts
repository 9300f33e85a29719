import {
  bandText,
  cutBlocks,
  kitTable,
  modelOf,
  paperPart,
  pretty,
  removedTable,
  roofBlocks,
  same,
  workOf,
  type Model,
  type Roof,
  type SystemFile,
  type Units,
  type Work,
} from '@true-lantern/core';
import type { Content } from 'pdfmake/interfaces';
import { drawn } from './drawn';
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
      ...drawn(
        [
          ...paperPart('Kit', kitTable(work, units)),
          ...cutBlocks(work, after, units),
          ...paperPart('To remove', removedTable(work, units)),
        ],
        units,
      ),
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
      ...drawn(
        roofsMoved(found, after).flatMap((roof) =>
          paperPart(`Marking out: ${roof.label ?? 'roof'}`, ...roofBlocks(after, roof, units)),
        ),
        units,
      ),
      ...lineOf('The Line as it will be', after, units, found),
      {
        columns: [{ text: 'Done by: ______________________' }, { text: 'Date: ______________________' }],
        margin: [0, 24, 0, 0],
      },
    ],
  ];
}

/** Roofs on which modules lie otherwise than before. */
const roofsMoved = (found: Model, after: Model): Roof[] =>
  (after.system.roofs ?? []).filter((roof) => {
    const before = (found.system.roofs ?? []).find(({ id }) => id === roof.id);
    return (roof.placed ?? []).length > 0 && !same(before?.placed ?? [], roof.placed ?? []);
  });

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
