import type { Finding, Verdict } from '../finding';
import { cellsInSeries, top_V } from '../../bank/bank';
import { CHEMISTRY, cellsPerBlock, serves } from '../../chemistry/chemistry';
import type { Model } from '../../system/model';
import type { Controller, Settings } from '../../system/schema';
import { apart, figure } from '../../ledger/figures';
import type { Ledger } from '../../ledger/ledger';
import { partName } from '../../conductors/names';
import { lowerVolts } from '../cures/bank';
import { rule, type Case, type Outcome, type Ratio, type Rule } from '../rule';
import { raised, said } from '../../parts/said';

const cases = (model: Model): Case<Controller>[] =>
  (model.system.controllers ?? []).map((controller) => ({ subject: controller.id, about: controller }));

/**
 * The bank's volts, from its cut-off to the highest a charger asks for, inside a device's own window. Above it the device
 * is harmed; below it, it stops early, and what is left in the bank stays unused. The bottom is told only where it alone
 * is over.
 */
export function voltageWindow(
  io: Ledger,
  id: string,
  min: { path: string; value: number | null | undefined },
  max: { path: string; value: number | null | undefined },
): Outcome {
  const { bank } = io.model.system;
  if (!bank) io.miss('bank');
  const most = io.need(`${id}.${max.path}`, max.value);
  const top = bank ? top_V(io, bank) : Number.NaN;
  const bottom = bank ? cellsInSeries(io, bank) * CHEMISTRY[bank.chemistry].cutoff_V : Number.NaN;
  const base = { unit: 'V', tightAbove: 1 };
  const above: Ratio = { ...base, demand: top, limit: most, sense: 'max' };
  const topOver = top > most * (1 + 1e-9);
  if (topOver) io.work(`charging reaches ${figure(top)} V; the device allows ${figure(most)} V`);
  // A top that is over needs no bottom: nothing that is read there would change it.
  if (topOver || Number.isNaN(top) || Number.isNaN(most)) return { ratio: above };
  const least = io.need(`${id}.${min.path}`, min.value);
  io.work(
    `bank from ${figure(bottom)} V to ${figure(top)} V; the device works from ${figure(least)} V to ${figure(most)} V`,
  );
  if (least > bottom * (1 + 1e-9)) {
    io.work(`stops early: ${figure((100 * (least - bottom)) / (top - bottom))} % of the bank's span stays unused`);
    return { ratio: { ...base, demand: bottom, limit: least, sense: 'min' }, consequence: 'loss' };
  }
  return { ratio: above };
}

/** Whether a device can charge this chemistry. `custom` counts once its absorb voltage is recorded. */
export function profileOutcome(
  io: Ledger,
  path: string,
  profiles: readonly string[] | null | undefined,
  settings: Settings | null | undefined,
): Outcome {
  const { bank } = io.model.system;
  if (!bank) io.miss('bank');
  if (!profiles) io.miss(`${path}.profiles`);
  if (!bank || !profiles) return { verdict: 'holds' };
  io.work(`bank is ${said(bank.chemistry)}; profiles: ${profiles.map(said).join(', ') || 'none'}`);
  if (serves(profiles, bank.chemistry)) return { verdict: 'holds' };
  if (!profiles.includes('custom')) return { verdict: 'over' };
  const absorb = io.see(`${path}.settings.absorb_V`, settings?.absorb_V);
  io.work(
    absorb ? `custom profile, absorb set to ${figure(absorb)} V` : 'custom profile, absorption voltage not recorded',
  );
  return { verdict: absorb ? 'holds' : 'tight' };
}

/** What a device without a fitting profile would have to be. */
export const needsProfile: NonNullable<Rule<unknown>['needs']> = (_, { system: { bank } }) =>
  `Needs one with a profile for ${bank ? CHEMISTRY[bank.chemistry].word : 'this bank'}, or with adjustable voltages.`;

/** What a verdict on a device's window says. */
export function windowSentence({ demand, limit, sense, verdict, subject }: Finding, model: Model): string {
  const what = partName(model, subject);
  if (verdict === 'unknown') return `The battery voltage range of ${what} is not recorded.`;
  const { there, allowed } = apart(demand, limit);
  return sense === 'max'
    ? `Charging reaches ${there} V; ${what} is rated for ${allowed} V.`
    : `The bank can fall to ${there} V; ${what} already stops at ${allowed} V.`;
}

const voltage = rule<Controller>({
  id: 'controller.voltage',
  title: 'Controller battery voltage',
  consequence: 'damage',
  bearsOn: ['strings'],
  cases,
  evaluate: (io, controller) =>
    voltageWindow(
      io,
      controller.id,
      { path: 'minBattery_V', value: controller.minBattery_V },
      { path: 'maxBattery_V', value: controller.maxBattery_V },
    ),
  sentence: windowSentence,
  // An equalising stage that nobody set is often what lifts the bus: off is a setting, not a purchase.
  remedies: (model, _, { sense }) => (sense === 'max' ? lowerVolts(model) : []),
  needs: ({ sense }) =>
    sense === 'max'
      ? 'Needs a controller rated for the highest bus voltage, or chargers that can be set lower.'
      : "Needs a controller that works down to the bank's cut-off voltage.",
});

const profile = rule<Controller>({
  id: 'controller.profile',
  title: 'Charging profile',
  consequence: 'life',
  bearsOn: ['strings'],
  cases,
  evaluate: (io, { id, profiles, settings }) => profileOutcome(io, id, profiles, settings),
  sentence({ verdict, subject }, model) {
    const chemistry = model.system.bank ? said(model.system.bank.chemistry) : 'the bank';
    const what = partName(model, subject);
    if (verdict === 'unknown') return `The charging profiles of ${what} are not recorded.`;
    if (verdict === 'over') return `${raised(what)} has no profile for ${chemistry}.`;
    if (verdict === 'tight')
      return `${raised(what)} uses a custom profile for ${chemistry}; its absorption voltage is not recorded.`;
    return `${raised(what)} has a profile for ${chemistry}.`;
  },
  needs: needsProfile,
  remedies(model, controller, { verdict }) {
    const { bank } = model.system;
    const perBlock = bank ? cellsPerBlock(bank).cells : null;
    if (!bank || perBlock === null || verdict !== 'tight') return [];
    const absorb = Math.round(bank.series * perBlock * CHEMISTRY[bank.chemistry].absorb_V * 10) / 10;
    return [
      {
        title: `Set the custom profile to absorb at ${absorb} V`,
        detail: `${CHEMISTRY[bank.chemistry].absorb_V} V a cell; read it back`,
        changes: [{ op: 'set', at: 'controllers', id: controller.id, value: { settings: { absorb_V: absorb } } }],
      },
    ];
  },
});

/** What a verdict on charging profiles says of a device. */
export function profileSentence(device: string, verdict: Verdict): string {
  if (verdict === 'unknown') return `The ${device}'s charging profiles are not recorded.`;
  if (verdict === 'over') return `The ${device} has no profile for this bank.`;
  if (verdict === 'tight') return 'Its custom profile has no absorption voltage recorded.';
  return `The ${device} has a profile for this bank.`;
}

/** Rules of controllers toward the bank. */
export const controllerRules = [voltage, profile];
