import { bearsFuse, networkOf, touches } from '../conductors/network';
import { partById } from '../system/parts';
import type { Model } from '../system/model';
import type { Site } from '../system/schema';
import type { Finding } from './finding';

/**
 * Findings that end a visit until they are made safe (the engine's section 6): what was seen to be wrong, and what the
 * record itself says, wherever it was found.
 */
export const STOP_CARD: Record<
  string,
  { observed: readonly string[]; found?(model: Model, finding: Finding): boolean; title: string }
> = {
  mainFuse: {
    observed: ['mainFuse'],
    // A cable at the bank with nothing on it at all.
    found({ system }, { rule, verdict, demand, subject }) {
      const run = system.runs?.find(({ id }) => id === subject);
      return (
        rule === 'run.fuse-protects' &&
        verdict === 'over' &&
        demand === null &&
        run !== undefined &&
        bearsFuse(run) &&
        touches(run, system.bank?.id) &&
        networkOf(system).feedersOf(run) !== null
      );
    },
    title: 'No main fuse at the bank',
  },
  cell: { observed: ['noSwelling', 'noLeak'], title: 'A swollen or leaking cell' },
  burnt: { observed: ['noCharring', 'noMeltedPlug'], title: 'A melted or charred part' },
  neutral: { observed: ['oneNeutralBond'], title: 'Two neutral bonds, or none' },
  mixed: {
    observed: ['neverMixedChemistry'],
    found: (_, { rule, verdict, consequence }) =>
      rule === 'bank.mixed' && verdict === 'over' && consequence === 'danger',
    title: 'Lead and lithium connected',
  },
};

/** Stops that are about one part, which somebody names: with that part gone, they are settled. */
export const ABOUT_A_PART: readonly string[] = ['cell', 'burnt'];

type Entry = NonNullable<Site['stopCard']>[string];

/** Something at which all work stops until it is settled. */
export interface Stop {
  key: string;
  title: string;
  /** What was done about it, by whom and when; null while nothing was. */
  settled: Entry | null;
  /** The part that it is about, where somebody named it. */
  partId: string | null;
}

/** What stops the visit at this site, settled or not. A part that is no longer there stops nobody. */
export const stopsOf = (model: Model, findings: readonly Finding[]): Stop[] =>
  Object.entries(STOP_CARD).flatMap(([key, { observed, found, title }]) => {
    const { site, system } = model;
    const entry = site.stopCard?.[key] ?? null;
    const seen = observed.some((name) => site.observations?.[name] === 'no');
    const judged = found !== undefined && findings.some((finding) => found(model, finding));
    if (!seen && !judged) return [];
    const partId = entry?.partId ?? null;
    if (seen && !judged && partId !== null && !partById(system, partId)) return [];
    return [{ key, title, settled: entry?.state ? entry : null, partId }];
  });
