import { View } from 'react-native';
import Svg, { Path } from 'react-native-svg';

/** A code for another phone's camera: black on white on either ground. */
export function Qr({ code, label }: { code: { size: number; path: string }; label: string }) {
  return (
    <View role="img" aria-label={label} style={{ width: 216, height: 216, backgroundColor: '#fff', padding: 12 }}>
      <Svg width="100%" height="100%" viewBox={`0 0 ${code.size} ${code.size}`}>
        <Path d={code.path} fill="#000" />
      </Svg>
    </View>
  );
}
