import { View } from 'react-native';
import Svg, { G, Line, Path } from 'react-native-svg';
import { useWidth } from '../ui/chart';
import { ChartText } from '../ui/chart-text';
import { useGround } from '../ui/ground';
import { withUnit } from '../ui/units';
import { STEPS, stepsLayout, type Stepped } from './steps-layout';

/** What each way costs by which year: a step for every set that is bought. The first is in the lamp's colour, it is the cheapest. */
export function MoneySteps({
  all,
  horizon,
  currency,
}: {
  all: readonly Stepped[];
  horizon: number;
  currency: string | null;
}) {
  const { colours } = useGround();
  const [width, onLayout] = useWidth();
  const { x, y, most, lines } = stepsLayout(all, horizon, width);
  const money = (value: number) => withUnit(value, currency, 5);
  return (
    <View className="mx-[18px] py-2" onLayout={onLayout} testID="money-steps">
      <Svg
        width={width}
        height={STEPS.height}
        role="img"
        aria-label={`Spent over ${horizon} years: ${lines.map(({ title, total }) => `${title} ${money(total)}`).join(', ')}`}
      >
        <Line x1={STEPS.left} x2={x(horizon)} y1={y(0)} y2={y(0)} stroke={colours.ink} strokeWidth={2} />
        {[0.5, 1].map((share) => (
          <G key={share}>
            <Line
              x1={STEPS.left}
              x2={x(horizon)}
              y1={y(most * share)}
              y2={y(most * share)}
              stroke={colours.rule}
              strokeWidth={1}
            />
            <ChartText x={STEPS.left - 6} y={y(most * share) + 5} anchor="end">
              {withUnit(most * share, null, 2)}
            </ChartText>
          </G>
        ))}
        {[...lines].reverse().map(({ id, title, path, end, labelY }) => {
          const first = id === lines[0]?.id;
          return (
            <G key={id}>
              <Path d={path} fill="none" stroke={first ? colours.lamp : colours.ink} strokeWidth={first ? 4 : 2} />
              <ChartText x={end.x + 6} y={labelY} anchor="start" fill={first ? colours.lamp : colours.ink}>
                {title}
              </ChartText>
            </G>
          );
        })}
        {[0, Math.round(horizon / 2), horizon].map((year) => (
          <ChartText key={year} x={x(year)} y={STEPS.height - 8} anchor="middle">
            {year === horizon ? `${year} years` : String(year)}
          </ChartText>
        ))}
      </Svg>
    </View>
  );
}
