import {
  bandText,
  check,
  conditionsOf,
  expectedTests,
  faultAt,
  inUnits,
  layoutLine,
  lineSvg,
  lowered,
  modelOf,
  positionWords,
  pretty,
  provedOf,
  QUANTITIES,
  readingText,
  runPlace,
  settingChanges,
  settingName,
  settingUnit,
  sizeText,
  subjectName,
  withUnit,
  workOf,
  type Model,
  type Quantity,
  type SystemFile,
  type Units,
} from '@true-lantern/core';
import type { Content, TDocumentDefinitions } from 'pdfmake/interfaces';

/** What a firm's papers begin with. */
export interface Letterhead {
  name: string;
  address?: string | null;
  registration?: string | null;
  /** A data address of a PNG. */
  logo?: string | null;
  paper?: string | null;
}
export const PAPERS = ['work', 'settings', 'record'] as const;
export type PaperKind = (typeof PAPERS)[number];

export interface PaperInput {
  kind: PaperKind;
  /** A proposal's id, or a visit's. */
  about: string;
  file: SystemFile;
  firm: Letterhead;
  /** The day that it is printed, as the head shows it. */
  day: string;
  /** Those of the person who asked. */
  units: Units;
}

const RULED = {
  hLineWidth: () => 0.5,
  vLineWidth: () => 0,
  hLineColor: () => '#9a9282',
  paddingTop: () => 3,
  paddingBottom: () => 3,
};

/**
 * A paper as pdfmake wants it: black on white, in the firm's head, with page numbers.
 * @throws FaultError for a proposal or a visit that is not there, or a proposal that no longer applies
 */
export function paperOf({ kind, about, file, firm, day, units }: PaperInput): TDocumentDefinitions {
  const [title, body] =
    kind === 'record'
      ? record(file, about, units)
      : kind === 'work'
        ? workSheet(file, about, units)
        : settingsSheet(file, about);
  return {
    pageSize: firm.paper === 'letter' ? 'LETTER' : 'A4',
    pageMargins: [48, 48, 48, 56],
    info: { title: `${title}, ${file.site.name}`, author: firm.name },
    defaultStyle: { font: 'Hyperlegible', fontSize: 10, lineHeight: 1.15, color: 'black' },
    styles: { title: { fontSize: 18, bold: true }, head: { fontSize: 12, bold: true }, small: { fontSize: 8.5 } },
    content: [
      ...(firm.logo?.startsWith('data:image/') ? [{ image: firm.logo, fit: [180, 60] as [number, number] }] : []),
      {
        columns: [
          { text: firm.name, style: 'head' },
          { text: day, alignment: 'right' },
        ],
      },
      ...(firm.address ? [{ text: firm.address, style: 'small' }] : []),
      { canvas: [{ type: 'line', x1: 0, y1: 4, x2: 499, y2: 4, lineWidth: 1.5 }] },
      { text: title, style: 'title', margin: [0, 12, 0, 0] },
      { text: file.site.name, margin: [0, 0, 0, 8] },
      ...body,
      {
        text: 'Figures are planning values for a competent person; local codes, the maker\u2019s manual and a licensed electrician come first where the law asks for one.',
        style: 'small',
        margin: [0, 14, 0, 0],
      },
      ...(firm.registration ? [{ text: firm.registration, style: 'small' }] : []),
    ],
    footer: (page, pages) => ({
      text: `${file.site.name} \u00b7 ${page} of ${pages}`,
      alignment: 'center',
      fontSize: 8.5,
      margin: [0, 16, 0, 0],
    }),
  };
}

const heading = (text: string): Content => ({ text, style: 'head', margin: [0, 12, 0, 3] });
const section = (title: string, rows: Content[]): Content[] => (rows.length > 0 ? [heading(title), ...rows] : []);
const table = (widths: (string | number)[], rows: Content[][], head?: string[]): Content => ({
  table: {
    headerRows: head ? 1 : 0,
    widths,
    dontBreakRows: true,
    body: [...(head ? [head.map((text): Content => ({ text, bold: true }))] : []), ...rows],
  },
  layout: RULED,
});
/** An empty box to be ticked with a pencil. */
const box = (done = false): Content => ({
  canvas: [{ type: 'rect', x: 0, y: 1, w: 9, h: 9, lineWidth: 1, ...(done ? { color: 'black' } : {}) }],
});

function proposalOf(file: SystemFile, id: string) {
  const proposal = (file.proposals ?? []).find((one) => one.id === id);
  if (!proposal) throw faultAt('about', `is "${id}", expected the id of a proposal of this site`);
  return proposal;
}

/** Kit, cuts, what comes out, labels and every step with a box: for when the phone dies. */
function workSheet(file: SystemFile, id: string, units: Units): [string, Content[]] {
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
  const placeOf = (run: string) => {
    const found = after.system.runs?.find((one) => one.id === run);
    return found ? runPlace(after.system, found) : '';
  };
  return [
    `Work sheet: ${proposal.title}`,
    [
      ...section(
        'Kit',
        work.kit.length === 0
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
            ],
      ),
      ...section(
        'Cuts',
        work.cuts.length === 0
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
            ],
      ),
      ...section(
        'Comes out',
        work.removed.length === 0
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
            ],
      ),
      ...section(
        'Labels',
        work.labels.length === 0
          ? []
          : [
              table(
                [12, '*', '*'],
                work.labels.map(({ text, where }) => [box(), text, { text: where, style: 'small' }]),
              ),
            ],
      ),
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
        columns: [{ text: 'Worked by: ______________________' }, { text: 'Date: ______________________' }],
        margin: [0, 24, 0, 0],
      },
    ],
  ];
}

const SPEC_WORDS: Readonly<Record<string, string>> = {
  rating_A: '',
  voltage_V: 'at least ',
  interrupt_A: 'breaks at least ',
  length_m: 'each ',
};
const specText = (spec: { quantity: string; value: number | string; unit: string }[]) =>
  spec
    .flatMap(({ quantity, value, unit }) => (quantity in SPEC_WORDS ? [`${SPEC_WORDS[quantity]}${value} ${unit}`] : []))
    .join(', ');

/** What each device is set to, in volts at this bank. */
function settingsSheet(file: SystemFile, id: string): [string, Content[]] {
  const proposal = proposalOf(file, id);
  const changes = settingChanges(modelOf(file).system, modelOf(file, id).system);
  const value = (setting: string, one: unknown) => {
    if (one === null || one === undefined) return 'not read';
    if (setting === 'equalise_V' && one === 0) return 'off';
    return typeof one === 'number' ? withUnit(one, settingUnit(setting), 4) : String(one);
  };
  return [
    `Settings: ${proposal.title}`,
    changes.length === 0
      ? [{ text: 'No device is set otherwise.' }]
      : [
          table(
            [12, '*', '*', 80, 80],
            changes.map(({ device, setting, before, after }) => [
              box(),
              device,
              settingName(setting),
              { text: value(setting, after), bold: true },
              { text: value(setting, before), style: 'small' },
            ]),
            ['', 'Device', 'Setting', 'Becomes', 'Was'],
          ),
          {
            text: 'Read everything back with only the bank applied. The maker\u2019s manual overrides each of these.',
            margin: [0, 6, 0, 0],
          },
        ],
  ];
}

const WORDS = { inside: 'inside', outside: 'OUTSIDE', 'cannot-tell': 'cannot tell' } as const;

/** Expected, measured, inside or outside and why, what was not tested, who signed. */
function record(file: SystemFile, id: string, units: Units): [string, Content[]] {
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

/** Of the drawing on the screen, and the room that a page has for it, pt. */
const LINE_WIDTH = 620;
const LINE_ROOM: [width: number, height: number] = [499, 640];

/** The Line as strokes and letters, seen whole; beside a base what changes is said. */
function lineOf(title: string, model: Model, units: Units, base?: Model): Content[] {
  const { system } = model;
  const layout = layoutLine(system, check(model), '', {
    ...(base ? { base: base.system } : {}),
    units,
    width: LINE_WIDTH,
    dense: true,
    foldLoads: true,
  });
  return [{ stack: [heading(title), { svg: lineSvg(layout, LINE_WIDTH), fit: LINE_ROOM }], unbreakable: true }];
}
