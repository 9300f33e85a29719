import {
  expectedTests,
  CONDITIONS,
  faultAt,
  judgeReading,
  lowered,
  modelOf,
  partTitle,
  positionWords,
  QUANTITIES,
  runPlace,
  settingChanges,
  sizeWords,
  workOf,
  type ExpectedTest,
  type Model,
  type Quantity,
  type SystemFile,
  type Visit,
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
export function paperOf({ kind, about, file, firm, day }: PaperInput): TDocumentDefinitions {
  const [title, body] =
    kind === 'record' ? record(file, about) : kind === 'work' ? workSheet(file, about) : settingsSheet(file, about);
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
/** As on the screen: a true minus, a degree sign, a square. */
const printed = (text: string) =>
  text
    .replace(/degC/g, '\u00b0C')
    .replace(/mm2/g, 'mm\u00b2')
    .replace(/W\/m2/g, 'W/m\u00b2')
    .replace(/(^|[\s(])-(\d)/g, '$1\u2212$2');
const digits = (value: number) => printed(String(Number(value.toPrecision(4))));

function proposalOf(file: SystemFile, id: string) {
  const proposal = (file.proposals ?? []).find((one) => one.id === id);
  if (!proposal) throw faultAt('about', `is "${id}", expected the id of a proposal of this site`);
  return proposal;
}

/** Kit, cuts, what comes out, labels and every step with a box: for when the phone dies. */
function workSheet(file: SystemFile, id: string): [string, Content[]] {
  const proposal = proposalOf(file, id);
  const after = modelOf(file, id);
  const work = workOf(modelOf(file), after);
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
                  printed(what),
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
                  printed(sizeWords(size)),
                  `${poles * perPole} \u00d7 ${digits(cut_m)} m`,
                  { text: `${lugs} ends; ${digits(oneWay_m)} m one way`, style: 'small' },
                ]),
                ['', 'Cable', 'Size', 'Cut', ''],
              ),
              ...work.coils.map(({ size, coil_m, count, total_m, offcut_m }): Content => ({
                text: `${printed(sizeWords(size))}: ${count} coil of ${coil_m} m, ${digits(total_m)} m used, ${digits(offcut_m)} m left over`,
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
                  mass_kg === null ? 'weight not known' : `${digits(mass_kg)} kg`,
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
            `${printed(text)}${licensed ? ' Licensed work.' : ''}`,
            { text: expect ? `read: ________ ${printed(bandText(expect))}` : '', style: 'small' },
          ]),
        ),
      ]),
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

function bandText({ expected, low, high, unit }: ExpectedTest): string {
  if (low === null && high !== null) return `at most ${digits(high)} ${unit}`;
  if (high === null && low !== null) return `at least ${digits(low)} ${unit}`;
  return low === null || high === null ? `${digits(expected)} ${unit}` : `${digits(low)} to ${digits(high)} ${unit}`;
}

const SETTING_WORDS: Readonly<Record<string, [word: string, unit: string]>> = {
  absorb_V: ['absorb', 'V'],
  absorb_min: ['absorb for', 'min'],
  tail_A: ['tail', 'A'],
  float_V: ['float', 'V'],
  equalise_V: ['equalise', 'V'],
  equaliseEvery_d: ['equalise every', 'd'],
  comp_mV_K_cell: ['compensation', 'mV/K a cell'],
  maxCharge_A: ['largest charge', 'A'],
  cutoff_V: ['cut-off', 'V'],
  restart_V: ['restart', 'V'],
  alarm_V: ['alarm', 'V'],
  lowTempCut_C: ['no charge below', 'degC'],
  lvd_V: ['loads off', 'V'],
  reconnect_V: ['loads on again', 'V'],
};

/** What each device is set to, in volts at this bank. */
function settingsSheet(file: SystemFile, id: string): [string, Content[]] {
  const proposal = proposalOf(file, id);
  const changes = settingChanges(modelOf(file).system, modelOf(file, id).system);
  const value = (setting: string, one: unknown) => {
    if (one === null || one === undefined) return 'not read';
    if (setting === 'equalise_V' && one === 0) return 'off';
    return typeof one === 'number' ? printed(`${digits(one)} ${SETTING_WORDS[setting]?.[1] ?? ''}`) : String(one);
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
              SETTING_WORDS[setting]?.[0] ?? '',
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
function record(file: SystemFile, id: string): [string, Content[]] {
  const visit = (file.visits ?? []).find((one) => one.id === id);
  if (!visit) throw faultAt('about', `is "${id}", expected the id of a visit of this site`);
  const model = modelOf(file);
  const readings = (file.readings ?? []).filter((reading) => reading.visit === visit.id);
  const { tests } = expectedTests(model, conditionsOf(visit, readings[0]?.meter_pct));
  const reasons = (visit.reasons ?? {}) as Record<string, string | null>;
  const untested = (visit.untested ?? {}) as Record<string, string | null>;
  const key = (one: string) => one.replace(/[./]/g, '~');
  const testOf = new Map(
    tests.map((test) => [`${test.subject} ${test.quantity} ${positionWords(test.position)}`, test]),
  );
  const rows = readings.map(({ subject, quantity, value, position, note }): Content[] => {
    const test = testOf.get(`${subject} ${quantity} ${positionWords(position)}`);
    const [unit, name] = QUANTITIES[quantity as Quantity] ?? ['', 'Reading'];
    const reason = (test && reasons[key(test.id)]) ?? note;
    return [
      `${nameOf(model, subject)}: ${lowered(name)}${position ? `, ${positionWords(position)}` : ''}`,
      { text: test ? printed(bandText(test)) : '', style: 'small' },
      { text: printed(`${digits(value)} ${unit}`), bold: true },
      test ? WORDS[judgeReading(test, value)] : '',
      { text: reason ?? '', style: 'small' },
    ];
  });
  const left = tests.flatMap((test) =>
    untested[key(test.id)]
      ? [`${nameOf(model, test.subject)}: ${lowered(QUANTITIES[test.quantity][1])}: ${untested[key(test.id)] ?? ''}`]
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
      ...(visit.instruments ? [{ text: `Instruments: ${visit.instruments}` }] : []),
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
    ],
  ];
}

const nameOf = ({ system }: Model, subject: string) =>
  subject === 'site' ? 'The whole site' : (partTitle(system, subject) ?? 'A part that is gone');

function conditionsOf({ conditions }: Visit, meter_pct: number | null | undefined) {
  const given = Object.fromEntries(
    Object.entries(conditions ?? {}).filter(([, value]) => value !== null && value !== undefined),
  );
  return { ...CONDITIONS, ...given, ...(typeof meter_pct === 'number' ? { meter_pct } : {}) };
}
