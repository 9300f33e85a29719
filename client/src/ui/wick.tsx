import Svg, { Defs, Line, Path, Pattern, Rect } from 'react-native-svg';
import { useId } from 'react';
import { useGround } from './ground';

interface WickProps {
  /** Demand over limit; null draws an empty wick. */
  use: number | null;
  /** Where `tight` begins, as a share of the wall. */
  tightAbove: number;
  width?: number;
  label: string;
}

const WALL = 0.8;

/** A short bar that fills toward a wall at four fifths of its length: notch at the tight threshold, hatched past the wall. */
export function Wick({ use, tightAbove, width = 104, label }: WickProps) {
  const { colours } = useGround();
  const id = useId().replace(/[^a-zA-Z0-9]/g, '');
  const wall = width * WALL;
  const filled = use === null ? 0 : Math.min(width, use * wall);
  const notch = tightAbove < 1 ? tightAbove * wall : null;
  return (
    <Svg width={width} height={18} viewBox={`0 0 ${width} 18`} role="img" aria-label={label} style={{ flexShrink: 0 }}>
      <Defs>
        <Pattern id={id} width={5} height={5} patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <Rect width={5} height={5} fill={colours.paper} />
          <Line x1={1} x2={1} y1={0} y2={5} stroke={colours.ink} strokeWidth={2.4} />
        </Pattern>
      </Defs>
      <Rect x={0} y={7} width={width} height={9} fill={colours.well} />
      <Rect x={0} y={7} width={Math.min(filled, wall)} height={9} fill={colours.ink} />
      {filled > wall ? (
        <Rect
          x={wall}
          y={7}
          width={filled - wall}
          height={9}
          fill={`url(#${id})`}
          stroke={colours.ink}
          strokeWidth={1}
        />
      ) : null}
      {notch === null ? null : <Path d={`M${notch - 4} 1 h8 l-4 5 z`} fill={colours.ink} />}
      <Rect x={wall - 1.5} y={3} width={3} height={15} fill={colours.lamp} />
    </Svg>
  );
}
