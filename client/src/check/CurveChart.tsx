import { figure, type ShadeAnswer } from '@true-lantern/core';
import { View } from 'react-native';
import Svg, { Circle, G, Line, Path } from 'react-native-svg';
import { useWidth } from '../ui/chart';
import { ChartText } from '../ui/chart-text';
import { useGround } from '../ui/ground';
import { T } from '../ui/text';
import { curveLayout, HEIGHT, PAD } from './curve-layout';

interface CurveChartProps {
  answer: ShadeAnswer;
  bank_V: number | null;
  controller: { limit_W: number | null; pwm: boolean };
}

/** Current and power against volts: the current in ink, the power in the lamp's colour, maxima as rings, the best one filled. */
export function CurveChart({ answer, bank_V, controller }: CurveChartProps) {
  const [width, onLayout] = useWidth(350, 280);
  const layout = curveLayout(answer, width, bank_V, controller);
  const { points, best } = answer;
  return (
    <View onLayout={onLayout} testID="curves">
      <Svg
        width={width}
        height={HEIGHT}
        role="img"
        aria-label={`Curves from 0 to ${figure(points.at(-1)?.v ?? 0)} V; best ${figure(best.p)} W at ${figure(best.v)} V`}
      >
        <Axes layout={layout} width={width} />
        <Limits layout={layout} width={width} />
        <Curves layout={layout} />
      </Svg>
      <View className="flex-row justify-between">
        <T look="small" className="text-ink">
          amperes, left
        </T>
        <T look="small" className="text-lamp">
          watts, right
        </T>
      </View>
    </View>
  );
}

type CurveLayout = ReturnType<typeof curveLayout>;

const label = (text: string, at: { x: number; y: number }, anchor: 'start' | 'middle' | 'end', fill: string) => (
  <ChartText key={`${text}${at.x}${at.y}`} {...at} anchor={anchor} fill={fill}>
    {text}
  </ChartText>
);

/** Amperes to the left, watts to the right, volts below. */
function Axes({ layout: { volts, amps, watts, x, y }, width }: { layout: CurveLayout; width: number }) {
  const { colours } = useGround();
  return (
    <>
      {[0, 0.5, 1].map((share) => (
        <G key={share}>
          <Line
            x1={PAD.left}
            x2={width - PAD.right}
            y1={y(share)}
            y2={y(share)}
            stroke={colours.rule}
            strokeWidth={1}
          />
          {label(figure(amps * share, 3), { x: PAD.left - 6, y: y(share) + 5 }, 'end', colours.ink)}
          {label(figure(watts * share, 3), { x: width - PAD.right + 6, y: y(share) + 5 }, 'start', colours.lamp)}
        </G>
      ))}
      {[0, 0.5, 1].map((share) =>
        label(
          `${figure(volts * share, 3)}${share === 1 ? ' V' : ''}`,
          { x: x(volts * share), y: HEIGHT - 8 },
          'middle',
          colours.ink,
        ),
      )}
    </>
  );
}

/** Where the bank holds a pwm controller, and where a controller's output is full. */
function Limits({ layout: { bank, limit, y }, width }: { layout: CurveLayout; width: number }) {
  const { colours } = useGround();
  return (
    <>
      {bank === null ? null : (
        <G>
          <Line x1={bank} x2={bank} y1={PAD.top} y2={y(0)} stroke={colours.ink} strokeWidth={2} strokeDasharray="3 5" />
          {label('bank', { x: bank + 4, y: y(0) - 8 }, 'start', colours.ink)}
        </G>
      )}
      {limit === null ? null : (
        <G>
          <Line
            x1={PAD.left}
            x2={width - PAD.right}
            y1={limit}
            y2={limit}
            stroke={colours.lamp}
            strokeWidth={2}
            strokeDasharray="8 4"
          />
          {label('output full', { x: PAD.left + 6, y: limit - 5 }, 'start', colours.lamp)}
        </G>
      )}
    </>
  );
}

function Curves({ layout: { current, power, maxima, held } }: { layout: CurveLayout }) {
  const { colours } = useGround();
  return (
    <>
      <Path d={current} fill="none" stroke={colours.ink} strokeWidth={3} />
      <Path d={power} fill="none" stroke={colours.lamp} strokeWidth={3} />
      {maxima.map((top) => (
        <Circle
          key={top.x}
          cx={top.x}
          cy={top.y}
          r={7}
          fill={top.best ? colours.lamp : colours.paper}
          stroke={colours.lamp}
          strokeWidth={3}
        />
      ))}
      {held === null ? null : (
        <G>
          <Circle cx={held.x} cy={held.y} r={6} fill={colours.ink} />
          {label(`${figure(held.amps, 3)} A`, { x: held.x - 8, y: held.y + 22 }, 'end', colours.ink)}
        </G>
      )}
    </>
  );
}
