import { View } from 'react-native';
import Svg, { Line, Rect } from 'react-native-svg';
import { T } from './text';

/** One entry of a chart's legend: a swatch as it is drawn, and its word. */
export interface LegendEntry {
  word: string;
  look: 'line' | 'dashed' | 'filled' | 'hollow';
  colour: string;
}

/** The legend of a chart, within its frame: nobody reads a caption to learn what a colour is. */
export function Legend({ entries }: { entries: readonly LegendEntry[] }) {
  return (
    <View className="flex-row flex-wrap gap-x-4 gap-y-1" testID="legend">
      {entries.map(({ word, look, colour }) => (
        <View key={word} className="flex-row items-center gap-2">
          <Svg width={22} height={14} aria-hidden>
            {look === 'line' || look === 'dashed' ? (
              <Line
                x1={0}
                x2={22}
                y1={7}
                y2={7}
                stroke={colour}
                strokeWidth={3}
                {...(look === 'dashed' ? { strokeDasharray: '5 3' } : {})}
              />
            ) : (
              <Rect
                x={1}
                y={1}
                width={20}
                height={12}
                fill={look === 'filled' ? colour : 'none'}
                stroke={colour}
                strokeWidth={1.5}
              />
            )}
          </Svg>
          <T look="small">{word}</T>
        </View>
      ))}
    </View>
  );
}
