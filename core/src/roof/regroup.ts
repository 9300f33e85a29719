import { elementAt } from '../numeric/element';
import type { LitHour } from './light';
import { yieldOf, type Input, type Yield } from './kept';
import { quickScore } from './quick';

/** Which modules belong in one string: the best found with strings of the same lengths, no module leaving its array. */

/** Groupings that are all looked at; beyond, they are bettered by exchanging two. */
const MOST_WAYS = 400;
/** The hours in which shade costs most stand for the year while groupings are compared. */
const TELLING = 40;

type Places = Input['strings'];

/** @returns the strings of the best grouping with its sums; null where none is better than as wired */
export function regrouped(
  input: Input,
  hours: readonly LitHour[],
  skies: readonly number[],
  wired: Yield,
): { strings: Places; sums: Yield } | null {
  const arrays = [...new Set(input.strings.flat().map(({ array }) => array))].filter(
    (array) => input.strings.filter((string) => string[0]?.array === array).length > 1,
  );
  if (arrays.length === 0) return null;
  const telling = hours
    .map((hour) => ({ hour, lost: lostIn(input, hour) }))
    .filter(({ lost }) => lost > 0)
    .sort((a, b) => b.lost - a.lost)
    .slice(0, TELLING)
    .map(({ hour }) => hour);
  if (telling.length === 0) return null;
  const score = quickScore(input, telling, skies);
  let best = input.strings;
  for (const array of arrays) {
    const own = best.flatMap((string, s) => (string[0]?.array === array ? [s] : []));
    const ways = waysOf(best, own) ?? betterings(best, own, score);
    best = highest([best, ...ways], score);
  }
  if (best === input.strings) return null;
  const sums = yieldOf({ ...input, strings: best }, hours, skies, false);
  return sums.kept > wired.kept * (1 + 1e-6) ? { strings: best, sums } : null;
}

/** The best of some; of equals the first. */
function highest(ways: readonly Places[], score: (strings: Places) => number): Places {
  let [best, most] = [elementAt(ways, 0), -Infinity];
  for (const strings of ways) {
    const watts = score(strings);
    if (watts > most * (1 + 1e-6) || most === -Infinity) [best, most] = [strings, watts];
  }
  return best;
}

/** What uneven light in an hour may cost, as a rough figure. */
function lostIn({ strings }: Input, { beam, days, lit }: LitHour): number {
  const shares = strings.flat().map(({ face }) => (face === null ? 1 : (lit[face] ?? 1)));
  return beam * days * (Math.max(...shares) - Math.min(...shares));
}

/** All groupings of the modules of some strings into strings of the same lengths; null where there are too many. */
function waysOf(strings: Places, own: readonly number[]): Places[] | null {
  const modules = own.flatMap((s) => strings[s] ?? []);
  const lengths = own.map((s) => strings[s]?.length ?? 0);
  const ways: Places[] = [];
  const fill = (rest: typeof modules, at: number, made: Places): boolean => {
    if (at === lengths.length) {
      const whole = [...strings];
      own.forEach((s, i) => (whole[s] = made[i] ?? []));
      ways.push(whole);
      return ways.length <= MOST_WAYS;
    }
    const length = lengths[at] ?? 0;
    // Strings of one length are alike: the first module left goes into the first of them.
    const fixed = lengths.slice(at).every((one) => one === length) ? 1 : 0;
    return choose(rest, length, fixed, (chosen, left) => fill(left, at + 1, [...made, chosen]));
  };
  return fill(modules, 0, []) ? ways : null;
}

/** Each way of taking so many of a list, the first `fixed` always; stops where `then` says no. */
function choose<T>(
  list: readonly T[],
  count: number,
  fixed: number,
  then: (chosen: T[], left: T[]) => boolean,
): boolean {
  const chosen: T[] = [];
  const left: T[] = [];
  const step = (at: number): boolean => {
    if (chosen.length === count) return then([...chosen], [...left, ...list.slice(at)]);
    if (list.length - at < count - chosen.length) return true;
    const one = elementAt(list, at);
    chosen.push(one);
    const on = step(at + 1);
    chosen.pop();
    if (!on || at < fixed) return on;
    left.push(one);
    const other = step(at + 1);
    left.pop();
    return other;
  };
  return step(0);
}

const ROUNDS = 4;

/** From as it is, two modules of different strings exchanged as long as that betters it. */
function betterings(strings: Places, own: readonly number[], score: (strings: Places) => number): Places[] {
  let now = strings;
  let best = score(now);
  for (let round = 0; round < ROUNDS; round++) {
    let moved = false;
    for (const a of own)
      for (const b of own.filter((s) => s > a))
        for (let i = 0; i < (now[a]?.length ?? 0); i++)
          for (let j = 0; j < (now[b]?.length ?? 0); j++) {
            const next = now.map((string) => [...string]);
            const [one, other] = [next[a]?.[i], next[b]?.[j]];
            if (!one || !other) continue;
            elementAt(next, a)[i] = other;
            elementAt(next, b)[j] = one;
            const watts = score(next);
            if (watts <= best * (1 + 1e-6)) continue;
            [now, best, moved] = [next, watts, true];
          }
    if (!moved) break;
  }
  return [strings, now];
}
