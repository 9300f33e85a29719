import Svg, { Circle, Path } from 'react-native-svg';
import { useGround } from './ground';

/** Our sign: a run of conductor from the sun's arc into a lamp. */
export function Lantern({ size = 32 }: { size?: number }) {
  const { colours } = useGround();
  return (
    <Svg width={size} height={size} viewBox="0 0 48 48" role="img" aria-label="True Lantern">
      <Path d="M12 15 a12 12 0 0 1 24 0" fill="none" stroke={colours.lamp} strokeWidth={4} />
      <Path d="M5 16 H43" stroke={colours.ink} strokeWidth={3} />
      <Path d="M24 16 V27" stroke={colours.ink} strokeWidth={5} />
      <Circle cx={24} cy={35} r={9} fill={colours.ink} />
      <Circle cx={24} cy={35} r={3.4} fill={colours.lamp} />
    </Svg>
  );
}
