import { distance } from 'fastest-levenshtein';

/** Words that a photo's reader got wrong by a letter, put right by what plates say (docs/plates.md). */

/**
 * What plates say, without accents: English, German, French, Spanish and Italian. Only for lines from a photo; what
 * somebody typed is taken at its word.
 */
const PLATE_WORDS = new Set(
  `voltage current power rated nominal maximum output input open circuit short system series fuse weight battery capacity
  charge charging discharge continuous surge peak inverter controller module panel photovoltaic solar lithium nominal
  controller regulator charger generator operating optimum protection sine modified
  spannung leerlaufspannung kurzschlussstrom nennleistung spitzenleistung leistung nennspannung nennstrom maximale
  systemspannung strangsicherung vorsicherung sicherung ruckstrom gewicht masse batterie kapazitat nennkapazitat ladestrom
  entladestrom ausgangsleistung dauerleistung ausgangsstrom ausgang eingang eingangsspannung wechselrichter sinuswelle
  sinus reine solarmodul laderegler solarregler ladegerat photovoltaik strom spannungsbereich eingangsbereich
  tension ouvert vide courant court puissance crete maximale nominale nominal systeme fusible poids capacite decharge
  continue sortie entree onduleur convertisseur regulateur chargeur photovoltaique panneau solaire pointe
  abierto circuito corriente cortocircuito potencia maxima nominal pico sistema fotovoltaico peso bateria capacidad carga
  descarga salida entrada inversor regulador controlador cargador pura modificada onda
  tensione vuoto aperto corrente corto potenza massima picco fusibile batteria capacita carica scarica uscita ingresso
  pannello regolatore caricabatterie spunto`
    .split(/\s+/)
    .filter((word) => word !== ''),
);

/** A letter for a letter, so that what stands where stays where it was. */
export const withoutAccents = (text: string): string =>
  [...text].map((letter) => (letter.length === 1 ? letter.normalize('NFD').charAt(0) : letter)).join('');

/** A line of a photo with its words put right where only one word of a plate is that near. */
export const mendedWords = (text: string): string =>
  text
    .replace(/(?<![A-Za-z])[l1|](sc|cc|mpp?|pm|pmax)\b/g, 'I$1')
    .replace(/\bLiFeP[0OQ](?=4|\b)/gi, 'LiFePO')
    .replace(/[A-Za-z](?:[A-Za-z!|]*[A-Za-z])?/g, (word) => nearest(word.toLowerCase()) ?? word);

/** Shorter words are too near to one another. */
const SHORTEST = 5;
/** From so many letters on two of them may be wrong. */
const LONG = 8;

/** The one plate word within a letter of this one (two of a long word); null where it is one, or none or several are near. */
function nearest(word: string): string | null {
  if (word.length < SHORTEST || PLATE_WORDS.has(word)) return null;
  for (const most of word.length >= LONG ? [1, 2] : [1]) {
    const near = [...PLATE_WORDS].filter((other) => other.length >= SHORTEST && distance(word, other) <= most);
    if (near.length > 0) return near.length === 1 ? (near[0] ?? null) : null;
  }
  return null;
}
