import type { RuleId } from '../rules/ids';
import { partTitle } from '../conductors/names';
import { sizeWords } from '../conductors/sizes';
import { fuseSaid, raised, said } from '../parts/said';
import { KINDS } from '../parts/kinds';
import { unitOf } from '../parts/field-list';
import type { Finding } from '../rules/finding';
import type { StoredItem } from '../shelf/item';
import { flatFields } from '../system/members';
import type { Protection, System } from '../system/schema';
import { conductorsOf, type Coil, type Cut } from './cuts';
import { isFitting, blocksMoved, modulesMoved, type PartWork } from './difference';

/** A line of what is fetched before the day. */
export interface KitLine {
  line: number;
  what: string;
  count: number;
  spec: Spec[];
  for: string[];
  shelfId?: string;
  price?: number;
  currency?: string;
}

/** A figure that must be right about a thing of the kit. */
export interface Spec {
  quantity: string;
  value: number | string;
  unit: string;
  /** What it rests on: a rule, the proposal itself, or practice. */
  rule: RuleId | 'practice' | 'the proposal';
}

type Line = Omit<KitLine, 'line'>;

/** Rules that judge a plate's figure: what the line is bought for. */
const JUDGED_BY: Readonly<Record<string, RuleId>> = {
  maxPv_V: 'pv.cold-voltage',
  maxPv_A: 'pv.input-current',
  maxOutput_A: 'pv.output-current',
  minBattery_V: 'controller.voltage',
  maxBattery_V: 'controller.voltage',
  continuous_W: 'inverter.continuous',
  continuous_VA: 'inverter.apparent',
  surge_W: 'inverter.surge',
  waveform: 'inverter.waveform',
  idle_W: 'inverter.idle',
  minDc_V: 'inverter.voltage-window',
  maxDc_V: 'inverter.voltage-window',
  blockCapacity_Ah: 'bank.autonomy',
  maxDischarge_A: 'bank.discharge',
  maxCharge_A: 'bank.charge-max',
  max_A: 'bank.charge-min',
  shunt_A: 'monitor.shunt',
  slots: 'distribution.slots',
  rating_A: 'run.fuse-protects',
};

/** Everything that is fetched: parts, fuses with spares, cable, lugs, bars, glands, fixings, labels. */
export function kitOf(
  works: readonly PartWork[],
  {
    before,
    after,
    cuts,
    coils,
    labels,
    findings,
    shelf,
  }: {
    before: System;
    after: System;
    cuts: readonly Cut[];
    coils: readonly Coil[];
    labels: number;
    findings: readonly Finding[];
    shelf: readonly StoredItem[];
  },
): KitLine[] {
  const lines: Line[] = [
    ...works.flatMap((work) => partLines(work, before, after)),
    ...fuseLines(works, after, findings),
    ...coils.map(({ size, material, coil_m, count }): Line => ({
      what: `${sizeWords(size)} cable${material === 'copper' ? '' : `, ${said(material)}`}, coil of ${coil_m} m`,
      count,
      spec: [
        { quantity: 'size', value: size, unit: '', rule: 'run.ampacity' },
        { quantity: 'coil_m', value: coil_m, unit: 'm', rule: 'practice' },
      ],
      for: cuts.filter((cut) => cut.size === size && cut.material === material).map(({ run }) => run),
    })),
    ...lugLines(cuts, after),
    ...negatives(works),
    ...fixings(works, before, after, cuts),
    ...(labels > 0 ? [practice('Labels, printed, weatherproof', labels, [])] : []),
  ];
  return lines.map((line, i) => ({ line: i + 1, ...line, ...ofShelf(line, shelf) }));
}

const practice = (what: string, count: number, ids: string[], spec: Spec[] = []): Line => ({
  what,
  count,
  spec,
  for: ids,
});

/** The parts themselves: what stays, and what only grows by words, is not among them. */
function partLines(work: PartWork, before: System, after: System): Line[] {
  const { is, was, fit, replaced, words, id } = work;
  if (!is || !fit) return [];
  const fitted = (word: string): Line => practice(`${raised(word)}, ${partTitle(after, id) ?? ''}`, 1, [id]);
  // What is plugged in is the customer's to buy.
  if (is.kind === 'runs' || is.kind === 'loads') return [];
  if (is.kind === 'arrays') {
    const old = was?.kind === 'arrays' ? was.part : null;
    return modulesMoved(old, is.part, before, after).come.map(({ id: type, count }): Line => {
      const module = (after.moduleTypes ?? []).find((one) => one.id === type);
      return { what: module?.label ?? 'Module', count, spec: specOf(module ?? {}, PLATES), for: [id] };
    });
  }
  if (is.kind === 'bank') {
    const { come } = blocksMoved(work);
    // "4 x Pell Cell 12-100" is four of what the shelf knows as "Pell Cell 12-100".
    const name = is.part.label?.replace(/^\d+ x /, '') ?? `${raised(said(is.part.chemistry))} block`;
    const stock: Line[] = come > 0 ? [{ what: name, count: come, spec: specOf(is.part, PLATES), for: [id] }] : [];
    return [...stock, ...bankWiring(work), ...words.filter(isFitting).map(fitted)];
  }
  // Fitted to a part that stays: the thing alone.
  if (was && !replaced) {
    if (is.kind === 'switches') return [];
    return words.map(fitted);
  }
  const count = 'quantity' in is.part ? (is.part.quantity ?? 1) : 1;
  return [{ what: partTitle(after, id) ?? KINDS[is.kind].word, count, spec: specOf(is.part, PLATES), for: [id] }];
}

const PLATES = /(_V|_A|_W|_VA|_Ah|_s)$/;

/** The plate's figures, with the rule that each is bought for. */
function specOf(part: object, units: RegExp): Spec[] {
  return Object.entries(flatFields(part)).flatMap(([path, value]): Spec[] => {
    const named = path.split('.').findLast((step) => !/^\d+$/.test(step)) ?? '';
    const telling = units.test(named) || ['type', 'chemistry', 'waveform', 'cells', 'slots', 'poles'].includes(named);
    if (!telling || path.includes('settings.') || path.startsWith('place.')) return [];
    if (typeof value !== 'number' && typeof value !== 'string') return [];
    return [{ quantity: path, value, unit: unitOf(path), rule: JUDGED_BY[named] ?? 'the proposal' }];
  });
}

/** Links and leads of the bank by piece, and its bars. */
function bankWiring({ is, was, replaced, id }: PartWork): Line[] {
  if (is?.kind !== 'bank') return [];
  const { series, parallel, link, tapping } = is.part;
  const old = was?.kind === 'bank' ? was.part : null;
  const shape = (bank: typeof is.part) =>
    [bank.series, bank.parallel, bank.tapping, bank.link?.size, bank.link?.length_m].join();
  if (old && !replaced && shape(old) === shape(is.part)) return [];
  const links = (series - 1) * parallel + (parallel > 1 ? 2 * parallel : 0);
  const lines: Line[] = [];
  if (links > 0)
    lines.push(
      practice(
        `Links and leads of the bank${link?.size ? `, ${sizeWords(link.size)}` : ''}, made up with lugs, ${parallel > 1 ? 'parallel leads of equal length within 1 %' : 'all alike'}`,
        links,
        [id],
        [
          ...(link?.size ? [{ quantity: 'size', value: link.size, unit: '', rule: 'run.ampacity' as const }] : []),
          ...(link?.length_m
            ? [{ quantity: 'length_m', value: link.length_m, unit: 'm', rule: 'bank.sharing' as const }]
            : []),
        ],
      ),
    );
  if (tapping === 'busbar' && (replaced || !old || old.tapping !== 'busbar'))
    lines.push(practice('Busbars, positive and negative, with covers', 2, [id]));
  return lines;
}

/** A fuse as it is asked for: type, rating, volts, breaking capacity; what was not chosen, by the rule that demands it. */
function fuseSpec(device: Protection, run: string, findings: readonly Finding[], pv: boolean): Spec[] {
  const demanded = (rule: RuleId) =>
    findings.find((finding) => finding.rule === rule && finding.subject === run && finding.demand !== null)?.demand ??
    null;
  const atLeast = (value: number | null) => (value === null ? [] : [Math.ceil(value)]);
  const spec: Spec[] = [
    { quantity: 'type', value: device.type ?? (pv ? 'pv' : 'to be chosen'), unit: '', rule: 'run.interrupt' },
  ];
  if (device.rating_A)
    spec.push({
      quantity: 'rating_A',
      value: device.rating_A,
      unit: 'A',
      rule: pv ? 'pv.string-protection' : 'run.fuse-protects',
    });
  for (const value of device.voltage_V ? [device.voltage_V] : atLeast(demanded('run.dc-rating')))
    spec.push({ quantity: 'voltage_V', value, unit: 'V', rule: 'run.dc-rating' });
  for (const value of device.interrupt_A ? [device.interrupt_A] : atLeast(demanded('run.interrupt')))
    spec.push({ quantity: 'interrupt_A', value, unit: 'A', rule: 'run.interrupt' });
  return spec;
}

/** Every new fuse, alike ones on one line, and a spare of each. */
function fuseLines(works: readonly PartWork[], after: System, findings: readonly Finding[]): Line[] {
  const lines = new Map<string, Line>();
  for (const { id, kind, fuses } of works)
    for (const { device, count } of fuses) {
      const pv = kind === 'arrays' || (after.runs ?? []).some((run) => run.id === id && run.kind === 'pv');
      const spec = fuseSpec(device, id, findings, pv);
      const word = device.type ? fuseSaid(device.type) : pv ? 'PV fuse' : 'fuse';
      const what = `${raised(word)}${device.rating_A ? ` ${device.rating_A} A` : ', rating to be chosen'}, with its holder`;
      const key = `${what} ${JSON.stringify(spec)}`;
      const known = lines.get(key);
      if (known) {
        known.count += count;
        known.for.push(id);
      } else lines.set(key, { what, count, spec, for: [id] });
    }
  // A breaker is its own spare: it is put back.
  const blows = ({ spec }: Line) =>
    !spec.some(({ quantity, value }) => quantity === 'type' && /breaker/.test(String(value)));
  const spares = [...lines.values()].filter(blows).map((line): Line => ({
    ...line,
    what: `Spare: ${line.what.replace(', with its holder', '')}`,
    count: 1,
    for: [...line.for],
  }));
  return [...lines.values(), ...spares];
}

/** Lugs by size and hole: two a conductor. A solar cable ends in a plug at the array and bare at the controller. */
function lugLines(cuts: readonly Cut[], after: System): Line[] {
  const counts = new Map<string, Line>();
  for (const { run: id, size } of cuts) {
    const run = (after.runs ?? []).find((one) => one.id === id);
    if (!run) continue;
    if (run.kind === 'pv') {
      put(counts, 'PV plugs and sockets of the same make as on the modules', conductorsOf(run), id, []);
      continue;
    }
    for (const end of [run.from, run.to]) {
      const stud = studOf(after, end);
      put(
        counts,
        `Lugs for ${sizeWords(size)}, ${stud ? `M${stud}` : 'hole by the stud'}, with heat-shrink`,
        conductorsOf(run),
        id,
        [
          { quantity: 'size', value: size, unit: '', rule: 'practice' },
          ...(stud ? [{ quantity: 'stud_mm', value: stud, unit: 'mm', rule: 'practice' as const }] : []),
        ],
      );
    }
  }
  return [...counts.values()];
}

function put(lines: Map<string, Line>, what: string, count: number, id: string, spec: Spec[]): void {
  const known = lines.get(what);
  if (!known) lines.set(what, { what, count, spec, for: [id] });
  else {
    known.count += count;
    if (!known.for.includes(id)) known.for.push(id);
  }
}

/** The stud on which a cable ends, mm; null where nobody read it. */
export function studOf({ bank, ...lists }: System, id: string | null | undefined): number | null {
  const parts: readonly { id: string; terminals?: { stud_mm?: number | null | undefined } | null | undefined }[] = [
    ...(bank ? [bank] : []),
    ...(lists.controllers ?? []),
    ...(lists.inverters ?? []),
    ...(lists.chargers ?? []),
    ...(lists.converters ?? []),
    ...(lists.distribution ?? []),
    ...(lists.sources ?? []),
  ];
  return parts.find((part) => part.id === id)?.terminals?.stud_mm ?? null;
}

/** A monitor that now counts what passed it by: a bar on its system side, and a lug for each negative that comes there. */
function negatives(works: readonly PartWork[]): Line[] {
  const moved = works.filter(({ negative, cut }) => negative && !cut);
  if (moved.length === 0) return [];
  const ids = moved.map(({ id }) => id);
  const lugs = new Map<string, Line>();
  for (const { id, is } of moved)
    if (is?.kind === 'runs')
      put(
        lugs,
        `Lugs for ${sizeWords(is.part.size)}, for the negative bar, with heat-shrink`,
        is.part.perPole ?? 1,
        id,
        [{ quantity: 'size', value: is.part.size, unit: '', rule: 'practice' }],
      );
  return [practice('Negative bus bar with cover, and the lead from the shunt to it', 1, ids), ...lugs.values()];
}

/** Planning values, a module: four clamps, and sealant for a quarter of a tube. */
const CLAMPS = 4;

const MODULES_A_TUBE = 4;

function fixings(works: readonly PartWork[], before: System, after: System, cuts: readonly Cut[]): Line[] {
  const arrays = works.filter(({ kind }) => kind === 'arrays');
  const modules = arrays.reduce((sum, { was, is }) => {
    const old = was?.kind === 'arrays' ? was.part : null;
    const now = is?.kind === 'arrays' ? is.part : null;
    return sum + modulesMoved(old, now, before, after).come.reduce((total, { count }) => total + count, 0);
  }, 0);
  const ids = arrays.map(({ id }) => id);
  return [
    ...(modules > 0
      ? [
          practice('Clamps and fixings for modules', CLAMPS * modules, ids),
          practice('Sealant, tubes', Math.ceil(modules / MODULES_A_TUBE), ids),
        ]
      : []),
    // Each pole of a cable goes into what it feeds through a gland of its own.
    ...(cuts.length > 0
      ? [
          practice(
            'Cable glands',
            cuts.reduce((sum, { poles, perPole }) => sum + poles * perPole, 0),
            cuts.map(({ run }) => run),
          ),
        ]
      : []),
  ];
}

function ofShelf({ what, spec, count }: Line, shelf: readonly StoredItem[]): Partial<KitLine> {
  const asked = (quantity: string) => spec.find((one) => one.quantity === quantity)?.value;
  const coil = asked('coil_m');
  const item = shelf.find(({ kind, label, body }) => {
    if (kind === 'fuse')
      return body.rating_A === asked('rating_A') && body.type === asked('type') && /fuse|breaker/i.test(what);
    if (kind === 'cable') return typeof coil === 'number' && body.size === asked('size');
    return label === what;
  });
  if (!item) return {};
  const pieces = item.kind === 'cable' && typeof coil === 'number' ? coil * count : count;
  return {
    shelfId: item.id,
    ...(item.price === null || item.price === undefined
      ? {}
      : { price: item.price * pieces, ...(item.currency ? { currency: item.currency } : {}) }),
  };
}
