import {
  boundsOf,
  obstacleBox,
  type Bounds,
  type PlacedFault,
  type Roof,
  type RoofPoint,
  type System,
} from '@true-lantern/core';
import { useMemo, type ReactNode } from 'react';
import { View } from 'react-native';
import Svg, { Circle, ClipPath, Defs, G, Path, Rect } from 'react-native-svg';
import { ChartText } from '../ui/chart-text';
import { useDrag, type Drag } from '../ui/drag';
import { useGround } from '../ui/ground';
import { boxOf, pathOf, scaleOf, snapped, type Scale } from './scale';
import { webStyle } from '../ui/web-only';

interface Props {
  system: System;
  roof: Roof;
  /** Modules where they would lie, not placed yet: drawn in outline. */
  ghosts: readonly Bounds[];
  faults: readonly PlacedFault[];
  /** Outlines of shadows, mm. */
  dark: readonly RoofPoint[][];
  /** Share of the year's light by module; empty: not shown. */
  light: readonly number[];
  width: number;
  most: number;
  /** What lies under the drawing, to the same scale; the roof is then only an outline. */
  under?: ((scale: Scale) => ReactNode) | undefined;
  /** Lengths in the person's unit. */
  said(mm: number): string;
  /** Absent: nothing may be moved. */
  onMove?: ((index: number, to: RoofPoint) => void) | undefined;
}

/** Within so many pixels of a line a module comes to rest on it. */
const REACH_PX = 10;

/** Narrower modules show their light by their colour alone, px. */
const LEAST_FOR_SHARE = 48;

/** The roof to scale, seen from above: what stands on it, where modules lie, what is dark. */
export function RoofDrawing(props: Props) {
  const { roof, width, most, onMove } = props;
  const { colours } = useGround();
  const scale = useMemo(() => scaleOf(roof, width, most), [roof, width, most]);
  const { drag, handlers } = usePan(props, scale);
  const shown: Roof = drag
    ? {
        ...roof,
        placed: (roof.placed ?? []).map((one, i) =>
          i === drag.index ? { ...one, x: drag.at[0], y: drag.at[1] } : one,
        ),
      }
    : roof;
  const clip = `roof-${roof.id}`;
  return (
    <View
      {...handlers}
      style={webStyle({ width, height: scale.height, touchAction: 'none', cursor: onMove ? 'grab' : 'auto' })}
    >
      {props.under?.(scale) ?? null}
      <Svg
        width={width}
        height={scale.height}
        role="img"
        aria-label="The roof from above, ahead is up"
        testID="roof-drawing"
      >
        <Defs>
          <ClipPath id={clip}>
            <Path d={pathOf(roof.outline_mm ?? [], scale)} />
          </ClipPath>
        </Defs>
        <Path
          d={pathOf(roof.outline_mm ?? [], scale)}
          fill={props.under ? 'none' : colours.paper}
          stroke={colours.ink}
          strokeWidth={3}
        />
        {(roof.keepClear ?? []).map(({ outline_mm }, i) => (
          <Path
            key={i}
            d={pathOf(outline_mm ?? [], scale)}
            fill="none"
            stroke={colours.soft}
            strokeWidth={1.5}
            strokeDasharray="3 5"
          />
        ))}
        <Modules {...props} roof={shown} scale={scale} />
        <Obstacles roof={roof} scale={scale} />
        <G clipPath={`url(#${clip})`}>
          {props.dark.map((points, i) => (
            <Path key={i} d={pathOf(points, scale)} fill={colours.ink} fillOpacity={0.28} />
          ))}
        </G>
        <Measures roof={roof} scale={scale} said={props.said} />
        {drag ? <DragMeasures {...props} roof={shown} scale={scale} drag={drag} /> : null}
      </Svg>
    </View>
  );
}

/** A module under the finger follows it, and is written down where it is let go. */
function usePan({ system, roof, onMove }: Pick<Props, 'system' | 'roof' | 'onMove'>, scale: Scale) {
  const placed = roof.placed ?? [];
  return useDrag({
    mayMove: Boolean(onMove),
    back: scale.back,
    hit([x, y]) {
      const index = placed.findIndex((one) => {
        const at = boxOf(system, one);
        return at !== null && x >= at.left && x <= at.right && y >= at.foot && y <= at.top;
      });
      const one = placed[index];
      return one ? { index, corner: [one.x, one.y] } : null;
    },
    rest: (index, [x, y]) => snapped(system, roof, index, [x, y], REACH_PX / scale.perMm),
    drop: (index, [x, y]) => onMove?.(index, [x, y]),
  });
}

function Modules({ system, roof, ghosts, faults, light, scale, under }: Props & { scale: Scale }) {
  const { colours } = useGround();
  const wrong = new Set(faults.map(({ index }) => index));
  const rect = ({ left, right, foot, top }: Bounds) => ({
    x: scale.x(left),
    y: scale.y(top),
    width: (right - left) * scale.perMm,
    height: (top - foot) * scale.perMm,
  });
  return (
    <G>
      {ghosts.map((at, i) => (
        <Rect key={i} {...rect(at)} fill="none" stroke={colours.ink} strokeWidth={1.5} strokeDasharray="6 4" />
      ))}
      {(roof.placed ?? []).map((one, i) => {
        const at = boxOf(system, one);
        if (!at) return null;
        const ink = wrong.has(i) ? colours.second : colours.ink;
        const share = light[i];
        const { x, y, width, height } = rect(at);
        return (
          <G key={i}>
            {/* The year's heat map: the more light a module gets, the more of the lamp's colour. */}
            <Rect
              x={x}
              y={y}
              width={width}
              height={height}
              fill={share === undefined ? colours.well : colours.lamp}
              fillOpacity={share === undefined ? (under ? 0.6 : 1) : Math.max(0.08, (share - 0.5) * 1.2)}
              stroke={ink}
              strokeWidth={wrong.has(i) ? 4 : 2}
            />
            <ChartText x={x + width / 2} y={y + height / 2 + (share === undefined ? 6 : -2)} fill={ink} anchor="middle">
              {String(i + 1)}
            </ChartText>
            {share === undefined || height < 44 || width < LEAST_FOR_SHARE ? null : (
              <ChartText x={x + width / 2} y={y + height / 2 + 16} fill={ink} anchor="middle">
                {`${Math.round(100 * share)} %`}
              </ChartText>
            )}
          </G>
        );
      })}
    </G>
  );
}

function Obstacles({ roof, scale }: { roof: Roof; scale: Scale }) {
  const { colours } = useGround();
  return (
    <G>
      {(roof.obstacles ?? []).map((obstacle) => {
        const { id, label, kind, outline_mm, circle_mm, movable } = obstacle;
        const { right, foot, top } = obstacleBox(obstacle);
        const look = {
          fill: colours.paper,
          stroke: colours.ink,
          strokeWidth: 2,
          ...(movable ? { strokeDasharray: '2 3' } : {}),
        };
        return (
          <G key={id}>
            {circle_mm ? (
              <Circle
                cx={scale.x(circle_mm[0])}
                cy={scale.y(circle_mm[1])}
                r={Math.max(3, circle_mm[2] * scale.perMm)}
                {...look}
              />
            ) : (
              <Path d={pathOf(outline_mm ?? [], scale)} {...look} />
            )}
            <ChartText x={scale.x(right) + 5} y={scale.y((foot + top) / 2) + 5} fill={colours.ink} anchor="start" clear>
              {(label ?? kind).slice(0, 10)}
            </ChartText>
          </G>
        );
      })}
    </G>
  );
}

/** Width and depth of the whole, where they are measured; an arrow ahead. */
function Measures({ roof, scale, said }: { roof: Roof; scale: Scale; said(mm: number): string }) {
  const { colours } = useGround();
  const { left, right, foot, top } = boundsOf(roof.outline_mm ?? []);
  return (
    <G>
      <ChartText x={scale.x((left + right) / 2)} y={scale.y(foot) + 22} fill={colours.soft} anchor="middle">
        {said(right - left)}
      </ChartText>
      <G transform={`rotate(-90 ${scale.x(left) - 10} ${scale.y((foot + top) / 2)})`}>
        <ChartText x={scale.x(left) - 10} y={scale.y((foot + top) / 2)} fill={colours.soft} anchor="middle">
          {said(top - foot)}
        </ChartText>
      </G>
      <ChartText x={scale.x((left + right) / 2)} y={scale.y(top) - 12} fill={colours.soft} anchor="middle">
        {'\u2191 ahead'}
      </ChartText>
    </G>
  );
}

/** While a module moves: how far it is from the corner that everything was measured from. */
function DragMeasures({ system, roof, scale, drag, said }: Props & { scale: Scale; drag: Drag }) {
  const { colours } = useGround();
  const one = (roof.placed ?? [])[drag.index];
  const at = one ? boxOf(system, one) : null;
  if (!at) return null;
  const { left, foot } = boundsOf(roof.outline_mm ?? []);
  const [mx, my] = [scale.x((at.left + at.right) / 2), scale.y((at.foot + at.top) / 2)];
  return (
    <G>
      <Path
        d={`M${scale.x(left)} ${my}H${scale.x(at.left)}M${mx} ${scale.y(foot)}V${scale.y(at.foot)}`}
        stroke={colours.second}
        strokeWidth={2}
      />
      <ChartText x={(scale.x(left) + scale.x(at.left)) / 2} y={my - 6} fill={colours.second} anchor="middle">
        {said(at.left - left)}
      </ChartText>
      <ChartText x={mx + 6} y={(scale.y(foot) + scale.y(at.foot)) / 2} anchor="start" fill={colours.second}>
        {said(at.foot - foot)}
      </ChartText>
    </G>
  );
}
