import { chargingDevices, everyCharger, type ChargingDevice } from '../bank/charging';
import { partTitle } from '../conductors/names';
import { stringsInto } from '../layouts/place';
import { pooledIn } from '../layouts/pool';
import { largestWhole } from '../numeric/roots';
import { canLimit } from '../rules/cures/bank';
import { check } from '../rules/check';
import { keyOf, type Finding } from '../rules/finding';
import { ruleOf } from '../rules/index';
import { harmed } from '../rules/cures/worse';
import { type Model, withChanges } from '../system/model';
import { rewired } from '../system/string-runs';
import type { Change, PvArray } from '../system/schema';
import { bindingIn, CHARGE_RULES, hurting, hurtingIn, hurts, type InterimLimit } from './hurting';

/** Less charge until parts arrive: turned down, or some strings unplugged; what charges a bank alone never goes off. */

interface Held {
  limits: InterimLimit[];
  changes: Change[];
}
type ChargeSource = ChargingDevice & { rating_A: number };

/** The charging sources held back by their own settings, the largest first, until bank, generator and cold allow it. */
export function lessCharge(model: Model): Held | null {
  if (hurting(model, CHARGE_RULES).size === 0) return null;
  const sources = chargingDevices(model.system)
    .flatMap((device): ChargeSource[] =>
      // What was not read cannot be turned down by a figure, and what has no such setting not at all.
      device.rating_A === null || !canLimit(device) ? [] : [{ ...device, rating_A: device.rating_A }],
    )
    .sort((a, b) => b.rating_A - a.rating_A);
  // A charger that can be turned down draws less of its source too; a controller's rating is its plate's.
  const held = ({ at, set, rate }: ChargeSource, amps: number): Change =>
    at === 'controllers' ? set({ maxCharge_A: amps }) : rate(amps, { maxCharge_A: amps });
  const limits: InterimLimit[] = [];
  const changes: Change[] = [];
  const judged = (more: Change[]) => check(withChanges(model, [...changes, ...more]), CHARGE_RULES);
  // What is over with every source turned right down is not for less charge to cure: nothing is turned down for it.
  const beyond = hurtingIn(judged(sources.map((source) => held(source, 1))));
  const hurt = (more: Change[]) => judged(more).filter((one) => hurts(one) && !beyond.has(keyOf(one))).length;
  const before = hurt([]);
  const take = (source: ChargeSource, amps: number) => {
    const rule = bindingIn(judged([held(source, amps + 1)]), judged([held(source, amps)]));
    changes.push(held(source, amps));
    limits.push({
      kind: 'charge',
      id: source.id,
      setting: 'maxCharge_A',
      value: amps,
      unit: 'A',
      rule: rule ?? bindingIn(check(model, CHARGE_RULES), judged([])),
      text: `${source.name}: no more than ${amps} A`,
    });
  };
  const open = [...sources];
  while (open.length > 0 && hurt([]) > 0) {
    // The one source that fixes it by giving up least; where none does alone, the largest is turned down as far as it goes.
    const single = open
      .flatMap((source) => {
        const cures = (amps: number) => hurt([held(source, amps)]) === 0;
        const most = Math.ceil(source.rating_A) - 1;
        const amps = most >= 1 && cures(1) ? (largestWhole(cures, 1, most) ?? most) : null;
        return amps === null ? [] : [{ source, amps, lost: source.rating_A - amps }];
      })
      .sort((a, b) => a.lost - b.lost)[0];
    if (single) {
      take(single.source, single.amps);
      break;
    }
    const [largest] = open.splice(0, 1);
    if (largest && largest.rating_A > 1 && hurt([held(largest, 1)]) <= hurt([])) take(largest, 1);
  }
  return hurt([]) < before ? { limits, changes } : null;
}

/** Some strings of an array unplugged, as few as hold a finding off: what a controller that cannot be turned down allows. */
export function fewerStrings(model: Model, finding: Finding, found: readonly Finding[]): Held | null {
  for (const array of concerned(model, finding)) {
    const { strings } = array;
    const kept = (count: number): Change[] =>
      stringsInto(model, { controllerId: array.controllerId ?? '', strings: pooledIn(array).slice(0, count) }, array);
    const holds = (count: number) => {
      const after = check(withChanges(model, kept(count)));
      return !after.some((one) => keyOf(one) === keyOf(finding) && hurts(one)) && !harmed(found, after).some(hurts);
    };
    for (let count = strings.length - 1; count >= 1; count--) {
      if (!holds(count)) continue;
      const name = partTitle(model.system, array.id) ?? 'The array';
      return {
        limits: [
          {
            kind: 'strings',
            id: array.id,
            setting: null,
            value: count,
            unit: null,
            rule: finding.rule,
            text: `${name}: unplug ${strings.length - count} of ${strings.length} strings`,
          },
        ],
        changes: kept(count),
      };
    }
  }
  return null;
}

/**
 * Every string of an array shorter by as few modules as hold a finding off. The volts of a long string are beyond its
 * controller whatever is switched off, and the rest of it still charges: what a senior does on the day, leads joined past
 * the module that is left out.
 */
export function fewerInSeries(model: Model, finding: Finding, found: readonly Finding[]): Held | null {
  const { system } = model;
  const array = system.arrays?.find(
    ({ id, controllerId }) => finding.subject === id || finding.subject === controllerId,
  );
  const length = array?.strings[0]?.length ?? 0;
  if (!array || length < 2 || array.strings.some((string) => string.length !== length)) return null;
  const name = partTitle(system, array.id) ?? 'The array';
  const short = (count: number): Change[] =>
    rewired(
      system,
      array,
      array.strings.map((string) => string.slice(0, count)),
    );
  for (let count = length - 1; count >= 1; count--) {
    const after = check(withChanges(model, short(count)));
    if (after.some((one) => keyOf(one) === keyOf(finding) && hurts(one))) continue;
    const newly = harmed(found, after);
    // A string too short to charge the bank harms nothing and leaves it without its charge; so may one that cannot be judged.
    const mayNotCharge = after.some((one) => one.subject === array.id && one.verdict === 'unknown' && ofStrings(one));
    if (mayNotCharge || newly.some((one) => hurts(one) || ofStrings(one))) return null;
    const out = length - count;
    const each = array.strings.length > 1 ? 'each string' : 'the string';
    return {
      limits: [
        {
          kind: 'modules',
          id: array.id,
          setting: null,
          value: count,
          unit: null,
          rule: finding.rule,
          text: `${name}: leave ${out} of the ${length} modules in ${each} out, leads joined past ${out > 1 ? 'them' : 'it'}; modules covered, isolator open`,
        },
      ],
      changes: short(count),
    };
  }
  return null;
}

const ofStrings = ({ rule }: Finding): boolean => ruleOf(rule).bearsOn.includes('strings');

/** The arrays of several strings whose current a finding is about; of the bank, all of them. */
function concerned({ system }: Model, { subject }: Finding): PvArray[] {
  const arrays = (system.arrays ?? []).filter(({ strings, controllerId }) => strings.length > 1 && controllerId);
  const run = system.runs?.find(({ id }) => id === subject);
  const near = new Set([subject, run?.from, run?.to]);
  const own = arrays.filter(({ id, controllerId }) => near.has(id) || near.has(controllerId ?? ''));
  if (own.length > 0) return own;
  const box = (system.distribution ?? []).find(({ id, circuits }) => near.has(id) && circuits?.length);
  if (box)
    return arrays.filter(({ id }) =>
      system.runs?.some((one) => box.circuits?.includes(one.id) && (one.from === id || one.to === id)),
    );
  return subject === system.bank?.id ? arrays : [];
}

/** True where some device charges the bank. */
export const charged = ({ system }: Model): boolean =>
  chargingDevices(system).some(
    ({ id, at, rating_A, settings }) =>
      rating_A !== 0 &&
      settings?.maxCharge_A !== 0 &&
      (at !== 'controllers' || system.arrays?.some(({ controllerId }) => controllerId === id)),
  );

/** True where something still charges the bank, or nothing did: what a customer lives on is not taken off to spare a part. */
export function stillCharged(before: Model, after: Model): boolean {
  // A battery of its own volts beside the bank is not left with nothing either.
  const elsewhere = ({ system }: Model) => everyCharger(system).length - chargingDevices(system).length;
  return (!charged(before) || charged(after)) && elsewhere(after) >= elsewhere(before);
}
