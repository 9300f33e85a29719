import { useState } from 'react';
import type { GestureResponderEvent } from 'react-native';
import { boxOf } from './web-only';

type Point = readonly [number, number];

/** A thing of a drawing under the finger. */
export interface Drag {
  index: number;
  /** Where in it it is held, from its corner. */
  off: Point;
  /** Where its corner was, and where it is now. */
  from: Point;
  at: Point;
}

interface Moves {
  mayMove: boolean;
  /** From the drawing's pixels to its own measure. */
  back(px: number, py: number): Point;
  /** What lies there, and its corner. */
  hit(at: Point): { index: number; corner: Point } | null;
  /** Where it comes to rest. */
  rest(index: number, to: Point): Point;
  /** Asked only where it was let go elsewhere than it was taken up. */
  drop(index: number, to: Point): void;
}

/** A thing under the finger follows it, and is written down where it is let go. */
export function useDrag({ mayMove, back, hit, rest, drop }: Moves) {
  const [drag, setDrag] = useState<Drag | null>(null);
  // What is hit may be a thing within the drawing: the place is told from the drawing's own corner.
  const pointOf = (event: GestureResponderEvent): Point => {
    const { nativeEvent } = event;
    const corner = boxOf(event);
    return back(nativeEvent.pageX - corner.left, nativeEvent.pageY - corner.top);
  };
  const under = (event: GestureResponderEvent): Drag | null => {
    const [x, y] = pointOf(event);
    const found = hit([x, y]);
    if (!found) return null;
    const { index, corner } = found;
    return { index, off: [x - corner[0], y - corner[1]], from: corner, at: corner };
  };
  const end = () => {
    setDrag(null);
    if (drag && (drag.at[0] !== drag.from[0] || drag.at[1] !== drag.from[1])) drop(drag.index, drag.at);
  };
  return {
    drag,
    handlers: {
      onStartShouldSetResponder: (event: GestureResponderEvent) => mayMove && under(event) !== null,
      onResponderTerminationRequest: () => false,
      onResponderGrant: (event: GestureResponderEvent) => setDrag(under(event)),
      onResponderMove: (event: GestureResponderEvent) => {
        if (!drag) return;
        const [x, y] = pointOf(event);
        setDrag({ ...drag, at: rest(drag.index, [x - drag.off[0], y - drag.off[1]]) });
      },
      onResponderRelease: end,
      onResponderTerminate: end,
    },
  };
}
