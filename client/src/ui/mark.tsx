import { MARK, type Verdict, VERDICT_WORDS } from '@true-lantern/core/base';
import Svg, { Circle, G, Line, Path } from 'react-native-svg';
import type { PropsWithChildren } from 'react';
import { View } from 'react-native';
import { useGround } from './ground';
import { T } from './text';

export { VERDICT_WORDS };

/** A verdict by its shape: broken disc, half disc, open ring, dash, filled disc. Never by colour alone. */
export function Mark({ verdict, size = 26, ink }: { verdict: Verdict; size?: number; ink?: string | undefined }) {
  return (
    <Svg width={size} height={size} viewBox="-13 -13 26 26" role="img" aria-label={VERDICT_WORDS[verdict]}>
      <MarkShape verdict={verdict} ink={ink} />
    </Svg>
  );
}

/** A sentence behind its verdict. */
export function Marked({
  verdict,
  children,
  className = '',
}: PropsWithChildren<{ verdict: Verdict; className?: string }>) {
  return (
    <View className={`flex-row items-center gap-3 ${className}`}>
      <Mark verdict={verdict} />
      <T className="min-w-0 flex-1">{children}</T>
    </View>
  );
}

/** The shape alone, centred on 0, 0, radius 12: for use inside another drawing. */
export function MarkShape({
  verdict,
  ink,
  ground,
}: {
  verdict: Verdict | null;
  ink?: string | undefined;
  ground?: string;
}) {
  const { colours } = useGround();
  const fill = ink ?? colours.ink;
  const paper = ground ?? colours.paper;
  if (verdict === null) return <Circle r={6} fill={fill} />;
  if (verdict === 'holds') return <Circle r={12} fill={fill} />;
  if (verdict === 'tight')
    return (
      <G>
        <Circle r={10.75} fill={paper} stroke={fill} strokeWidth={2.5} />
        <Path d={MARK.half} fill={fill} />
      </G>
    );
  if (verdict === 'over')
    return (
      <G>
        <Circle r={12} fill={fill} />
        <Path d={MARK.crack} fill="none" stroke={paper} strokeWidth={4} />
      </G>
    );
  if (verdict === 'unknown')
    return <Circle r={10.5} fill={paper} stroke={fill} strokeWidth={2.5} strokeDasharray="5 3.2" />;
  return (
    <G>
      <Circle r={12} fill={paper} />
      <Line x1={-9} x2={9} y1={0} y2={0} stroke={fill} strokeWidth={4} />
    </G>
  );
}
