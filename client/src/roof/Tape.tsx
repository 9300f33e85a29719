import {
  boundsOf,
  METRIC,
  OBSTACLE_KINDS,
  obstacleBox,
  outlineFault,
  type Obstacle,
  type Roof,
  type RoofPoint,
} from '@true-lantern/core';
import { useState } from 'react';
import { View } from 'react-native';
import { useUnits } from '../data/units';
import { Button, Chip } from '../ui/controls';
import { TextField } from '../ui/field';
import { readQuantity } from '../ui/number-entry';
import { T } from '../ui/text';
import { WORDS } from '../ui/words';
import { fittedInto } from './scale';

/** What a tape says, in two or three figures each: a roof, a corner that is cut off, what stands on it. */

/** A length as it was typed, mm; undefined where it is none. */
export function useLength(): (text: string) => number | undefined {
  const units = useUnits();
  return (text) => {
    const mm = readQuantity(text, 'mm', units ?? METRIC);
    return typeof mm === 'number' && mm >= 0 ? Math.round(mm) : undefined;
  };
}

interface FigureProps {
  label: string;
  value: string;
  onChange(text: string): void;
  bad: boolean;
}
const Figure = ({ label, value, onChange, bad }: FigureProps) => (
  <View className="min-w-[140px] flex-1">
    <TextField
      label={label}
      value={value}
      onChangeText={onChange}
      inputMode="decimal"
      error={bad ? 'Not a length' : undefined}
    />
  </View>
);

/** A rectangle: across, and from behind to ahead. */
export function NewRoof({ onMake }: { onMake(body: Partial<Roof>): void }) {
  const [across, setAcross] = useState('');
  const [deep, setDeep] = useState('');
  const length = useLength();
  const [x, y] = [length(across), length(deep)];
  const outline: RoofPoint[] | null =
    x && y
      ? [
          [0, 0],
          [x, 0],
          [x, y],
          [0, y],
        ]
      : null;
  return (
    <View className="gap-3 px-[18px] pt-4" testID="new-roof">
      <T>Measure with a tape from one corner. Corners that are cut off and what stands on the roof come next.</T>
      <View className="flex-row flex-wrap gap-3">
        <Figure label="Across, mm" value={across} onChange={setAcross} bad={across !== '' && x === undefined} />
        <Figure label="Back to front, mm" value={deep} onChange={setDeep} bad={deep !== '' && y === undefined} />
      </View>
      <Button
        label="Draw the roof"
        kind="main"
        disabled={outline === null || outlineFault(outline) !== null}
        onPress={() => {
          if (outline) onMake({ outline_mm: outline });
        }}
      />
    </View>
  );
}

const CORNERS = ['ahead left', 'ahead right', 'behind right', 'behind left'] as const;
type Corner = (typeof CORNERS)[number];

/** The outline with a corner of its bounding box cut off straight; null where that corner is not a right one. */
export function cutCorner(
  outline: readonly RoofPoint[],
  corner: Corner,
  across: number,
  deep: number,
): RoofPoint[] | null {
  const { left, right, foot, top } = boundsOf(outline);
  const x = corner.endsWith('left') ? left : right;
  const y = corner.startsWith('ahead') ? top : foot;
  const at = outline.findIndex(([px, py]) => px === x && py === y);
  if (at < 0) return null;
  const inX: RoofPoint = [corner.endsWith('left') ? x + across : x - across, y];
  const inY: RoofPoint = [x, corner.startsWith('ahead') ? y - deep : y + deep];
  const before = outline[(at + outline.length - 1) % outline.length] as RoofPoint;
  // Which of both comes first depends on the way round.
  const pair = before[0] === x ? [inY, inX] : [inX, inY];
  const cut = [...outline.slice(0, at), ...pair, ...outline.slice(at + 1)];
  return outlineFault(cut) === null ? cut : null;
}

/** A corner cut off, in two figures. */
export function CornerCut({ roof, onCut }: { roof: Roof; onCut(outline: RoofPoint[]): void }) {
  const [corner, setCorner] = useState<Corner>('ahead left');
  const [across, setAcross] = useState('');
  const [deep, setDeep] = useState('');
  const length = useLength();
  const [x, y] = [length(across), length(deep)];
  const cut = x && y ? cutCorner(roof.outline_mm ?? [], corner, x, y) : null;
  return (
    <View className="gap-3 bg-well px-[18px] py-4">
      <View role="radiogroup" aria-label="Which corner" className="flex-row flex-wrap gap-2">
        {CORNERS.map((one) => (
          <Chip key={one} label={one} on={corner === one} onPress={() => setCorner(one)} />
        ))}
      </View>
      <View className="flex-row flex-wrap gap-3">
        <Figure label="Cut across, mm" value={across} onChange={setAcross} bad={across !== '' && x === undefined} />
        <Figure label="Cut along, mm" value={deep} onChange={setDeep} bad={deep !== '' && y === undefined} />
      </View>
      {x && y && !cut ? <T role="alert">This corner cannot be cut like that.</T> : null}
      <Button
        label="Cut the corner"
        kind="main"
        disabled={!cut}
        onPress={() => {
          if (cut) onCut(cut);
        }}
      />
    </View>
  );
}

const SQUARE: readonly RoofPoint[] = [
  [0, 0],
  [1, 0],
  [1, 1],
  [0, 1],
];
const boxAround = (x: number, y: number, wide: number, deep: number) => ({
  left: x - wide / 2,
  right: x + wide / 2,
  foot: y - deep / 2,
  top: y + deep / 2,
});

/** What stands on the roof: its middle from the left and from behind, its size, how high it is. */
export function ObstacleEntry({
  before,
  id,
  onSave,
}: {
  before: Obstacle | null;
  id: string;
  onSave(obstacle: Obstacle): void;
}) {
  const { left, right, foot, top } = obstacleBox(before ?? {});
  const circle = before?.circle_mm;
  const [round, setRound] = useState(before ? Boolean(circle) : false);
  const [kind, setKind] = useState(before?.kind ?? 'vent');
  const text = (value: number | undefined | null) =>
    typeof value === 'number' && Number.isFinite(value) ? String(value) : '';
  const [x, setX] = useState(text(before ? (left + right) / 2 : null));
  const [y, setY] = useState(text(before ? (foot + top) / 2 : null));
  const [wide, setWide] = useState(text(before ? right - left : null));
  const [deep, setDeep] = useState(text(circle ? null : before ? top - foot : null));
  const [high, setHigh] = useState(text(before?.height_mm));
  const [movable, setMovable] = useState(before?.movable ?? false);
  const length = useLength();
  const [mx, my, w, d, h] = [length(x), length(y), length(wide), length(deep || wide), length(high || '0')];
  const sound = mx !== undefined && my !== undefined && w && d && h !== undefined;
  const save = () => {
    if (!sound) return;
    const { outline_mm: _, circle_mm: __, ...rest } = before ?? { id, kind };
    onSave({
      ...rest,
      kind,
      height_mm: h,
      movable,
      ...(round
        ? { circle_mm: [mx, my, w / 2] }
        : { outline_mm: fittedInto(before?.outline_mm ?? SQUARE, boxAround(mx, my, w, d)) }),
    });
  };
  return (
    <View className="gap-3 bg-well px-[18px] py-4" testID="obstacle-entry">
      <View role="radiogroup" aria-label="What it is" className="flex-row flex-wrap gap-2">
        {OBSTACLE_KINDS.map((one) => (
          <Chip key={one} label={one} on={kind === one} onPress={() => setKind(one)} />
        ))}
      </View>
      <View className="flex-row flex-wrap gap-3">
        <Figure label="Middle, from the left, mm" value={x} onChange={setX} bad={x !== '' && mx === undefined} />
        <Figure label="Middle, from behind, mm" value={y} onChange={setY} bad={y !== '' && my === undefined} />
      </View>
      <View className="flex-row flex-wrap gap-3">
        <Figure label={round ? 'Across, mm' : 'Width, mm'} value={wide} onChange={setWide} bad={wide !== '' && !w} />
        {round ? null : (
          <Figure label="Depth, mm (if not square)" value={deep} onChange={setDeep} bad={deep !== '' && !d} />
        )}
        <Figure
          label="Height above the roof, mm"
          value={high}
          onChange={setHigh}
          bad={high !== '' && h === undefined}
        />
      </View>
      <View role="group" aria-label="Its shape and whether it can move" className="flex-row flex-wrap gap-2">
        <Chip label="Round" on={round} onPress={() => setRound(!round)} />
        <Chip label="Could be moved" on={movable} onPress={() => setMovable(!movable)} />
      </View>
      {before?.outline_mm && before.outline_mm.length !== 4 && !round ? (
        <T look="fact">{`Its outline of ${before.outline_mm.length} corners is moved and stretched to these figures.`}</T>
      ) : null}
      <Button label={before ? WORDS.save : 'Add'} kind="main" disabled={!sound} onPress={save} />
    </View>
  );
}
