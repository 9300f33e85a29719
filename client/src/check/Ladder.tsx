import { titleOf, type Rung, lowered } from '@true-lantern/core';
import { View } from 'react-native';
import Svg, { Line, Rect } from 'react-native-svg';
import { partName } from '../data/reading';
import type { OpenSite } from '../data/site';
import { useGround } from '../ui/ground';
import { T } from '../ui/text';
import { withUnit } from '../ui/units';
import { climbed, ROW } from './ladder-layout';

const LEFT = 14;
const RIGHT = 54;

/**
 * The order in which parts give out, as a ladder climbed from the ground: a rung a part, its height by the watts that
 * reach it. Broken rungs at the foot are over already.
 */
export function Ladder({ site, rungs }: { site: OpenSite; rungs: readonly Rung[] }) {
  const { colours } = useGround();
  if (rungs.length === 0) return <T className="text-soft">Record an inverter or a bank first.</T>;
  const conditional = rungs.some(({ extra_W }) => extra_W === 0);
  const placed = climbed(rungs);
  const height = (placed.at(-1)?.up ?? 0) + ROW / 2;
  const y = (up: number) => height - up;
  return (
    <View style={{ height }} testID="ladder">
      <View style={{ position: 'absolute', left: 0, top: 0, pointerEvents: 'none' }} aria-hidden>
        <Svg width={70} height={height}>
          <Rect x={LEFT - 3} y={0} width={6} height={height} fill={colours.ink} />
          <Rect x={RIGHT - 3} y={0} width={6} height={height} fill={colours.ink} />
          {placed.map(({ rung, up }, i) =>
            rung.extra_W === 0 ? (
              <Line
                key={i}
                x1={LEFT}
                x2={RIGHT}
                y1={y(up) - 5}
                y2={y(up) + 5}
                stroke={colours.ink}
                strokeWidth={4}
                strokeDasharray="14 10"
              />
            ) : (
              <Line key={i} x1={LEFT} x2={RIGHT} y1={y(up)} y2={y(up)} stroke={colours.ink} strokeWidth={6} />
            ),
          )}
        </Svg>
      </View>
      {placed.map(({ rung, up }, i) => (
        <View
          key={i}
          style={{ position: 'absolute', left: 78, right: 0, top: y(up) - ROW / 2, height: ROW }}
          className="justify-center"
        >
          <View className="flex-row items-baseline gap-2">
            <T look="figure">{rung.extra_W === 0 ? 'Already over' : `+${withUnit(rung.extra_W, 'W')}`}</T>
            {conditional && rung.extra_W > 0 ? <T look="fact">once that is fixed</T> : null}
          </View>
          <T look="fact" className="text-ink" numberOfLines={2}>
            {partName(site, rung.subject)}: {lowered(titleOf(rung))}
            {rung.quantity ? ` (${rung.quantity})` : ''}
          </T>
        </View>
      ))}
    </View>
  );
}
