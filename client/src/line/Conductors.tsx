import {
  arrowPath,
  isLoud,
  runsOn,
  type Arrow,
  type CableRow,
  type Ink,
  type LeverRow,
  type LineLayout,
  type LineRow,
} from '@true-lantern/core';
import Svg, { Circle, G, Line as Stroke, Path, Text as SvgText } from 'react-native-svg';
import { useGround } from '../ui/ground';
import { MarkShape } from '../ui/mark';

/** All strokes of the drawing. */
export function Conductors({ layout }: { layout: LineLayout }) {
  const { colours } = useGround();
  const inkColour = (ink: Ink) =>
    ink === 'new' || ink === 'changed' ? colours.second : ink === 'off' ? colours.soft : colours.ink;
  return (
    <Svg width={layout.gutter} height={layout.height}>
      {layout.stretches.map(({ lane, from, to, stroke, ink }, i) => (
        <Stroke
          key={i}
          x1={layout.laneX(lane)}
          x2={layout.laneX(lane)}
          y1={from}
          y2={to}
          stroke={inkColour(ink)}
          strokeWidth={stroke}
        />
      ))}
      {layout.rows.map((row, i) => (
        <Drawn key={i} row={row} next={layout.rows[i + 1]} x={layout.laneX(row.lane)} ink={inkColour} />
      ))}
      {layout.arrows.map((arrow, i) => (
        <ArrowDrawing key={i} arrow={arrow} x={layout.laneX(arrow.lane)} />
      ))}
    </Svg>
  );
}

function ArrowDrawing({ arrow, x }: { arrow: Arrow; x: number }) {
  const { colours } = useGround();
  return <Path d={arrowPath(arrow, x)} fill={colours.ink} stroke={colours.paper} strokeWidth={1.5} />;
}

interface DrawnProps {
  row: LineRow;
  next: LineRow | undefined;
  x: number;
  ink(ink: Ink): string;
}

/** The conductor within one row, and what sits on it. */
function Drawn({ row, next, x, ink }: DrawnProps) {
  const { colours } = useGround();
  const { y, height } = row;
  const middle = y + height / 2;
  if (row.type === 'sun') return <SunDrawing x={x} y={y} height={height} />;
  // The row itself draws the bus, across the whole width.
  if (row.type === 'bus') return null;
  if (row.type === 'lever') return <LeverDrawing lever={row} ink={ink(row.ink)} x={x} />;
  if (row.type === 'cable') return <CableDrawing cable={row} ink={ink(row.ink)} x={x} />;
  if (row.type === 'gap')
    return <Stroke x1={x} x2={x} y1={y} y2={y + height} stroke={colours.soft} strokeWidth={3} strokeDasharray="4 5" />;
  const continues = runsOn(row, next);
  const colour = ink(row.ink);
  if (row.type === 'load' || row.type === 'loads')
    return (
      <G>
        <Stroke x1={x} x2={x} y1={y} y2={continues ? y + height : middle} stroke={colour} strokeWidth={2.5} />
        {isLoud(row) ? (
          <G transform={`translate(${x}, ${middle}) scale(0.75)`}>
            <MarkShape verdict={row.worst?.verdict ?? null} ink={colour} />
          </G>
        ) : (
          <Circle cx={x} cy={middle} r={5} fill={colours.paper} stroke={colour} strokeWidth={2.5} />
        )}
      </G>
    );
  if (row.ink === 'gone')
    return <Circle cx={x} cy={middle} r={5} fill={colours.paper} stroke={colours.soft} strokeWidth={2} />;
  return (
    <G>
      <Stroke x1={x} x2={x} y1={y} y2={continues ? y + height : y + 26} stroke={colour} strokeWidth={3} />
      <G transform={`translate(${x}, ${y + Math.min(26, height / 2)})`}>
        <MarkShape verdict={row.worst?.verdict ?? null} ink={colour} />
      </G>
    </G>
  );
}

function SunDrawing({ x, y, height }: { x: number; y: number; height: number }) {
  const { colours } = useGround();
  const base = y + height - 16;
  const ray = (angle: number) => {
    const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
    return `M${x + 17 * cos} ${base - 17 * sin} L${x + 23 * cos} ${base - 23 * sin}`;
  };
  return (
    <G>
      <Path d={`M${x - 11} ${base} a11 11 0 0 1 22 0`} fill="none" stroke={colours.lamp} strokeWidth={2.5} />
      <Path d={[0.5, 1.05, Math.PI / 2, 2.09, 2.64].map(ray).join(' ')} stroke={colours.lamp} strokeWidth={2.5} />
      <Stroke x1={x - 20} x2={x + 20} y1={base + 1} y2={base + 1} stroke={colours.ink} strokeWidth={2} />
      <Stroke x1={x} x2={x} y1={base + 1} y2={y + height} stroke={colours.ink} strokeWidth={3} />
    </G>
  );
}

/** A fuse is a break in the stroke: two bars with its rating between. What is over is marked on the cable itself. */
function CableDrawing({ cable, ink, x }: { cable: CableRow & LineRow; ink: string; x: number }) {
  const { y, height, stroke, fuse } = cable;
  const { colours } = useGround();
  // A low row has room for one of the two: its words say the verdict, nothing else says the fuse.
  const loud = isLoud(cable) && (fuse === null || height >= 40);
  // The mark has the lower half where a fuse takes the upper one.
  const middle = loud && fuse !== null ? y + Math.min(24, height / 3) : y + height / 2;
  const mark = fuse === null ? middle : y + height - 16;
  const reach = Math.min(12, height / 2 - 2);
  return (
    <G>
      <Stroke x1={x} x2={x} y1={y} y2={y + height} stroke={ink} strokeWidth={stroke} />
      {fuse === null ? null : (
        <G>
          <Path d={`M${x - 10} ${middle - reach} h20 v${2 * reach} h-20 z`} fill={colours.paper} />
          <Stroke
            x1={x - 9}
            x2={x + 9}
            y1={middle - reach + 1}
            y2={middle - reach + 1}
            stroke={ink}
            strokeWidth={2.5}
          />
          <Stroke
            x1={x - 9}
            x2={x + 9}
            y1={middle + reach - 1}
            y2={middle + reach - 1}
            stroke={ink}
            strokeWidth={2.5}
          />
          <SvgText
            x={x}
            y={middle + 5}
            fontFamily="HyperlegibleBold"
            fontSize={fuse.length > 2 ? 13 : 14}
            textAnchor="middle"
            fill={ink}
          >
            {fuse}
          </SvgText>
        </G>
      )}
      {loud ? (
        <G transform={`translate(${x}, ${mark}) scale(0.8)`}>
          <MarkShape verdict={cable.worst?.verdict ?? null} ink={ink} />
        </G>
      ) : null}
    </G>
  );
}

/** A switch is an arm that stands off the stroke, between two contacts. */
function LeverDrawing({ lever, ink, x }: { lever: LeverRow & LineRow; ink: string; x: number }) {
  const { y, height, stroke } = lever;
  const { colours } = useGround();
  const middle = y + height / 2;
  const reach = Math.min(14, height / 2 - 2);
  return (
    <G>
      <Stroke x1={x} x2={x} y1={y} y2={middle - reach} stroke={ink} strokeWidth={stroke} />
      <Stroke x1={x} x2={x} y1={middle + reach} y2={y + height} stroke={ink} strokeWidth={stroke} />
      <Stroke x1={x} x2={x + 13} y1={middle + reach - 4} y2={middle - reach + 3} stroke={ink} strokeWidth={3} />
      <Circle cx={x} cy={middle - reach + 3} r={4} fill={colours.paper} stroke={ink} strokeWidth={2} />
      <Circle cx={x} cy={middle + reach - 3} r={4} fill={colours.paper} stroke={ink} strokeWidth={2} />
    </G>
  );
}
