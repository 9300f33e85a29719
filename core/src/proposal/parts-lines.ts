import { recordOf } from '../parts/objects';
import { isLithium } from '../chemistry/chemistry';
import { sizeWords } from '../conductors/sizes';
import { isFuse } from '../rules/wires/string-own';
import { shapeText } from '../pv/restring';
import type { PartKind, Placed } from '../system/parts';
import type { Bank, Protection, PvArray, Run, System } from '../system/schema';
import { fuseSaid } from '../parts/said';

/** What a proposal buys, changes and takes out: one line a thing that somebody fetches, turns or carries away. */
export interface PartsLine {
  /** For telling lines apart; never shown. */
  id: string;
  kind: PartKind;
  label: string;
  /** `buy` new or in place of another; `set` a setting or a regrouping; `out` taken away. */
  what: 'buy' | 'set' | 'out';
  /** Pieces, or metres of cable. */
  quantity: number;
  unit: 'pc' | 'm';
  /** What it is, for who packs it: "35 mm2". */
  detail: string | null;
  /** For all of them; null where the shelf has no such part or no price. */
  price: number | null;
  currency: string | null;
  mass_kg: number | null;
  /** Of a fuse: what it is, for the shelf. */
  fuse?: { type: string; rating_A: number | null };
}

/** What comes with parts: blocks that are added, bars, links, fuses with their holders, lugs, heaters. */

/** A line of one piece, not yet priced, weighed or told what is done with it. */
export const lineOf = (id: string, kind: PartsLine['kind'], label: string): PartsLine => ({
  id,
  kind,
  label,
  what: 'set',
  quantity: 1,
  unit: 'pc',
  detail: null,
  price: null,
  currency: null,
  mass_kg: null,
});

const blocks = ({ series, parallel }: Bank) => series * parallel;

/** Blocks to buy and to carry away; bars, links and a fuse for each string. */
export function bankLines(
  bank: Bank,
  old: Bank | null,
  another: boolean,
  { now, was }: { now: PartsLine; was: PartsLine | null },
): PartsLine[] {
  const grown = blocks(bank) - (old ? blocks(old) : 0);
  const shape = `${bank.series} in series, ${bank.parallel} in parallel`;
  const each = bank.block?.mass_kg;
  const bought = (quantity: number, detail: string): PartsLine => ({
    ...now,
    what: 'buy',
    quantity,
    detail,
    mass_kg: each ? each * quantity : null,
  });
  // Beside old blocks new ones age: where the whole bank is new, all of it is bought.
  const renewed = another || (old !== null && (old.age_y ?? 0) > 0 && bank.age_y === 0);
  const stock: PartsLine[] = renewed
    ? [bought(blocks(bank), shape), ...(was ? [{ ...was, what: 'out' as const, quantity: old ? blocks(old) : 1 }] : [])]
    : grown > 0
      ? [bought(grown, `more of the same make and age: ${shape}`)]
      : grown < 0
        ? [{ ...now, what: 'out', quantity: -grown, detail: `left: ${shape}` }]
        : old && (old.series !== bank.series || old.parallel !== bank.parallel)
          ? [{ ...now, what: 'set', detail: `regrouped: ${shape}` }]
          : [];
  const rewired = renewed || grown !== 0 || old?.tapping !== bank.tapping || old?.link?.size !== bank.link?.size;
  const more: PartsLine[] = rewired ? wiring(bank, old, now) : [];
  const string = bank.stringFuse;
  const fused =
    isNew(string, renewed ? null : old?.stringFuse) || (isFuse(string) && bank.parallel > (old?.parallel ?? 0));
  const fuses: PartsLine[] =
    fused && isFuse(string) ? [fuseLine(now, 'strings', 'Fuse at the post of each string', string, bank.parallel)] : [];
  const all = [...stock, ...more, ...fuses];
  return all.length > 0 ? all : [{ ...now, what: 'set', detail: 'what belongs to it' }];
}

/** Links within the strings, and two leads for each where there are several. */
const conductorsOf = ({ series, parallel }: Bank) => (series - 1) * parallel + (parallel > 1 ? 2 * parallel : 0);

/** Links between blocks, leads to the bars, and the bars. */
function wiring(bank: Bank, old: Bank | null, now: PartsLine): PartsLine[] {
  const { link, parallel } = bank;
  const lines: PartsLine[] = [];
  const conductors = conductorsOf(bank);
  if (link?.length_m && link.size && conductors > 0)
    lines.push({
      ...now,
      id: `${bank.id}.links`,
      kind: 'runs',
      label: 'Links and leads of the bank',
      what: 'buy',
      quantity: Math.ceil(conductors * link.length_m * SPARE * 10 - EDGE) / 10,
      unit: 'm',
      detail: sizeWords(link.size),
      mass_kg: null,
    });
  if (bank.tapping === 'busbar' && old?.tapping !== 'busbar')
    lines.push({
      ...now,
      id: `${bank.id}.bars`,
      label: 'Busbars, positive and negative, with covers',
      what: 'buy',
      quantity: 2,
      detail: `${parallel} equal leads on each`,
      mass_kg: null,
    });
  return lines;
}
const SPARE = 1.1;
const EDGE = 1e-6;

/** Another fuse than before: in type, amperes, volts or what it breaks. */
const isNew = (device: Protection | null | undefined, was: Protection | null | undefined) =>
  isFuse(device) &&
  (['type', 'rating_A', 'voltage_V', 'interrupt_A'] as const).some(
    (member) => (device[member] ?? null) !== (was?.[member] ?? null),
  );

/** "An NH fuse of 125 A" as it is packed: "NH fuse, 125 A, with its holder". */
function fuseLine(
  now: PartsLine,
  key: string,
  label: string,
  { type, rating_A, voltage_V }: Protection,
  count: number,
): PartsLine {
  const word = type ? fuseSaid(type) : 'fuse';
  return {
    ...now,
    id: `${now.id}.${key}`,
    label,
    what: 'buy',
    quantity: count,
    detail: [
      word,
      rating_A ? `${rating_A} A` : 'rating to be chosen',
      voltage_V ? `${voltage_V} V DC` : null,
      'with its holder',
    ]
      .filter(Boolean)
      .join(', '),
    mass_kg: null,
    fuse: { type: type ?? '', rating_A: rating_A ?? null },
  };
}

/** Fuses of a cable that are new or others than before; one that only moves is set. */
export function fuseLines(run: Run, old: Run | undefined, now: PartsLine): PartsLine[] {
  const at = (
    device: Protection | null | undefined,
    was: Protection | null | undefined,
    key: string,
    where: string,
  ): PartsLine[] => {
    if (isNew(device, was) && device) return [fuseLine(now, key, `Fuse${where}, ${now.label}`, device, 1)];
    const moves = isFuse(device) && (device.fromSource_m ?? null) !== (was?.fromSource_m ?? null);
    return moves
      ? [
          {
            ...now,
            id: `${now.id}.${key}`,
            label: `Fuse${where}, ${now.label}`,
            what: 'set',
            detail: `moved to ${device.fromSource_m ?? 0} m from its source`,
          },
        ]
      : [];
  };
  return [
    ...at(run.protection, old?.protection, 'fuse0', ''),
    ...at(run.farProtection, old?.farProtection, 'fuse1', ' at the far end'),
  ];
}

/** Two lugs for each conductor that is cut, by size. */
export function lugLines(lines: readonly PartsLine[], after: System): PartsLine[] {
  const counts = new Map<string, number>();
  for (const { id, what, unit, detail } of lines) {
    if (what !== 'buy' || unit !== 'm' || !detail) continue;
    const run = after.runs?.find((one) => one.id === id);
    const { bank } = after;
    const conductors = run ? (run.kind === 'pv' ? 0 : 2 * (run.perPole ?? 1)) : bank ? conductorsOf(bank) : 0;
    if (conductors > 0) counts.set(detail, (counts.get(detail) ?? 0) + 2 * conductors);
  }
  return [...counts].map(([size, quantity]): PartsLine => ({
    ...lineOf(`lugs ${size}`, 'runs', `Lugs for ${size}, to fit the existing studs`),
    what: 'buy',
    quantity,
    detail: 'crimped with the right die, sleeved',
  }));
}

/** Modules by type: more of them to buy, fewer to take down. */
export function moduleLines(before: System, after: System): PartsLine[] {
  const count = ({ arrays }: System) => {
    const counts = new Map<string, number>();
    for (const type of (arrays ?? []).flatMap(({ strings }) => strings.flat()))
      counts.set(type, (counts.get(type) ?? 0) + 1);
    return counts;
  };
  const was = count(before);
  const is = count(after);
  return [...new Set([...was.keys(), ...is.keys()])].flatMap((id) => {
    const more = (is.get(id) ?? 0) - (was.get(id) ?? 0);
    if (more === 0) return [];
    const type = [...(after.moduleTypes ?? []), ...(before.moduleTypes ?? [])].find((one) => one.id === id);
    const line: PartsLine = {
      ...lineOf(id, 'moduleTypes', type?.label ?? 'Modules'),
      what: more > 0 ? 'buy' : 'out',
      quantity: Math.abs(more),
      detail: more > 0 ? null : 'left in place or taken away',
      mass_kg: type?.mass_kg ? type.mass_kg * Math.abs(more) : null,
    };
    return [line];
  });
}

/** An array strung anew, and the fuses that its strings get. */
export function regrouped(placed: Placed, old: Placed | undefined, after: System): PartsLine[] {
  if (placed.kind !== 'arrays') return [];
  const array = placed.part;
  const was = old?.kind === 'arrays' ? old.part : null;
  const line = lineOf(array.id, 'arrays', array.label ?? 'Array');
  const controller = after.controllers?.find(({ id }) => id === array.controllerId)?.label;
  const shape = shapeOf(array);
  const restrung =
    JSON.stringify(was?.strings) !== JSON.stringify(array.strings) || was?.controllerId !== array.controllerId;
  const fuse = array.stringProtection ?? (array.stringFuse_A ? { type: null, rating_A: array.stringFuse_A } : null);
  const wasFuse = was?.stringProtection ?? (was?.stringFuse_A ? { type: null, rating_A: was.stringFuse_A } : null);
  const fused = fuse && (fuse.rating_A !== wasFuse?.rating_A || fuse.type !== wasFuse?.type);
  return [
    ...(restrung ? [{ ...line, detail: `strung: ${shape}${controller ? `, on ${controller}` : ''}` }] : []),
    ...(fused
      ? [
          {
            ...line,
            id: `${array.id}.strings`,
            what: 'buy' as const,
            label: `PV fuse in each string, ${line.label}`,
            quantity: array.strings.length,
            detail: `${fuse.rating_A} A, for DC at the cold voltage, with its holder`,
            fuse: { type: 'pv', rating_A: fuse.rating_A ?? null },
          },
        ]
      : []),
  ];
}

function shapeOf({ strings }: PvArray): string {
  const lengths = new Map<number, number>();
  for (const { length } of strings) lengths.set(length, (lengths.get(length) ?? 0) + 1);
  return [...lengths].map(([series, parallel]) => shapeText(series, parallel)).join(' beside ');
}

/** What is fitted to a part and fetched from a shop, though no plate says so. */
const FITTED: readonly (readonly [kind: Placed['kind'], member: string, label: string])[] = [
  ['bank', 'heated', 'Insulation, a heater and its thermostat for the cells'],
  ['bank', 'balancer', 'A balancer'],
  ['inverters', 'precharge', 'A pre-charge resistor with its switch'],
  ['runs', 'remoteSense', 'Sense wires, fused at the posts'],
];

/** What has a line of its own below, whatever else the part is. */
export const isFitted = (kind: Placed['kind'], path: string) =>
  FITTED.some(([of, member]) => of === kind && member === path) ||
  (kind === 'otherBanks' && path === 'joinedBy') ||
  (kind === 'bank' && path === 'place.ventArea_cm2');

/** Lines of a kit for what is fitted to a part: heater, balancer, vents, fuses. */
export function fittings({ kind, part }: Placed, old: Placed | undefined): PartsLine[] {
  const had = recordOf(old?.part);
  const has = recordOf(part);
  const line = (key: string, label: string, what: PartsLine['what'], detail: string | null): PartsLine => ({
    ...lineOf(`${part.id}.${key}`, kind, label),
    what,
    detail,
  });
  const whose = 'label' in part && part.label ? part.label : null;
  const fitted = FITTED.filter(([of, member]) => of === kind && has[member] === true && had[member] !== true).map(
    ([, member, label]) => line(member, label, 'buy', whose),
  );
  const out =
    kind === 'otherBanks' && old?.kind === 'otherBanks' && old.part.joinedBy !== part.joinedBy && old.part.joinedBy
      ? [line('joint', `The ${old.part.joinedBy} to the ${part.role} battery`, 'out', 'each bank on its own fuse')]
      : [];
  const vents =
    kind === 'bank' && old?.kind === 'bank' && (part.place?.ventArea_cm2 ?? 0) > (old.part.place?.ventArea_cm2 ?? 0)
      ? [line('vents', 'Vents, one low and one high', 'buy', `${part.place?.ventArea_cm2} cm2 each`)]
      : [];
  const isLithiumNow = kind === 'bank' && isLithium(part.chemistry);
  const label =
    isLithiumNow && old?.kind === 'bank' && old.part.chemistry !== part.chemistry
      ? [line('label', 'Label: lithium, no lead charger', 'buy', 'at the bank and at every charger')]
      : [];
  return [...fitted, ...out, ...vents, ...label];
}
