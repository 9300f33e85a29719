import { figure, hoursAfter, type Sample } from '@true-lantern/core';
import { View } from 'react-native';
import Svg, { Circle, Line, Path } from 'react-native-svg';
import { useWidth } from '../ui/chart';
import { ChartText } from '../ui/chart-text';
import { useGround } from '../ui/ground';
import { tenth } from '../ui/tenth';

const HEIGHT = 180;
const LEFT = 46;
const FOOT = 26;
const UNITS = { volts: 'V', amps: 'A' } as const;

/** Readings over the hours of a test, and the line at which it ends. */
export function ClockChart({
  samples,
  line,
  word,
  of,
}: {
  samples: readonly Sample[];
  line: number;
  word: string;
  of: 'volts' | 'amps';
}) {
  const { colours } = useGround();
  const [width, onLayout] = useWidth();
  const [first, last] = [samples[0], samples.at(-1)];
  if (!first || !last || samples.length < 2) return null;
  const hours = hoursAfter(first);
  const values = [...samples.map((one) => one[of]), line];
  const [low, high] = [Math.min(...values), Math.max(...values)];
  const room = Math.max(high - low, 0.1) * 0.08;
  const x = (hour: number) => LEFT + ((width - LEFT - 10) * hour) / Math.max(hours(last), 0.01);
  const y = (value: number) => 8 + ((HEIGHT - FOOT - 8) * (high + room - value)) / (high - low + 2 * room);
  const path = samples.map((one) => `${tenth(x(hours(one)))} ${tenth(y(one[of]))}`).join('L');
  return (
    <View
      className="mx-[18px]"
      onLayout={onLayout}
      role="img"
      aria-label={`${samples.length} readings over ${figure(hours(last), 2)} h, from ${figure(first[of], 3)} to ${figure(last[of], 3)} ${UNITS[of]}. ${word}: ${figure(line, 3)} ${UNITS[of]}.`}
    >
      <Svg width={width} height={HEIGHT} aria-hidden>
        <Line
          x1={LEFT}
          x2={width - 10}
          y1={y(line)}
          y2={y(line)}
          stroke={colours.second}
          strokeWidth={2}
          strokeDasharray="6 4"
        />
        <ChartText x={width - 12} y={y(line) - 6} anchor="end" fill={colours.second}>
          {word}
        </ChartText>
        <Path d={`M${path}`} fill="none" stroke={colours.ink} strokeWidth={2.5} />
        {samples.map((one) => (
          <Circle key={one.at} cx={x(hours(one))} cy={y(one[of])} r={3.5} fill={colours.ink} />
        ))}
        <Line x1={LEFT} x2={width - 10} y1={HEIGHT - FOOT} y2={HEIGHT - FOOT} stroke={colours.ink} strokeWidth={1} />
        <ChartText x={LEFT - 6} y={y(high) + 5} anchor="end">{`${figure(high, 3)}`}</ChartText>
        <ChartText x={LEFT - 6} y={y(low) + 5} anchor="end">{`${figure(low, 3)}`}</ChartText>
        <ChartText x={LEFT - 6} y={HEIGHT - 8} anchor="end">
          {UNITS[of]}
        </ChartText>
        <ChartText x={width - 12} y={HEIGHT - 8} anchor="end">{`${figure(hours(last), 2)} h`}</ChartText>
      </Svg>
    </View>
  );
}
