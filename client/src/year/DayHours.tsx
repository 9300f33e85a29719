import { dayName, type Model, type WeatherChoice, type YearDay, type YearStory } from '@true-lantern/core';
import { View } from 'react-native';
import Svg, { G, Line, Path, Rect } from 'react-native-svg';
import { HourAxis, useWidth } from '../ui/chart';
import { ChartText } from '../ui/chart-text';
import { Button } from '../ui/controls';
import { useGround } from '../ui/ground';
import { Legend } from '../ui/legend';
import { Heading, T } from '../ui/text';
import { withUnit } from '../ui/units';
import { useAnswer } from '../workers/engine';
import { DAY, dayLayout } from './day-layout';
import { WORDS } from '../ui/words';

interface Props {
  model: Model;
  weather: WeatherChoice;
  story: YearStory;
  day: number;
  /** The year to show; null: that of all in which the bank stands lowest on this day. */
  year: number | null;
  onDay(day: number): void;
  onClose(): void;
}

/** A day's twenty-four hours: solar yield, demand and supply, and the bank’s charge at each hour’s end. */
export function DayHours({ model, weather, story, day, year, onDay, onClose }: Props) {
  const shown = year ?? story.lowYears[day] ?? 0;
  const { data, error } = useAnswer<'day'>({ ask: 'day', model, weather, year: shown, day });
  return (
    <View className="gap-2 border-y-2 border-ink py-3" testID="day-hours">
      <View className="flex-row items-center gap-2">
        <Button label={'\u2212'} aria-label="Previous day" disabled={day <= 0} onPress={() => onDay(day - 1)} />
        <Heading level={2} look="station" className="min-w-0 flex-1 text-center" aria-live="polite">
          {dayName(day)}
        </Heading>
        <Button label="+" aria-label="Next day" disabled={day >= 364} onPress={() => onDay(day + 1)} />
        <Button label={WORDS.hide} kind="plain" onPress={onClose} />
      </View>
      <T look="fact">
        {story.count === 1
          ? 'An average day of the month, or the day from the file.'
          : year === null
            ? `Of ${story.count} years, the one with the lowest charge on this day.`
            : 'The year with the longest power cut.'}
      </T>
      {error ? <T>{error.message}</T> : data ? <Hours data={data} /> : <T role="status">Calculating its hours ...</T>}
    </View>
  );
}

function Hours({ data }: { data: YearDay }) {
  const { colours } = useGround();
  const [width, onLayout] = useWidth();
  const { charge, chargeY, hours, foot, most_W, x } = dayLayout(data, width);
  return (
    <View onLayout={onLayout}>
      <Svg width={width} height={DAY.height} role="img" aria-label={dayWords(data)}>
        <Line
          x1={DAY.left}
          x2={width - DAY.right}
          y1={chargeY(0)}
          y2={chargeY(0)}
          stroke={colours.rule}
          strokeWidth={2}
        />
        <Line
          x1={DAY.left}
          x2={width - DAY.right}
          y1={chargeY(1)}
          y2={chargeY(1)}
          stroke={colours.rule}
          strokeWidth={1}
        />
        <Path d={charge} fill="none" stroke={colours.ink} strokeWidth={3} />
        <ChartText x={DAY.left - 4} y={chargeY(1) + 10} anchor="end">
          100 %
        </ChartText>
        <ChartText x={DAY.left - 4} y={chargeY(0)} anchor="end">
          0
        </ChartText>
        {hours.map((hour, h) => (
          <G key={h}>
            <Rect x={hour.x} y={foot - hour.sun} width={hour.width} height={hour.sun} fill={colours.lamp} />
            <Rect
              x={hour.x + hour.width + 1}
              y={foot - hour.served}
              width={hour.width}
              height={hour.served}
              fill={colours.ink}
            />
            <Rect
              x={hour.x + hour.width + 1}
              y={foot - hour.served - hour.unserved}
              width={hour.width}
              height={hour.unserved}
              fill="none"
              stroke={colours.ink}
              strokeWidth={hour.unserved > 1 ? 1.5 : 0}
              strokeDasharray="3 2"
            />
            {hour.generator ? (
              <Rect x={hour.x} y={foot + 1} width={2 * hour.width} height={5} fill={colours.soft} />
            ) : null}
          </G>
        ))}
        <Line x1={DAY.left} x2={width - DAY.right} y1={foot} y2={foot} stroke={colours.ink} strokeWidth={2} />
        <ChartText x={DAY.left - 4} y={foot - 60} anchor="end">
          {String(Math.round(most_W))}
        </ChartText>
        <ChartText x={DAY.left - 4} y={foot - 44} anchor="end">
          W
        </ChartText>
        <HourAxis x={x} y={DAY.height - 4} />
      </Svg>
      <Legend
        entries={[
          { word: 'state of charge', look: 'line', colour: colours.ink },
          { word: 'solar', look: 'filled', colour: colours.lamp },
          { word: 'used', look: 'filled', colour: colours.ink },
          { word: 'not supplied', look: 'hollow', colour: colours.ink },
        ]}
      />
      <T testID="day-sum">{sumsOf(data)}</T>
    </View>
  );
}

const kWh = (watts: readonly number[]) => withUnit(watts.reduce((sum, each) => sum + each, 0) / 1000, 'kWh');

/** "Sun 0.4 kWh, used 1.9 kWh, 0.3 kWh not served; lowest 21 % at 7 h; generator 3 h." */
function sumsOf({ sun_W, demand_W, served_W, soc, generator }: YearDay): string {
  const missing = demand_W.map((asked, h) => Math.max(0, asked - (served_W[h] ?? 0)));
  const lowest = soc.reduce((low, share, h) => (share < (soc[low] ?? 1) ? h : low), 0);
  const ran = generator.filter(Boolean).length;
  const lost = missing.some((watts) => watts > 0.5) ? `, ${kWh(missing)} not supplied` : '';
  return `Sun ${kWh(sun_W)}, used ${kWh(served_W)}${lost}; lowest ${Math.round(100 * (soc[lowest] ?? 0))}\u00a0% at ${lowest + 1}\u00a0h${ran > 0 ? `; generator ${ran}\u00a0h` : ''}.`;
}

const dayWords = (day: YearDay): string => `${dayName(day.day)}, hour by hour. ${sumsOf(day)}`;
