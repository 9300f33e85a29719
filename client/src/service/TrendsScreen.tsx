import {
  aspectsOf,
  counted,
  partById,
  QUANTITIES,
  readingText,
  trendName,
  trendSentence,
  type Trend,
  type TrendPoint,
} from '@true-lantern/core';
import { router } from 'expo-router';
import { useMemo, useState } from 'react';
import { Pressable, ScrollView, View, type GestureResponderEvent } from 'react-native';
import Svg, { Circle, Line, Path, Rect } from 'react-native-svg';
import { useLiveReadings } from '../data/live';
import { useOpenSite } from '../data/open-site';
import { useMayWrite } from '../data/session';
import type { OpenSite } from '../data/site';
import { useUnits } from '../data/units';
import { touchedX, useWidth } from '../ui/chart';
import { ChartText } from '../ui/chart-text';
import { Button, Row, Waiting } from '../ui/controls';
import { shortDay } from '../ui/dates';
import { useGround } from '../ui/ground';
import { Legend } from '../ui/legend';
import { Heading, T } from '../ui/text';
import { Top } from '../ui/top';
import { useAnswer } from '../workers/engine';
import { useToday } from '../data/today';
import { TREND, trendLayout } from './trend-layout';

const ORDER = { outside: 0, drifting: 1, 'too-few': 2, steady: 3 } as const;

/** How each thing that was read changes over the years: the sentence first, what is steady in one line. */
export function TrendsScreen() {
  const site = useOpenSite();
  const today = useToday();
  const units = useUnits();
  const heard = useLiveReadings(site.id);
  const file = useMemo(
    () => (heard.length === 0 ? site.file : { ...site.file, readings: [...(site.file.readings ?? []), ...heard] }),
    [site.file, heard],
  );
  const { data, error } = useAnswer<'trends'>({ ask: 'trends', file, on: today, units });
  const [steadyOpen, setSteadyOpen] = useState(false);
  const [fewOpen, setFewOpen] = useState(false);
  const trends = [...(data?.trends ?? [])].sort((a, b) => ORDER[a.verdict] - ORDER[b.verdict]);
  const loud = trends.filter(({ verdict }) => verdict === 'outside' || verdict === 'drifting');
  const few = trends.filter(({ verdict }) => verdict === 'too-few');
  const steady = trends.filter(({ verdict }) => verdict === 'steady');
  return (
    <View className="flex-1">
      <Top title="Trends" onBack={() => router.navigate(`/site/${site.id}/service`)} />
      <ScrollView>
        <View className="max-w-[860px] pb-10">
          {error ? <T className="px-[18px] pt-4">{error.message}</T> : null}
          {data ? (
            <Heading look="lead" className="px-[18px] pt-4" testID="trends-lead">
              {leadOf(trends)}
            </Heading>
          ) : error ? null : (
            <Waiting what="Comparing the readings with what was expected on each day ..." />
          )}
          {loud.length > 0 ? <TrendLegend /> : null}
          {loud.map((trend) => (
            <One key={keyOf(trend)} trend={trend} site={site} />
          ))}
          {steady.length > 0 ? (
            <Row onPress={() => setSteadyOpen(!steadyOpen)} aria-expanded={steadyOpen} testID="steady">
              <T look="head" className="flex-1">
                {`${counted(steady.length, 'series is', 'series are')} steady`}
              </T>
              <T look="fact">{steadyOpen ? 'hide' : 'show'}</T>
            </Row>
          ) : null}
          {steadyOpen ? steady.map((trend) => <One key={keyOf(trend)} trend={trend} site={site} />) : null}
          {few.length > 0 ? (
            <Row onPress={() => setFewOpen(!fewOpen)} aria-expanded={fewOpen} testID="too-few">
              <T look="head" className="flex-1">
                {`${counted(few.length, 'series has', 'series have')} too few readings yet`}
              </T>
              <T look="fact">{fewOpen ? 'hide' : 'show'}</T>
            </Row>
          ) : null}
          {fewOpen
            ? few.map((trend) => (
                <T key={keyOf(trend)} className="border-b border-rule px-[18px] py-3">
                  {trendSentence(site.model, trend)}
                </T>
              ))
            : null}
        </View>
      </ScrollView>
    </View>
  );
}

const keyOf = ({ quantity, subject, position }: Trend) => `${quantity} ${subject} ${JSON.stringify(position ?? null)}`;

function leadOf(trends: readonly Trend[]): string {
  if (trends.length === 0)
    return 'No trends yet. Measure the same things at each visit, and their change will show here.';
  const of = (wanted: Trend['verdict']) => trends.filter(({ verdict }) => verdict === wanted).length;
  const [outside, drifting, steady] = [of('outside'), of('drifting'), of('steady')];
  if (outside + drifting === 0) return steady > 0 ? 'Nothing drifts.' : 'No trends yet: too few readings.';
  return [outside > 0 ? `${outside} out of range` : '', drifting > 0 ? `${drifting} drifting` : '', `${steady} steady.`]
    .filter(Boolean)
    .join(', ');
}

function TrendLegend() {
  const { colours } = useGround();
  return (
    <View className="px-[18px] pt-3">
      <Legend
        entries={[
          { word: 'in range', look: 'filled', colour: colours.rule },
          { word: 'trend', look: 'line', colour: colours.ink },
          { word: 'where it may go', look: 'hollow', colour: colours.lamp },
        ]}
      />
    </View>
  );
}

/** One series: its sentence, its drawing, the reading that is touched, and the two ways on. */
function One({ trend, site }: { trend: Trend; site: OpenSite }) {
  const units = useUnits();
  const [at, setAt] = useState<number | null>(null);
  const point = at === null ? null : (trend.points[at] ?? null);
  const [unit] = QUANTITIES[trend.quantity];
  const mayWrite = useMayWrite();
  const placed = partById(site.model.system, trend.subject);
  const replaceable = placed !== undefined && aspectsOf(placed.kind).length > 0;
  const loud = trend.verdict === 'outside' || trend.verdict === 'drifting';
  const since = trend.points[0]?.at ?? trend.from;
  return (
    <View className="border-b border-rule px-[18px] py-4" testID={`trend-${trend.quantity}-${trend.subject}`}>
      <T look="head">{trendSentence(site.model, trend)}</T>
      <Chart trend={trend} label={trendName(site.model, trend)} at={at} onAt={setAt} />
      <T look="fact" aria-live="polite">
        {point
          ? pointText(point, unit, units)
          : `${counted(trend.n, 'day')} of readings, ${shortDay(trend.from)} to ${shortDay(trend.to)}.`}
      </T>
      {loud ? (
        <View className="mt-3 flex-row flex-wrap gap-3">
          <Button
            label="Find the fault"
            className="grow"
            onPress={() => router.navigate(`/site/${site.id}/faults?since=${since}`)}
          />
          {mayWrite && replaceable ? (
            <Button
              label="Plan a replacement"
              className="grow"
              onPress={() => router.navigate(`/site/${site.id}/plan/replace?part=${encodeURIComponent(trend.subject)}`)}
            />
          ) : null}
        </View>
      ) : null}
    </View>
  );
}

function pointText(
  { at, value, expected, left, half }: TrendPoint,
  unit: string,
  units: ReturnType<typeof useUnits>,
): string {
  const said = half === null ? 'limit' : 'expected';
  return `${shortDay(at)}: ${readingText(Number(value.toPrecision(4)), unit, units)} read, ${said} ${readingText(Number(expected.toPrecision(3)), unit, units)}.${left ? ' Far from the others: not counted.' : ''}`;
}

interface ChartProps {
  trend: Trend;
  label: string;
  at: number | null;
  onAt(index: number): void;
}

function Chart({ trend, label, at, onAt }: ChartProps) {
  const { colours } = useGround();
  const [width, onLayout] = useWidth();
  const { band, points, line, cone, years } = trendLayout(trend, width);
  const touched = (event: GestureResponderEvent) => {
    const place = touchedX(event);
    const near = points.map(({ x }, i) => [Math.abs(x - place), i] as const).sort(([a], [b]) => a - b)[0];
    if (near) onAt(near[1]);
  };
  return (
    <View onLayout={onLayout}>
      <Svg width={width} height={TREND.height} role="img" aria-label={label}>
        <Rect
          x={TREND.left}
          y={band.top}
          width={width - TREND.left - TREND.right}
          height={band.foot - band.top}
          fill={colours.rule}
        />
        {cone ? <Path d={cone} fill="none" stroke={colours.lamp} strokeWidth={1.5} strokeDasharray="4 3" /> : null}
        {line ? <Path d={line} stroke={colours.ink} strokeWidth={2.5} fill="none" /> : null}
        {points.map(({ x, y, left }, i) => (
          <Circle
            key={i}
            cx={x}
            cy={y}
            r={i === at ? 7 : 4.5}
            fill={left ? colours.paper : colours.ink}
            stroke={colours.ink}
            strokeWidth={2}
          />
        ))}
        <ChartText x={TREND.left - 4} y={band.top + 5} anchor="end">
          {trend.bound ? 'limit' : 'high'}
        </ChartText>
        {trend.bound ? null : (
          <ChartText x={TREND.left - 4} y={band.foot + 5} anchor="end">
            low
          </ChartText>
        )}
        {years.map(({ x, label: year }) => (
          <ChartText key={year} x={Math.min(x, width - 40)} y={TREND.height - 5} anchor="start">
            {year}
          </ChartText>
        ))}
        {years.map(({ x, label: year }) => (
          <Line
            key={year}
            x1={x}
            x2={x}
            y1={TREND.top}
            y2={TREND.height - TREND.bottom}
            stroke={colours.soft}
            strokeWidth={1}
          />
        ))}
      </Svg>
      <Pressable
        role="button"
        aria-label={`Show a reading: ${label}`}
        onPress={touched}
        style={{ position: 'absolute', left: 0, right: 0, top: 0, height: TREND.height }}
      />
    </View>
  );
}
