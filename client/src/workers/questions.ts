import {
  yearAdvice,
  type Advice,
  type Asked,
  aheadOf,
  sunDays,
  type SunDays,
  expectedTests,
  farOut,
  practice,
  firstLook,
  laidOn,
  type MixedSpot,
  type RoofFit,
  roofRoom,
  type RoofRoom,
  roofsOf,
  trendsOf,
  type RoofAnswer,
  type Room,
  kept,
  type Ahead,
  type AheadAsked,
  type FarOut,
  type Practice,
  type PracticeAsked,
  type SystemFile,
  type Trend,
  type Units,
  faultsOf,
  type Faults,
  type FaultsAsked,
  workOf,
  type Conditions,
  type ExpectedTest,
  type StoredItem,
  type Work,
  candidates,
  cheapestLives,
  controllersThatStand,
  convert,
  firstCures,
  priced,
  flips,
  interim,
  systemFigures,
  wholeConversion,
  epwWeather,
  yearDay,
  yearSlice,
  yearStory,
  type Weather,
  type YearDay,
  type YearSlice,
  type Conversion,
  type ConversionOption,
  type WholeConversion,
  headroom,
  layouts,
  raiseVoltage,
  remediesOf,
  underShade,
  type Finding,
  type FirstCure,
  type Flip,
  makePaper,
  type Headroom,
  type Paper,
  type PaperAsked,
  type Judgement,
  judgedAlone,
  type Reading,
  type Layout,
  type Model,
  type Remedy,
  type ShadeAnswer,
  type ShadeQuestion,
  type Interim,
  type Life,
  type Pooled,
  type ShelfItem,
  type Specification,
  type SystemFigures,
  type SuccessorCandidate,
  type VoltageChange,
  type WeatherChoice,
  type YearStory,
} from '@true-lantern/core';

/** What the engine is asked away from the screen's thread. */
export type Question =
  | { ask: 'layouts'; model: Model; modules: Pooled[]; offered: ShelfItem[]; larger?: string | null }
  | { ask: 'alone'; model: Model; reading: Reading }
  | { ask: 'controllers'; model: Model; shelf: ShelfItem[]; most: number }
  | { ask: 'candidates'; model: Model; spec: Specification; shelf: ShelfItem[] }
  | { ask: 'interim'; model: Model }
  | { ask: 'lives'; model: Model; shelf: ShelfItem[]; horizon_y: number }
  | { ask: 'voltage'; model: Model; to_V: number }
  | { ask: 'figures'; model: Model }
  | { ask: 'remedies'; model: Model; finding: Finding; before: Finding[] }
  | { ask: 'cures'; model: Model; findings: Finding[] }
  | { ask: 'headroom'; model: Model }
  | { ask: 'flips'; model: Model }
  | { ask: 'year'; model: Model; weather: WeatherChoice; count: number }
  | { ask: 'years'; model: Model; weather: WeatherChoice; from: number; count: number }
  | { ask: 'day'; model: Model; weather: WeatherChoice; year: number; day: number }
  | { ask: 'weather'; text: string }
  | { ask: 'advice'; model: Model; asked: Asked }
  | { ask: 'work'; before: Model; after: Model; shelf: StoredItem[] }
  | { ask: 'expect'; model: Model; conditions: Conditions }
  | { ask: 'faults'; model: Model; readings: Reading[]; asked: FaultsAsked }
  | { ask: 'trends'; file: SystemFile; on: number; units: Units }
  | { ask: 'ahead'; model: Model; asked: AheadAsked }
  | { ask: 'sunDays'; model: Model; on: number }
  | { ask: 'roof'; model: Model; roof: string; module?: string }
  | { ask: 'firstRoof'; model: Model; roof: string }
  | { ask: 'lay'; model: Model; roof: string; counts: Readonly<Record<string, number>> }
  | { ask: 'room'; model: Model; module: string }
  | { ask: 'practice'; model: Model; asked: PracticeAsked }
  | { ask: 'convert'; model: Model; packs: ShelfItem[] }
  | { ask: 'paper'; file: SystemFile; asked: PaperAsked }
  | { ask: 'whole'; model: Model; option: ConversionOption; shelf: ShelfItem[]; skip: string[] }
  | ({ ask: 'shade'; model: Model } & ShadeQuestion);

/** What the shelf has in a part's place. */
export interface Candidates {
  meet: SuccessorCandidate[];
  nearly: SuccessorCandidate[];
  others: number;
}

/** A clock that says no after so long. */
const within = (ms: number): (() => boolean) => {
  const end = Date.now() + ms;
  return () => Date.now() < end;
};
/** A first look at a roof is there before anybody wonders; several sizes take longer to try. */
const FIRST_MS = 200;
const LAY_MS = 2500;

/** What fits on the roofs that were asked for lately: the same while modules are only moved about. */
const rooms = kept<string, Room>(20);
const looks = kept<string, RoofFit>(20);

/** What the engine answers to each question. */
export interface Answers {
  layouts: Layout[] | null;
  alone: Judgement | null;
  controllers: ShelfItem[];
  candidates: Candidates;
  interim: Interim;
  lives: Life[];
  voltage: VoltageChange | null;
  figures: SystemFigures;
  remedies: Remedy[];
  cures: FirstCure[];
  headroom: Headroom;
  flips: Flip[];
  year: YearStory;
  years: YearSlice;
  day: YearDay;
  weather: Weather;
  shade: ShadeAnswer | null;
  advice: Advice[];
  work: Work;
  faults: Faults;
  trends: { trends: Trend[]; far: FarOut[] };
  roof: RoofAnswer;
  firstRoof: { module: string; fit: RoofFit };
  lay: RoofFit & { placed: MixedSpot[] };
  room: RoofRoom | null;
  ahead: Ahead;
  sunDays: SunDays;
  practice: Practice;
  paper: Paper;
  expect: { tests: ExpectedTest[]; left: { subject: string; missing: string[] }[] };
  convert: Conversion;
  whole: WholeConversion;
}

/** Told how much of it is done, 0 to 1, by questions that take their time. */
export type Progress = (share: number) => void;

/** Each question with the function that answers it: one line a question. */
const ANSWERS: { [A in Question['ask']]: (question: Extract<Question, { ask: A }>, progress: Progress) => Answers[A] } =
  {
    layouts: ({ model, modules, offered, larger }, progress) => layouts(model, modules, offered, progress, larger),
    candidates: ({ model, spec, shelf }, progress) => candidates(model, spec, shelf, progress),
    controllers: ({ model, shelf, most }) => controllersThatStand(model, shelf, most),
    interim: ({ model }) => interim(model),
    lives: ({ model, shelf, horizon_y }) => cheapestLives(model, shelf, horizon_y),
    voltage: ({ model, to_V }) => raiseVoltage(model, to_V),
    figures: ({ model }) => systemFigures(model),
    alone: ({ model, reading }) => judgedAlone(model, reading),
    remedies: ({ model, finding, before }) => priced(model, remediesOf(model, finding, before)),
    cures: ({ model, findings }, progress) => firstCures(model, findings, progress, priced),
    headroom: ({ model }, progress) => headroom(model, progress),
    year: ({ model, weather, count }, progress) => yearStory(model, weather, count, progress),
    years: ({ model, weather, from, count }, progress) => yearSlice(model, weather, from, count, progress),
    day: ({ model, weather, year, day }) => yearDay(model, weather, year, day),
    weather: ({ text }) => epwWeather(text),
    advice: ({ model, asked }, progress) => yearAdvice(model, asked, progress),
    work: ({ before, after, shelf }) => workOf(before, after, shelf),
    paper: ({ file, asked }) => makePaper(file, asked),
    faults: ({ model, readings, asked }) => faultsOf(model, readings, asked),
    room: ({ model, module }) => {
      return roofRoom(model, module, within(4000));
    },
    firstRoof: ({ model, roof }) => firstLook(model, roof, within(FIRST_MS), looks),
    lay: ({ model, roof, counts }) => laidOn(model, roof, counts, within(LAY_MS)),
    roof: ({ model, roof, module }) => {
      // On a phone the answer is wanted now: what is not proved by then is said to be so.
      const clocks = { fit: within(3000), away: within(5000), short: within(7000) };
      const [answered] = roofsOf(model, { roof, module, clock: (what) => clocks[what], remember: rooms });
      if (!answered) throw new Error('This roof is not in the system');
      return answered;
    },
    trends: ({ file, on, units }) => {
      const trends = trendsOf(file, on);
      return { trends, far: farOut(file, on, units, trends) };
    },
    ahead: ({ model, asked }) => aheadOf(model, asked),
    sunDays: ({ model, on }) => sunDays(model, on),
    practice: ({ model, asked }) => practice(model, asked),
    expect: ({ model, conditions }) => expectedTests(model, conditions),
    flips: ({ model }, progress) => flips(model, undefined, progress),
    convert: ({ model, packs }) => (packs.length > 0 ? convert(model, packs) : convert(model)),
    whole: ({ model, option, shelf, skip }, progress) => wholeConversion(model, option, shelf, new Set(skip), progress),
    shade: (question) => underShade(question.model, question),
  };

/** Answers one question, wherever it runs; `progress` is told how far it is. */
export function answer<A extends Question['ask']>(
  question: Extract<Question, { ask: A }>,
  progress: Progress,
): Answers[A] {
  const how: (question: Extract<Question, { ask: A }>, progress: Progress) => Answers[A] = ANSWERS[question.ask];
  return how(question, progress);
}
