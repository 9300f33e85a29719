import { aheadLines, chargeNow, type Ahead } from '@true-lantern/core';
import { router } from 'expo-router';
import { useMemo, useState } from 'react';
import { ScrollView, View } from 'react-native';
import Svg, { Line, Path, Rect } from 'react-native-svg';
import { useOpenSite } from '../data/open-site';
import { bandPath } from '../ui/band-path';
import { useWidth } from '../ui/chart';
import { ChartText } from '../ui/chart-text';
import { Chip, Waiting } from '../ui/controls';
import { inDays, shortDay } from '../ui/dates';
import { useGround } from '../ui/ground';
import { Legend } from '../ui/legend';
import { Stepper } from '../ui/stepper';
import { tenth } from '../ui/tenth';
import { T } from '../ui/text';
import { Top } from '../ui/top';
import { useAnswer } from '../workers/engine';
import { useToday } from '../data/today';

const DAYS: readonly (readonly [days: number, label: string])[] = [
  [7, '7 days'],
  [14, '14 days'],
  [30, '30 days'],
];
/** Where nobody has read it: said on the screen, and moved by the thumb. */
const ASSUMED_PCT = 80;

/** From the charge of today: the next nights over many weathers of this place, and what helps. */
export function AheadScreen() {
  const site = useOpenSite();
  const today = useToday();
  const read = useMemo(() => chargeNow(site.file, today), [site.file, today]);
  const [set, setSet] = useState<number | null>(null);
  const [days, setDays] = useState(7);
  const percent = set ?? Math.round(100 * (read?.soc ?? ASSUMED_PCT / 100));
  const { data, error } = useAnswer<'ahead'>({
    ask: 'ahead',
    model: site.judged,
    asked: { on: today, soc: percent / 100, days },
  });
  const lines = data ? aheadLines(site.model, data) : [];
  return (
    <View className="flex-1">
      <Top title="Days ahead" onBack={() => router.navigate(`/site/${site.id}/service`)} />
      <ScrollView>
        <View className="max-w-[860px] gap-3 px-[18px] pb-10 pt-4">
          {error ? <T>{`Days ahead need more of the survey: ${error.message}`}</T> : null}
          {lines.map((line, i) => (
            <T key={line} look={i === 0 ? 'lead' : 'base'} testID={`ahead-${i}`}>
              {inDays(line)}
            </T>
          ))}
          {data ? <Bands ahead={data} /> : error ? null : <Waiting what="Working out the days ahead ..." />}
          <View role="radiogroup" aria-label="How far ahead" className="flex-row flex-wrap gap-2">
            {DAYS.map(([count, label]) => (
              <Chip key={count} label={label} on={days === count} onPress={() => setDays(count)} />
            ))}
          </View>
          <Stepper label="Charge this morning, %" value={percent} min={0} max={100} step={5} onChange={setSet} />
          <T look="fact">
            {set !== null
              ? 'As set here.'
              : read
                ? `From ${read.by.quantity === 'head_soc' ? 'the monitor' : 'the resting voltage'}, give or take ${Math.round(100 * read.off)} %.`
                : 'Assumed: there is no reading from the last two days. Set what the monitor shows.'}
          </T>
          <T look="fact">200 possible weathers for this place and time of year, not a weather forecast.</T>
        </View>
      </ScrollView>
    </View>
  );
}

const BANDS = { height: 210, left: 50, right: 22, top: 8, bottom: 44 } as const;

/** Each day's lowest charge: where half of all weathers lie, where nine in ten do, and the days with a power cut. */
function Bands({ ahead: { days } }: { ahead: Ahead }) {
  const { colours } = useGround();
  const [width, onLayout] = useWidth();
  const across = width - BANDS.left - BANDS.right;
  const down = BANDS.height - BANDS.top - BANDS.bottom;
  const x = (i: number) => BANDS.left + (across * i) / Math.max(1, days.length - 1);
  const y = (soc: number) => BANDS.top + down * (1 - Math.max(0, Math.min(1, soc)));
  type Day = (typeof days)[number];
  const band = (low: (day: Day) => number, high: (day: Day) => number) =>
    bandPath(
      days,
      x,
      (day) => y(low(day)),
      (day) => y(high(day)),
    );
  const every = Math.ceil(days.length / 7);
  return (
    <View onLayout={onLayout} testID="ahead-bands">
      <Svg width={width} height={BANDS.height} role="img" aria-label="Lowest charge of each day to come">
        <Path
          d={band(
            ({ p5 }) => p5,
            ({ p95 }) => p95,
          )}
          fill={colours.rule}
        />
        <Path
          d={band(
            ({ p25 }) => p25,
            ({ p75 }) => p75,
          )}
          fill={colours.soft}
        />
        <Path
          d={`M${days.map(({ p50 }, i) => `${tenth(x(i))} ${tenth(y(p50))}`).join('L')}`}
          fill="none"
          stroke={colours.ink}
          strokeWidth={2.5}
        />
        {days.map(({ dark }, i) =>
          dark > 0 ? (
            <Rect
              key={i}
              x={x(i) - 4}
              y={BANDS.top + down + 4 + 14 * (1 - dark)}
              width={8}
              height={Math.max(2, 14 * dark)}
              fill={colours.ink}
            />
          ) : null,
        )}
        <Line x1={BANDS.left} x2={width - BANDS.right} y1={y(0)} y2={y(0)} stroke={colours.ink} strokeWidth={1.5} />
        <ChartText x={BANDS.left - 4} y={y(1) + 10} anchor="end">
          100 %
        </ChartText>
        <ChartText x={BANDS.left - 4} y={y(0)} anchor="end">
          0
        </ChartText>
        {days.map(({ date }, i) =>
          i % every === 0 ? (
            <ChartText key={date} x={x(i)} y={BANDS.height - 6} anchor="middle">
              {i === 0 || date.endsWith('-01') ? shortDay(date).replace(/ \d{4}$/, '') : String(Number(date.slice(8)))}
            </ChartText>
          ) : null,
        )}
      </Svg>
      <Legend
        entries={[
          { word: 'middle', look: 'line', colour: colours.ink },
          { word: 'half of all', look: 'filled', colour: colours.soft },
          { word: '9 in 10', look: 'filled', colour: colours.rule },
          ...(days.some(({ dark }) => dark > 0)
            ? [{ word: 'power cut', look: 'filled' as const, colour: colours.ink }]
            : []),
        ]}
      />
      <T look="small">{`Lowest charge of each day, in percent.`}</T>
    </View>
  );
}
