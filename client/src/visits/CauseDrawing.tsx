import type { CauseCode, TermDrawing } from '@true-lantern/core';
import type { ReactNode } from 'react';
import { Circle, G, Line, Path, Rect } from 'react-native-svg';
import { useGround, type Colours } from '../ui/ground';
import { letters, onLamp, SmallDrawing, spot, stroke, TermPicture } from '../ui/term-drawing';

/** What a cause looks like on site, as a small drawing: where to look. Those that are a term have the term's drawing. */
export function CauseDrawing({ code }: { code: CauseCode }) {
  const { colours } = useGround();
  const drawing = DRAWINGS[code];
  return typeof drawing === 'function' ? (
    <SmallDrawing>{drawing(colours)}</SmallDrawing>
  ) : (
    <TermPicture drawing={drawing} />
  );
}

type Drawn = (ink: Colours) => ReactNode;

/** A row of blocks, each filled to its share; `gap` before one that is not connected. */
const blocks =
  (levels: readonly number[], more?: Drawn): Drawn =>
  (ink) => (
    <G>
      {levels.map((level, i) => (
        <G key={i}>
          <Rect x={8 + 31 * i} y={28} width={25} height={46} {...stroke(ink.ink)} />
          <Rect x={17 + 31 * i} y={22} width={7} height={6} fill={ink.ink} />
          <Rect x={10 + 31 * i} y={72 - 42 * level} width={21} height={42 * level} fill={ink.lamp} />
        </G>
      ))}
      {more?.(ink)}
    </G>
  );

/** A row of modules on their string. */
const modules =
  (count: number, more: Drawn): Drawn =>
  (ink) => (
    <G>
      {Array.from({ length: count }, (_, i) => (
        <G key={i}>
          <Rect x={6 + 42 * i} y={14} width={36} height={50} {...stroke(ink.ink)} />
          <Path d={`M${18 + 42 * i} 14 V64 M${30 + 42 * i} 14 V64`} {...stroke(ink.ink, 1)} />
        </G>
      ))}
      {more(ink)}
    </G>
  );

const cable = (ink: Colours, width = 6) => <Path d="M4 42 H128" {...stroke(ink.ink, width)} />;
const heat = (ink: Colours, x: number) => (
  <Path d={`M${x - 12} 26 q4 -6 0 -12 M${x} 24 q4 -6 0 -12 M${x + 12} 26 q4 -6 0 -12`} {...stroke(ink.ink, 2)} />
);
const cross = (ink: Colours, x: number, y: number) => (
  <Path d={`M${x - 7} ${y - 7} l14 14 M${x + 7} ${y - 7} l-14 14`} {...stroke(ink.ink, 3)} />
);

/** Power over voltage, with two hilltops. */
const hills: Drawn = (ink) => (
  <G>
    <Path d="M18 6 V70 H126" {...stroke(ink.ink)} />
    <Path d="M18 70 C 40 20 52 20 62 48 C 72 64 84 10 98 16 C 108 22 112 56 116 70" {...stroke(ink.ink)} />
    {spot(49, 32, ink)}
    {letters(8, 16, 'W', ink)}
    {letters(124, 82, 'V', ink, 'end')}
  </G>
);

const DRAWINGS: Record<CauseCode, TermDrawing | Drawn> = {
  'nothing-wrong': (ink) => <Path d="M38 44 L58 64 L98 20" {...stroke(ink.ink, 8)} />,
  'bank-full': blocks([1, 1, 1, 1]),
  joint: (ink) => (
    <G>
      {cable(ink)}
      <Rect x={52} y={30} width={28} height={24} fill={ink.lamp} stroke={ink.ink} strokeWidth={2.5} />
      <Circle cx={66} cy={42} r={5} fill={ink.ink} />
      {heat(ink, 66)}
    </G>
  ),
  'capacity-lost': blocks([0.45, 0.45, 0.45, 0.45]),
  'group-shaded': modules(3, (ink) => <Rect x={60} y={14} width={12} height={50} fill={ink.ink} />),
  undercharged: { kind: 'gauge', mark: 'charge' },
  soiled: modules(3, (ink) => (
    <G>
      {[14, 26, 33, 55, 62, 70, 97, 104, 112].map((x, i) => (
        <Circle key={x} cx={x} cy={24 + ((i * 13) % 34)} r={3.5} fill={ink.ink} />
      ))}
    </G>
  )),
  'string-open': modules(3, (ink) => (
    <G>
      <Path d="M24 64 V74 H56 M76 74 H108 V64" {...stroke(ink.ink)} />
      {cross(ink, 66, 74)}
    </G>
  )),
  'absorb-low': { kind: 'stages', mark: 'absorb' },
  'cable-thin': (ink) => (
    <G>
      <Path d="M4 42 H40 M92 42 H128" {...stroke(ink.ink, 12)} />
      <Path d="M40 42 H92" {...stroke(ink.ink, 3)} />
      {heat(ink, 66)}
    </G>
  ),
  misread: (ink) => (
    <G>
      <Rect x={40} y={12} width={52} height={60} fill={ink.lamp} stroke={ink.ink} strokeWidth={2.5} />
      {letters(66, 40, '1.25', onLamp(ink))}
      {letters(66, 60, '12.5 ?', onLamp(ink))}
    </G>
  ),
  'bypass-shorted': { kind: 'device', mark: 'diode' },
  'controller-limited': { kind: 'curve', mark: 'clip' },
  'block-open': blocks([0.9, 0.9, 0, 0.9], (ink) => cross(ink, 82, 14)),
  parasitic: { kind: 'clamp', mark: 'idle' },
  'shunt-parameters': { kind: 'device', mark: 'shunt' },
  'pv-joint': modules(2, (ink) => (
    <G>
      <Path d="M42 64 V74 H128" {...stroke(ink.ink)} />
      {spot(106, 74, ink)}
      {heat(ink, 106)}
    </G>
  )),
  'earth-fault': { kind: 'probes', mark: 'insulation' },
  'cell-shorted': blocks([0.9, 0.9, 0.75, 0.9], (ink) => (
    <Path d="M82 34 l-6 16 h10 l-6 18" {...stroke(ink.ink, 2.5)} />
  )),
  'same-end': (ink) => (
    <G>
      {[18, 56].map((y) => (
        <G key={y}>
          <Rect x={44} y={y - 10} width={34} height={20} {...stroke(ink.ink)} />
          <Rect x={86} y={y - 10} width={34} height={20} {...stroke(ink.ink)} />
          <Path d={`M78 ${y} H86`} {...stroke(ink.ink)} />
        </G>
      ))}
      <Path d="M44 18 H24 V56 H44 M4 18 H24 M120 18 H126 V56 H120 M4 78 H126 V56" {...stroke(ink.ink)} />
      {spot(24, 18, ink)}
    </G>
  ),
  'shunt-bypassed': (ink) => (
    <G>
      <Path d="M4 34 H44 M88 34 H128" {...stroke(ink.ink, 4)} />
      <Rect x={44} y={24} width={44} height={20} fill={ink.lamp} stroke={ink.ink} strokeWidth={2.5} />
      <Path d="M22 34 V70 H110 V34" {...stroke(ink.ink, 3)} />
      {spot(66, 70, ink)}
    </G>
  ),
  'lithium-cold': blocks([0.6, 0.6, 0.6, 0.6], (ink) => (
    <Path d="M66 2 V20 M58 6 L74 16 M74 6 L58 16" {...stroke(ink.ink, 2)} />
  )),
  'lithium-imbalance': blocks([0.9, 0.6, 0.95, 0.4]),
  'lithium-tripped': { kind: 'device', mark: 'bms' },
  'cutoff-misset': { kind: 'gauge', mark: 'cutoff' },
  'start-grown': { kind: 'wave', mark: 'surge' },
  'module-wrong': modules(3, (ink) => (
    <G>
      <Rect x={90} y={14} width={36} height={50} fill={ink.lamp} stroke={ink.ink} strokeWidth={2.5} />
      {letters(108, 44, '?', onLamp(ink))}
    </G>
  )),
  'pwm-as-mppt': { kind: 'curve', mark: 'mpp' },
  'local-maximum': hills,
  'charger-loop': (ink) => (
    <G>
      <Rect x={12} y={30} width={40} height={24} fill={ink.lamp} stroke={ink.ink} strokeWidth={2.5} />
      <Rect x={80} y={30} width={40} height={24} fill={ink.lamp} stroke={ink.ink} strokeWidth={2.5} />
      <Path d="M32 30 C 32 6 100 6 100 26 M94 20 L100 28 L107 21" {...stroke(ink.ink)} />
      <Path d="M100 54 C 100 80 32 80 32 58 M26 64 L32 56 L39 63" {...stroke(ink.ink)} />
    </G>
  ),
  'relay-stuck': (ink) => (
    <G>
      <Path d="M4 42 H44 M88 42 H128" {...stroke(ink.ink, 4)} />
      <Line x1={44} y1={42} x2={88} y2={42} {...stroke(ink.ink, 4)} />
      <Rect x={40} y={26} width={52} height={32} {...stroke(ink.ink)} strokeDasharray="5 4" />
      {spot(88, 42, ink)}
    </G>
  ),
  'bond-fault': { kind: 'device', mark: 'bond' },
};
