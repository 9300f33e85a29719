import { cellsPerBlock, CONVERSION, isLithium, takes } from '../chemistry/chemistry';
import { cellsInSeries } from '../bank/bank';
import { settingSheets } from '../bank/charging';
import { usable_Wh } from '../power/energy';
import { freshBank } from '../bank/fresh';
import { withIdleAssumed, worseDay_Wh } from '../power/loads';
import { check, sentenceOf } from '../rules/check';
import { worstFirst, type Finding, type Verdict } from '../rules/finding';
import { rulesOn } from '../rules/index';
import { createLedger } from '../ledger/ledger';
import type { ShelfItem } from '../shelf/item';
import { withSystem, type Model, withChanges } from '../system/model';

import type { Bank, Change } from '../system/schema';
import { boxOf, fit } from '../proposal/fit';
import { isBridged } from '../rules/bank/strings';
import { harmed } from '../rules/cures/worse';
import { specify } from '../successor/specify';
import { leastChanges } from '../successor/swap';
import { gateOf, type GateLine } from './gate';
import { HORIZON_Y, lifeOfBank, type WholeLife } from '../proposal/money';
import { COMMON_PACKS } from '../proposal/packs';
import { judgeParts, type PartVerdict } from './parts-after';
import { lfpSettings, monitorSettings, type SettingLine } from '../proposal/settings';

/** From lead to lithium iron, as laid out in Practice, A. */
export interface Conversion {
  /** What a new bank must match: usable Wh of the present bank as it is; null where that cannot be said. */
  needed_Wh: number | null;
  /** The same of the present bank when it was new. */
  asNew_Wh: number | null;
  /** A day's use times the autonomy that is wanted. */
  wanted_Wh: number | null;
  /** What the options are sized for: the larger of needed and wanted. Matching a worn bank re-sells its failure. */
  proposed_Wh: number | null;
  missing: string[];
  /** Paths of what was not read and was taken at its planning value. */
  assumed: string[];
  options: ConversionOption[];
  /** Every other part, judged with the first option in place. */
  parts: PartVerdict[];
  settings: SettingLine[];
  /** What the first option must pass before it is ordered. */
  gate: GateLine[];
}

/** One pack of the shelf as the bank of a conversion: usable Wh, mass in kg, price in its currency. */
export interface ConversionOption {
  label: string;
  block_V: number;
  blockCapacity_Ah: number;
  series: number;
  parallel: number;
  usable_Wh: number;
  /** The worst verdict on the bank with this option. */
  verdict: Verdict;
  /** Less than the present bank holds, and enough for the use. */
  smaller: boolean;
  /** What limits it, in sentences. */
  limits: string[];
  mass_kg: number | null;
  /** How many blocks the place takes; null where it or the block was not measured. */
  room: number | null;
  /** Blocks that could be added later. */
  spare: number | null;
  price: number | null;
  currency: string | null;
  /** Price over usable kWh. */
  pricePerUsable_kWh: number | null;
  /** Over the horizon, replacements included. */
  wholeLife: WholeLife | null;
  /** Over by this pack: by its size, its room, its weight, or where the present bank is not over already. */
  ownOver: boolean;
  changes: Change[];
  /** The last of the changes: what parts lead batteries from it, with a charger of their own, to be chosen. */
  parting: Change[];
}

const BANK_RULES = rulesOn('bank');
const MOST_PARALLEL = 15;
const MOST_OPTIONS = 12;

/** Options over the packs of a shelf, best first, and what becomes of every other part. */
export function convert(given: Model, packs: readonly ShelfItem[] = COMMON_PACKS): Conversion {
  const { model, assumed: idle } = idleFilled(given);
  const { bank, nominal_V } = model.system;
  const io = createLedger(model);
  if (!bank) io.miss('system.bank');
  const volts = io.need('system.nominal_V', nominal_V);
  const day = worseDay_Wh(io);
  const needed = bank ? usable_Wh(io, bank, day) : Number.NaN;
  const asNew = bank ? usable_Wh(createLedger(model), { ...bank, age_y: 0, health_pct: 100 }, day) : Number.NaN;
  const autonomy = io.or('schools.autonomy_d', model.schools.autonomy_d, model.system.sources?.length ? 1 : 2);
  const missing = [...io.missing].sort();
  const known = (value: number) => (Number.isFinite(value) ? value : null);
  const assumed = [...new Set([...idle, ...io.assumed])].sort();
  const sizes = { assumed, needed_Wh: known(needed), asNew_Wh: known(asNew), wanted_Wh: known(day * autonomy) };
  const proposed = Math.max(needed, day * autonomy);
  if (!bank || missing.length > 0 || !Number.isFinite(proposed))
    return { ...sizes, proposed_Wh: null, missing, options: [], parts: [], settings: [], gate: [] };

  // Prices in two currencies are no order: the commonest is ranked by, the others stand as if unpriced.
  const currency = commonest(packs.flatMap(({ price, currency: of }) => (price ? [of ?? ''] : [])));
  const lifeCost = (option: ConversionOption) =>
    (option.currency ?? '') === currency ? (option.wholeLife?.total ?? Infinity) : Infinity;
  const asked: Sizing = { model, bank, day_Wh: day, found: check(model, BANK_RULES) };
  const options = packs
    .filter(({ kind, body }) => kind === 'bank' && body.chemistry === CONVERSION)
    .flatMap((pack) => {
      const full = optionOf(asked, volts, pack, proposed);
      // Smaller than the old bank where the use asks for no more.
      const used = day * autonomy;
      const less = used < 0.95 * proposed ? optionOf(asked, volts, pack, used) : null;
      const smaller =
        less && full && less.parallel < full.parallel && less.usable_Wh >= used ? [asSmaller(less, needed)] : [];
      return [...(full ? [full] : []), ...smaller];
    })
    .sort(
      (a, b) =>
        // Options that cover the need come first; faults the system already has count against no pack.
        Number(lacks(a, proposed)) - Number(lacks(b, proposed)) ||
        Number(a.ownOver) - Number(b.ownOver) ||
        Number(a.smaller) - Number(b.smaller) ||
        Number((a.spare ?? 0) < 0) - Number((b.spare ?? 0) < 0) ||
        byNumber(lifeCost(a), lifeCost(b)) ||
        rank(a.verdict) - rank(b.verdict) ||
        byNumber(a.mass_kg ?? Infinity, b.mass_kg ?? Infinity) ||
        (b.spare ?? -1) - (a.spare ?? -1) ||
        b.usable_Wh - a.usable_Wh,
    )
    .slice(0, MOST_OPTIONS)
    .map((option) => parted(model, option));
  const [best] = options;
  if (!best) return { ...sizes, proposed_Wh: proposed, missing, options, parts: [], settings: [], gate: [] };
  const { parts, settings, gate } = afterwards(model, best, proposed);
  return { ...sizes, proposed_Wh: proposed, missing, options, parts, settings, gate };
}

/** The bank and the settings alone: what joins other batteries to it is judged as it stands, and chosen from the shelf. */
export const bankChanges = ({ changes, parting }: Pick<ConversionOption, 'changes'> & { parting?: Change[] }) =>
  changes.slice(0, changes.length - (parting?.length ?? 0));

/** Less than is proposed, and not for want of need. */
const lacks = ({ usable_Wh: usable, smaller }: ConversionOption, proposed_Wh: number) =>
  !smaller && usable < proposed_Wh;

/** An option that leaves no lead joined to it: each such battery gets a charger of its own, of the least that serves. */
function parted(model: Model, option: ConversionOption): ConversionOption {
  const parting: Change[] = [];
  for (const other of model.system.otherBanks ?? []) {
    const { id, chemistry } = other;
    if (isLithium(chemistry) || !isBridged(other)) continue;
    const now = withChanges(model, [...option.changes, ...parting]);
    const spec = specify(now, id, 'part');
    const made = spec ? leastChanges(now, spec, 'A DC-DC charger, to be chosen') : [];
    // Where no figures are known for a charger the joint goes all the same.
    parting.push(
      ...(made.length > 0 ? made : [{ op: 'set' as const, at: 'otherBanks', id, value: { joinedBy: 'none' } }]),
    );
  }
  return parting.length > 0 ? { ...option, changes: [...option.changes, ...parting], parting } : option;
}

const asSmaller = (option: ConversionOption, needed_Wh: number): ConversionOption => ({
  ...option,
  smaller: true,
  limits: [
    `stores ${Math.round(option.usable_Wh)} Wh; the present bank stores ${Math.round(needed_Wh)} Wh, but daily use needs no more`,
    ...option.limits,
  ],
});

/** What a customer's day asks of a bank is sized although nobody read what an inverter idles on; and that is said. */
function idleFilled(model: Model): { model: Model; assumed: string[] } {
  const { system, assumed } = withIdleAssumed(model.system);
  return { model: assumed.length > 0 ? withSystem(model, system) : model, assumed };
}

/** "Two of these": a pack of the shelf in so many strings, judged as any option; null where it cannot make the volts. */
export function optionOfCount(given: Model, pack: ShelfItem, parallel: number): ConversionOption | null {
  const { model } = idleFilled(given);
  const { bank, nominal_V } = model.system;
  const cells = cellsPerBlock(pack.body as Bank).cells;
  if (!bank || !nominal_V || !cells) return null;
  const series = nominal_V / 3 / cells;
  if (!Number.isInteger(series) || series < 1) return null;
  const asked: Sizing = { model, bank, day_Wh: worseDay_Wh(createLedger(model)), found: check(model, BANK_RULES) };
  return parted(model, judged(asked, pack, series, parallel));
}

/** Two unknowns are alike; Infinity less Infinity would be no order at all. */
const byNumber = (a: number, b: number) => (a === b ? 0 : a - b);

function commonest(words: readonly string[]): string {
  const counts = new Map<string, number>();
  for (const word of words) counts.set(word, (counts.get(word) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0] ?? '';
}

/** What becomes of every other part with an option in place, and the settings sheet that goes with it. */
export function afterwards(
  model: Model,
  option: ConversionOption,
  proposed_Wh: number,
): { parts: PartVerdict[]; settings: SettingLine[]; gate: GateLine[] } {
  const after = withChanges(model, bankChanges(option));
  const findings = check(after).sort(worstFirst);
  const parts = judgeParts(model, after, findings);
  const gone = new Set(
    parts.filter(({ verdict }) => verdict === 'replace' || verdict === 'remove').map(({ id }) => id),
  );
  const cells = after.system.bank ? cellsInSeries(createLedger(after), after.system.bank) : Number.NaN;
  return {
    parts,
    settings: [...lfpSettings(model.system, cells, gone), ...monitorSettings(after.system, cells)],
    gate: gateOf(model, after, findings, parts, option.usable_Wh >= proposed_Wh),
  };
}

const rank = (verdict: Verdict) => (verdict === 'over' ? 3 : verdict === 'unknown' ? 2 : verdict === 'tight' ? 1 : 0);

/** What options are judged by. */
interface Sizing {
  model: Model;
  bank: Bank;
  day_Wh: number;
  /** The present bank, by the same rules. */
  found: readonly Finding[];
}

/** The smallest number of strings of a pack that has the energy and holds; with the most it allows where none does. */
function optionOf(asked: Sizing, volts: number, pack: ShelfItem, proposed_Wh: number): ConversionOption | null {
  const plate = pack.body as Partial<Bank>;
  const cells = cellsPerBlock(plate as Bank).cells;
  if (!cells || !plate.block_V || !plate.blockCapacity_Ah) return null;
  // Four cells a 12 V step: 4, 8 or 16 in series for 12, 24 or 48 V.
  const series = volts / 3 / cells;
  if (!Number.isInteger(series) || series < 1 || series > (plate.maxSeries ?? 1)) return null;
  let fallback: ConversionOption | null = null;
  for (let parallel = 1; parallel <= Math.min(MOST_PARALLEL, plate.maxParallel ?? 4); parallel++) {
    const option = judged(asked, pack, series, parallel);
    if (option.usable_Wh < proposed_Wh) {
      fallback = {
        ...option,
        verdict: 'over',
        ownOver: true,
        limits: [
          `stores ${Math.round(option.usable_Wh)} Wh of the ${Math.round(proposed_Wh)} Wh needed, with the maximum number of strings`,
          ...option.limits,
        ],
      };
      continue;
    }
    if (!option.ownOver) return option;
    // Enough energy and still over: more strings may help the current, never the room.
    if (!fallback || fallback.usable_Wh < proposed_Wh) fallback = option;
    if (option.spare !== null && option.spare < 0) break;
  }
  return fallback;
}

function judged(
  { model, bank, day_Wh, found }: Sizing,
  pack: ShelfItem,
  series: number,
  parallel: number,
): ConversionOption {
  const plate = pack.body as Partial<Bank> & { block_V: number; blockCapacity_Ah: number };
  const changes = changesFor(model, bank, pack, series, parallel);
  const after = withChanges(model, changes);
  const next = after.system.bank as Bank;
  const io = createLedger(after);
  const usable = usable_Wh(io, next, day_Wh);
  const judgedAll = check(after, BANK_RULES);
  const findings = judgedAll
    .filter(({ verdict }) => verdict === 'over' || verdict === 'tight' || verdict === 'unknown')
    .sort(worstFirst);
  const count = series * parallel;
  const bay = boxOf(bank.place);
  const block = boxOf(plate.block);
  const room = bay && block ? fit(bay, block, true).count : null;
  const mass = plate.block?.mass_kg ? plate.block.mass_kg * count : null;
  const bears = bank.place?.maxMass_kg;
  const tooHeavy = mass !== null && bears !== null && bears !== undefined && mass > bears;
  const tooLarge = room !== null && room < count;
  const price = pack.price === null || pack.price === undefined ? null : pack.price * count;
  return {
    label: pack.label,
    block_V: plate.block_V,
    blockCapacity_Ah: plate.blockCapacity_Ah,
    series,
    parallel,
    usable_Wh: usable,
    smaller: false,
    verdict: tooLarge || tooHeavy ? 'over' : (findings[0]?.verdict ?? 'holds'),
    ownOver: tooLarge || tooHeavy || harmed(found, judgedAll).length > 0,
    parting: [],
    limits: [
      ...(tooLarge ? [`there is room for ${room} of the ${count} blocks`] : []),
      ...(tooHeavy ? [`weighs ${mass} kg; the floor carries ${bears} kg`] : []),
      ...findings.slice(0, 3).map((finding: Finding) => sentenceOf(after, finding)),
    ],
    mass_kg: mass,
    room,
    spare: room === null ? null : room - count,
    price,
    currency: pack.currency ?? null,
    pricePerUsable_kWh: price === null || !(usable > 0) ? null : (1000 * price) / usable,
    wholeLife: price === null ? null : lifeOfBank(after, next, price, model.site.money?.horizon_y ?? HORIZON_Y),
    changes,
  };
}

/** The bank and the settings of everything that can be set, as a proposal would hold them. */
function changesFor(model: Model, bank: Bank, pack: ShelfItem, series: number, parallel: number): Change[] {
  const plate = structuredClone(pack.body) as Partial<Bank>;
  const value = {
    // What belonged to the old blocks goes with them.
    ...Object.fromEntries(
      Object.keys(bank)
        .filter((field) => !KEPT.has(field))
        .map((field) => [field, null]),
    ),
    ...plate,
    label: `${series * parallel} x ${pack.label}`,
    ...freshBank(series, parallel, bank.link),
  };
  const cells = (cellsPerBlock(plate as Bank).cells ?? 0) * series;
  const sheet = lfpSettings(model.system, cells, new Set());
  return [
    { op: 'set', at: 'bank', id: bank.id, value },
    ...settingSheets(model.system).flatMap(({ id, charges, set }): Change[] => {
      const lines = sheet.filter((line) => line.id === (charges?.path ?? id));
      // What has no profile for it and no volts of its own cannot be told.
      if (lines.length === 0 || (charges && !takes(charges.profiles, CONVERSION))) return [];
      return [set(Object.fromEntries(lines.map(({ setting, after }) => [setting, after])))];
    }),
  ];
}

const KEPT = new Set(['id', 'place', 'link', 'tapping']);

/** True where there is a lead bank to convert. */
export const canConvert = ({ system }: Model) =>
  system.bank !== null && system.bank !== undefined && !isLithium(system.bank.chemistry);
