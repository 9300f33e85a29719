import { figure } from '../ledger/figures';
import { raised } from '../parts/said';
import type { Roof } from '../system/schema';
import type { RoofAnswer, Side } from './roof';

/** What a roof answers, as a colleague says it. */

const NUMBERS = 'no one two three four five six seven eight nine ten eleven twelve'.split(' ');
const spoken = (count: number): string => NUMBERS[count] ?? String(count);
const SIDES: Readonly<Record<Side, string>> = {
  ahead: 'ahead',
  behind: 'behind',
  left: 'on the left',
  right: 'on the right',
};

/** "Seven fit.": also of the best so far. */
export const fitSentence = (count: number): string =>
  count === 0 ? 'No module fits.' : `${raised(spoken(count))} ${count === 1 ? 'fits' : 'fit'}.`;

/** "Seven fit. Eight do not: 140 mm short ahead. Without the aerial eight fit." */
export function roofSentence({ obstacles }: Roof, { fit, short, away }: RoofAnswer): string {
  const { count, bound, proved } = fit;
  const fits = fitSentence(count);
  const more = !proved && bound > count ? ` ${raised(spoken(count + 1))} could not be ruled out.` : '';
  const lacking = short
    ? ` ${raised(spoken(short.count))} ${short.count === 1 ? 'does' : 'do'} not: ${short.by_mm} mm short ${SIDES[short.where]}.`
    : '';
  const moved = away
    .filter((one) => one.count > count)
    .slice(0, 1)
    .map(({ obstacle, count: then }) => {
      const one = (obstacles ?? []).find(({ id }) => id === obstacle);
      return ` Move the ${one?.label?.toLowerCase() ?? one?.kind ?? 'obstacle'} and ${spoken(then)} ${then === 1 ? 'fits' : 'fit'}.`;
    });
  return `${fits}${proved ? lacking : more}${moved.join('')}`;
}

/** "Shade costs 8 % of the year. Wired so that 1 and 3 share a string, it costs 4 %." Quotes the lower of both figures. */
export function shadeSentence({ shade }: RoofAnswer): string | null {
  if (!shade) return null;
  const lost = (kept: number) => figure(100 * (1 - kept), 2);
  const quoted = Math.min(shade.kept, shade.keptHard);
  if (quoted > 0.995) return 'Nothing on this roof costs more than half a per cent of the year.';
  const [wired, best] = shade.wirings;
  const better =
    wired && best && best.kept - wired.kept > 0.005
      ? ` Wired as ${best.strings.map((string) => string.map((index) => index + 1).join(' + ')).join(', ')} it keeps ${figure(100 * (best.kept - wired.kept), 2)} % more.`
      : '';
  return `Shade takes ${lost(quoted)} % of the year.${better}`;
}

/** "12 mm too near module 2", of a module as it lies. */
export const tooNear = (roof: Roof, fault: { with: string; by_mm: number }): string => {
  const other = /^module (\d+)$/.exec(fault.with);
  const what = other
    ? `module ${Number(other[1]) + 1}`
    : fault.with === 'edge'
      ? 'the edge'
      : ((roof.obstacles ?? []).find(({ id }) => id === fault.with)?.label ??
        (roof.obstacles ?? []).find(({ id }) => id === fault.with)?.kind ??
        fault.with);
  return `${fault.by_mm} mm too near ${what}`;
};
