import { useState } from 'react';
import { View, type GestureResponderEvent } from 'react-native';
import Svg, { Path } from 'react-native-svg';
import { Button } from './controls';
import { useGround } from './ground';
import { T } from './text';
import { webStyle } from './web-only';

const WIDE = 320;
const HIGH = 130;

/** A name drawn by finger: strokes as an SVG path, in a frame of 320 by 130. */
export function SignaturePad({
  label,
  strokes,
  onChange,
}: {
  label: string;
  strokes: string;
  onChange(strokes: string): void;
}) {
  const { colours } = useGround();
  const [width, setWidth] = useState(WIDE);
  const at = ({ nativeEvent: { locationX, locationY } }: GestureResponderEvent) => {
    const scale = WIDE / Math.max(1, width);
    return `${Math.round(locationX * scale)} ${Math.round(locationY * scale)}`;
  };
  return (
    <View className="gap-1">
      <T look="fact">{label}</T>
      <View
        testID="signature"
        role="img"
        aria-label={`${label}: ${strokes === '' ? 'not signed' : 'signed'}`}
        className="border-2 border-ink bg-paper"
        style={webStyle({ aspectRatio: WIDE / HIGH, touchAction: 'none' })}
        onLayout={({ nativeEvent }) => setWidth(nativeEvent.layout.width)}
        onStartShouldSetResponder={() => true}
        onMoveShouldSetResponder={() => true}
        // A list that scrolls must not take the finger away in the middle of a name.
        onResponderTerminationRequest={() => false}
        onResponderGrant={(event) => onChange(`${strokes}M${at(event)}`)}
        onResponderMove={(event) => onChange(`${strokes}L${at(event)}`)}
      >
        <View pointerEvents="none" className="absolute inset-0">
          <Signature strokes={strokes} colour={colours.ink} />
        </View>
      </View>
      {strokes === '' ? null : (
        <Button label="Clear" kind="plain" className="self-start px-0" onPress={() => onChange('')} />
      )}
    </View>
  );
}

/** As it was drawn. */
export const Signature = ({ strokes, colour }: { strokes: string; colour: string }) => (
  <Svg width="100%" height="100%" viewBox={`0 0 ${WIDE} ${HIGH}`}>
    {/^(?:[ML]-?\d+ -?\d+)+$/.test(strokes) ? (
      <Path d={strokes} stroke={colour} strokeWidth={2.5} fill="none" strokeLinecap="round" strokeLinejoin="round" />
    ) : null}
  </Svg>
);
