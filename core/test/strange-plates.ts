import type { PlateKind } from '../src/plate/labels';

/**
 * Nameplates as no file of ours has them: made-up devices, typed by many conventions in five languages, each with its
 * truth. From the same number always the same plate. Numbers below 1000 may be tuned on; those above are kept apart.
 */

/** A plate as it is printed, with what it says. */
export interface StrangePlate {
  kind: PlateKind;
  lines: string[];
  fields: Record<string, number | string>;
}

export type Dice = () => number;
/** Evenly spread numbers from 0 to 1 (mulberry32, public domain). */
export function diceOf(seed: number): Dice {
  let state = (seed + 1) * 0x9e3779b9;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** In each language what plates say, several ways apart by bars. */
type Words = readonly [en: string, de: string, fr: string, es: string, it: string];
const L = {
  module: [
    'Solar module|PV module|Photovoltaic module|Solar panel',
    'Solarmodul|PV-Modul|Photovoltaik-Modul',
    'Module photovoltaïque|Panneau solaire|Module solaire',
    'Módulo fotovoltaico|Panel solar|Módulo solar',
    'Modulo fotovoltaico|Pannello solare',
  ],
  pmax: [
    'Peak power|Rated power|Maximum power|Nominal power',
    'Nennleistung|Spitzenleistung|Max. Leistung',
    'Puissance crête|Puissance maximale|Puissance nominale',
    'Potencia máxima|Potencia pico|Potencia nominal',
    'Potenza di picco|Potenza massima|Potenza nominale',
  ],
  voc: [
    'Open circuit voltage|Open-circuit voltage',
    'Leerlaufspannung',
    'Tension en circuit ouvert|Tension de circuit ouvert|Tension à vide',
    'Tensión de circuito abierto|Tensión en circuito abierto',
    'Tensione a vuoto|Tensione a circuito aperto',
  ],
  isc: [
    'Short circuit current|Short-circuit current',
    'Kurzschlussstrom|Kurzschluss-Strom',
    'Courant de court-circuit|Courant de court circuit',
    'Corriente de cortocircuito',
    'Corrente di corto circuito|Corrente di cortocircuito',
  ],
  vmp: [
    'Max. power voltage|Voltage at Pmax|Maximum power voltage|Voltage at max. power|Rated voltage',
    'Spannung bei Pmax|MPP-Spannung|Nennspannung',
    'Tension à Pmax|Tension à puissance maximale|Tension nominale',
    'Tensión a Pmax|Tensión a máxima potencia|Tensión nominal',
    'Tensione alla massima potenza|Tensione a Pmax',
  ],
  imp: [
    'Max. power current|Current at Pmax|Maximum power current|Current at max. power|Rated current',
    'Strom bei Pmax|MPP-Strom|Nennstrom',
    'Courant à Pmax|Courant à puissance maximale|Courant nominal',
    'Corriente a Pmax|Corriente a máxima potencia|Corriente nominal',
    'Corrente alla massima potenza|Corrente a Pmax',
  ],
  system: [
    'Max. system voltage|Maximum system voltage|System voltage max.',
    'Max. Systemspannung|Maximale Systemspannung',
    'Tension maximale du système|Tension max. système|Tension système max.',
    'Tensión máxima del sistema|Tensión máxima de sistema|Tensión máx. del sistema',
    'Tensione massima di sistema|Tensione massima del sistema|Tensione max. di sistema',
  ],
  fuse: [
    'Series fuse|Max. series fuse|Maximum series fuse rating|Max. fuse rating',
    'Strangsicherung|Max. Vorsicherung|Stringsicherung|Rückstrombelastbarkeit',
    'Fusible|Calibre max. du fusible|Fusible série',
    'Fusible|Fusible en serie|Fusible de serie máximo',
    'Fusibile|Fusibile massimo|Fusibile di stringa',
  ],
  weight: ['Weight', 'Gewicht', 'Poids', 'Peso', 'Peso'],
  controller: [
    'Solar charge controller MPPT|MPPT charge controller|MPPT solar controller',
    'MPPT Solarladeregler|MPPT Laderegler',
    'Régulateur de charge MPPT|Régulateur solaire MPPT|Contrôleur de charge MPPT',
    'Regulador de carga MPPT|Controlador de carga MPPT',
    'Regolatore di carica MPPT|Regolatore solare MPPT',
  ],
  pvIn: [
    'Max. PV input voltage|Max. solar input voltage|Maximum PV open circuit voltage|Max PV voltage|PV input max.',
    'Max. PV Eingangsspannung|Max. PV-Spannung|Max. Eingangsspannung',
    'Tension PV max.|Tension d’entrée max.|Tension photovoltaïque max.',
    'Tensión FV máx.|Tensión de entrada máx.|Tensión máxima FV',
    'Tensione FV max.|Tensione di ingresso max.|Tensione massima FV',
  ],
  chargeA: [
    'Rated charge current|Max. charging current|Output current|Nominal charge current|Max. output current',
    'Ladestrom|Nennladestrom|Max. Ladestrom|Ausgangsstrom',
    'Courant de charge|Courant de sortie|Courant de charge nominal',
    'Corriente de carga|Corriente de salida|Corriente nominal de carga',
    'Corrente di carica|Corrente di uscita|Corrente nominale di carica',
  ],
  battery: [
    'LiFePO4 battery|Lithium iron phosphate battery|LiFePO4 deep cycle battery',
    'LiFePO4 Batterie|Lithium-Eisenphosphat Batterie|LiFePO4 Akku',
    'Batterie LiFePO4|Batterie lithium fer phosphate',
    'Batería LiFePO4|Batería de litio LiFePO4',
    'Batteria LiFePO4|Batteria al litio LiFePO4',
  ],
  capacity: [
    'Capacity|Rated capacity|Nominal capacity',
    'Kapazität|Nennkapazität',
    'Capacité|Capacité nominale',
    'Capacidad|Capacidad nominal',
    'Capacità|Capacità nominale',
  ],
  nominal: [
    'Nominal voltage|Rated voltage|Voltage',
    'Nennspannung',
    'Tension nominale',
    'Tensión nominal',
    'Tensione nominale',
  ],
  maxCharge: [
    'Max. charge current|Maximum charging current|Charge current max.|Max. continuous charge current',
    'Max. Ladestrom|Ladestrom max.',
    'Courant de charge max.|Courant de charge maximal',
    'Corriente de carga máx.|Corriente máxima de carga',
    'Corrente di carica max.|Corrente massima di carica',
  ],
  maxDischarge: [
    'Max. discharge current|Maximum discharging current|Continuous discharge current|Max. continuous discharge',
    'Max. Entladestrom|Entladestrom max.|Dauerentladestrom',
    'Courant de décharge max.|Courant de décharge maximal',
    'Corriente de descarga máx.|Corriente máxima de descarga',
    'Corrente di scarica max.|Corrente massima di scarica',
  ],
  inverter: [
    'Pure sine wave inverter|Pure sine inverter|True sine wave inverter',
    'Wechselrichter reine Sinuswelle|Sinus-Wechselrichter|Wechselrichter reiner Sinus',
    'Onduleur pur sinus|Convertisseur pur sinus|Onduleur sinus pur',
    'Inversor onda senoidal pura|Inversor de onda pura|Inversor onda sinusoidal pura',
    'Inverter onda sinusoidale pura|Inverter a onda pura',
  ],
  power: [
    'Continuous power|Rated power|Continuous output power|Output power|Nominal power',
    'Dauerleistung|Nennleistung|Ausgangsleistung',
    'Puissance continue|Puissance nominale|Puissance de sortie',
    'Potencia continua|Potencia nominal|Potencia de salida',
    'Potenza continua|Potenza nominale|Potenza di uscita',
  ],
  surge: [
    'Surge power|Peak power|Surge|Max. surge|Peak output power',
    'Spitzenleistung|Max. Spitzenleistung',
    'Puissance de crête|Puissance crête|Puissance de pointe|Pointe',
    'Potencia pico|Potencia de pico|Pico',
    'Potenza di picco|Potenza di spunto|Picco',
  ],
  dcIn: [
    'DC input|Input voltage|DC input voltage|Battery voltage|Input',
    'DC Eingang|Eingangsspannung|DC-Eingang|Eingang',
    'Entrée DC|Tension d’entrée|Entrée',
    'Entrada DC|Tensión de entrada|Entrada',
    'Ingresso DC|Tensione di ingresso|Ingresso',
  ],
} as const satisfies Record<string, Words>;

/** By language: 0 English, then German, French, Spanish, Italian. */
interface Manner {
  dice: Dice;
  language: number;
  comma: boolean;
  /** Between label and figure. */
  between: string;
  /** The unit behind the label: "Voc (V) 24.3". */
  bracketed: boolean;
  /** In capitals. */
  loud: boolean;
  /** Between figure and unit. */
  gap: string;
}

const pick = <T>(dice: Dice, of: readonly T[]): T => of[Math.floor(dice() * of.length)] as T;
const word = ({ dice, language }: Manner, of: Words): string => pick(dice, (of[language] ?? of[0]).split('|'));
const figure = ({ comma, gap }: Manner, value: number, unit: string, places = 0): string =>
  `${comma ? value.toFixed(places).replace('.', ',') : value.toFixed(places)}${gap}${unit}`;

/** A label with its figure. */
function entry(manner: Manner, label: string, value: number, unit: string, places = 0): string {
  const { between, bracketed, loud } = manner;
  const name = loud ? label.toUpperCase() : label;
  return bracketed
    ? `${name} (${unit})${between}${figure({ ...manner, gap: '' }, value, '', places)}`
    : `${name}${between}${figure(manner, value, unit, places)}`;
}

function mannerOf(dice: Dice): Manner {
  const language = Math.floor(dice() * 5);
  return {
    dice,
    language,
    comma: language > 0 && dice() < 0.7,
    between: pick(dice, [' ', ': ', '  ', ' : ', ' = ', ' ..... ', ' - ']),
    bracketed: dice() < 0.15,
    loud: dice() < 0.2,
    gap: pick(dice, ['', ' ']),
  };
}

const MAKERS = ['Kelvane', 'Brisk & Holm', 'Ostrand', 'Tolver', 'Pellworth', 'Marram', 'Quillfin', 'Sorrel Bay'];
const round = (value: number, places: number): number => Number(value.toFixed(places));

function moduleOf(manner: Manner): Omit<StrangePlate, 'kind'> {
  const { dice } = manner;
  const cells = pick(dice, [36, 60, 72, 108, 120]);
  const half = cells > 100;
  const vmp = round((half ? cells / 2 : cells) * (0.54 + 0.04 * dice()), 1);
  const imp = round(5 + 8 * dice(), 2);
  const voc = round(vmp * (1.18 + 0.04 * dice()), 2);
  const isc = round(imp * (1.05 + 0.03 * dice()), 2);
  const watts = Math.round((vmp * imp) / 5) * 5;
  const system = pick(dice, [600, 1000, 1500]);
  const fuse = pick(dice, [10, 15, 20, 25, 30]);
  const mass = round(5 + 20 * dice(), 1);
  const named = dice() < 0.5;
  const label = (of: Words, short: string) =>
    named ? word(manner, of) : pick(dice, [short, `${word(manner, of)} (${short})`]);
  return {
    lines: [
      `${pick(dice, MAKERS)} ${watts}M`,
      word(manner, L.module),
      entry(manner, label(L.pmax, 'Pmax'), watts, pick(dice, ['W', 'Wp'])),
      entry(manner, label(L.voc, pick(dice, ['Voc', 'Uoc'])), voc, 'V', 2),
      entry(manner, label(L.isc, 'Isc'), isc, 'A', 2),
      entry(manner, label(L.vmp, pick(dice, ['Vmp', 'Umpp', 'Vpm'])), vmp, 'V', 1),
      entry(manner, label(L.imp, pick(dice, ['Imp', 'Impp', 'Ipm'])), imp, 'A', 2),
      entry(manner, word(manner, L.system), system, pick(dice, ['V', 'V DC', 'Vdc'])),
      entry(manner, word(manner, L.fuse), fuse, 'A'),
      entry(manner, word(manner, L.weight), mass, 'kg', 1),
      'STC: 1000 W/m2, AM 1.5, 25 C',
      `S/N ${Math.floor(1e9 * dice())}`,
    ],
    fields: {
      pmax_W: watts,
      voc_V: voc,
      isc_A: isc,
      vmp_V: vmp,
      imp_A: imp,
      maxSystem_V: system,
      maxSeriesFuse_A: fuse,
      mass_kg: mass,
    },
  };
}

function controllerOf(manner: Manner): Omit<StrangePlate, 'kind'> {
  const { dice } = manner;
  const [volts, amps] = [pick(dice, [75, 100, 150, 250]), pick(dice, [15, 20, 30, 50, 60, 100])];
  const [low, high] = [13 * amps, 26 * amps];
  return {
    lines: [
      `${pick(dice, MAKERS)} ${volts}/${amps}`,
      word(manner, L.controller),
      '12V/24V auto',
      entry(manner, word(manner, L.pvIn), volts, 'V'),
      entry(manner, word(manner, L.chargeA), amps, 'A'),
      `${low}W/12V ${high}W/24V`,
      'IP43  -30 to 60 C',
    ],
    fields: { type: 'mppt', maxPv_V: volts, maxOutput_A: amps, 'maxPv_W.12': low, 'maxPv_W.24': high },
  };
}

function batteryOf(manner: Manner): Omit<StrangePlate, 'kind'> {
  const { dice } = manner;
  const [volts, amps] = [pick(dice, [12.8, 25.6, 51.2]), pick(dice, [50, 100, 150, 200, 280])];
  const [charge, discharge] = [Math.round(amps / 2), amps];
  const mass = round(5 + amps / 10, 1);
  return {
    lines: [
      pick(dice, MAKERS),
      word(manner, L.battery),
      entry(manner, word(manner, L.nominal), volts, 'V', 1),
      entry(manner, word(manner, L.capacity), amps, 'Ah'),
      entry(manner, word(manner, L.maxCharge), charge, 'A'),
      entry(manner, word(manner, L.maxDischarge), discharge, 'A'),
      entry(manner, word(manner, L.weight), mass, 'kg', 1),
      `2025-0${1 + Math.floor(9 * dice())}-1${Math.floor(9 * dice())}`,
    ],
    fields: {
      chemistry: 'lfp',
      block_V: volts,
      blockCapacity_Ah: amps,
      maxCharge_A: charge,
      maxDischarge_A: discharge,
      mass_kg: mass,
    },
  };
}

function inverterOf(manner: Manner): Omit<StrangePlate, 'kind'> {
  const { dice, between } = manner;
  const watts = pick(dice, [300, 600, 1000, 1500, 2000, 3000]);
  const [low, high] = pick(dice, [
    [10.5, 15.5],
    [21, 31],
  ] as const);
  return {
    lines: [
      `${pick(dice, MAKERS)} PS-${watts}`,
      word(manner, L.inverter),
      entry(manner, word(manner, L.power), watts, 'W'),
      entry(manner, word(manner, L.surge), 2 * watts, 'W'),
      `${word(manner, L.dcIn)}${between}${low}-${high}V`,
      'AC 230V 50Hz',
    ],
    fields: {
      waveform: 'sine',
      continuous_W: watts,
      surge_W: 2 * watts,
      minDc_V: low,
      maxDc_V: high,
      ac_V: 230,
      ac_Hz: 50,
    },
  };
}

const KINDS = { module: moduleOf, controller: controllerOf, battery: batteryOf, inverter: inverterOf } as const;

/** The plate of a number. */
export function strangePlate(seed: number): StrangePlate {
  const dice = diceOf(seed);
  const kind = pick(dice, ['module', 'module', 'controller', 'battery', 'inverter'] as const);
  return { kind, ...KINDS[kind](mannerOf(dice)) };
}

/** How a plate was read: fields right, wrong or missed, those wrong and said to be sure, and whether its kind was known. */
export function judged(
  truth: StrangePlate,
  read: { kind: unknown; fields: readonly { field: string; value: unknown; sure: boolean }[] },
) {
  const right = read.fields.filter(({ field, value }) => truth.fields[field] === value).length;
  const wrong = read.fields.filter(({ field, value }) => truth.fields[field] !== value);
  return {
    of: Object.keys(truth.fields).length,
    right,
    wrong: wrong.map(({ field, value }) => `${field} ${String(value)}, not ${String(truth.fields[field])}`),
    wrongAndSure: wrong
      .filter(({ sure }) => sure)
      .map(({ field, value }) => `${field} ${String(value)}, not ${String(truth.fields[field])}`),
    kind: read.kind === truth.kind,
  };
}
