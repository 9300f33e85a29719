import {
  lastReadings,
  offIn,
  positionWords,
  QUANTITIES,
  readingText,
  type Finding,
  type Said,
  type System,
} from '@true-lantern/core';
import { router } from 'expo-router';
import { useMemo, useState } from 'react';
import { useWindowDimensions, View } from 'react-native';
import { guessesOf } from '../data/reading';
import { readingsOf } from '../data/readings';
import type { OpenSite } from '../data/site';
import { liveNow } from '../data/live-now';
import { suspects } from '../data/suspects';
import { useUnits, type Units } from '../data/units';
import { Chip } from '../ui/controls';
import { shortDay } from '../ui/dates';
import { inUnits } from '../ui/units';
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
  const [chosen, setShows] = useState<Shows | null>(null);
  const found = !proposed;
  const chances = suspects.useValue();
  const suspected = useMemo(() => (found && chances ? suspectedOn(chances) : null), [found, chances]);
  // A proposal has no readings yet.
  const read = useMemo(() => (found ? readOn(site, units) : null), [found, site, units]);
  const live = liveNow.useValue();
  const speaks = found && live !== null;
  const can: readonly (readonly [Shows, string])[] = [
    ...(suspected ? [['suspects', 'Suspects'] as const] : []),
    ...(speaks ? [['live', 'Live'] as const] : []),
    ['verdicts', 'Verdicts'],
    ...(read !== null && read.size > 0 ? [['readings', 'Last readings'] as const] : []),
  ];
  // While a fault is looked for, who is suspected comes before everything else.
  const shows = can.find(([one]) => one === chosen)?.[0] ?? can[0]?.[0] ?? 'verdicts';
  return (
    <View onLayout={({ nativeEvent }) => setWidth(nativeEvent.layout.width)}>
      {can.length > 1 ? (
        <View role="radiogroup" aria-label="The Line shows" className="flex-row flex-wrap gap-2 px-[14px] pt-3">
          {can.map(([one, label]) => (
            <Chip key={one} label={label} on={shows === one} onPress={() => setShows(one)} />
          ))}
        </View>
      ) : null}
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
        read={{ suspects: suspected, live, verdicts: null, readings: read }[shows] ?? undefined}
        onOpen={(id) => router.navigate(`/site/${site.id}/${placeFor(site, id)}`)}
      />
    </View>
  );
}

/** What the Line shows beside each part. */
type Shows = 'suspects' | 'live' | 'verdicts' | 'readings';

/** Less than this is no suspicion. */
const LEAST_CHANCE = 0.01;
/** Each suspect with its chance. */
const suspectedOn = (chances: ReadonlyMap<string, number>): ReadonlyMap<string, Said> =>
  new Map(
    [...chances]
      .filter(([, chance]) => chance >= LEAST_CHANCE)
      .map(([subject, chance]) => [
        subject,
        { word: 'Fault here', text: `${Math.round(100 * chance)}\u00a0%`, figures: true, read: true },
      ]),
  );

/** What was read last at each part: the figure, and beside it what it is and of which day. */
function readOn(site: OpenSite, units: Units): ReadonlyMap<string, Said> {
  return new Map(
    [...lastReadings(site.model.system, readingsOf(site))].map(([subject, { quantity, value, position, at }]) => {
      const [unit, name] = QUANTITIES[quantity];
      const where = positionWords(position);
      return [
        subject,
        {
          word: [name, where, at ? shortDay(at) : ''].filter(Boolean).join(', '),
          text: readingText(value, unit, units),
          figures: true,
          read: true,
        },
      ];
    }),
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
