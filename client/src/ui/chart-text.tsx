import { Text } from 'react-native-svg';
import { useGround } from './ground';

interface ChartTextProps {
  x: number;
  y: number;
  anchor: 'start' | 'middle' | 'end';
  fill?: string;
  /** On a ground of its own, where lines run beneath it. */
  clear?: boolean;
  children: string;
}

/** A word or a figure within a drawing. */
export function ChartText({ x, y, anchor, fill, clear = false, children }: ChartTextProps) {
  const { colours } = useGround();
  const look = { x, y, fontSize: 14, fontFamily: 'HyperlegibleSemi', textAnchor: anchor } as const;
  return (
    <>
      {clear ? (
        <Text {...look} fill={colours.paper} stroke={colours.paper} strokeWidth={5} aria-hidden>
          {children}
        </Text>
      ) : null}
      <Text {...look} fill={fill ?? colours.ink}>
        {children}
      </Text>
    </>
  );
}
