export * from './base';
export { inLine, type Write } from './parts/kind';
export { fuseTypeSaid, lowered, raised, said } from './parts/said';
export { applyChanges, applyProposal, mergeChanges } from './system/proposals';
export { checkWithRemedies, neededFor, remediesOf } from './rules/cures/remedies';
export { fuseWord } from './rules/cures/wires';
export { CONTROLLER_OUTPUT_A, sizeSold } from './rules/cures/sold';
export { settling } from './rules/cures/settles';
export { priced } from './year/priced';
export { firstCures, type FirstCure } from './rules/cures/first';
export { keyFinding } from './rules/key-figure';
export { harmOf, isWorse, type Harm } from './rules/cures/worse';
export { ruleIds, RULES } from './rules/index';
export { CAUTIONS, cautionsOf } from './rules/cautions';
export { counted, figure, round } from './ledger/figures';
export { CHEMISTRY, cellsOfSystem, cellsPerBlock, CONVERSION, isLithium } from './chemistry/chemistry';
export { shapeText } from './pv/restring';
export { layouts, layoutTitle, type Layout } from './layouts/layouts';
export { MOST_MODULES, poolOf, presentModules, type Pooled } from './layouts/pool';
export { controllersThatStand, withModuleType } from './layouts/offered';
export { compare, turned, type Comparison, type Turned } from './proposal/compare';
export { jsonSchema } from './system/json-schema';
export { estimateClimate, type ClimateEstimate } from './sun/estimate';
export { readEpw, type EpwClimate } from './sun/epw';
export { itemOfPlate } from './shelf/match';
export { searchShelf } from './shelf/search';
export { itemsOfTable, shelfTable } from './shelf/table';
export { warningsOf } from './system/warnings';
export { area_mm2, AWG_SIZES, METRIC_SIZES, sizeWords, stepOfSize } from './conductors/sizes';
export { flips, type Flip, type Flipped } from './flips/flips';
export { ABOUT_A_PART, stopsOf, type Stop } from './rules/stop-card';
export { headroom, loadLadder, energyRoom, type Headroom, type Ladder, type Rung } from './headroom/headroom';
export { modulesRoom, type ModulesRoom } from './headroom/modules';
export { partMargins, type PartMargins } from './headroom/margins';
export { answerOf, SCHOOLS, schoolOf, underSchool, type School } from './rules/schools';
export { grouped, type Group } from './rules/groups';
export { underShade, type ShadeAnswer, type ShadeQuestion } from './pv/shade';
export { sharing } from './bank/resistance';
export { createLedger } from './ledger/ledger';
export { cellsInSeries } from './bank/bank';
export { chargeOfRest, type ChargeState, type RestReading } from './bank/rest';
export { bankFigures, runHours, type BankFigures, type RunHours } from './power/run-hours';
export { afterwards, canConvert, convert, optionOfCount, type Conversion, type ConversionOption } from './plan/convert';
export { fit, boxOf, CLEARANCE_MM, HAND_MM, type Box, type Fit, type Place } from './proposal/fit';
export { wholeConversion, type ConversionStep, type WholeConversion } from './plan/whole';
export type { GateLine } from './plan/gate';
export type { PartVerdict } from './plan/parts-after';
export { settingChanges, type SettingChange, type SettingLine } from './proposal/settings';
export { chargingDevices, settingSheets, type ChargingDevice } from './bank/charging';
export { splitPath, type SplitPath } from './system/evidence';
export { bearsFuse, networkOf } from './conductors/network';
export { partFaults } from './system/part-faults';
export { systemFaults } from './system/references';
export { sunPosition, type SunPosition } from './sun/position';
export {
  aspectsOf,
  atTheCounter,
  inBody,
  judgeSpec,
  specify,
  verdictOf,
  type Aspect,
  type Judged,
  type Specification,
} from './successor/specify';
export {
  candidates,
  leastBody,
  leastChanges,
  swap,
  swapChanges,
  type Candidate as SuccessorCandidate,
  type Swap,
} from './successor/swap';
export { cabledChanges, isCabled } from './successor/join';
export { judgeLine, type LineVerdict, type SpecLine } from './successor/line';
export { interim, type Interim } from './plan/interim';
export { type InterimLimit } from './plan/hurting';
export { canRaise, raiseVoltage, voltageFor, VOLTAGES, type VoltageChange } from './plan/voltage';
export { inverseOf } from './proposal/inverse';
export { rebase, withWas, type ChangeState, type Rebased } from './proposal/rebase';
export type { PartsLine } from './proposal/parts-lines';
export { faultsOf, type Faults, type FaultsAsked, type Ranked } from './faults/faults';
export { CODES, COMPLAINTS, type CauseCode, type Complaint } from './faults/causes/cause';
export { chosenReadings } from './faults/placed';
export { partsListOf, type PartsList } from './proposal/parts-list';
export {
  calendarLife_y,
  cyclesAt,
  HORIZON_Y,
  lifeOfBank,
  payback_y,
  wholeLife,
  yearly,
  type Spending,
  type WholeLife,
} from './proposal/money';
export { cheapestLives, type Life } from './successor/lives';
export { systemFigures, type SystemFigures } from './plan/needs-of-site';
export { cablesWanted, type WantedCable } from './conductors/wanted';
export { likelyRatings } from './rules/wires/likely-fuse';
export { plateOf } from './pv/plate';
export {
  darkSentence,
  dayName,
  MONTH_STARTS,
  spellSentence,
  storyOf,
  yearDay,
  yearSlice,
  yearStory,
  yearWhatIfs,
  type YearDay,
  type YearSlice,
  type YearStory,
  type YearWhatIf,
} from './year/story';
export type { DayBand, WeatherChoice, YearSums } from './year/year';
export { yearAdvice } from './year/advice';
export type { Advice } from './year/trials';
export { ASKED, type Asked } from './year/trials';
export { settle, type Settled } from './proposal/settle';
export { CONDITIONS, type Conditions } from './readings/conditions';
export { expectedTests, judgeReading, type Judgement } from './readings/expect';
export { judgedAlone } from './readings/lone';
export {
  addendaOf,
  hashOfBytes,
  makeRecord,
  NUMBER_NOTE,
  numberOf,
  numberText,
  RECORD_HEADS,
  recordedBand,
  recordToShow,
  takenAt,
  type Addendum,
  type RecordedReading,
  type RecordState,
  type VisitRecord,
} from './readings/record';
export { makeOffer, totalsWithTax, type Offer, type OfferTerms } from './proposal/offer';
export { isQuantity, PAIRS, QUANTITIES, type Quantity } from './readings/quantities';
export type { ExpectedTest, Position } from './readings/row';
export { offerOf } from './proposal/offer-of';
export { handOver, type HandOver } from './work-order/handover';
export { workOf, type Label, type Work } from './work-order/work';
export { PHASES, type Act, type Phase, type Step } from './work-order/order';
export type { Coil, Cut } from './work-order/cuts';
export type { KitLine } from './work-order/parts-list';
export type { Removed } from './work-order/removed';
export {
  bringsVolts,
  clocksOf,
  isolationOf,
  nextStep,
  waitsFor,
  type Done,
  type PhaseClock,
} from './work-order/progress';
export {
  conditionsAsked,
  lastReadings,
  positionsOf,
  positionWords,
  readAt,
  readingFault,
  seriesOf,
  type ConditionName,
  type Series,
} from './readings/readings';
export { deviceOfLog, MOST_OF_A_COLUMN, readingsOfLog, type LogMap } from './readings/log';
export { brokenInto, linesOf, widthOf } from './written/measure';
export {
  isLoud,
  layoutLine,
  WICK,
  endsOf,
  type Arrow,
  type Form,
  type LineLayout,
  type LineOptions,
  type LineRow,
} from './line/layout';
export type { CableRow, Ink, LeverRow, LoadRow, LoadsRow, Said, StationRow } from './line/rows';
export { strokeOf } from './line/facts';
export { figurePair, figures } from './line/figures';
export { lineSvg, mark as markSvg } from './line/svg';
export { between } from './numeric/between';
export { settingName, settingUnit } from './proposal/settings-words';
export {
  bandText,
  conditionsOf,
  conditionWords,
  provedOf,
  readingText,
  subjectName,
  testKey,
  walkOrder,
  type Proved,
} from './readings/visit';
export { leftAs, since, type Left, type Since } from './readings/since';
export { epwWeather, type Weather } from './sun/weather';
export { changesOfTries, isTrying, modelOfTries, NO_TRIES, type Tries } from './year/tries';
export { dayStrip, type DayStrip, type StripLoad } from './power/day-strip';
export { aheadOf, type Ahead, type AheadAsked, type DayAhead } from './service/ahead';
export {
  acceptancePlan,
  acceptanceResult,
  capacityPlan,
  capacityResult,
  hoursAfter,
  inOrder as samplesInOrder,
  nextReadingAt,
  type AcceptancePlan,
  type CapacityPlan,
  type Sample,
} from './service/by-clock';
export { chargeNow, type ChargeNow } from './service/charge-now';
export { dateOf, dayFrom, dayOf } from './service/days';
export { dueOf, type Due } from './service/due';
export { farOut, type FarOut } from './service/far-out';
export { tripKit, type TripThing } from './service/trip-kit';
export { fleetSite, winterDays, type FleetSite, type FleetSpan } from './service/fleet';
export { found as foundIn, timelineOf, timelineTable, type TimeLine } from './service/timeline';
export { dayReadings } from './service/day-readings';
export { heard_Ah, sunDays, type SunDays } from './service/sun-day';
export type { LiveStep } from './service/live-step';
export { BEFORE_MS } from './service/sun-readings';
export { trendsOf, type Trend, type TrendPoint } from './service/trends';
export { aheadLines, LOG_WORDS, SETTLED_BY, TEST_WORDS, trendName, trendSentence } from './service/words';
export { practice, type Level, type Practice, type PracticeAsked, type PracticeReading } from './faults/practice';
export { readable } from './faults/readable';
export { madeUpFor } from './faults/made-up';
export { median, straight } from './service/fit';
export { kept } from './numeric/kept';
export { mixedFitOn, type RoofFit } from './roof/fit';
export type { MixedSpot } from './roof/mixed';
export { wrongIn, type PlacedFault } from './roof/placed';
export { firstLook, laidOn, roofsOf, type RoofAnswer, type Room } from './roof/roof';
export { roofSun, type RoofSun } from './roof/shown';
export { fitSentence, roofSentence, shadeSentence, tooNear } from './roof/words';
export { boxAt as moduleBox, clearanceOf, edgeOf, gapOf, lyingOf, mountOf, obstacleBox } from './roof/size';
export { boxOf as boundsOf, type Box as Bounds, type Point as RoofPoint } from './numeric/polygon';
export { outlineFault } from './parts/roofs';
export { nameOn } from './plate/name';
export { readPlate, type Plate } from './plate/plate';
export type { PlateField } from './plate/plate-field';
export type { PlateKind } from './plate/labels';
export { evenLight, firstReading, linesIn, partOf, tiltOf, TILT_STEP, type PictureLine } from './plate/picture';
export {
  cornersOf,
  isPlate,
  laidFlat,
  plateIn,
  sizeOf,
  squared,
  type Corners,
  type Grey,
  type Spot,
} from './plate/square';
export { liveExpected, type Heard, type LiveExpected } from './service/live-expected';
export {
  LEAST_EVERY_S,
  MAP_HEAD,
  mapText,
  MODBUS_DEFAULTS,
  MOST_MAPPED,
  questionsOf,
  readMap,
  valuesOf,
  type Mapped,
} from './service/modbus';
export { NOW_MS, watch, type Outside, type Watched } from './service/watch';
export { liveLine, liveLines, MOST_A_MINUTE, MOST_LINES, type LiveValue, type RefusedLine } from './service/live';
export { liesOnRoof, roofRefusal, roofRoom, roofSpare, type RoofRoom } from './roof/room';
export type { Block, Column as PaperColumn, FindingBlock, Paper, Table as PaperTable } from './papers/blocks';
export { answerText, fieldText, inputName, nameIn, rangeText, type ShownField } from './papers/names';
export { cautionsOfWork, MOST_OPTIONS } from './papers/options';
export {
  AS_FOUND,
  BLOCK_PAPERS,
  makePaper,
  namesOfProposals,
  type BlockPaperKind,
  type PaperAsked,
} from './papers/papers';
export { cutBlocks, kitTable, removedTable } from './papers/parts-and-cuts';
export { part as paperPart } from './papers/blocks';
export { roofBlocks } from './papers/roof-plan';
export { yearsOfLog } from './papers/log-of-year';
export {
  barsOf,
  COMPARE_ROWS,
  spentOf,
  totalText,
  type Bar as CompareBar,
  type Column as CompareColumn,
  type CompareRow,
  type Worked as CompareWorked,
} from './papers/compare-rows';
export { bayOf, type Bay } from './proposal/bay';
export {
  arrangementOf,
  INVERTER_AIR_MM,
  movedTo,
  nearestLine,
  quarterTurned,
  restingPlace,
  standsOf,
  unmeasuredBeside,
  type Arrangement,
  type StandFault,
  type Stood,
} from './proposal/stand';
export { standName, standSentences } from './proposal/stand-words';
export { proposedOn, type Proposed } from './proposal/proposed';
export { settingText } from './proposal/settings-words';
