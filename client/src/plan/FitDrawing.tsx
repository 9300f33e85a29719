import { boxOf, CLEARANCE_MM, fit, HAND_MM, isLithium, type Bank } from '@true-lantern/core';
import { View } from 'react-native';
import Svg, { Circle, G, Line, Rect, Text as SvgText } from 'react-native-svg';
import { useGround } from '../kit/ground';
import { T } from '../kit/text';
import { withUnit } from '../kit/units';

const WIDTH = 340;
const TOP = 26;
const SIDE = 64;

/** The bay from above with the blocks in it: those that are wanted filled, room to grow in outline. */
export function FitDrawing({ bank }: { bank: Bank }) {
  const { colours } = useGround();
  const bay = boxOf(bank.place);
  const block = boxOf(bank.block);
  const wanted = bank.series * bank.parallel;
  if (!bay || !block)
    return (
      <T look="fact" testID="fit-unknown">
        {`Fit: ${bay ? 'the block' : 'the place'} is not measured.`}
      </T>
    );
  const { count, places, above_mm } = fit(bay, block, isLithium(bank.chemistry));
  const scale = Math.min((WIDTH - SIDE) / bay.length_mm, 260 / bay.width_mm);
  const length = bay.length_mm * scale;
  const width = bay.width_mm * scale;
  const mass = bank.block?.mass_kg ? bank.block.mass_kg * wanted : null;
  const bears = bank.place?.maxMass_kg;
  const lying = places.some(({ lies }) => lies);
  const mm = (value: number) => withUnit(value, 'mm', 4);
  return (
    <View className="gap-2" testID="fit">
      <T look="head">
        {count >= wanted
          ? count === wanted
            ? `All ${wanted} go in, and no more`
            : `All ${wanted} go in, with room for ${count - wanted} more`
          : `${count} of ${wanted} go in`}
      </T>
      <Svg
        width={WIDTH}
        height={width + TOP + 8}
        viewBox={`0 0 ${WIDTH} ${width + TOP + 8}`}
        role="img"
        aria-label={`The place from above, ${bay.length_mm} by ${bay.width_mm} mm, with ${Math.min(count, wanted)} of ${wanted} blocks in it`}
      >
        <SvgText
          x={length / 2}
          y={16}
          fontSize={14}
          fill={colours.ink}
          textAnchor="middle"
          fontFamily="HyperlegibleSemi"
        >
          {mm(bay.length_mm)}
        </SvgText>
        <SvgText x={length + 8} y={TOP + width / 2 + 5} fontSize={14} fill={colours.ink} fontFamily="HyperlegibleSemi">
          {mm(bay.width_mm)}
        </SvgText>
        <Rect
          x={1}
          y={TOP}
          width={length - 2}
          height={width}
          fill={colours.well}
          stroke={colours.ink}
          strokeWidth={3}
        />
        {places.map(({ x_mm, y_mm, along_mm, across_mm, lies }, i) => {
          const used = i < wanted;
          const box = { x: x_mm * scale, y: TOP + y_mm * scale, w: along_mm * scale, h: across_mm * scale };
          return (
            <G key={`${x_mm} ${y_mm}`}>
              <Rect
                x={box.x}
                y={box.y}
                width={box.w}
                height={box.h}
                fill={used ? colours.second : colours.paper}
                stroke={used ? colours.paper : colours.second}
                strokeWidth={2}
                {...(used ? {} : { strokeDasharray: '6 4' })}
              />
              {lies ? (
                <Line
                  x1={box.x}
                  y1={box.y + 3}
                  x2={box.x + box.w}
                  y2={box.y + 3}
                  stroke={colours.paper}
                  strokeWidth={2}
                  strokeDasharray="3 3"
                />
              ) : (
                <>
                  <Circle
                    cx={box.x + box.w * 0.2}
                    cy={box.y + box.h * 0.5}
                    r={Math.min(5, box.h / 5)}
                    fill={used ? colours.paper : colours.second}
                  />
                  <Circle
                    cx={box.x + box.w * 0.8}
                    cy={box.y + box.h * 0.5}
                    r={Math.min(5, box.h / 5)}
                    fill={used ? colours.paper : colours.second}
                  />
                </>
              )}
            </G>
          );
        })}
      </Svg>
      <T look="fact">
        {[
          `seen from above, ${CLEARANCE_MM} mm around each`,
          lying ? 'lying on a side where the maker allows it' : null,
          count > 0
            ? `${mm(above_mm)} clear above${above_mm < HAND_MM && !lying ? ': too low for a spanner, each is drawn out to reach its terminals' : ''}`
            : null,
          mass === null
            ? 'mass of a block not known'
            : `${withUnit(mass, 'kg')}${bears ? (mass > bears ? `, and the floor bears ${withUnit(bears, 'kg')}` : ` on a floor for ${withUnit(bears, 'kg')}`) : ''}`,
        ]
          .filter(Boolean)
          .join(' \u00b7 ')}
      </T>
    </View>
  );
}
