import type { TermDrawing } from '@true-lantern/core';
import type { PropsWithChildren } from 'react';
import { View } from 'react-native';
import Svg, { Circle, G, Line, Path, Rect, Text } from 'react-native-svg';
import { useGround, type Colours } from './ground';

/** The small drawings of the glossary: black strokes, what is meant filled or marked with the lamp's colour. */

const WIDTH = 132;
const HEIGHT = 84;

/** The drawing of a term, 132 by 84 px. */
export function TermPicture({ drawing }: { drawing: TermDrawing }) {
  const { colours } = useGround();
  return <SmallDrawing>{drawn(drawing, colours)}</SmallDrawing>;
}

/** The frame of every small drawing, 132 by 84 px; the words beside it say the same. */
export const SmallDrawing = ({ children }: PropsWithChildren) => (
  <View aria-hidden>
    <Svg width={WIDTH} height={HEIGHT} viewBox={`0 0 ${WIDTH} ${HEIGHT}`}>
      {children}
    </Svg>
  </View>
);

function drawn(drawing: TermDrawing, ink: Colours) {
  if (drawing.kind === 'curve') return curve(drawing.mark, ink);
  if (drawing.kind === 'stages') return stages(drawing.mark, ink);
  if (drawing.kind === 'gauge') return gauge(drawing.mark, ink);
  if (drawing.kind === 'probes') return probes(drawing.mark, ink);
  if (drawing.kind === 'clamp') return clamp(drawing.mark, ink);
  if (drawing.kind === 'wave') return wave(drawing.mark, ink);
  return device(drawing.mark, ink);
}

/** A stroke of a small drawing. */
export const stroke = (ink: string, width = 2.5) => ({ stroke: ink, strokeWidth: width, fill: 'none' });
/** What is meant, marked. */
export const spot = (x: number, y: number, { ink, lamp }: Colours) => (
  <Circle cx={x} cy={y} r={6} fill={lamp} stroke={ink} strokeWidth={2} />
);
/** For words upon what is filled. */
export const onLamp = (ink: Colours): Colours => ({ ...ink, ink: ink.paper });
/** A word or a sign within a small drawing. */
export const letters = (
  x: number,
  y: number,
  text: string,
  { ink }: Colours,
  anchor: 'start' | 'middle' | 'end' = 'middle',
) => (
  <Text x={x} y={y} fontFamily="Hyperlegible" fontSize={13} fill={ink} textAnchor={anchor}>
    {text}
  </Text>
);

/** Current over voltage. */
function curve(mark: 'voc' | 'isc' | 'mpp' | 'clip' | 'cold', ink: Colours) {
  return (
    <G>
      <Path d="M18 6 V70 H126" {...stroke(ink.ink)} />
      <Path d="M18 22 H78 C 96 22 102 40 106 70" {...stroke(ink.ink)} />
      {mark === 'cold' ? (
        <Path d="M18 24 H88 C 106 24 114 42 120 70" {...stroke(ink.soft)} strokeDasharray="4 4" />
      ) : null}
      {mark === 'clip' ? <Path d="M18 40 H126" {...stroke(ink.soft)} strokeDasharray="4 4" /> : null}
      {mark === 'voc' || mark === 'cold' ? spot(mark === 'cold' ? 120 : 106, 70, ink) : null}
      {mark === 'isc' ? spot(18, 22, ink) : null}
      {mark === 'mpp' ? spot(90, 28, ink) : null}
      {letters(8, 16, 'A', ink)}
      {letters(124, 82, 'V', ink, 'end')}
    </G>
  );
}

/** Charging voltage over time. */
function stages(mark: 'absorb' | 'float' | 'equalise' | 'tail', ink: Colours) {
  return (
    <G>
      <Path d="M18 6 V70 H126" {...stroke(ink.ink)} />
      <Path d="M18 56 C 30 40 38 28 48 26 H80 L86 42 H124" {...stroke(ink.ink)} />
      {mark === 'equalise' ? <Path d="M80 26 V14 H100 V42" {...stroke(ink.ink)} strokeDasharray="4 4" /> : null}
      {mark === 'tail' ? <Path d="M18 34 H44 C 56 34 62 60 82 63" {...stroke(ink.soft)} /> : null}
      {mark === 'absorb' ? spot(64, 26, ink) : null}
      {mark === 'float' ? spot(106, 42, ink) : null}
      {mark === 'equalise' ? spot(90, 14, ink) : null}
      {mark === 'tail' ? spot(82, 63, ink) : null}
      {letters(8, 16, 'V', ink)}
      {letters(124, 82, 'h', ink, 'end')}
    </G>
  );
}

/** A battery as a gauge. */
function gauge(mark: 'charge' | 'depth' | 'cutoff' | 'reconnect', ink: Colours) {
  const level = mark === 'cutoff' ? 58 : mark === 'reconnect' ? 34 : 40;
  return (
    <G>
      <Rect x={46} y={10} width={40} height={66} {...stroke(ink.ink)} />
      <Rect x={58} y={4} width={16} height={6} fill={ink.ink} />
      {mark === 'depth' ? (
        <Rect x={49} y={13} width={34} height={level - 13} fill={ink.lamp} />
      ) : (
        <Rect x={49} y={level} width={34} height={73 - level} fill={ink.lamp} />
      )}
      <Line x1={36} x2={96} y1={level} y2={level} {...stroke(ink.ink, 3)} />
      {letters(102, level + 5, mark === 'charge' ? '%' : mark === 'depth' ? '%' : 'V', ink, 'start')}
      {mark === 'cutoff' ? letters(30, level + 5, '\u2193', ink) : null}
      {mark === 'reconnect' ? letters(30, level + 5, '\u2191', ink) : null}
    </G>
  );
}

/** A meter with its two probes. */
function probes(mark: 'rest' | 'load' | 'drop' | 'insulation' | 'cell', ink: Colours) {
  const ends: [number, number] = mark === 'drop' ? [22, 110] : mark === 'insulation' ? [22, 96] : [42, 90];
  return (
    <G>
      {mark === 'drop' ? (
        <Path d="M8 68 H124" {...stroke(ink.ink, 6)} />
      ) : mark === 'insulation' ? (
        <G>
          <Rect x={8} y={58} width={50} height={20} {...stroke(ink.ink)} />
          <Path d="M84 62 H124 M92 69 H116 M100 76 H108" {...stroke(ink.ink)} />
        </G>
      ) : (
        <G>
          <Rect x={30} y={56} width={72} height={24} {...stroke(ink.ink)} />
          {mark === 'cell' ? (
            <Path d="M42 56 V80 M54 56 V80 M66 56 V80 M78 56 V80 M90 56 V80" {...stroke(ink.ink, 1.5)} />
          ) : null}
          {letters(42, 73, '+', ink)}
          {letters(90, 73, '\u2212', ink)}
        </G>
      )}
      <Rect x={46} y={4} width={40} height={24} fill={ink.lamp} stroke={ink.ink} strokeWidth={2.5} />
      {letters(66, 21, mark === 'insulation' ? 'M\u03a9' : 'V', onLamp(ink))}
      <Path d={`M52 28 C 52 44 ${ends[0]} 40 ${ends[0]} 56`} {...stroke(ink.ink)} />
      <Path d={`M80 28 C 80 44 ${ends[1]} 40 ${ends[1]} 56`} {...stroke(ink.ink)} />
      {mark === 'load' ? <Path d="M112 60 l8 8 l-8 8" {...stroke(ink.ink)} /> : null}
    </G>
  );
}

/** A clamp meter round a cable. */
function clamp(mark: 'flow' | 'idle', ink: Colours) {
  return (
    <G>
      <Path d="M6 30 H126" {...stroke(ink.ink, mark === 'flow' ? 9 : 5)} />
      <Path d="M52 42 C 40 12 92 12 80 42" {...stroke(ink.ink, 4)} />
      <Rect x={48} y={42} width={36} height={36} fill={ink.lamp} stroke={ink.ink} strokeWidth={2.5} />
      {letters(66, 65, mark === 'idle' ? '0.9' : 'A', onLamp(ink))}
    </G>
  );
}

/** Watts over time. */
function wave(mark: 'sine' | 'surge' | 'factor', ink: Colours) {
  if (mark === 'surge')
    return (
      <G>
        <Path d="M18 6 V70 H126" {...stroke(ink.ink)} />
        <Path d="M18 68 H34 V14 C 40 14 44 48 56 50 H124" {...stroke(ink.ink)} />
        {spot(34, 14, ink)}
        {letters(8, 16, 'W', ink)}
        {letters(124, 82, 's', ink, 'end')}
      </G>
    );
  if (mark === 'factor')
    return (
      <G>
        <Path d="M16 70 H110 L110 22 Z" {...stroke(ink.ink)} fill={ink.lamp} />
        {letters(62, 83, 'W', ink)}
        {letters(54, 40, 'VA', ink)}
      </G>
    );
  return (
    <G>
      <Line x1={8} x2={126} y1={42} y2={42} {...stroke(ink.soft, 1.5)} />
      <Path d="M8 42 C 18 4 36 4 46 42 S 74 80 84 42" {...stroke(ink.ink, 3)} />
      <Path d="M88 42 V20 H104 V42 V64 H120 V42" {...stroke(ink.soft, 2.5)} strokeDasharray="4 3" />
    </G>
  );
}

/** What sits in a cable. */
function device(mark: 'fuse' | 'switch' | 'shunt' | 'bond' | 'precharge' | 'diode' | 'bms', ink: Colours) {
  const cable = <Path d="M4 42 H44 M88 42 H128" {...stroke(ink.ink, 4)} />;
  if (mark === 'fuse')
    return (
      <G>
        {cable}
        <Rect x={44} y={28} width={44} height={28} fill={ink.lamp} stroke={ink.ink} strokeWidth={2.5} />
        <Path d="M44 42 C 56 30 76 54 88 42" {...stroke(ink.ink)} />
      </G>
    );
  if (mark === 'switch')
    return (
      <G>
        {cable}
        <Line x1={44} y1={42} x2={82} y2={18} {...stroke(ink.ink, 4)} />
        {spot(44, 42, ink)}
        {spot(88, 42, ink)}
      </G>
    );
  if (mark === 'shunt')
    return (
      <G>
        {cable}
        <Rect x={44} y={32} width={44} height={20} fill={ink.lamp} stroke={ink.ink} strokeWidth={2.5} />
        <Path d="M52 52 V70 M80 52 V70" {...stroke(ink.ink)} />
        {letters(66, 80, 'mV', ink)}
      </G>
    );
  if (mark === 'diode')
    return (
      <G>
        <Rect x={14} y={38} width={104} height={34} {...stroke(ink.ink)} />
        <Path d="M30 38 V16 H56 M78 16 H102 V38" {...stroke(ink.ink)} />
        <Path d="M56 6 V26 L76 16 Z" fill={ink.lamp} stroke={ink.ink} strokeWidth={2} />
        <Path d="M78 6 V26" {...stroke(ink.ink)} />
      </G>
    );
  if (mark === 'bms')
    return (
      <G>
        {[14, 42, 70, 98].map((x) => (
          <Rect key={x} x={x} y={44} width={22} height={34} {...stroke(ink.ink)} />
        ))}
        <Rect x={40} y={6} width={54} height={22} fill={ink.lamp} stroke={ink.ink} strokeWidth={2.5} />
        <Path d="M25 44 L46 28 M53 44 L58 28 M81 44 L76 28 M109 44 L88 28" {...stroke(ink.ink, 1.5)} />
      </G>
    );
  if (mark === 'bond')
    return (
      <G>
        <Path d="M10 22 H122 M10 62 H122" {...stroke(ink.ink, 4)} />
        <Path d="M66 22 V62" {...stroke(ink.ink, 3)} />
        {spot(66, 42, ink)}
        {letters(16, 16, 'N', ink)}
        {letters(18, 80, 'PE', ink)}
      </G>
    );
  return (
    <G>
      {cable}
      <Line x1={44} y1={42} x2={82} y2={26} {...stroke(ink.ink, 4)} />
      <Path d="M34 42 V66 H50" {...stroke(ink.ink)} />
      <Rect x={50} y={58} width={32} height={16} fill={ink.lamp} stroke={ink.ink} strokeWidth={2.5} />
      <Path d="M82 66 H98 V42" {...stroke(ink.ink)} />
    </G>
  );
}
