/**
 * How a person says what the file writes: every choice of the format that is not itself the trade's word. What is not
 * listed is said as it is written, its strokes as spaces ("thermal-breaker" is a thermal breaker).
 */
const SAID: Readonly<Record<string, string>> = {
  agm: 'AGM',
  lfp: 'LFP',
  nmc: 'NMC',
  mppt: 'MPPT',
  pwm: 'PWM',
  cca: 'copper-clad aluminium',
  nh: 'NH',
  'class-t': 'class T',
  none: 'none',
  'dc-dc': 'DC-DC',
  'alternator-direct': 'directly from an alternator',
  mains: 'mains',
  ac: 'AC',
  dc: 'DC',
  'dc-load': 'to DC loads',
  pv: 'array to controller',
  'controller-battery': 'controller to bank',
  'battery-inverter': 'bank to inverter',
  charger: 'charger to bank',
  converter: 'to a converter',
  link: 'a link',
  'same-end': 'both leads at one end',
  'opposite-ends': 'at opposite ends',
  busbar: 'by bus bars',
  living: 'living space',
  'sealed-vented-box': 'a sealed box, vented outside',
  'vented-box': 'a vented box',
  'ground-fault': 'ground-fault device',
  'inverter-driven': 'inverter-driven',
  'built-in': 'built-in',
  // A hob is no motor; what the format calls induction is one.
  induction: 'motor',
  'cannot-see': 'cannot see',
  may: 'may run at once',
  base: 'always on',
  alone: 'runs alone',
  from: 'at its start',
  to: 'at its end',
};

/** "class T" of "class-t", "thermal breaker" of "thermal-breaker": a choice of the format within a sentence. */
export const said = (choice: string): string => SAID[choice] ?? choice.replace(/-/g, ' ');

/** A fuse or breaker by its type, as it is asked for over a counter. */
const FUSES: Readonly<Record<string, string>> = {
  none: 'nothing',
  blade: 'blade fuse',
  strip: 'strip fuse',
  terminal: 'terminal fuse',
  'class-t': 'class T fuse',
  nh: 'NH fuse',
  pv: 'PV fuse',
  breaker: 'DC breaker',
  'thermal-breaker': 'thermal breaker',
};
/** "class T" of "class-t", "PV" of "pv": a kind of fuse, which shares its word with a kind of cable. */
export const fuseTypeSaid = (type: string): string => (type === 'pv' ? 'PV' : said(type));
/** "class T fuse" of "class-t". */
export const fuseSaid = (type: string): string => FUSES[type] ?? said(type);

/** "An AGM bank", "a class T fuse": the article that goes before what is said. */
export const withArticle = (words: string): string =>
  `${/^([aeio]|[AEFHILMNORSX][A-Z])/.test(words) ? 'an' : 'a'} ${words}`;

/** A sentence's first letter. */
export const raised = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

/** As it stands within a sentence: its first letter small, unless it is a sign like DC, MPPT or Voc. */
export const lowered = (text: string): string =>
  /^[A-Z](?![A-Z0-9])/.test(text) && !/^(Voc|Isc|Vmp|Imp)\b/.test(text)
    ? text.charAt(0).toLowerCase() + text.slice(1)
    : text;
