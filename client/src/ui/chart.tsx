import { useState } from 'react';
import type { GestureResponderEvent, LayoutChangeEvent } from 'react-native';
import { ChartText } from './chart-text';

/** What every drawing wants: its width as it is laid out, tenths of a pixel, the hours of a day along its foot. */

/** Width of a drawing, px, and what its frame is to be told by; a phone's until it is laid out, and never less than `least`. */
export function useWidth(start = 354, least = 300): [number, (event: LayoutChangeEvent) => void] {
  const [width, setWidth] = useState(start);
  return [width, ({ nativeEvent }) => setWidth(Math.max(least, nativeEvent.layout.width))];
}

/** Where a drawing was touched, px from its left edge: a mouse gives its place within what it hits, a finger by another name. */
export function touchedX({ nativeEvent }: GestureResponderEvent): number {
  const { offsetX } = nativeEvent as unknown as { offsetX?: number };
  return offsetX ?? nativeEvent.locationX;
}

/** 0 to 24 h, six by six. */
export const HourAxis = ({ x, y }: { x(hour: number): number; y: number }) => (
  <>
    {[0, 6, 12, 18, 24].map((hour) => (
      <ChartText key={hour} x={x(hour)} y={y} anchor={hour === 24 ? 'end' : 'middle'}>
        {String(hour)}
      </ChartText>
    ))}
  </>
);
