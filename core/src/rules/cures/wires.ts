import { emf_V } from '../../bank/bank';
import { interrupt_A, ratingsSold, SOLD_V } from '../../conductors/fuses';
import { area_mm2, AWG_SIZES, METRIC_SIZES, resistance_ohm_m, sizeWords } from '../../conductors/sizes';
import { figure } from '../../ledger/figures';
import { createLedger } from '../../ledger/ledger';
import { acDrawn_VA, acVolts, design_A, linkDesign_A } from '../../power/design';
import { isVehicle, withSystem, type Model } from '../../system/model';
import { allCharging_A } from '../../power/charging';
import { partById } from '../../system/parts';
import type { Bank, Change, Run } from '../../system/schema';
import type { Cure } from '../rule';
import { largestFuse_A } from '../../power/conductor-limits';
import { deviceOf, type Type } from '../wires/run-limits';
import { stringRun } from '../wires/string-own';
import { fuseSaid, raised, withArticle } from '../../parts/said';

/** Cables and fuses that may cure: only what is sold, and the nearest to what is there first. */

/** "a class T fuse", within a sentence. */
export const fuseWord = (type: Type) => withArticle(fuseSaid(type));
/** In a vehicle what bolts on and bears shaking; in a building what sits on a rail or in a holder (engine, section 2). */
const IN_VEHICLES: readonly Type[] = ['blade', 'strip', 'terminal', 'class-t'];
const IN_BUILDINGS: readonly Type[] = ['breaker', 'class-t', 'nh'];
/** Nobody puts a fuse of the switchgear on a lamp. */
const NH_FROM_A = 63;

/**
 * What may stand in a run, the first to be offered first: what its neighbours on the site have, then what is usual there;
 * among modules only what is made for their volts, on the mains a breaker.
 */
export function typesFor(
  { system, site }: Pick<Model, 'system' | 'site'>,
  run: Pick<Run, 'id' | 'kind' | 'from' | 'to' | 'strings'>,
): readonly Type[] {
  // Several strings on one cable are more than a string's fuse carries: then what breaks their volts, in a holder of its own.
  if (run.kind === 'pv')
    return carriesOneString(system, run) || isVehicle(site) ? ['pv', 'breaker'] : ['pv', 'breaker', 'nh'];
  if (run.kind === 'ac') return ['breaker'];
  const vehicle = isVehicle(site);
  const own = (system.runs ?? []).find(({ id }) => id === run.id);
  const neighbours = (system.runs ?? []).flatMap((one) =>
    one.kind !== 'pv' && one.kind !== 'ac' ? (deviceOf(one) ?? []) : [],
  );
  const usual = vehicle ? IN_VEHICLES : IN_BUILDINGS;
  const now = own ? deviceOf(own) : null;
  const all = [...(now ? [now] : []), ...neighbours, ...usual].filter(
    (type) => type !== 'pv' && !(vehicle && type === 'nh'),
  );
  return [...new Set(all)];
}
function carriesOneString(
  { arrays }: Model['system'],
  { from, to, strings }: Pick<Run, 'from' | 'to' | 'strings'>,
): boolean {
  if (strings) return strings.length === 1;
  return (arrays ?? []).find(({ id }) => id === from || id === to)?.strings.length === 1;
}

/** Ratings of a type that one would put on a run: no switchgear fuse for a load's own cable. */
const ratingsFor = (type: Type, { kind }: Pick<Run, 'kind'>) =>
  type === 'nh' && kind === 'dc-load' ? ratingsSold(type).filter((amps) => amps >= NH_FROM_A) : ratingsSold(type);

const setRun = (run: Run, value: Record<string, unknown>): Change => ({ op: 'set', at: 'runs', id: run.id, value });

/** A fuse as it is sold: its type's volts and breaking capacity, not what was read off the one that goes. */
export const soldFuse = (type: Type, rating_A: number) => ({
  type,
  rating_A,
  voltage_V: SOLD_V[type],
  interrupt_A: null,
  dcRated: true,
  polarised: false,
});
/** What a type of fuse is rated for at these volts, in words. */
export const fuseDetail = (type: Type, volts: number) => {
  const breaks = interrupt_A(type, volts);
  return breaks > 0
    ? `rated ${SOLD_V[type]} V DC, interrupts up to ${figure(breaks / 1000)} kA here; its data sheet must say so`
    : `rated ${SOLD_V[type]} V DC`;
};

/** What a fuse must carry on a run, A: its design current with a quarter more; NaN where it is not known. */
function least_A(model: Model, run: Run): number {
  const io = createLedger(model);
  return run.kind === 'ac' ? acDrawn_VA(io, run) / acVolts(io, run) : 1.25 * design_A(io, run);
}

/**
 * Another fuse in the same cable, or one where there is none, between the current and the conductor. A fuse that stays
 * where it sits keeps its place.
 */
export function fuseCures(model: Model, run: Run): Cure[] {
  const least = least_A(model, run);
  const largest = largestFuse_A(createLedger(model), run);
  if (Number.isNaN(least) || Number.isNaN(largest)) return [];
  const now = deviceOf(run);
  return fusesBetween(model, run, least, largest).map(({ type, rating_A }): Cure => ({
    title: `${raised(fuseWord(type))} of ${rating_A} A${now ? '' : ' at the source end'}`,
    detail: fuseDetail(type, volts(model)),
    changes: [
      setRun(run, { protection: { ...soldFuse(type, rating_A), ...(now ? {} : { fromSource_m: AT_SOURCE_M }) } }),
    ],
  }));
}
/** A hand's breadth behind the terminal: within every school. */
const AT_SOURCE_M = 0.05;
const OF_A_TYPE = 2;

/**
 * Types and ratings between a current and a conductor: the type that is there first, then the rating nearest to what is
 * there (where there is none, the largest that the cable allows); of each type the smallest too, which clears a far fault.
 */
function fusesBetween(model: Model, run: Run, least: number, largest: number) {
  const now = deviceOf(run);
  const target = (now && run.protection?.rating_A) || largest;
  const off = (amps: number) => Math.abs(amps - target);
  const beside = new Set((model.system.runs ?? []).flatMap((one) => deviceOf(one) ?? []));
  return typesFor(model, run)
    .flatMap((type, order) => {
      const fit = ratingsFor(type, run).filter((amps) => amps >= least - 1e-9 && amps <= largest + 1e-9);
      const nearest = [...fit].sort((a, b) => off(a) - off(b)).slice(0, 1);
      return [...new Set([...nearest, ...fit.slice(0, OF_A_TYPE - 1)])].map((rating_A) => ({ type, rating_A, order }));
    })
    .sort(
      (a, b) =>
        Number(b.type === now) - Number(a.type === now) ||
        Number(beside.has(b.type)) - Number(beside.has(a.type)) ||
        off(a.rating_A) - off(b.rating_A) ||
        a.order - b.order,
    );
}

/** What the bank stands at, or the system's volts where there is none. */
const volts = (model: Model) =>
  model.system.bank ? emf_V(createLedger(model), model.system.bank) : (model.system.nominal_V ?? 0);

/** Sizes above a run's own, of its own kind of size. */
function thickerThan({ size, material }: Run): string[] {
  const sizes: readonly string[] = size.endsWith('mm2') ? METRIC_SIZES : AWG_SIZES.filter((awg) => awg !== RARE);
  const now = resistance_ohm_m(size, material ?? 'copper', 20);
  return sizes.filter((one) => area_mm2(one) >= LEAST_MM2 && resistance_ohm_m(one, 'copper', 20) < now - 1e-12);
}
/** Made, and hardly ever on a shelf. */
const RARE = '3AWG';
/** Nobody lays less for a cure. */
const LEAST_MM2 = 1.5;

/** A thicker cable; beyond the largest that is sold, two of a size in parallel. */
export function sizeUp(model: Model, run: Run): Cure[] {
  const perPole = run.perPole ?? 1;
  const one = thickerThan(run).map((size): Cure => ({
    title: `${sizeWords(size)} instead of ${sizeWords(run.size)}`,
    detail: cableDetail(model, run, size),
    changes: [setRun(run, { size, material: 'copper' })],
  }));
  const largest = run.size.endsWith('mm2') ? DOUBLED.mm2 : DOUBLED.AWG;
  const two = largest.map((size): Cure => ({
    title: `Two of ${sizeWords(size)} a pole instead of ${perPole > 1 ? `${perPole} of ` : ''}${sizeWords(run.size)}`,
    detail: `${cableDetail(model, run, size)}; equal lengths, within 1 %`,
    changes: [setRun(run, { size, material: 'copper', perPole: 2 })],
    last: true,
  }));
  return perPole > 1 ? one : [...one, ...two];
}
const DOUBLED = { mm2: ['50mm2', '70mm2', '95mm2', '120mm2'], AWG: ['1/0AWG', '2/0AWG', '3/0AWG', '4/0AWG'] } as const;

/** Length, material where it changes, and how it gets into terminals that are too small for it. */
function cableDetail({ system }: Model, run: Run, size: string): string {
  const tight = [run.from, run.to].flatMap((id) => {
    const part = id ? partById(system, id)?.part : undefined;
    const most = part && 'terminals' in part ? part.terminals?.max_mm2 : null;
    return part && most && area_mm2(size) > most + 1e-9
      ? [`${('label' in part && part.label) || part.id} takes ${figure(most)} mm2`]
      : [];
  });
  return [
    `${figure(run.length_m)} m one way${run.material && run.material !== 'copper' ? ', copper' : ''}`,
    ...(tight.length > 0 ? [`${tight.join(', ')}: with a reducing lug or a short tail`] : []),
  ].join('; ');
}

/** A thicker cable together with the fuse that then carries its current and protects it. */
export function cableAndFuse(model: Model, run: Run): Cure[] {
  if (run.kind === 'ac') return [];
  const least = least_A(model, run);
  if (Number.isNaN(least)) return [];
  return thickerThan(run).flatMap((size): Cure[] => {
    const thicker: Run = { ...run, size, material: 'copper' };
    const changed = withSystem(model, {
      ...model.system,
      runs: (model.system.runs ?? []).map((one) => (one.id === run.id ? thicker : one)),
    });
    const largest = largestFuse_A(createLedger(changed), thicker);
    return fusesBetween(changed, thicker, least, largest).map(({ type, rating_A }): Cure => ({
      title: `${sizeWords(size)} and ${fuseWord(type)} of ${rating_A} A`,
      detail: `${cableDetail(model, run, size)}; ${fuseDetail(type, volts(model))}`,
      changes: [
        setRun(run, {
          size,
          material: 'copper',
          protection: { ...soldFuse(type, rating_A), ...(deviceOf(run) ? {} : { fromSource_m: AT_SOURCE_M }) },
        }),
      ],
    }));
  });
}

/**
 * Cables, and cables with the fuse that then carries and protects, the least copper first: 150 mm2 with 300 A before
 * 240 mm2 alone.
 */
export function byCopper(model: Model, run: Run): Cure[] {
  const copper = ({ changes }: Cure) => {
    const value = changes[0]?.value as Partial<Run> | undefined;
    return area_mm2(value?.size ?? run.size) * (value?.perPole ?? run.perPole ?? 1);
  };
  return [...sizeUp(model, run), ...cableAndFuse(model, run)]
    .map((cure, i) => ({ cure, i }))
    .sort(
      (a, b) =>
        Number(a.cure.last ?? false) - Number(b.cure.last ?? false) || copper(a.cure) - copper(b.cure) || a.i - b.i,
    )
    .map(({ cure }) => cure);
}

/** Of the fuses that limit a fault's current, those of which one at the post of each string carries the bank's own. */
export function stringFuses(model: Model): Cure[] {
  const { bank } = model.system;
  if (!bank) return [];
  return stringFuseBodies(model, bank).map(({ type, rating_A }) => ({
    title: `${raised(fuseWord(type))} of ${rating_A} A at the post of ${bank.parallel > 1 ? 'each string' : 'the bank'}`,
    detail: 'upstream of every other fuse, so those need less breaking capacity',
    eases: true as const,
    changes: [postFuses(bank, type, rating_A)],
  }));
}

/** A fuse at a post, nothing before it. */
export const postFuse = (type: Type, rating_A: number) => ({ ...soldFuse(type, rating_A), fromSource_m: 0 });
/** One at the post of each string of the bank. */
export const postFuses = (bank: Bank, type: Type, rating_A: number): Change => ({
  op: 'set',
  at: 'bank',
  id: bank.id,
  value: { stringFuse: postFuse(type, rating_A) },
});

/** Type and rating of a fuse for each string of a bank, which the system has with these strings. */
export function stringFuseBodies(model: Model, bank: Bank): { type: Type; rating_A: number }[] {
  const io = createLedger(withSystem(model, { ...model.system, bank }));
  const least = 1.25 * linkDesign_A(io);
  if (io.missing.size > 0) return [];
  // It carries what charges too, and what is left when one string is out; what discharges alone where its lead bears no more.
  const charging = createLedger(withSystem(model, { ...model.system, bank }));
  const into = allCharging_A(charging);
  const whole_A = Math.max((least / 1.25) * bank.parallel, charging.missing.size > 0 ? 0 : into);
  const oneOut = (1.25 * whole_A) / Math.max(1, bank.parallel - 1);
  const bears = bank.link?.size ? largestFuse_A(createLedger(model), stringRun(bank)) : Infinity;
  const wanted = Math.max(least, Number.isFinite(bears) ? Math.min(oneOut, bears) : oneOut);
  const types = isVehicle(model.site) ? (['class-t'] as const) : (['class-t', 'nh'] as const);
  return types.flatMap((type) => {
    const sold = ratingsSold(type);
    const rating_A =
      sold.find((amps) => amps >= wanted - 1e-9 && amps <= bears + 1e-9) ?? sold.find((amps) => amps >= least - 1e-9);
    return rating_A ? [{ type, rating_A }] : [];
  });
}

/**
 * A fuse at the post for what a cable bears, where its devices could draw more: the danger goes at once, and what leaves
 * with it is said. The device must be set or told to ask no more.
 */
export function bearableFuse(model: Model, run: Run): Cure[] {
  if (deviceOf(run) || run.kind === 'pv' || run.kind === 'ac') return [];
  const largest = largestFuse_A(createLedger(model), run);
  const design = design_A(createLedger(model), run);
  if (!(largest > 0) || !(design > 0) || 1.25 * design <= largest) return [];
  const volts_V = volts(model);
  return typesFor(model, run).flatMap((type): Cure[] => {
    const rating_A = ratingsFor(type, run)
      .filter((amps) => amps <= largest + 1e-9)
      .at(-1);
    if (!rating_A) return [];
    const bears = rating_A / 1.25;
    return [
      {
        title: `${raised(fuseWord(type))} of ${rating_A} A at the post, the largest for this cable`,
        detail: `${fuseDetail(type, volts_V)}; until the cable is larger no more than ${figure(bears, 2)} A (about ${figure(bears * volts_V, 2)} W) may run on it; leave the rest off`,
        changes: [setRun(run, { protection: { ...soldFuse(type, rating_A), fromSource_m: AT_SOURCE_M } })],
        allows: `run.fuse-carries|${run.id}|`,
      },
    ];
  });
}

/** One length in place of several. */
export const jointsAway = (run: Run): Cure[] =>
  (run.joints ?? 0) > 0
    ? [
        {
          title: `No joints in ${run.label ?? 'the cable'}`,
          detail: `one length of ${sizeWords(run.size)} instead of ${run.joints} joints`,
          changes: [setRun(run, { joints: 0 })],
        },
      ]
    : [];
