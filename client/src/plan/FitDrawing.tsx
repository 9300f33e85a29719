import { CLEARANCE_MM, HAND_MM, type Bank } from '@true-lantern/core';
import { View } from 'react-native';
import Svg, { Circle, G, Line, Rect, Text as SvgText } from 'react-native-svg';
import { useGround } from '../ui/ground';
import { T } from '../ui/text';
import { useUnits, type Units } from '../data/units';
import { inUnits } from '../ui/units';
import { fitLayout, type FitLayout } from './fit-layout';

/** The bay from above with the blocks in it: those that are wanted filled, room to grow in outline. */
export function FitDrawing({ bank }: { bank: Bank }) {
  const units = useUnits();
  const layout = fitLayout(bank);
  if (typeof layout === 'string')
    return (
      <T look="fact" testID="fit-unknown">
        {`Fit: the ${layout} is not measured.`}
      </T>
    );
  const { count, wanted, above_mm, lying } = layout;
  const mass = bank.block?.mass_kg ? bank.block.mass_kg * wanted : null;
  const bears = bank.place?.maxMass_kg;
  return (
    <View className="gap-2" testID="fit">
      <T look="head">
        {count >= wanted
          ? count === wanted
            ? `All ${wanted} fit, and no more`
            : `All ${wanted} fit, with room for ${count - wanted} more`
          : `${count} of ${wanted} fit`}
      </T>
      <Drawing layout={layout} />
      <T look="fact">
        {[
          `seen from above, ${mm(CLEARANCE_MM, units)} around each`,
          lying ? 'on their side, if the maker allows it' : null,
          count > 0
            ? `${mm(above_mm, units)} clear above${above_mm < HAND_MM && !lying ? ': too low for a spanner; each block must be pulled out to reach its terminals' : ''}`
            : null,
          mass === null
            ? 'mass of a block not known'
            : `${inUnits(mass, 'kg', units)}${bears ? (mass > bears ? `, but the floor carries only ${inUnits(bears, 'kg', units)}` : ` on a floor for ${inUnits(bears, 'kg', units)}`) : ''}`,
        ]
          .filter(Boolean)
          .join(' \u00b7 ')}
      </T>
    </View>
  );
}

const mm = (value: number, units: Units) => inUnits(value, 'mm', units, 4);

function Drawing({ layout: { width, height, bay, blocks, count, wanted } }: { layout: FitLayout }) {
  const units = useUnits();
  const { colours } = useGround();
  const measure = { fontSize: 14, fill: colours.ink, fontFamily: 'HyperlegibleSemi' };
  return (
    <Svg
      width={width}
      height={height}
      viewBox={`0 0 ${width} ${height}`}
      role="img"
      aria-label={`The space from above, ${bay.length_mm} by ${bay.width_mm} mm, with ${Math.min(count, wanted)} of ${wanted} blocks in it`}
    >
      <SvgText x={bay.w / 2} y={16} textAnchor="middle" {...measure}>
        {mm(bay.length_mm, units)}
      </SvgText>
      <SvgText x={bay.w + 8} y={bay.y + bay.h / 2 + 5} {...measure}>
        {mm(bay.width_mm, units)}
      </SvgText>
      <Rect x={1} y={bay.y} width={bay.w - 2} height={bay.h} fill={colours.well} stroke={colours.ink} strokeWidth={3} />
      {blocks.map(({ x, y, w, h, used, lies, posts }) => (
        <G key={`${x} ${y}`}>
          <Rect
            x={x}
            y={y}
            width={w}
            height={h}
            fill={used ? colours.second : colours.paper}
            stroke={used ? colours.paper : colours.second}
            strokeWidth={2}
            {...(used ? {} : { strokeDasharray: '6 4' })}
          />
          {lies ? (
            <Line
              x1={x}
              y1={y + 3}
              x2={x + w}
              y2={y + 3}
              stroke={colours.paper}
              strokeWidth={2}
              strokeDasharray="3 3"
            />
          ) : null}
          {posts.map((post) => (
            <Circle key={post.x} cx={post.x} cy={post.y} r={post.r} fill={used ? colours.paper : colours.second} />
          ))}
        </G>
      ))}
    </Svg>
  );
}
