import { elementAt } from '../numeric/element';
import { rewired } from '../system/string-runs';
import { CHEMISTRY, CONVERSION, isLithium } from '../chemistry/chemistry';
import { partName, partTitle } from '../conductors/names';
import { counted, figure } from '../ledger/figures';
import { largestWhole, topOf } from '../numeric/roots';
import { raised } from '../parts/said';
import { CONTROLLER_OUTPUT_A, sizeSold } from '../rules/cures/sold';
import { refusedOnRoof } from '../roof/room';
import { type Model } from '../system/model';
import type { Bank, Change, Load, PvArray } from '../system/schema';
import { MONTHS } from '../sun/months';
import { type YearSums } from './year';
import { type Advice, type Asked, ASKED, type Outcome, Trials } from './trials';

/** @throws FaultError that names each field without which nothing can be said */
export function yearAdvice(
  model: Model,
  asked: Asked = ASKED,
  progress: (share: number) => void = () => undefined,
): Advice[] {
  const trials = new Trials(model, asked);
  const found = trials.ask([]);
  const parts: (() => (Advice | null)[])[] = [
    () => [moreModules(trials, found)],
    () => [largerBank(trials, found)],
    () => [generator(trials, found)],
    () => tilts(trials, found),
    () => [intoTheDay(trials, found)],
    () => [clipped(trials, found)],
    () => [pointTracking(trials, found)],
    () => [lithium(trials, found)],
    () => [unused(found)],
  ];
  return parts.flatMap((part, i) => {
    const advice = part();
    progress((i + 1) / parts.length);
    return advice.flatMap((one) => one ?? []);
  });
}

/** "3 of 60 years": a share of the years that were looked at. */
export const years = (share: number, { years: count }: Asked) => `${Math.round(share * count)} of ${count} years`;

const kWh = (value: number) => `${figure(value, 3)} kWh`;

/** Less than this is said to nobody: it is within what a year can differ. */
const WORTH_KWH = 5;

const WORTH_SHARE = 0.02;

const worthSaying = (gain: number, of: number) => gain >= WORTH_KWH && gain >= WORTH_SHARE * of;

/** The fewest from 1 for which the years are as rarely dark as is accepted; null where not even the most will do. */
function fewest(trials: Trials, most: number, changes: (count: number) => Change[]): number | null {
  const { accept } = trials.asked;
  const tooDark = (count: number) => count < 1 || trials.ask(changes(count)).dark > accept;
  const last = largestWhole(tooDark, 0, most);
  return last === null ? null : last + 1;
}

const MOST_STRINGS = 24;

/** More strings like the first of the array that has a controller. */
function moreModules(trials: Trials, found: Outcome): Advice | null {
  const array = wired(trials.model);
  const [string] = array?.strings ?? [];
  if (!array || !string || found.dark <= trials.asked.accept) return null;
  const most = Math.min(MOST_STRINGS, 64 - array.strings.length);
  const changes = (count: number): Change[] =>
    rewired(trials.model.system, array, [...array.strings, ...Array.from({ length: count }, () => string)]);
  const least = most < 1 ? null : fewest(trials, most, changes);
  const name = partName(trials.model, array.id);
  if (least === null)
    return trials.advice(
      'modules',
      `No number of modules up to ${most * string.length} keeps the power on: the controller or the bank is too small.`,
      null,
    );
  const cuts = `cuts in ${years(trials.ask(changes(least)).dark, trials.asked)} instead of ${years(found.dark, trials.asked)}`;
  const modules = Array.from({ length: least }, () => string).flat();
  const refusal = refusedOnRoof(trials.model, array, modules);
  // Said all the same: it may be room enough beside the house.
  if (refusal)
    return trials.advice(
      'modules',
      `It takes ${counted(modules.length, 'module')} more on ${name} to keep the power on: ${cuts}. ${refusal}`,
      null,
    );
  return trials.advice(
    'modules',
    `${counted(modules.length, 'module')} more on ${name} keep the power on: ${cuts}.`,
    changes(least),
  );
}

const wired = ({ system }: Model): PvArray | undefined => system.arrays?.find(({ controllerId }) => controllerId);

const MOST_TIMES = 6;

/** More strings of the same blocks. */
function largerBank(trials: Trials, found: Outcome): Advice | null {
  const { bank } = trials.model.system;
  if (!bank || found.dark <= trials.asked.accept) return null;
  const most = Math.min(64, MOST_TIMES * bank.parallel) - bank.parallel;
  const changes = (count: number): Change[] => [{ op: 'set', at: 'bank', value: { parallel: bank.parallel + count } }];
  const least = most < 1 ? null : fewest(trials, most, changes);
  if (least === null)
    return trials.advice(
      'bank',
      `No bank up to ${MOST_TIMES} times as large keeps the power on: there is not enough sun.`,
      null,
    );
  return trials.advice(
    'bank',
    `${counted(least, 'string')} more of the same blocks keep the power on: cuts in ${years(trials.ask(changes(least)).dark, trials.asked)} instead of ${years(found.dark, trials.asked)}.`,
    // Beside blocks that are worn new ones age: the whole bank would be bought.
    aged(bank) ? null : changes(least),
  );
}

const aged = ({ age_y, chemistry }: Bank) => (age_y ?? 0) > 0.5 && !isLithium(chemistry);

/** What a generator that starts by itself would run, so that nobody is left dark; and what it runs now. */
function generator(trials: Trials, found: Outcome): Advice | null {
  const source = trials.model.system.sources?.find(({ kind }) => kind === 'generator');
  if (!source) return null;
  const name = partName(trials.model, source.id);
  const now = `${figure(found.totals.generator_h, 2)} h and ${figure(found.totals.generator_L, 2)} L a year`;
  const changes: Change[] = [{ op: 'set', at: 'sources', id: source.id, value: { autoStart: true } }];
  if (source.autoStart || found.dark <= trials.asked.accept)
    return found.totals.generator_h < 1 ? null : trials.advice('generator', `${raised(name)} runs ${now}.`, null);
  const would = trials.ask(changes);
  if (would.dark >= found.dark)
    return trials.advice(
      'generator',
      `${raised(name)} runs ${now}; starting automatically would not reduce the power cuts.`,
      null,
    );
  return trials.advice(
    'generator',
    `${raised(name)} runs ${now}; starting automatically, even when nobody is there, ${figure(would.totals.generator_h, 2)} h and ${figure(would.totals.generator_L, 2)} L: cuts in ${years(would.dark, trials.asked)} instead of ${years(found.dark, trials.asked)}.`,
    // A start by itself needs a start relay and a controller for it: no setting of this program.
    null,
  );
}

/** Sun at the bank of a month against what it is asked for; the sun's alone, whatever was taken of it. */
const offered = ({ harvest_kWh, unused_kWh }: YearSums) => harvest_kWh + unused_kWh;

const wanted = ({ used_kWh, unserved_kWh }: YearSums) => used_kWh + unserved_kWh;

function scarcest({ months }: Outcome): number {
  let worst = 0;
  months.forEach((month, i) => {
    const best = elementAt(months, worst);
    if (offered(month) * wanted(best) < offered(best) * wanted(month)) worst = i;
  });
  return worst;
}

/** Hours of a generator from which less of it is worth a ladder. */
const WORTH_H = 20;

/** How each array would stand for the scarcest month; where nothing is short nobody climbs for it. */
function tilts(trials: Trials, { dark, totals }: Outcome): (Advice | null)[] {
  if (dark <= trials.asked.accept && totals.generator_h < WORTH_H) return [];
  const found = trials.ask([], 'mean');
  const month = scarcest(found);
  const now = offered(elementAt(found.months, month));
  return (trials.model.system.arrays ?? [])
    .filter(
      ({ controllerId, tilt_deg, mounting }) => controllerId && typeof tilt_deg === 'number' && mounting !== 'bonded',
    )
    .map((array) => {
      const at = (tilt_deg: number): Change[] => [
        { op: 'set', at: 'arrays', id: array.id, value: { tilt_deg, azimuth_deg: array.azimuth_deg ?? 180 } },
      ];
      const gives = (tilt_deg: number) => offered(elementAt(trials.ask(at(tilt_deg), 'mean').months, month));
      const best = 5 * Math.round(topOf(gives, 0, 90, TILT_STEPS) / 5);
      const gain = gives(best) - now;
      if (Math.abs(best - (array.tilt_deg ?? 0)) < 5 || gain < 0.05 * now) return null;
      return trials.advice(
        'tilt',
        `${raised(partName(trials.model, array.id))} at ${best} degrees instead of ${array.tilt_deg} brings ${figure((100 * gain) / now, 2)} % more energy in an average ${MONTHS[month]}, the scarcest month.`,
        at(best),
      );
    });
}

const TILT_STEPS = 8;

/** From nine to four the sun carries a load itself. */
const DAY = { from_h: 9, to_h: 16 } as const;

/** The load whose hours moved into the day help most. */
function intoTheDay(trials: Trials, found: Outcome): Advice | null {
  const may = (load: Load) =>
    load.overlap !== 'base' &&
    load.hours_d > 0 &&
    Math.max(load.hours_d, load.winterHours_d ?? 0) <= DAY.to_h - DAY.from_h &&
    !(
      typeof load.from_h === 'number' &&
      load.from_h >= 8 &&
      typeof load.to_h === 'number' &&
      load.to_h <= 17 &&
      load.to_h > load.from_h
    );
  let best: { load: Load; outcome: Outcome; changes: Change[] } | null = null;
  for (const load of (trials.model.system.loads ?? []).filter(may)) {
    const changes: Change[] = [{ op: 'set', at: 'loads', id: load.id, value: DAY }];
    const outcome = trials.ask(changes);
    if (!best || outcome.totals.unserved_kWh < best.outcome.totals.unserved_kWh) best = { load, outcome, changes };
  }
  if (!best) return null;
  const { load, outcome, changes } = best;
  const less = found.totals.unserved_kWh - outcome.totals.unserved_kWh;
  if (less < 0.1 * found.totals.unserved_kWh || (less < WORTH_KWH && outcome.dark >= found.dark)) return null;
  return trials.advice(
    'day',
    `${partTitle(trials.model.system, load.id) ?? load.label} between ${DAY.from_h} and ${DAY.to_h} h: ${kWh(less)} a year less without power, cuts in ${years(outcome.dark, trials.asked)} instead of ${years(found.dark, trials.asked)}.`,
    changes,
  );
}

/** What controllers hold back at their limit, and what the next size sold would bring of it. */
function clipped(trials: Trials, found: Outcome): Advice | null {
  if (!worthSaying(found.totals.clipped_kWh, found.totals.harvest_kWh)) return null;
  const { controllers } = trials.model.system;
  let best: { text: string; gain: number } | null = null;
  for (const { id, maxOutput_A } of controllers ?? []) {
    const larger = sizeSold(CONTROLLER_OUTPUT_A, maxOutput_A + 1);
    if (larger === undefined) continue;
    const changes: Change[] = [
      { op: 'set', at: 'controllers', id, value: { maxOutput_A: larger, settings: { maxCharge_A: null } } },
    ];
    const gain = found.totals.clipped_kWh - trials.ask(changes).totals.clipped_kWh;
    if (gain > (best?.gain ?? 0))
      best = {
        gain,
        text: `one of ${larger} A in place of ${partName(trials.model, id)} would save ${kWh(gain)} of it`,
      };
  }
  // Another controller has more to be than amperes: that is asked where a part is replaced.
  return trials.advice(
    'clipped',
    `${kWh(found.totals.clipped_kWh)} a year are lost at the controllers\u2019 limit${best ? `; ${best.text}` : ''}.`,
    null,
  );
}

/** What a pwm costs here. */
function pointTracking(trials: Trials, found: Outcome): Advice | null {
  const plain = (trials.model.system.controllers ?? []).filter(({ type }) => type === 'pwm');
  if (plain.length === 0) return null;
  const changes = plain.map(({ id }): Change => ({
    op: 'set',
    at: 'controllers',
    id,
    value: { type: 'mppt', maxPv_V: 1500 },
  }));
  const gain = offered(trials.ask(changes).totals) - offered(found.totals);
  if (!worthSaying(gain, offered(found.totals))) return null;
  return trials.advice(
    'mppt',
    `An MPPT in place of ${plain.length === 1 ? partName(trials.model, plain[0]?.id ?? '') : 'the PWM controllers'} would gain ${kWh(gain)} a year, ${figure((100 * gain) / offered(found.totals), 2)} %.`,
    null,
  );
}

/** What lead does not take of the sun, and lithium of the same Ah would. */
function lithium(trials: Trials, found: Outcome): Advice | null {
  const { bank } = trials.model.system;
  const cells = bank ? Math.round(bank.block_V / 3) : 0;
  if (!bank || isLithium(bank.chemistry) || cells < 1 || bank.block_V < 6) return null;
  const { nominal_V } = CHEMISTRY[CONVERSION];
  const changes: Change[] = [
    {
      op: 'set',
      at: 'bank',
      value: {
        chemistry: CONVERSION,
        cells,
        block_V: cells * nominal_V,
        maxCharge_A: null,
        lowTemperatureProtection: true,
      },
    },
  ];
  const would = trials.ask(changes);
  // Of the sun that is offered: what is stored or used more, and what is lost less on the way in and out.
  const gain = would.totals.used_kWh - found.totals.used_kWh + (found.totals.losses_kWh - would.totals.losses_kWh);
  if (!worthSaying(gain, found.totals.harvest_kWh)) return null;
  return trials.advice(
    'lithium',
    `Lithium of the same Ah would deliver ${kWh(gain)} a year more than this ${CHEMISTRY[bank.chemistry].word} bank; cuts in ${years(would.dark, trials.asked)} instead of ${years(found.dark, trials.asked)}.`,
    null,
  );
}

/** Sun that nobody takes, and when. */
function unused({ totals, months }: Outcome): Advice | null {
  if (!worthSaying(totals.unused_kWh, totals.harvest_kWh)) return null;
  const most = months.reduce((best, month, i) => (month.unused_kWh > (months[best]?.unused_kWh ?? 0) ? i : best), 0);
  return {
    id: 'unused',
    text: `${kWh(totals.unused_kWh)} a year of solar yield go unused because the bank is full, ${kWh(months[most]?.unused_kWh ?? 0)} of it in ${MONTHS[most]}: a summer load would cost nothing.`,
    changes: null,
    harms: [],
  };
}
