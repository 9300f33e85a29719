import type { FleetEntry } from '@true-lantern/wire';
import { geoMercator, geoPath } from 'd3-geo';
import { router } from 'expo-router';
import { useMemo } from 'react';
import { View } from 'react-native';
import Svg, { Circle, ClipPath, Defs, G, Path, Rect } from 'react-native-svg';
import { useCoasts } from '../data/fleet';
import { useWidth } from '../ui/chart';
import { ChartText } from '../ui/chart-text';
import { useGround } from '../ui/ground';
import { T } from '../ui/text';
import { AT_RISK, chanceText } from './risk';

const HEIGHT = 300;
/** Kept free round the outermost sites, px. */
const MARGIN = 48;
/** One site alone is shown in this much of its surroundings, degrees. */
const AROUND_DEG = 3;
/** So many names are written; more would cover each other. */
const NAMED = 6;
/** Nearer than this two marks are one, px. */
const APART = 26;

/** The firm's sites on a plain map: coasts, no tiles; the likelier a power cut the heavier the mark. */
export function FleetMap({ sites }: { sites: readonly FleetEntry[] }) {
  const { colours } = useGround();
  const [width, onLayout] = useWidth();
  const { data: land, error } = useCoasts();
  const placed = useMemo(
    () =>
      sites.flatMap((site) => {
        const { latitude_deg, longitude_deg } = site.found ?? {};
        return typeof latitude_deg === 'number' && typeof longitude_deg === 'number'
          ? [{ site, at: [longitude_deg, latitude_deg] as [number, number] }]
          : [];
      }),
    [sites],
  );
  const drawn = useMemo(() => {
    if (placed.length === 0) return null;
    const corners = placed.flatMap(({ at: [x, y] }): [number, number][] => [
      [x - AROUND_DEG, Math.max(-80, y - AROUND_DEG / 2)],
      [x + AROUND_DEG, Math.min(80, y + AROUND_DEG / 2)],
    ]);
    const projection = geoMercator().fitExtent(
      [
        [MARGIN, MARGIN],
        [width - MARGIN, HEIGHT - MARGIN],
      ],
      { type: 'MultiPoint', coordinates: corners },
    );
    projection.clipExtent([
      [0, 0],
      [width, HEIGHT],
    ]);
    return {
      coasts: land ? (geoPath(projection).digits(1)(land) ?? '') : '',
      marks: together(placed.map(({ site, at }) => ({ site, at: projection(at) ?? [0, 0] }))),
    };
  }, [placed, land, width]);
  if (!drawn) return <T className="px-[18px] pt-4">The map shows sites whose latitude and longitude are recorded.</T>;
  return (
    <View className="gap-2 px-[18px] pt-4" testID="fleet-map">
      {error ? <T role="status">{error.message}</T> : null}
      <View
        onLayout={onLayout}
        role="img"
        aria-label={`Map of ${placed.length} sites. The list below has the same sites.`}
      >
        <Svg width={width} height={HEIGHT} aria-hidden>
          <Defs>
            <ClipPath id="fleet-frame">
              <Rect x={0} y={0} width={width} height={HEIGHT} />
            </ClipPath>
          </Defs>
          <G clipPath="url(#fleet-frame)">
            <Path d={drawn.coasts} fill={colours.well} stroke={colours.soft} strokeWidth={1} />
            {drawn.marks.map((mark, k) => (
              <Mark key={mark.sites[0]?.id} mark={mark} width={width} named={k < NAMED} />
            ))}
            <Rect x={0.5} y={0.5} width={width - 1} height={HEIGHT - 1} fill="none" stroke={colours.rule} />
          </G>
        </Svg>
      </View>
      <T look="fact">Filled: at risk. Open: below 5 %. Dashed: unknown.</T>
    </View>
  );
}

interface MapMark {
  x: number;
  y: number;
  sites: FleetEntry[];
}

/** Sites that would cover each other share a mark. */
function together(placed: readonly { site: FleetEntry; at: [number, number] }[]): MapMark[] {
  const marks: MapMark[] = [];
  for (const { site, at } of placed) {
    const near = marks.find(({ x, y }) => Math.hypot(x - at[0], y - at[1]) < APART);
    if (near) near.sites.push(site);
    else marks.push({ x: at[0], y: at[1], sites: [site] });
  }
  return marks;
}

function Mark({ mark: { x, y, sites }, width, named }: { mark: MapMark; width: number; named: boolean }) {
  const { colours } = useGround();
  const [site] = sites;
  const chances = sites.flatMap(({ found }) => found?.dark ?? []);
  const risk = chances.some((dark) => dark >= AT_RISK);
  const left = x > width / 2;
  if (!site) return null;
  const alone = sites.length === 1;
  const says = alone
    ? [site.name, ...chances.map(chanceText)].join(' ')
    : `${sites.length} sites, ${chances.filter((dark) => dark >= AT_RISK).length} at risk`;
  return (
    // What several share is told apart in the list below.
    <G {...(alone ? { onPress: () => router.push(`/site/${site.id}/ahead`) } : {})}>
      <Circle cx={x} cy={y} r={20} fill={colours.paper} fillOpacity={0} />
      <Circle
        cx={x}
        cy={y}
        r={risk ? 9 : 6}
        fill={risk ? colours.ink : colours.paper}
        stroke={colours.ink}
        strokeWidth={2}
        {...(chances.length === 0 ? { strokeDasharray: '3 2' } : {})}
      />
      {named ? (
        <ChartText x={left ? x - 14 : x + 14} y={y + 5} anchor={left ? 'end' : 'start'}>
          {says}
        </ChartText>
      ) : null}
    </G>
  );
}
