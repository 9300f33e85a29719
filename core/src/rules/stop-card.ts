import type { Site } from '../system/schema';

/** Findings that end a visit until they are made safe (the engine's section 6). Each with what was seen to be wrong. */
export const STOP_CARD: Record<string, { observed: readonly string[]; title: string }> = {
  mainFuse: { observed: ['mainFuse'], title: 'No main fuse at the bank' },
  cell: { observed: ['noSwelling', 'noLeak'], title: 'A swollen or leaking cell' },
  burnt: { observed: ['noCharring', 'noMeltedPlug'], title: 'A melted or charred part' },
  neutral: { observed: ['oneNeutralBond'], title: 'Two neutral bonds, or none' },
  mixed: { observed: ['neverMixedChemistry'], title: 'Lead and lithium joined' },
};

export interface Stop {
  key: string;
  title: string;
  /** What was done about it, by whom and when; null while nothing was. */
  settled: NonNullable<Site['stopCard']>[string] | null;
}

/** What stops the visit at this site, settled or not. */
export const stopsOf = (site: Site): Stop[] =>
  Object.entries(STOP_CARD).flatMap(([key, { observed, title }]) =>
    observed.some((name) => site.observations?.[name] === 'no')
      ? [{ key, title, settled: site.stopCard?.[key] ?? null }]
      : [],
  );
