import type { YearStory } from '@true-lantern/core';
import { Pressable, View, type GestureResponderEvent } from 'react-native';
import Svg, { G, Line, Path, Rect } from 'react-native-svg';
import { touchedX, useWidth } from '../ui/chart';
import { ChartText } from '../ui/chart-text';
import { useGround } from '../ui/ground';
import { Legend } from '../ui/legend';
import { MONTH_LETTERS, RIBBON, ribbonLayout, STRIP, stripLayout } from './ribbon-layout';

interface RibbonProps {
  story: YearStory;
  other: YearStory | null;
  label: string;
  /** The day that is opened. */
  day: number | null;
  onDay(day: number): void;
}

/**
 * The bank's charge through the year as a ribbon: dark where half of all years lie, light where nine in ten do. Across it
 * the planning depth and the cut-off; beside it, in the second ink, what would be.
 */
export function Ribbon({ story, other, label, day, onDay }: RibbonProps) {
  const { colours } = useGround();
  const [width, onLayout] = useWidth();
  const { outer, inner, middle, y, x, letters, dayAt, feet, ...marks } = ribbonLayout(story, width);
  const touched = (event: GestureResponderEvent) => onDay(dayAt(touchedX(event)));
  const beside = other && ribbonLayout(other, width);
  return (
    <View onLayout={onLayout} testID="ribbon">
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
        <ChartText x={RIBBON.left - 4} y={y(1) + 10} anchor="end">
          100 %
        </ChartText>
        <ChartText x={RIBBON.left - 4} y={y(0)} anchor="end">
          0
        </ChartText>
        <ChartText x={RIBBON.left - 4} y={y(story.depthAt) + 5} anchor="end" fill={colours.lamp}>
          {`${Math.round(100 * story.depthAt)} %`}
        </ChartText>
        <Path d={marks.dark} stroke={colours.ink} strokeWidth={Math.max(1, (width - 62) / 365)} />
        <Path d={marks.generator} stroke={colours.soft} strokeWidth={Math.max(1, (width - 62) / 365)} />
        {marks.dark ? (
          <ChartText x={RIBBON.left - 4} y={feet.dark} anchor="end">
            cuts
          </ChartText>
        ) : null}
        {marks.generator ? (
          <ChartText x={RIBBON.left - 4} y={feet.generator} anchor="end" fill={colours.soft}>
            genset
          </ChartText>
        ) : null}
        {day === null ? null : (
          <Line x1={x(day)} x2={x(day)} y1={RIBBON.top} y2={feet.generator} stroke={colours.lamp} strokeWidth={2.5} />
        )}
        {letters.map(({ x, letter }, month) => (
          <ChartText key={month} x={x} y={RIBBON.height - 4} anchor="middle">
            {letter}
          </ChartText>
        ))}
      </Svg>
      <Pressable
        role="button"
        aria-label="Open a day of the year"
        testID="ribbon-touch"
        onPress={touched}
        style={{ position: 'absolute', left: 0, right: 0, top: 0, height: RIBBON.height }}
      />
      <RibbonLegend beside={beside !== null} />
    </View>
  );
}

function RibbonLegend({ beside }: { beside: boolean }) {
  const { colours } = useGround();
  return (
    <Legend
      entries={[
        { word: 'middle year', look: 'line', colour: colours.ink },
        { word: 'half of all years', look: 'filled', colour: colours.soft },
        { word: '9 in 10 years', look: 'filled', colour: colours.rule },
        { word: 'planned depth', look: 'dashed', colour: colours.lamp },
        ...(beside ? [{ word: 'with the change', look: 'line' as const, colour: colours.second }] : []),
      ]}
    />
  );
}

/** Month by month: the sun's bar beside the use's, on one scale; hatched what nobody took, hollow what was missing. */
export function MonthStrip({ story, label }: { story: YearStory; label: string }) {
  const { colours } = useGround();
  const [width, onLayout] = useWidth();
  const { bars, foot, most_kWh } = stripLayout(story.months, width);
  return (
    <View onLayout={onLayout} testID="month-strip">
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
            <ChartText x={x + wide} y={STRIP.height - 5} anchor="middle">
              {MONTH_LETTERS[month] ?? ''}
            </ChartText>
          </G>
        ))}
        <ChartText x={STRIP.left - 4} y={STRIP.top + 12} anchor="end">
          {String(Math.round(most_kWh))}
        </ChartText>
        <ChartText x={STRIP.left - 4} y={STRIP.top + 28} anchor="end">
          kWh
        </ChartText>
      </Svg>
      <Legend
        entries={[
          { word: 'solar', look: 'filled', colour: colours.lamp },
          { word: 'solar, unused', look: 'hollow', colour: colours.lamp },
          { word: 'genset, engine', look: 'filled', colour: colours.soft },
          { word: 'used', look: 'filled', colour: colours.ink },
          { word: 'missing', look: 'hollow', colour: colours.ink },
        ]}
      />
    </View>
  );
}
