import type { Measure } from './quantities';

/** What plates call each figure, in English, German, French, Spanish and Italian, by kind (docs/plates.md). */

/** Kinds of plates that are read. */
export const PLATE_KINDS = ['module', 'controller', 'battery', 'inverter', 'charger', 'source'] as const;
export type PlateKind = (typeof PLATE_KINDS)[number];

/** One figure of a kind: its names, its unit, what it can be. */
export interface Label {
  field: string;
  names: RegExp;
  measure: Measure;
  range: readonly [low: number, high: number];
}

const VOC =
  /\bV\s?oc\b|\bU\s?oc\b|\bVco\b|open[\s-]*circuit\s*voltage|leerlauf\s?spannung|tension\s+(?:en\s+|de\s+|a\s+)*(?:circuit\s+ouvert|vide)|tension\s+(?:de\s+|en\s+|a\s+)*circuito\s+abierto|tensione\s+a\s+(?:vuoto|circuito\s+aperto)/i;
const ISC =
  /\bI\s?sc\b|\bI\s?cc\b|short[\s-]*circuit\s*current|kurzschlu(?:ss|\u00df)[\s-]?strom|courant\s+de\s+court[\s-]*circuit|corriente\s+de\s+corto\s?circuito|corrente\s+di\s+corto\s?circuito/i;
const VMP =
  /\bV\s?mpp?\b|\bV\s?pm(?:ax)?\b|\bU\s?mpp?\b|voltage\s+at\s+(?:pmax|max(?:imum|\.)?\s+power|mpp)|(?:optimum|max(?:imum|\.)?\s+power)\s+(?:operating\s+)?(?:point\s+)?voltage|rated\s+voltage|nennspannung|mpp[\s-]*spannung|spannung\s+bei\s+pm(?:ax|pp)|tension\s+(?:a\s+)?(?:pmax|puissance\s+max\w*|maximale|nominale)|tension\s+(?:a\s+|en\s+|de\s+)*(?:pmax|maxima\s+potencia|potencia\s+maxima|nominal)|tensione\s+(?:(?:a|alla|di)\s+)?(?:massima\s+potenza|pmax)|tensione\s+nominale/i;
const IMP =
  /\bI\s?mpp?\b|\bI\s?pm(?:ax)?\b|current\s+at\s+(?:pmax|max(?:imum|\.)?\s+power|mpp)|(?:optimum|max(?:imum|\.)?\s+power)\s+(?:operating\s+)?(?:point\s+)?current|rated\s+current|nennstrom|mpp[\s-]*strom|strom\s+bei\s+pm(?:ax|pp)|courant\s+(?:a\s+)?(?:pmax|puissance\s+max\w*|maximal|nominal)|corriente\s+(?:a\s+|en\s+|de\s+)*(?:pmax|maxima\s+potencia|potencia\s+maxima|nominal)|corrente\s+(?:(?:a|alla|di)\s+)?(?:massima\s+potenza|pmax)|corrente\s+nominale/i;
const PMAX =
  /\bP\s?max\b|\bP\s?mpp?\b|\bPm\b|(?:rated|nominal|peak|max(?:imum|\.)?)\s+(?:maximum\s+)?power(?!\s+(?:operating\s+)?(?:point\s+)?(?:voltage|current))|nennleistung|spitzenleistung|max(?:imale|\.)?\s+leistung|puissance\s+(?:maximale|nominale|crete|max\.?)|potencia\s+(?:maxima|nominal|pico)|potenza\s+(?:massima|nominale|di\s+picco)/i;
const SYSTEM_V =
  /max(?:imum|\.)?\s*system\s*voltage|system\s+voltage|max(?:imale|\.)?\s*system\s?spannung|systemspannung|tension\s+(?:maximale\s+|max\.?\s+)?(?:de\s+|du\s+)*systeme|tension\s+systeme|tension\s+(?:max(?:ima|\.)?\s+)?(?:del?\s+)?sistema|tensione\s+(?:mass?(?:ima|\.)?\s+|max(?:ima|\.)?\s+)?(?:di\s+|del\s+)?sistema/i;
const FUSE =
  /(?:max(?:imum|\.)?\s*)?(?:series\s*fuse|fuse\s+rating|over\s?current\s+protection|reverse\s+current)|(?:strang|string)[\s-]*sicherung|max(?:imale|\.)?\s*(?:vor)?sicherung|ruckstrom|fusible(?:\s+(?:serie|de\s+serie|en\s+serie))?|fusibile|calibre\s+(?:max\w*\s+)?(?:du\s+)?fusible/i;
const MASS = /\bweight\b|\bmass\b|gewicht|masse|poids|peso/i;

/** Figures of each kind, those whose names hold others' first. */
export const LABELS: Readonly<Record<PlateKind, readonly Label[]>> = {
  module: [
    {
      field: 'betaVoc_pct_C',
      names: /(?:coeff?\w*|koeff?\w*|\btc\b|beta)[^%]*(?:voc|uoc|vco|voltage|spannung|tension|tensi)|\bbeta\b|\u03b2/i,
      measure: 'pct_C',
      range: [-1, -0.05],
    },
    {
      field: 'alphaIsc_pct_C',
      names:
        /(?:coeff?\w*|koeff?\w*|\btc\b|alpha)[^%]*(?:isc|icc|current|strom|courant|corriente|corrente)|\balpha\b|\u03b1/i,
      measure: 'pct_C',
      range: [0, 0.3],
    },
    {
      field: 'gammaPmax_pct_C',
      names:
        /(?:coeff?\w*|koeff?\w*|\btc\b|gamma)[^%]*(?:pm|power|leistung|puissance|potencia|potenza)|\bgamma\b|\u03b3/i,
      measure: 'pct_C',
      range: [-1, -0.1],
    },
    { field: 'maxSystem_V', names: SYSTEM_V, measure: 'V', range: [50, 1500] },
    { field: 'maxSeriesFuse_A', names: FUSE, measure: 'A', range: [1, 60] },
    { field: 'voc_V', names: VOC, measure: 'V', range: [1, 200] },
    { field: 'isc_A', names: ISC, measure: 'A', range: [0.1, 30] },
    { field: 'vmp_V', names: VMP, measure: 'V', range: [1, 200] },
    { field: 'imp_A', names: IMP, measure: 'A', range: [0.1, 30] },
    { field: 'pmax_W', names: PMAX, measure: 'W', range: [3, 1000] },
    { field: 'mass_kg', names: MASS, measure: 'kg', range: [0.2, 60] },
  ],
  controller: [
    {
      field: 'maxPv_V',
      names:
        /(?:max(?:imum|\.)?\s*)?(?:pv|solar|panel|array|photovolta\w*)[\s-]*(?:input|array|open[\s-]*circuit)?\s*(?:voltage|spannung|voc|input)|max(?:imum|\.)?\s*(?:input\s+voltage|voc)|pv[\s-]*(?:eingang|spannung)|(?:max\w*\.?\s*)?eingangs\s?spannung|tension\s+(?:pv|photovolta\w*|d.entree|max\w*)|entree\s+pv|tension\s+(?:pv|fv|solar|de\s+entrada|maxima)|entrada\s+(?:pv|fv|solar)|ingresso\s+(?:pv|fv)|tensione\s+(?:massima\s+|max\.?\s+)?(?:pv|fv|di\s+ingresso)|tension\s+(?:max(?:ima|\.)?\s+)?(?:pv|fv|solar|de\s+entrada)|\b[pf][vy]\b/i,
      measure: 'V',
      range: [12, 1000],
    },
    {
      field: 'maxPv_A',
      names:
        /(?:pv|solar|panel|array)[\s-]*(?:short[\s-]*circuit|input|isc)[\s-]*(?:current)?|max(?:imum|\.)?\s*(?:pv\s+)?(?:isc|short[\s-]*circuit\s+current|input\s+current)|kurzschluss\s?strom|courant\s+(?:de\s+court[\s-]*circuit|d.entree|pv)|corriente\s+de\s+(?:entrada|cortocircuito)|pv[\s-]*strom/i,
      measure: 'A',
      range: [1, 200],
    },
    {
      field: 'maxOutput_A',
      names:
        /(?:rated|max(?:imum|\.)?|nominal)?\s*(?:charge|charging|output|battery)\s*(?:current)?|output|lade\s?strom|ausgang(?:sstrom)?|courant\s+de\s+(?:charge|sortie)|sortie|corriente\s+(?:nominal\s+|max(?:ima|\.)?\s+)?de\s+(?:carga|salida)|salida|corrente\s+(?:nominale\s+|massima\s+)?di\s+(?:carica|uscita)|uscita|rated\s+current|nennstrom/i,
      measure: 'A',
      range: [2, 200],
    },
  ],
  battery: [
    {
      field: 'peakDischarge_A',
      names:
        /(?:peak|pulse|surge|spitzen|crete|pico|impuls)[^0-9]*(?:discharge|current|strom|entlade|courant|corriente|decharge)?/i,
      measure: 'A',
      range: [1, 3000],
    },
    {
      field: 'maxDischarge_A',
      names: /(?<!re)discharg\w*|entlade\w*|decharge|descarga|scarica/i,
      measure: 'A',
      range: [1, 1000],
    },
    {
      field: 'maxCharge_A',
      names:
        /(?<!dis)charg\w*(?:\s+current)?|lade\s?strom|ladestrom|courant\s+(?:de\s+)?charge|corriente\s+(?:max\w*\.?\s+)?(?:de\s+)?carga|corrente\s+(?:mass?\w*\.?\s+|max\.?\s+)?di\s+carica|initial\s+current/i,
      measure: 'A',
      range: [0.5, 1000],
    },
    {
      field: 'block_V',
      names:
        /(?:nominal|rated)\s+voltage|^voltage|nennspannung|tension\s+nominale|tension\s+nominal|tensione\s+nominale/i,
      measure: 'V',
      range: [1.2, 60],
    },
    {
      field: 'blockCapacity_Ah',
      names: /capacity|kapazitat|capacite|capacidad|capacita|\bC\s?(?:5|10|20|100)\b/i,
      measure: 'Ah',
      range: [1, 5000],
    },
    { field: 'mass_kg', names: MASS, measure: 'kg', range: [0.2, 500] },
  ],
  inverter: [
    {
      field: 'charger.max_A',
      names: /charg\w*(?:\s+current)?|lade\s?strom|courant\s+de\s+charge|corriente\s+de\s+carga/i,
      measure: 'A',
      range: [2, 300],
    },
    {
      field: 'surge_W',
      names: /(?:surge|peak)(?:\s+(?:output\s+)?power)?|spitzen?\w*|crete|pointe|pico|picco|spunto/i,
      measure: 'W',
      range: [50, 100_000],
    },
    {
      field: 'continuous_W',
      names:
        /(?:continuous|rated|nominal|output|cont\.?)\s*(?:output\s+)?(?:power)?|dauer\s?leistung|nennleistung|ausgangs\s?leistung|puissance\s+(?:continue|nominale|de\s+sortie)|potencia\s+(?:continua|nominal|de\s+salida)|potenza\s+(?:continua|nominale|di\s+uscita)|\bpower\b/i,
      measure: 'W',
      range: [50, 50_000],
    },
    { field: 'continuous_VA', names: /.*/, measure: 'VA', range: [50, 50_000] },
  ],
  charger: [
    {
      field: 'max_A',
      names:
        /(?:charge|charging|output|rated|max(?:imum|\.)?)\s*(?:current|output)?|lade\s?strom|ausgang(?:sstrom)?|courant\s+(?:de\s+)?(?:charge|sortie)|sortie|corriente\s+de\s+(?:carga|salida)|salida|output/i,
      measure: 'A',
      range: [0.5, 300],
    },
  ],
  source: [
    {
      field: 'power_W',
      names:
        /(?:rated|continuous|max(?:imum|\.)?|nominal|running)\s*(?:output|power)?|\bpower\b|dauerleistung|nennleistung|puissance|potencia|potenza|output|\bCOP\b|\bPRP\b/i,
      measure: 'W',
      range: [100, 100_000],
    },
  ],
};

/** Words by which a kind is told, each with its weight. */
export const KIND_WORDS: Readonly<Record<PlateKind, readonly (readonly [RegExp, number])[]>> = {
  module: [
    [/\bSTC\b|AM\s?1[.,]5|1000\s?W\/m/i, 3],
    [
      /photovoltaic\s+module|solar\s?(?:module|panel)|pv[\s-]module|solarmodul|module\s+(?:photovolta|solaire)|modulo\s+(?:fotovolt|solar)|panneau/i,
      4,
    ],
    [VOC, 1.5],
    [ISC, 1.5],
    [VMP, 0.8],
    [IMP, 0.8],
    [SYSTEM_V, 1.5],
    [/\d\s?Wp\b|\d\s?Wc\b/, 1],
  ],
  controller: [
    [/\bMPPT\b/i, 4],
    [/\bPWM\b/i, 4],
    [
      /charge\s+controller|solar\s+(?:charge|regulator|controller)|laderegler|solarregler|regulateur|regulador|controlador|regolatore/i,
      5,
    ],
    [/pv[\s-]*(?:input|voltage|power|eingang)|max(?:imum|\.)?\s*pv|entree\s+pv|entrada\s+(?:pv|fv|solar)/i, 2],
  ],
  battery: [
    [/batter(?:y|ie)|bateria|batteria|accumulat|akku/i, 2.5],
    [
      /LiFePO|lithium|\bLFP\b|\bAGM\b|\bGEL\b|lead[\s-]acid|\bVRLA\b|flooded|deep\s+cycle|\bOPzS\b|\bOPzV\b|blei|plomb|plomo/i,
      3,
    ],
    [/\d\s?Ah\b/i, 2],
    [/\d\s?k?Wh\b/i, 1],
    [/cycle\s+use|stand[\s-]?by|float/i, 1],
  ],
  inverter: [
    [/inverter|wechselrichter|onduleur|convertisseur|inversor|invertitore/i, 5],
    [/pure\s+sine|modified\s+(?:sine|wave)|sinus|onda\s+(?:pura|sinus\w*|modificada)|square\s+wave/i, 3],
    [/surge|peak\s+power|spitzenleistung/i, 1.5],
    [/\d\s?VA\b/, 1],
    [/(?:230|220|120|110|240)\s?V\s?(?:AC|~)?[^0-9]*(?:50|60)\s?Hz/i, 1],
  ],
  charger: [
    [
      /battery\s+charger|dc[\s/-]*dc|booster|mains\s+charger|ladegerat|ladebooster|chargeur|cargador|caricabatteri/i,
      5.5,
    ],
    [/\bcharger\b/i, 2],
  ],
  source: [
    [/generator|genset|stromerzeuger|groupe\s+electrogene|generador|gruppo\s+elettrogeno|generatore/i, 6],
    [/shore\s+power|inlet|alternator|lichtmaschine|alternateur|alternador/i, 5],
    [/rpm|tr\/min|U\/min|cos\s?(?:phi|\u03c6)|fuel|petrol|diesel|benzin/i, 1.5],
  ],
};
