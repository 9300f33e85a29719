import type { InferType } from 'yup';
import { mixed, number } from 'yup';
import { arrays } from '../parts/arrays';
import { bank } from '../parts/bank';
import { chargers } from '../parts/chargers';
import type { protection, settings } from '../parts/common';
import { controllers } from '../parts/controllers';
import { converters } from '../parts/converters';
import { distribution } from '../parts/distribution';
import {
  anything,
  celsius,
  flag,
  list,
  metres,
  moment,
  num,
  oneOf,
  optionalPart,
  part,
  positive,
  record,
  requiredNum,
  requiredOneOf,
  requiredText,
  text,
  whole,
} from '../parts/fields';
import { feedSchema } from '../parts/feeds';
import { inverters } from '../parts/inverters';
import { loads } from '../parts/loads';
import { moduleTypes } from '../parts/module-types';
import { monitor } from '../parts/monitor';
import { otherBanks } from '../parts/other-banks';
import { roofs } from '../parts/roofs';
import { runs } from '../parts/runs';
import { nominalSchema, siteSchema } from '../parts/site';
import { sources } from '../parts/sources';
import { states } from '../parts/states';
import { switches } from '../parts/switches';

/**
 * The one schema of the open system file: the types below and the shipped JSON Schema both come from it.
 * Units are in the names; absent and null mean unknown. What a part is made of stands in the file of its kind.
 */

/** What a value rests on, the surest first. */
export const GRADES = ['measured', 'nameplate', 'datasheet', 'stated', 'assumed'] as const;

const id = () => requiredText('an id: a short text, unique in the file');

/** Where practitioners differ, as a site has answered it. */
export const schoolsSchema = optionalPart({
  controllerOutput: oneOf(['plain', 'margin', 'clip']),
  coldVoltage: oneOf(['coefficient', 'bands']),
  conductor: oneOf(['building', 'vehicle', 'metric']),
  leadDepth: num(0.05, 1),
  lithiumDepth: num(0.05, 1),
  chargeMin: oneOf(['C10', 'C20']),
  drop_pct: optionalPart({ pv: positive(50), battery: positive(50), dc: positive(50) }),
  sourceEnd_m: metres(),
  autonomy_d: num(0, 365),
  refill_d: num(0, 365),
  ageSpread_months: num(0, 600),
});

/** A line a kind: the types of the whole format follow from it. */
export const systemSchema = nominalSchema.shape({
  moduleTypes: list(moduleTypes.schema),
  arrays: list(arrays.schema),
  controllers: list(controllers.schema),
  bank: bank.schema.default(undefined).nullable().optional(),
  otherBanks: list(otherBanks.schema),
  inverters: list(inverters.schema),
  chargers: list(chargers.schema),
  sources: list(sources.schema),
  converters: list(converters.schema),
  loads: list(loads.schema),
  runs: list(runs.schema),
  switches: list(switches.schema),
  roofs: list(roofs.schema),
  states: list(states.schema),
  distribution: list(distribution.schema),
  monitor: monitor.schema.default(undefined).nullable().optional(),
});

/** What a value rests on. */
export const evidenceSchema = part({
  grade: oneOf(GRADES),
  low: anything(),
  high: anything(),
  note: text(),
});

/** One change of a proposal. */
export const changeSchema = part({
  op: requiredOneOf(['set', 'add', 'remove']),
  at: requiredText(`"bank", "monitor" or the name of a list such as "arrays"`),
  id: text(),
  value: anything(),
  /** What a `set` replaced when it was made: tells a survey that has changed underneath. */
  was: anything(),
});

/**
 * How far the work of a proposal is. What was ticked stands by step and by who ticked it, so that two phones without a
 * signal never write into one field; keys are the steps' own (`work/order`).
 */
export const TICKS = ['done', 'skipped'] as const;
/** Where a thing of the kit is. */
export const KIT_STATES = ['ordered', 'on-the-van', 'used', 'back'] as const;
const tickSchema = part({
  state: requiredOneOf(TICKS),
  by: text(),
  at: text(),
  reason: text(),
  value: num(-1e9, 1e9),
});
const workSchema = optionalPart({
  ticks: record(record(tickSchema)),
  kit: record(oneOf(KIT_STATES)),
  deviations: record(part({ step: text(), text: text(), by: text(), at: text() })),
});

/** A proposal: its changes, and how far its work is. */
export const proposalSchema = part({
  id: id(),
  title: requiredText('what the proposal is called'),
  changes: list(changeSchema),
  work: workSchema,
  /** Accepted by the customer: who, when, the name as it was drawn, and the whole offer with its number. */
  accepted: optionalPart({ name: text(), at: text(), by: text(), strokes: text(), offer: anything(), number: text() }),
  /** Kept as a record: it became the system as found, or another one that did has overtaken it. */
  closed: part({ as: oneOf(['fitted', 'overtaken']), at: text(), by: text() })
    .default(undefined)
    .nullable()
    .optional(),
});

/** One visit: who came, why, what was done, and what was proved. Readings name it. */
export const visitSchema = part({
  id: id(),
  at: text(),
  people: text(),
  why: text(),
  done: text(),
  proposalId: text(),
  conditions: optionalPart({
    irradiance_W_m2: num(0, 2000),
    irradianceBy: oneOf(['cell', 'meter', 'sky']),
    cell_C: celsius(),
    ambient_C: celsius(),
    soc: num(0, 1),
    share: num(0, 2),
    load_A: num(-100_000, 100_000),
  }),
  /** Instruments that were used. */
  instruments: text(),
  /** By test: why a reading out of its band is left so; why something was not tested. */
  reasons: record(text()),
  untested: record(text()),
  signed: record(part({ name: text(), at: text(), strokes: text() })),
  /** How it was left: findings that were over, by key, and what every device was set to. */
  left: optionalPart({ over: list(text()), settings: record(text()) }),
  /** The record as it was signed, whole, and its number (`readings/record`). */
  record: anything(),
  recordHash: text(),
  /** Corrections beside a signed record, each by who wrote it; the first text stays. */
  addenda: record(part({ text: text(), by: text(), at: text(), person: text() })),
});

/** Something that was read, in its conditions. */
export const readingSchema = part({
  id: id(),
  at: text(),
  subject: requiredText('the id of a part'),
  quantity: requiredText('what was read'),
  value: requiredNum(-1e9, 1e9),
  position: optionalPart({
    string: whole(0, 10_000),
    module: whole(0, 10_000),
    block: whole(0, 10_000),
    cell: whole(0, 10_000),
  }),
  meter: text(),
  meter_pct: num(0, 100),
  /** Where the value is a difference: the two figures it was read as, in the quantity's unit. */
  pair: list(requiredNum(-1e9, 1e9)),
  visit: text(),
  conditions: optionalPart({
    irradiance_W_m2: num(0, 2000),
    cell_C: celsius(),
    ambient_C: celsius(),
    current_A: num(-100_000, 100_000),
    rested_h: num(0, 100_000),
    irradianceBy: oneOf(['cell', 'meter', 'sky']),
    occasion: text(),
  }),
  note: text(),
});

/** What an entry of the log may be. */
export const LOG_KINDS = [
  'note',
  'watered',
  'equalised',
  'retightened',
  'cleaned',
  'tested',
  'calibrated',
  'synchronised',
  'replaced',
  'fuel',
  'sealed',
  'opened',
  'fault',
  'cured',
] as const;
/** What was tested, where an entry says that something was. */
export const LOG_TESTS = ['rcd', 'alarm', 'isolator', 'extinguisher', 'lightning'] as const;

/** One entry of the log: what somebody did or saw. Never changed; a correction is another entry that names it. */
export const logSchema = part({
  id: id(),
  at: moment().required('is missing, expected a moment like 2026-05-04T09:10:00Z'),
  by: text(),
  kind: requiredOneOf(LOG_KINDS),
  /** A part; absent: the site. */
  subject: text(),
  what: oneOf(LOG_TESTS),
  text: text(),
  minutes: num(0, 1e6),
  parts: list(part({ what: text(), count: num(0, 1e6), price: num(0, 1e9) })),
  litres: num(0, 1e6),
  hours: num(0, 1e6),
  visit: text(),
  attachments: list(requiredText('the id of an attachment')),
  /** The entry that this one corrects. */
  corrects: text(),
  /** Struck out: it stays to be read, and settles nothing. */
  struckOut: flag(),
});

/** A part that left the system, so that what was read and logged of it still has a name. */
export const goneSchema = part({ id: id(), label: text(), at: text() });

/** A picture or a spoken note about a part. The bytes travel beside the file: in the zip, as `attachments/ID.EXT`. */
export const attachmentSchema = part({
  id: id(),
  kind: requiredOneOf(['photo', 'voice']),
  subject: text(),
  note: text(),
  at: text(),
  type: text(),
});

/** The whole file. */
export const fileSchema = part({
  format: mixed<'true-lantern'>()
    .oneOf(['true-lantern'], 'is not "true-lantern", expected a True Lantern system file')
    .required('is missing, expected "true-lantern"'),
  version: number()
    .typeError('is not a number, expected 1')
    .oneOf([1], 'is not a version this program reads, expected 1')
    .required('is missing, expected 1'),
  site: siteSchema.required('is missing, expected the site with its name'),
  schools: schoolsSchema,
  system: systemSchema,
  evidence: record(evidenceSchema),
  proposals: list(proposalSchema),
  readings: list(readingSchema),
  visits: list(visitSchema),
  attachments: list(attachmentSchema),
  log: list(logSchema),
  gone: list(goneSchema),
  feeds: list(feedSchema),
});

export type Attachment = InferType<typeof attachmentSchema>;
export type SystemFile = InferType<typeof fileSchema>;
export type Schools = NonNullable<InferType<typeof schoolsSchema>>;
export type System = InferType<typeof systemSchema>;
export type Settings = NonNullable<InferType<ReturnType<typeof settings>>>;
export type Protection = NonNullable<InferType<ReturnType<typeof protection>>>;
export type Evidence = InferType<typeof evidenceSchema>;
export type Grade = (typeof GRADES)[number];
export type Change = InferType<typeof changeSchema>;
export type Proposal = InferType<typeof proposalSchema>;
export type Reading = InferType<typeof readingSchema>;
export type Visit = InferType<typeof visitSchema>;
export type LogEntry = InferType<typeof logSchema>;
export type LogKind = (typeof LOG_KINDS)[number];
export type LogTest = (typeof LOG_TESTS)[number];
export type Gone = InferType<typeof goneSchema>;
export type Feed = InferType<typeof feedSchema>;
export type ProposalWork = NonNullable<Proposal['work']>;
export type Tick = InferType<typeof tickSchema>;
export type KitState = (typeof KIT_STATES)[number];

export { CHEMISTRIES, type Chemistry } from '../chemistry/chemistry';
export { PROFILES, PROTECTION_TYPES } from '../parts/common';
export { MOUNTINGS, type PvArray } from '../parts/arrays';
export { SPACES, type Bank } from '../parts/bank';
export type { Charger } from '../parts/chargers';
export type { Controller } from '../parts/controllers';
export type { Converter } from '../parts/converters';
export type { Distribution } from '../parts/distribution';
export type { Inverter } from '../parts/inverters';
export { LOAD_TYPES, type Load } from '../parts/loads';
export type { ModuleType } from '../parts/module-types';
export type { Monitor } from '../parts/monitor';
export type { OtherBank } from '../parts/other-banks';
export { OBSTACLE_KINDS, type Obstacle, type Roof } from '../parts/roofs';
export { RUN_KINDS, type Run } from '../parts/runs';
export { siteSchema, type Site } from '../parts/site';
export { OCCASIONS, type Occasion, type Source } from '../parts/sources';
export type { State } from '../parts/states';
export type { Switch } from '../parts/switches';
