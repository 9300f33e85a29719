import {
  addendaOf,
  faultAt,
  inUnits,
  modelOf,
  NUMBER_NOTE,
  numberText,
  readingText,
  RECORD_HEADS,
  recordedBand,
  recordToShow,
  withUnit,
  type SystemFile,
  type Units,
} from '@true-lantern/core';
import type { Content } from 'pdfmake/interfaces';
import { lineOf, section, table, type Sheet, roomAbove } from './pieces';

const WORDS = { inside: 'inside', outside: 'OUTSIDE', 'cannot-tell': 'cannot tell' } as const;

/** Expected, measured, inside or outside and why, what was not tested, who signed: from the record that was kept. */
export function record(file: SystemFile, id: string, units: Units): Sheet {
  const shown = recordToShow(file, id);
  if (!shown) throw faultAt('about', `is "${id}", expected the id of a visit of this site`);
  const { record: kept, hash, state } = shown;
  const { visit, conditions: at } = kept;
  const rows = Object.values(kept.read).map((reading): Content[] => {
    const { what, value, unit, judged, reason } = reading;
    return [
      what,
      { text: recordedBand(reading, units), style: 'small' },
      { text: readingText(value, unit, units), bold: true },
      judged ? WORDS[judged] : '',
      { text: reason ?? '', style: 'small' },
    ];
  });
  const left = Object.values(kept.untested).map(({ what, reason }) => `${what}: ${reason}`);
  const head = RECORD_HEADS[state];
  return [
    'Commissioning record',
    [
      { text: [visit.at?.slice(0, 10), visit.people].filter(Boolean).join(', ') },
      ...(head ? [{ text: head, bold: true }] : []),
      ...(kept.proposal ? [{ text: `Fitted: ${kept.proposal}` }] : []),
      ...(visit.why ? [{ text: `Reason for the visit: ${visit.why}` }] : []),
      ...(visit.done ? [{ text: `Done: ${visit.done}` }] : []),
      {
        text: `Light ${withUnit(at.irradiance_W_m2, 'W/m\u00b2')}, air ${inUnits(at.ambient_C, 'degC', units)}, bank at ${Math.round(100 * at.soc)} %; instruments: ${kept.instruments ?? 'not noted'}, to ${at.meter_pct} % of reading`,
        style: 'small',
      },
      ...section(
        'Measured against expected',
        rows.length === 0 ? [] : [table(['*', 80, 64, 54, 110], rows, ['', 'Expected', 'Measured', '', ''])],
      ),
      ...section('Not tested', left.length === 0 ? [] : [{ ul: left }]),
      ...section('Signed', Object.entries(kept.signed).flatMap(signature)),
      ...section('Corrections', corrections(file, id)),
      ...(hash
        ? [
            {
              text: numberText(hash),
              style: 'small',
              margin: roomAbove(12),
            },
            {
              text: NUMBER_NOTE,
              style: 'small',
            },
          ]
        : // What was signed is not drawn anew from a system that may have changed since.
          lineOf('The Line as found', modelOf(file), units)),
    ],
  ];
}

const signature = ([who, { name, at, strokes }]: [
  string,
  { name: string; at: string; strokes: string },
]): Content[] => [
  ...(/^(?:[ML]-?\d+ -?\d+)+$/.test(strokes)
    ? [
        {
          svg: `<svg viewBox="0 0 320 130" width="160" height="65"><path d="${strokes}" stroke="black" stroke-width="2.5" fill="none"/></svg>`,
          width: 160,
        },
      ]
    : []),
  { text: `For the ${who}: ${name}${at ? `, ${at.slice(0, 10)}` : ''}` },
];

/** What was written beside the record since, the first first. */
function corrections(file: SystemFile, id: string): Content[] {
  const visit = (file.visits ?? []).find((one) => one.id === id);
  return addendaOf(visit ?? {}).map(({ text, by, at }) => ({
    text: `${text} (${[by, at?.slice(0, 10)].filter(Boolean).join(', ')})`,
  }));
}
