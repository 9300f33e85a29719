import type { YearStory } from '@true-lantern/core';
import { useState } from 'react';
import { View } from 'react-native';
import Svg, { G, Line, Path, Rect, Text } from 'react-native-svg';
import { useGround } from '../kit/ground';
import { MONTH_LETTERS, RIBBON, ribbonLayout, STRIP, stripLayout } from './ribbon-layout';

/**
 * The bank's charge through the year as a ribbon: dark where half of all years lie, light where nine in ten do. Across it
 * the planning depth and the cut-off; beside it, in the second ink, what would be.
 */
export function Ribbon({ story, other, label }: { story: YearStory; other: YearStory | null; label: string }) {
  const { colours } = useGround();
  const [width, setWidth] = useState(354);
  const { outer, inner, middle, y, letters } = ribbonLayout(story, width);
  const beside = other && ribbonLayout(other, width);
  const words = (
    text: string,
    x: number,
    at: number,
    anchor: 'start' | 'middle' | 'end',
    fill: string = colours.ink,
  ) => (
    <Text x={x} y={at} fill={fill} fontSize={14} fontFamily="HyperlegibleSemi" textAnchor={anchor}>
      {text}
    </Text>
  );
  return (
    <View onLayout={({ nativeEvent }) => setWidth(Math.max(300, nativeEvent.layout.width))} testID="ribbon">
      <Svg width={width} height={RIBBON.height} role="img" aria-label={label}>
        <Path d={outer} fill={colours.rule} />
        {/* Beside another year the bands stand back, so that the two lines are told apart. */}
        <Path d={inner} fill={colours.soft} opacity={beside ? 0.45 : 1} />
        <Path d={middle} fill="none" stroke={colours.ink} strokeWidth={2} />
        {beside ? (
          <G>
            <Path d={beside.outer} fill={colours.second} opacity={0.18} />
            <Path d={beside.middle} fill="none" stroke={colours.second} strokeWidth={3} />
          </G>
        ) : null}
        {[
          { at: story.depthAt, dash: '6 4' },
          { at: story.cutAt, dash: '' },
        ].map(({ at, dash }) => (
          <Line
            key={at}
            x1={RIBBON.left}
            x2={width - RIBBON.right}
            y1={y(at)}
            y2={y(at)}
            stroke={colours.lamp}
            strokeWidth={2}
            {...(dash ? { strokeDasharray: dash } : {})}
          />
        ))}
        {words('100 %', RIBBON.left - 4, y(1) + 10, 'end')}
        {words('0', RIBBON.left - 4, y(0), 'end')}
        {words(`${Math.round(100 * story.depthAt)} %`, RIBBON.left - 4, y(story.depthAt) + 5, 'end', colours.lamp)}
        {letters.map(({ x, letter }, month) => (
          <G key={month}>{words(letter, x, RIBBON.height - 4, 'middle')}</G>
        ))}
      </Svg>
    </View>
  );
}

/** Month by month: the sun's bar beside the use's, on one scale; hatched what nobody took, hollow what was missing. */
export function MonthStrip({ story, label }: { story: YearStory; label: string }) {
  const { colours } = useGround();
  const [width, setWidth] = useState(354);
  const { bars, foot, most_kWh } = stripLayout(story.months, width);
  return (
    <View onLayout={({ nativeEvent }) => setWidth(Math.max(300, nativeEvent.layout.width))} testID="month-strip">
      <Svg width={width} height={STRIP.height} role="img" aria-label={label}>
        <Line x1={STRIP.left} x2={width - STRIP.right} y1={foot} y2={foot} stroke={colours.ink} strokeWidth={2} />
        {bars.map(({ x, width: wide, sun, engine, unused, used, unserved }, month) => (
          <G key={month}>
            <Rect x={x} y={foot - sun} width={wide} height={sun} fill={colours.lamp} />
            <Rect x={x} y={foot - sun - engine} width={wide} height={engine} fill={colours.soft} />
            <Rect
              x={x}
              y={foot - sun - engine - unused}
              width={wide}
              height={unused}
              fill="none"
              stroke={colours.lamp}
              strokeWidth={unused > 2 ? 1.5 : 0}
            />
            <Rect x={x + wide + 1} y={foot - used} width={wide} height={used} fill={colours.ink} />
            <Rect
              x={x + wide + 1}
              y={foot - used - unserved}
              width={wide}
              height={unserved}
              fill="none"
              stroke={colours.ink}
              strokeWidth={unserved > 1 ? 1.5 : 0}
              strokeDasharray="3 2"
            />
            <Text
              x={x + wide}
              y={STRIP.height - 5}
              fill={colours.ink}
              fontSize={14}
              fontFamily="HyperlegibleSemi"
              textAnchor="middle"
            >
              {MONTH_LETTERS[month]}
            </Text>
          </G>
        ))}
        <Text
          x={STRIP.left - 4}
          y={STRIP.top + 12}
          fill={colours.ink}
          fontSize={14}
          fontFamily="HyperlegibleSemi"
          textAnchor="end"
        >
          {Math.round(most_kWh)}
        </Text>
        <Text
          x={STRIP.left - 4}
          y={STRIP.top + 28}
          fill={colours.ink}
          fontSize={14}
          fontFamily="HyperlegibleSemi"
          textAnchor="end"
        >
          kWh
        </Text>
      </Svg>
    </View>
  );
}
