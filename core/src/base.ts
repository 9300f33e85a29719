/**
 * What the app's first screen needs of the core: sites as they are kept, read and merged, what is wrong with them, and how figures
 * are written. A module of its own, since the bundler parts the program by modules: what is reached from here is loaded
 * before the list of sites is seen, everything else with the first site. Whatever is not for that screen stays out.
 */
export { isQuiet } from './service/quiet';
export * from './system/schema';
export * from './system/faults';
export * from './system/model';
export * from './system/parts';
export * from './system/rows';
export * from './system/changes';
export * from './parts/objects';
export * from './system/thrown';
export {
  checkSystemFile,
  linkFaultsByRow,
  MOST_BYTES,
  readSystemFile,
  rowFaultsIn,
  writeSystemFile,
  type ReadResult,
} from './system/read';
export { boundFaults, textFault } from './system/bounds';
export { inState, modelInState, offIn } from './system/states';
export { flatFields, memberAt, setMember } from './system/members';
export { FIELDS, hiddenFields, referencesOf, tellsParts, typicalOf } from './parts/lists';
export type { Field } from './parts/field-list';
export type { Entry } from './parts/words';
export { endName, partName as nameInSentence, partTitle, runPlace } from './conductors/names';
export { OBSERVED } from './rules/site/site';
export * from './rules/finding';
export { check, checkSteps, sentenceOf, titleOf } from './rules/check';
export { gistOf, worstGist, worstState, RULE_BOOK, type Gist } from './rules/headline';
export {
  checkShelfItem,
  isShelfKind,
  shelfFields,
  siteless,
  SHELF_KINDS,
  type ShelfItem,
  type ShelfKind,
  type StoredItem,
} from './shelf/item';
export { arrowPath, MARK, runsOn } from './line/shapes';
export { GLOSSARY, glossaryPage, termFor, type Term, type TermDrawing } from './written/glossary';
export { CONSEQUENCE_WORDS, VERDICT_WORDS } from './line/verdicts';
export {
  FACTORS,
  inGroups,
  inOwnUnits,
  inUnits,
  METRIC,
  pretty,
  shownUnit,
  sizeText,
  toShown,
  unitText,
  withUnit,
  written,
  type Units,
} from './written/units';
