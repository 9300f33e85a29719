import { cornersOf, isPlate, type Corners, type Spot } from '@true-lantern/core';
import { useState } from 'react';
import { Image, Pressable, View, type GestureResponderEvent } from 'react-native';
import Svg, { Circle, Line, Path } from 'react-native-svg';
import { useWidth } from './chart';
import { Button } from './controls';
import { useGround } from './ground';
import { T } from './text';
import { boxOf, webStyle } from './web-only';

const NAMES = ['Upper left', 'Upper right', 'Lower right', 'Lower left'] as const;
/** A corner is taken from this near, px. */
const GRIP = 34;
const LENS = 120;
/** On a photo, whatever the ground of the screen. */
const [LIGHT, DARK] = ['#fffdf6', '#1a1712'];
const LENS_TIMES = 3;

interface Props {
  /** The photo, as a data address. */
  picture: string;
  width: number;
  height: number;
  /** Where the corners begin, pixels of the photo; null: a little within its edge. */
  begin: Corners | null;
  /** What has the corners: "the plate". */
  what: string;
  /** The word on the button that goes on. */
  use: string;
  onUse(corners: Corners): void;
  onLeave(): void;
}

/** The four corners of something on a photo, put by thumb under a lens, or by the arrow keys. */
export function CornersSheet({ picture, width: wide, height: high, begin, what, use, onUse, onLeave }: Props) {
  const [width, onLayout] = useWidth();
  const [corners, setCorners] = useState<Corners>(begin ?? within(wide, high));
  const [held, setHeld] = useState<number | null>(null);
  const scale = width / wide;
  const put = (index: number, to: Spot) => {
    const x = Math.max(0, Math.min(wide, to.x));
    const y = Math.max(0, Math.min(high, to.y));
    setCorners(cornersOf(corners.map((one, i) => (i === index ? { x, y } : one))));
  };
  const spotOf = (event: GestureResponderEvent): Spot => {
    const { nativeEvent } = event;
    const corner = boxOf(event);
    return {
      x: (nativeEvent.pageX - window.scrollX - corner.left) / scale,
      y: (nativeEvent.pageY - window.scrollY - corner.top) / scale,
    };
  };
  const nearest = (spot: Spot): number | null => {
    const far = corners.map(({ x, y }) => Math.hypot(x - spot.x, y - spot.y) * scale);
    const least = Math.min(...far);
    return least <= 2 * GRIP ? far.indexOf(least) : null;
  };
  const sound = isPlate(corners);
  const spot = held === null ? null : (corners[held] ?? null);
  return (
    <View className="gap-3">
      <T className="px-[18px]">{`Put each corner on a corner of ${what}. The lens shows what is under your thumb.`}</T>
      <View
        onLayout={onLayout}
        testID="corners"
        style={webStyle({ height: high * scale, touchAction: 'none' })}
        onStartShouldSetResponder={(event) => nearest(spotOf(event)) !== null}
        onResponderTerminationRequest={() => false}
        onResponderGrant={(event) => setHeld(nearest(spotOf(event)))}
        onResponderMove={(event) => held !== null && put(held, spotOf(event))}
        onResponderRelease={() => setHeld(null)}
        onResponderTerminate={() => setHeld(null)}
      >
        <Image source={{ uri: picture }} style={{ width, height: high * scale }} accessibilityLabel="The photo" />
        <Outline corners={corners} scale={scale} width={width} height={high * scale} sound={sound} />
        {spot ? <Lens picture={picture} spot={spot} width={width} high={high * scale} scale={scale} /> : null}
      </View>
      <View className="flex-row flex-wrap gap-2 px-[18px]">
        {NAMES.map((name, i) => (
          <Nudge key={name} name={name} spot={corners[i] ?? { x: 0, y: 0 }} onMove={(to) => put(i, to)} />
        ))}
      </View>
      {sound ? null : (
        <T role="alert" className="px-[18px] text-second">
          The corners cross each other: begin at the upper left and go round clockwise.
        </T>
      )}
      <View className="gap-3 px-[18px]">
        <Button label={use} kind="main" disabled={!sound} onPress={() => onUse(corners)} />
        <Button label="Leave the corners as they were" kind="plain" onPress={onLeave} />
      </View>
    </View>
  );
}

interface OutlineProps {
  corners: Corners;
  scale: number;
  width: number;
  height: number;
  sound: boolean;
}

/** The outline on the photo, light around dark so that it shows on either. */
function Outline({ corners, scale, width, height, sound }: OutlineProps) {
  const { colours } = useGround();
  const path = `M${corners.map(({ x, y }) => `${x * scale} ${y * scale}`).join('L')}Z`;
  return (
    <Svg width={width} height={height} style={{ position: 'absolute', left: 0, top: 0 }}>
      <Path d={path} fill="none" stroke={sound ? LIGHT : colours.second} strokeWidth={5} />
      <Path d={path} fill="none" stroke={DARK} strokeWidth={2} />
      {corners.map(({ x, y }, i) => (
        <Circle
          key={i}
          cx={x * scale}
          cy={y * scale}
          r={13}
          fill={LIGHT}
          fillOpacity={0.7}
          stroke={DARK}
          strokeWidth={3}
        />
      ))}
    </Svg>
  );
}

const within = (wide: number, high: number): Corners => {
  const [x, y] = [wide * 0.08, high * 0.08];
  return [
    { x, y },
    { x: wide - x, y },
    { x: wide - x, y: high - y },
    { x, y: high - y },
  ];
};

/** What lies under the thumb, three times as large, in the half of the picture where the thumb is not. */
function Lens({
  picture,
  spot,
  width,
  high,
  scale,
}: {
  picture: string;
  spot: Spot;
  width: number;
  high: number;
  scale: number;
}) {
  const [x, y] = [spot.x * scale, spot.y * scale];
  return (
    <View
      pointerEvents="none"
      className="absolute overflow-hidden border-2 border-ink"
      style={{ width: LENS, height: LENS, borderRadius: LENS / 2, top: 8, left: x > width / 2 ? 8 : width - LENS - 8 }}
    >
      <Image
        source={{ uri: picture }}
        style={{
          position: 'absolute',
          width: width * LENS_TIMES,
          height: high * LENS_TIMES,
          left: LENS / 2 - x * LENS_TIMES,
          top: LENS / 2 - y * LENS_TIMES,
        }}
      />
      <Svg width={LENS} height={LENS}>
        <Line x1={LENS / 2} y1={0} x2={LENS / 2} y2={LENS} stroke="#9f2b12" strokeWidth={1.5} />
        <Line x1={0} y1={LENS / 2} x2={LENS} y2={LENS / 2} stroke="#9f2b12" strokeWidth={1.5} />
      </Svg>
    </View>
  );
}

/** Pixels that an arrow key moves a corner. */
const STEP = 8;
const ARROWS: Readonly<Record<string, Spot>> = {
  ArrowLeft: { x: -STEP, y: 0 },
  ArrowRight: { x: STEP, y: 0 },
  ArrowUp: { x: 0, y: -STEP },
  ArrowDown: { x: 0, y: STEP },
};

/** One corner by the arrow keys: who has no thumb on a screen puts it as well. */
function Nudge({ name, spot, onMove }: { name: string; spot: Spot; onMove(to: Spot): void }) {
  const keys = {
    onKeyDown: (event: { key: string; preventDefault(): void }) => {
      const by = ARROWS[event.key];
      if (!by) return;
      event.preventDefault();
      onMove({ x: spot.x + by.x, y: spot.y + by.y });
    },
  };
  return (
    <Pressable
      role="slider"
      aria-label={`${name} corner, arrow keys move it`}
      aria-valuetext={`${Math.round(spot.x)} across, ${Math.round(spot.y)} down`}
      aria-valuenow={Math.round(spot.x)}
      className="min-h-[44px] flex-1 items-center justify-center border border-rule px-2"
      {...(keys as object)}
    >
      <T look="fact">{name}</T>
    </Pressable>
  );
}
