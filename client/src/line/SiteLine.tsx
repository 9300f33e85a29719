import { figure, type Finding, type System } from '@true-lantern/core';
import { router } from 'expo-router';
import { useMemo } from 'react';
import { guessesOf } from '../data/reading';
import type { OpenSite } from '../data/site';
import { pretty } from '../kit/units';
import { Line } from './Line';

interface SiteLineProps {
  site: OpenSite;
  selected?: string | null;
  /** A proposal's system and findings, drawn over the system as found. */
  proposed?: { system: System; findings: Finding[] };
}

/** The Line of an open site; a tap opens the part. */
export function SiteLine({ site, selected = null, proposed }: SiteLineProps) {
  const guesses = useMemo(() => guessesOf(site), [site]);
  return (
    <Line
      system={proposed?.system ?? site.model.system}
      findings={proposed?.findings ?? site.findings}
      {...(proposed ? { base: site.model.system } : {})}
      siteFact={siteFact(site)}
      selected={selected}
      guesses={guesses}
      onOpen={(id) => router.navigate(`/site/${site.id}/part/${encodeURIComponent(partOf(id))}`)}
    />
  );
}

/** A gap's id is the path of the field: it opens the part that lacks it. */
const partOf = (id: string) => id.replace(/\.(run|controllerId)$/, '');

function siteFact({ file: { site } }: OpenSite): string {
  const facts = [
    site.elevation_m === null || site.elevation_m === undefined ? null : `${figure(site.elevation_m)} m up`,
    site.recordLow_C === null || site.recordLow_C === undefined
      ? 'record low?'
      : `record low ${figure(site.recordLow_C)} degC`,
  ];
  return pretty(facts.filter(Boolean).join(' \u00b7 '));
}
