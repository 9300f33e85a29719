import { Text } from 'react-native-svg';
import { useGround } from './ground';

interface ChartTextProps {
  x: number;
  y: number;
  anchor: 'start' | 'middle' | 'end';
  fill?: string;
  children: string;
}

/** A word or a figure within a drawing. */
export function ChartText({ x, y, anchor, fill, children }: ChartTextProps) {
  const { colours } = useGround();
  return (
    <Text x={x} y={y} fill={fill ?? colours.ink} fontSize={14} fontFamily="HyperlegibleSemi" textAnchor={anchor}>
      {children}
    </Text>
  );
}
