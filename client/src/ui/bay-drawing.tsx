import { bayOf, CLEARANCE_MM, HAND_MM, type Bank, type Bay, type System } from '@true-lantern/core';
import { View } from 'react-native';
import Svg, { Circle, G, Line, Path, Rect, Text as SvgText } from 'react-native-svg';
import { useUnits, type Units } from '../data/units';
import { bayLayout, type BayLayout } from './bay-layout';
import { useGround } from './ground';
import { T } from './text';
import { inUnits, sizeText } from './units';

/** The bay from above and from the front: blocks that are wanted filled, room to grow in outline, what a hand and a cable have. */
export function BayDrawing({ system, bank }: { system: Pick<System, 'runs'>; bank: Bank }) {
  const units = useUnits();
  const bay = bayOf(system, bank);
  if (typeof bay === 'string')
    return (
      <T look="fact" testID="fit-unknown">
        {`Fit: the ${bay} is not measured.`}
      </T>
    );
  const layout = bayLayout(bay);
  return (
    <View className="gap-2" testID="fit">
      <T look="head">{fitText(bay)}</T>
      <FromAbove bay={bay} layout={layout} />
      {bay.fit.count > 0 ? <FromFront bay={bay} layout={layout} /> : null}
      {bay.fit.count > 0 && !bay.hand ? (
        <T className="border-l-4 border-ink pl-3">
          {`Only ${mm(bay.fit.above_mm, units)} above the terminals: too low for a spanner. Each block must be pulled out to reach them.`}
        </T>
      ) : null}
      {bay.fit.count > 0 && bay.cable && !bay.cable.fits && !bay.lying ? (
        <T className="border-l-4 border-ink pl-3">
          {`A ${sizeText(bay.cable.size, units)} cable bends no tighter than ${mm(bay.cable.bend_mm, units)}: lead it off to the side, not upwards.`}
        </T>
      ) : null}
      <T look="fact">{factText(bay, units)}</T>
    </View>
  );
}

function fitText({ fit: { count }, wanted }: Bay): string {
  if (count < wanted) return `${count} of ${wanted} fit`;
  return count === wanted
    ? `All ${wanted} fit, and no more`
    : `All ${wanted} fit, with room for ${count - wanted} more`;
}

function factText({ lying, mass_kg, bears_kg, cable }: Bay, units: Units): string {
  const mass =
    mass_kg === null
      ? 'mass of a block not known'
      : `${inUnits(mass_kg, 'kg', units)}${bears_kg ? (mass_kg > bears_kg ? `, but the floor carries only ${inUnits(bears_kg, 'kg', units)}` : ` on a floor for ${inUnits(bears_kg, 'kg', units)}`) : ''}`;
  return [
    `${mm(CLEARANCE_MM, units)} of air around each block, ${mm(HAND_MM, units)} above for a hand`,
    lying ? 'on their side, if the maker allows it' : null,
    cable ? `the thickest cable is about ${mm(cable.outer_mm, units)} across` : null,
    mass,
  ]
    .filter(Boolean)
    .join(' \u00b7 ');
}

const mm = (value: number, units: Units) => inUnits(value, 'mm', units, 4);

const useMeasure = () => {
  const { colours } = useGround();
  return { fontSize: 14, fill: colours.ink, fontFamily: 'HyperlegibleSemi' };
};

function FromAbove({ bay: { bay, fit, wanted }, layout }: { bay: Bay; layout: BayLayout }) {
  const units = useUnits();
  const { colours } = useGround();
  const measure = useMeasure();
  const { width, height, bay: frame, blocks } = layout;
  return (
    <Svg
      width={width}
      height={height}
      viewBox={`0 0 ${width} ${height}`}
      role="img"
      aria-label={`The bay from above, ${bay.length_mm} by ${bay.width_mm} mm, with ${Math.min(fit.count, wanted)} of ${wanted} blocks in it`}
    >
      <SvgText x={frame.w / 2} y={16} textAnchor="middle" {...measure}>
        {`from above, ${mm(bay.length_mm, units)}`}
      </SvgText>
      <SvgText x={frame.w + 8} y={frame.y + frame.h / 2 + 5} {...measure}>
        {mm(bay.width_mm, units)}
      </SvgText>
      <Rect
        x={1}
        y={frame.y}
        width={frame.w - 2}
        height={frame.h}
        fill={colours.well}
        stroke={colours.ink}
        strokeWidth={3}
      />
      {blocks.map((block) => (
        <G key={`${block.x} ${block.y}`}>
          <Block block={block} />
          {block.lies ? (
            <Line
              x1={block.x}
              y1={block.y + 3}
              x2={block.x + block.w}
              y2={block.y + 3}
              stroke={colours.paper}
              strokeWidth={2}
              strokeDasharray="3 3"
            />
          ) : null}
          {block.posts.map((post) => (
            <Circle
              key={post.x}
              cx={post.x}
              cy={post.y}
              r={post.r}
              fill={block.used ? colours.paper : colours.second}
            />
          ))}
        </G>
      ))}
    </Svg>
  );
}

function FromFront({ bay: { bay, fit, hand, cable }, layout }: { bay: Bay; layout: BayLayout }) {
  const units = useUnits();
  const { colours } = useGround();
  const measure = useMeasure();
  const { height, bay: frame, blocks, clear, bend } = layout.front;
  return (
    <Svg
      width={layout.width}
      height={height}
      viewBox={`0 0 ${layout.width} ${height}`}
      role="img"
      aria-label={`The bay from the front, ${bay.height_mm} mm high, ${fit.above_mm} mm free above the blocks`}
    >
      <SvgText x={frame.w / 2} y={16} textAnchor="middle" {...measure}>
        from the front
      </SvgText>
      <SvgText x={frame.w + 8} y={frame.y + frame.h / 2 + 5} {...measure}>
        {mm(bay.height_mm, units)}
      </SvgText>
      <Rect x={1} y={frame.y} width={frame.w - 2} height={frame.h} fill={colours.well} />
      {blocks.map((block) => (
        <Block key={block.x} block={block} />
      ))}
      <Rect x={1} y={frame.y} width={frame.w - 2} height={frame.h} fill="none" stroke={colours.ink} strokeWidth={3} />
      {bend ? (
        <Path
          d={`M${bend.x} ${bend.y} A${bend.r} ${bend.r} 0 0 1 ${bend.x + bend.r} ${bend.y - bend.r}`}
          fill="none"
          stroke={cable?.fits ? colours.ink : colours.lamp}
          strokeWidth={5}
        />
      ) : null}
      <SvgText x={clear.w - 8} y={Math.max(frame.y + 16, clear.y + clear.h / 2 + 5)} textAnchor="end" {...measure}>
        {`${mm(fit.above_mm, units)} free${hand ? '' : '!'}`}
      </SvgText>
    </Svg>
  );
}

function Block({ block: { x, y, w, h, used } }: { block: BayLayout['front']['blocks'][number] }) {
  const { colours } = useGround();
  return (
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
  );
}
