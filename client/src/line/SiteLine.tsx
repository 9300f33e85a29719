import { offIn, type Finding, type System } from '@true-lantern/core';
import { router } from 'expo-router';
import { useMemo, useState } from 'react';
import { useWindowDimensions, View } from 'react-native';
import { guessesOf } from '../data/reading';
import type { OpenSite } from '../data/site';
import { useUnits, type Units } from '../data/units';
import { inUnits } from '../kit/units';
import { Line } from './Line';

interface SiteLineProps {
  site: OpenSite;
  selected?: string | null;
  /** A proposal's system and findings, drawn over the system as found. */
  proposed?: { system: System; findings: Finding[] };
  /** Where the whole system is to be seen at once: the height there is, px. */
  fitHeight?: number;
}

const NONE: ReadonlySet<string> = new Set();

/** The Line of an open site; a tap opens the part. */
export function SiteLine({ site, selected = null, proposed, fitHeight }: SiteLineProps) {
  const units = useUnits();
  const [width, setWidth] = useState<number | null>(null);
  const { width: window } = useWindowDimensions();
  const guesses = useMemo(() => guessesOf(site), [site]);
  const off = useMemo(
    () => new Set(site.stateId === null ? [] : offIn(site.model.system, site.stateId)),
    [site.model.system, site.stateId],
  );
  return (
    <View onLayout={({ nativeEvent }) => setWidth(nativeEvent.layout.width)}>
      <Line
        width={width ?? Math.min(window, 390)}
        {...(fitHeight === undefined ? {} : { fitHeight })}
        system={proposed?.system ?? site.model.system}
        findings={proposed?.findings ?? site.findings}
        {...(proposed ? { base: site.model.system } : {})}
        siteFact={siteFact(site, units)}
        selected={selected}
        guesses={guesses}
        off={proposed ? NONE : off}
        onOpen={(id) => router.navigate(`/site/${site.id}/${placeFor(site, id)}`)}
      />
    </View>
  );
}

/** A gap opens what fills it: a cable's sheet, the bank's, or the part whose field it is. */
function placeFor(site: OpenSite, id: string): string {
  if (id === 'bank' && !site.model.system.bank) return 'add?kind=bank';
  if (id.endsWith('.run')) return `add?kind=runs&at=${encodeURIComponent(id.slice(0, -'.run'.length))}`;
  return `part/${encodeURIComponent(id.replace(/\.controllerId$/, ''))}`;
}

function siteFact({ file: { site } }: OpenSite, units: Units): string {
  const fact = (value: number | null | undefined, unit: string) =>
    value === null || value === undefined ? null : inUnits(value, unit, units);
  const up = fact(site.elevation_m, 'm');
  const low = fact(site.recordLow_C, 'degC');
  return [up && `${up} up`, low ? `record low ${low}` : 'record low?'].filter(Boolean).join(' \u00b7 ');
}
