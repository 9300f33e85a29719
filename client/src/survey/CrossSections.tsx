import { area_mm2, sizeWords, stepOfSize } from '@true-lantern/core';
import Svg, { Circle, G } from 'react-native-svg';
import { ChartText } from '../ui/chart-text';
import { useGround } from '../ui/ground';
import { usePretty } from '../ui/units';

const HEIGHT = 126;
const WIDTH = 330;
/** Of the largest that is sold, px; the bare copper, drawn to one scale. */
const LARGEST = 40;

/** The conductor's copper beside the next size down and up, to one scale: to hold against what one sees. */
export function CrossSections({ size }: { size: string }) {
  const pretty = usePretty();
  const { colours } = useGround();
  const sizes = [...new Set([stepOfSize(size, -1), size, stepOfSize(size, 1)])].filter((one) => one !== null);
  const most = Math.max(...sizes.map((one) => area_mm2(one)));
  const pitch = WIDTH / sizes.length;
  return (
    <Svg
      width={WIDTH}
      height={HEIGHT}
      role="img"
      aria-label={`Copper to scale: ${sizes.map((one) => `${sizeWords(one)} is ${diameter_mm(one)} mm across`).join(', ')}`}
      testID="cross-sections"
    >
      {sizes.map((one, i) => (
        <G key={one}>
          <Circle
            cx={pitch * (i + 0.5)}
            cy={44}
            r={LARGEST * Math.sqrt(area_mm2(one) / most)}
            fill={one === size ? colours.lamp : colours.paper}
            stroke={colours.ink}
            strokeWidth={2}
          />
          <ChartText x={pitch * (i + 0.5)} y={102} anchor="middle">
            {pretty(sizeWords(one))}
          </ChartText>
          <ChartText x={pitch * (i + 0.5)} y={120} anchor="middle">
            {`${diameter_mm(one)} mm`}
          </ChartText>
        </G>
      ))}
    </Svg>
  );
}

/** Across the copper, mm, were it solid; strands are a tenth more. */
const diameter_mm = (size: string) => Math.round(20 * Math.sqrt(area_mm2(size) / Math.PI)) / 10;
