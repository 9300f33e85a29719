import { figure, type ShadeAnswer } from '@true-lantern/core';
import { useState } from 'react';
import { View } from 'react-native';
import Svg, { Circle, G, Line, Path, Text } from 'react-native-svg';
import { useGround } from '../kit/ground';
import { T } from '../kit/text';

const HEIGHT = 260;
const PAD = { left: 40, right: 44, top: 14, bottom: 28 };

/** Current and power against volts: the current in ink, the power in the lamp's colour, maxima as rings, the best one filled. */
export function CurveChart({
  answer: { points, maxima, best },
  bank_V,
}: {
  answer: ShadeAnswer;
  bank_V: number | null;
}) {
  const { colours } = useGround();
  const [width, setWidth] = useState(350);
  const open = points.at(-1)?.v ?? 1;
  const amps = nice(Math.max(0.1, ...points.map(({ i }) => i)));
  const watts = nice(Math.max(1, ...points.map(({ v, i }) => v * i)));
  const volts = nice(open);
  const x = (v: number) => PAD.left + ((width - PAD.left - PAD.right) * v) / volts;
  const y = (share: number) => HEIGHT - PAD.bottom - (HEIGHT - PAD.top - PAD.bottom) * share;
  const path = (of: (point: { v: number; i: number }) => number) =>
    points.map((point, k) => `${k === 0 ? 'M' : 'L'}${x(point.v).toFixed(1)} ${y(of(point)).toFixed(1)}`).join(' ');
  const label = (text: string, at: { x: number; y: number }, anchor: 'start' | 'middle' | 'end', fill: string) => (
    <Text
      key={`${text}${at.x}${at.y}`}
      {...at}
      fill={fill}
      fontSize={14}
      fontFamily="HyperlegibleSemi"
      textAnchor={anchor}
    >
      {text}
    </Text>
  );
  return (
    <View onLayout={({ nativeEvent }) => setWidth(Math.max(280, nativeEvent.layout.width))} testID="curves">
      <Svg
        width={width}
        height={HEIGHT}
        role="img"
        aria-label={`Curves from 0 to ${figure(open)} V; best ${figure(best.p)} W at ${figure(best.v)} V`}
      >
        {[0, 0.5, 1].map((share) => (
          <G key={share}>
            <Line
              x1={PAD.left}
              x2={width - PAD.right}
              y1={y(share)}
              y2={y(share)}
              stroke={colours.rule}
              strokeWidth={1}
            />
            {label(figure(amps * share, 3), { x: PAD.left - 6, y: y(share) + 5 }, 'end', colours.ink)}
            {label(figure(watts * share, 3), { x: width - PAD.right + 6, y: y(share) + 5 }, 'start', colours.lamp)}
          </G>
        ))}
        {[0, 0.5, 1].map((share) =>
          label(
            `${figure(volts * share, 3)}${share === 1 ? ' V' : ''}`,
            { x: x(volts * share), y: HEIGHT - 8 },
            'middle',
            colours.ink,
          ),
        )}
        {bank_V !== null && bank_V < volts ? (
          <G>
            <Line
              x1={x(bank_V)}
              x2={x(bank_V)}
              y1={PAD.top}
              y2={y(0)}
              stroke={colours.ink}
              strokeWidth={2}
              strokeDasharray="3 5"
            />
            {label('bank', { x: x(bank_V) + 4, y: PAD.top + 12 }, 'start', colours.ink)}
          </G>
        ) : null}
        <Path d={path(({ i }) => i / amps)} fill="none" stroke={colours.ink} strokeWidth={3} />
        <Path d={path(({ v, i }) => (v * i) / watts)} fill="none" stroke={colours.lamp} strokeWidth={3} />
        {maxima.map(({ v, p }) => (
          <Circle
            key={v}
            cx={x(v)}
            cy={y(p / watts)}
            r={7}
            fill={p === best.p ? colours.lamp : colours.paper}
            stroke={colours.lamp}
            strokeWidth={3}
          />
        ))}
      </Svg>
      <View className="flex-row justify-between">
        <T look="small" className="text-ink">
          amperes, left
        </T>
        <T look="small" className="text-lamp">
          watts, right
        </T>
      </View>
    </View>
  );
}

/** The next round figure above: 1, 2, 2.5, 5 times a power of ten. */
function nice(value: number): number {
  const power = 10 ** Math.floor(Math.log10(value));
  return ([1, 1.5, 2, 2.5, 3, 4, 5, 6, 8, 10].find((step) => step * power >= value) ?? 10) * power;
}
