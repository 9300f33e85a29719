/** Numbers as they are spoken, as they would be typed on the pad. */

const SMALL: Record<string, number> = Object.fromEntries(
  'zero one two three four five six seven eight nine ten eleven twelve thirteen fourteen fifteen sixteen seventeen eighteen nineteen'
    .split(' ')
    .map((word, i) => [word, i]),
);
const TENS: Record<string, number> = Object.fromEntries(
  'twenty thirty forty fifty sixty seventy eighty ninety'.split(' ').map((word, i) => [word, 20 + 10 * i]),
);
const PARTS: Record<string, number> = {
  half: 2,
  halves: 2,
  third: 3,
  thirds: 3,
  quarter: 4,
  quarters: 4,
  eighth: 8,
  eighths: 8,
  sixteenth: 16,
  sixteenths: 16,
};

/** "two and three eighths" -> "2 3/8", "about thirty" -> "~30", "ten to sixteen" -> "10..16"; null where no number is in it. */
export function spokenNumber(words: string): string | null {
  const text = words
    .toLowerCase()
    .replace(/-/g, ' ')
    .replace(/[?!.]+$/, '')
    .trim();
  const ends = text.split(/ to /);
  if (ends.length === 2) {
    const [a, b] = ends.map((end) => one(end));
    return a && b ? `${a}..${b}` : null;
  }
  const about = /^(about|around|roughly) /.exec(text);
  const number = one(about ? text.slice(about[0].length) : text);
  return number && about ? `~${number}` : number;
}

function one(text: string): string | null {
  const minus = /^(minus|negative) /.exec(text);
  const rest = minus ? text.slice(minus[0].length) : text;
  const sign = minus ? '-' : '';
  const words = rest.split(/\s+/);
  const bottom = PARTS[words.at(-1) ?? ''];
  if (bottom) {
    const before = words.slice(0, -1).join(' ');
    const split = /^(?:(.*) and )?(.+)$/.exec(before);
    const top = split?.[2] === 'a' ? 1 : whole(split?.[2] ?? '');
    const first = split?.[1] === undefined ? null : whole(split[1]);
    if (top === null || (split?.[1] !== undefined && first === null)) return null;
    return `${sign}${first === null ? '' : `${first} `}${top}/${bottom}`;
  }
  const [left = '', right] = rest.split(/ point /);
  const value = whole(left);
  if (value === null) return null;
  if (right === undefined) return `${sign}${value}`;
  const digits = right.split(/\s+/).map((word) => (/^\d+$/.test(word) ? word : String(SMALL[word] ?? 'x')));
  return digits.some((digit) => digit === 'x') ? null : `${sign}${value}.${digits.join('')}`;
}

function whole(text: string): number | string | null {
  if (/^\d+(\.\d+)?$/.test(text)) return text;
  let total = 0;
  let group = 0;
  let heard = false;
  for (const word of text.split(/\s+/)) {
    if (word === 'and') continue;
    const value = SMALL[word] ?? TENS[word];
    if (value !== undefined) group += value;
    else if (word === 'a' && !heard) group += 1;
    else if (word === 'hundred') group = Math.max(1, group) * 100;
    else if (word === 'thousand') {
      total += Math.max(1, group) * 1000;
      group = 0;
    } else return null;
    heard = true;
  }
  return heard ? total + group : null;
}

interface Recognition {
  lang: string;
  onresult: ((event: { results: { transcript: string }[][] }) => void) | null;
  onerror: (() => void) | null;
  start(): void;
}
type Maker = new () => Recognition;

/** The browser's own ear; null where it has none. It may need a signal: that is the browser's affair. */
export function ear(): Maker | null {
  const at = globalThis as { SpeechRecognition?: Maker; webkitSpeechRecognition?: Maker };
  return at.SpeechRecognition ?? at.webkitSpeechRecognition ?? null;
}

/** Listens once. Resolves to what was understood as a number, or to null. */
export const listen = (Ear: Maker): Promise<string | null> =>
  listenWords(Ear).then((words) => spokenNumber(words ?? ''));

/** Listens once. Resolves to the words that were understood, or to null. */
export function listenWords(Ear: Maker): Promise<string | null> {
  return new Promise((resolve) => {
    const recognition = new Ear();
    recognition.lang = 'en';
    recognition.onresult = ({ results }) => resolve(results[0]?.[0]?.transcript || null);
    recognition.onerror = () => resolve(null);
    recognition.start();
  });
}
