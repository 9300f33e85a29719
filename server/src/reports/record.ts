import {
  bandText,
  conditionsOf,
  expectedTests,
  faultAt,
  inUnits,
  lowered,
  modelOf,
  positionWords,
  provedOf,
  QUANTITIES,
  readingText,
  subjectName,
  withUnit,
  type Quantity,
  type SystemFile,
  type Units,
} from '@true-lantern/core';
import type { Content } from 'pdfmake/interfaces';
import { lineOf, section, table, type Sheet } from './pieces';

const WORDS = { inside: 'inside', outside: 'OUTSIDE', 'cannot-tell': 'cannot tell' } as const;

/** Expected, measured, inside or outside and why, what was not tested, who signed. */
export function record(file: SystemFile, id: string, units: Units): Sheet {
  const visit = (file.visits ?? []).find((one) => one.id === id);
  if (!visit) throw faultAt('about', `is "${id}", expected the id of a visit of this site`);
  const model = modelOf(file);
  const readings = (file.readings ?? []).filter((reading) => reading.visit === visit.id);
  const meter_pct = readings.find((reading) => typeof reading.meter_pct === 'number')?.meter_pct ?? 0.5;
  const at = conditionsOf(visit, meter_pct);
  const proved = provedOf(expectedTests(model, at).tests, readings, visit);
  const byReading = new Map(proved.flatMap((one) => (one.reading ? [[one.reading.id, one] as const] : [])));
  const rows = readings.map((reading): Content[] => {
    const { subject, quantity, value, position, note } = reading;
    const one = byReading.get(reading.id);
    const [unit, name] = QUANTITIES[quantity as Quantity] ?? ['', 'Reading'];
    return [
      `${subjectName(model, subject)}: ${lowered(name)}${position ? `, ${positionWords(position)}` : ''}`,
      { text: one ? bandText(one.test, units) : '', style: 'small' },
      { text: readingText(value, unit, units), bold: true },
      one?.judged ? WORDS[one.judged] : '',
      { text: one?.reason ?? note ?? '', style: 'small' },
    ];
  });
  const left = proved.flatMap(({ test, reading, untested }) =>
    untested && !reading
      ? [`${subjectName(model, test.subject)}: ${lowered(QUANTITIES[test.quantity][1])}: ${untested}`]
      : [],
  );
  const signed = Object.entries(
    (visit.signed ?? {}) as Record<string, { name?: string; at?: string; strokes?: string } | null>,
  );
  return [
    'Commissioning record',
    [
      { text: [visit.at?.slice(0, 10), visit.people].filter(Boolean).join(', ') },
      ...(visit.why ? [{ text: `Called for: ${visit.why}` }] : []),
      ...(visit.done ? [{ text: `Done: ${visit.done}` }] : []),
      {
        text: `Light ${withUnit(at.irradiance_W_m2, 'W/m\u00b2')}, air ${inUnits(at.ambient_C, 'degC', units)}, bank at ${Math.round(100 * at.soc)} %; instruments: ${visit.instruments ?? 'not noted'}, to ${meter_pct} % of reading`,
        style: 'small',
      },
      ...section(
        'Measured against expected',
        rows.length === 0 ? [] : [table(['*', 80, 64, 54, 110], rows, ['', 'Expected', 'Measured', '', ''])],
      ),
      ...section('Not tested', left.length === 0 ? [] : [{ ul: left }]),
      ...section(
        'Signed',
        signed.flatMap(([who, entry]): Content[] =>
          entry
            ? [
                ...(/^(?:[ML]-?\d+ -?\d+)+$/.test(entry.strokes ?? '')
                  ? [
                      {
                        svg: `<svg viewBox="0 0 320 130" width="160" height="65"><path d="${entry.strokes}" stroke="black" stroke-width="2.5" fill="none"/></svg>`,
                        width: 160,
                      },
                    ]
                  : []),
                { text: `For the ${who}: ${entry.name ?? ''}${entry.at ? `, ${entry.at.slice(0, 10)}` : ''}` },
              ]
            : [],
        ),
      ),
      ...lineOf('The Line as found', model, units),
    ],
  ];
}
