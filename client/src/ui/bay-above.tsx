import type { Bay } from '@true-lantern/core';
import { View } from 'react-native';
import Svg, { Circle, G, Line, Rect, Text as SvgText } from 'react-native-svg';
import { useUnits } from '../data/units';
import type { BayLayout } from './bay-layout';
import { ChartText } from './chart-text';
import { useGround } from './ground';
import { inUnits } from './units';
import { webStyle } from './web-only';

interface Props {
  bay: Bay;
  layout: BayLayout;
  /** Of the finger that moves things; absent: nothing may be moved. */
  handlers?: object | undefined;
}

/** The bay from above, its front below; blocks and inverters are moved by thumb or mouse. */
export function BayFromAbove({ bay, layout, handlers }: Props) {
  const units = useUnits();
  const { colours } = useGround();
  const { width, height, bay: frame } = layout;
  const measure = { fontSize: 14, fill: colours.ink, fontFamily: 'HyperlegibleSemi' };
  const said = (value: number) => inUnits(value, 'mm', units, 4);
  return (
    <View {...handlers} style={webStyle({ width, height, touchAction: 'none', cursor: handlers ? 'grab' : 'auto' })}>
      <Svg
        width={width}
        height={height}
        viewBox={`0 0 ${width} ${height}`}
        role="img"
        testID="bay-above"
        aria-label={`The bay from above, ${bay.bay.length_mm} by ${bay.bay.width_mm} mm, with ${Math.min(bay.fit.count, bay.wanted)} of ${bay.wanted} blocks in it`}
      >
        <SvgText x={frame.w / 2} y={16} textAnchor="middle" {...measure}>
          {`from above, ${said(bay.bay.length_mm)}`}
        </SvgText>
        <SvgText x={frame.w + 8} y={frame.y + frame.h / 2 + 5} {...measure}>
          {said(bay.bay.width_mm)}
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
        <SvgText x={frame.w / 2} y={height - 6} textAnchor="middle" {...measure}>
          {bay.opensAbove ? 'opens above' : 'front'}
        </SvgText>
        <Things layout={layout} />
      </Svg>
    </View>
  );
}

/** Room for more in outline, blocks by their number, inverters. */
function Things({ layout: { items, spare } }: { layout: BayLayout }) {
  const { colours } = useGround();
  return (
    <G>
      {spare.map((rect) => (
        <Rect
          key={`${rect.x} ${rect.y}`}
          x={rect.x}
          y={rect.y}
          width={rect.w}
          height={rect.h}
          fill={colours.paper}
          stroke={colours.second}
          strokeWidth={2}
          strokeDasharray="6 4"
        />
      ))}
      {items.map((item) => (
        <G key={item.index}>
          <BayBox item={item} />
          {item.lies ? (
            <Line
              x1={item.x}
              y1={item.y + 3}
              x2={item.x + item.w}
              y2={item.y + 3}
              stroke={colours.paper}
              strokeWidth={2}
              strokeDasharray="3 3"
            />
          ) : null}
          {item.posts.map((post) => (
            <Circle key={post.x} cx={post.x} cy={post.y} r={post.r} fill={colours.paper} />
          ))}
          {item.isBlock && item.w > 36 && item.h > 20 ? (
            <SvgText
              x={item.x + item.w / 2}
              y={item.y + item.h / 2 + 5}
              textAnchor="middle"
              fontSize={14}
              fontFamily="HyperlegibleSemi"
              fill={colours.paper}
            >
              {String(item.index + 1)}
            </SvgText>
          ) : null}
          {item.isBlock ? null : (
            <ChartText x={item.x + item.w / 2} y={item.y + item.h / 2 + 5} anchor="middle">
              ~
            </ChartText>
          )}
        </G>
      ))}
    </G>
  );
}

/** A block, filled, or an inverter, open; in a heavy broken line where something is wrong with how it stands. */
export function BayBox({
  item: { x, y, w, h, isBlock, wrong },
}: {
  item: { x: number; y: number; w: number; h: number; isBlock: boolean; wrong: boolean };
}) {
  const { colours } = useGround();
  return (
    <Rect
      x={x}
      y={y}
      width={w}
      height={h}
      fill={isBlock ? colours.second : colours.paper}
      stroke={wrong ? colours.ink : isBlock ? colours.paper : colours.ink}
      strokeWidth={wrong ? 4 : 2}
      {...(wrong ? { strokeDasharray: '7 4' } : {})}
    />
  );
}
