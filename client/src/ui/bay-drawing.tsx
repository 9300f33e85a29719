import {
  arrangementOf,
  bayOf,
  CLEARANCE_MM,
  HAND_MM,
  movedTo,
  restingPlace,
  standSentences,
  standsOf,
  unmeasuredBeside,
  type Bank,
  type Bay,
  type Stood,
  type System,
} from '@true-lantern/core';
import { View } from 'react-native';
import Svg, { Path, Rect, Text as SvgText } from 'react-native-svg';
import { useUnits, type Units } from '../data/units';
import { BayBox, BayFromAbove } from './bay-above';
import { bayLayout, type BayLayout } from './bay-layout';
import { BayMoves } from './bay-moves';
import { useDrag } from './drag';
import { useGround } from './ground';
import { T } from './text';
import { inUnits, sizeText } from './units';

interface Props {
  system: Pick<System, 'runs' | 'inverters'>;
  bank: Bank;
  /** How things stand was changed; null: as they go in. Absent: nothing may be moved. */
  onArrange?: ((what: string, stands: Bank['stands']) => void) | undefined;
}

/** The bay from above and from the front: blocks that are wanted filled, room to grow in outline, what a hand and a cable have. */
export function BayDrawing({ system, bank, onArrange }: Props) {
  const bay = bayOf(system, bank);
  if (typeof bay === 'string')
    return (
      <T look="fact" testID="fit-unknown">
        {`Fit: the ${bay} is not measured.`}
      </T>
    );
  return <Measured system={system} bank={bank} bay={bay} onArrange={onArrange} />;
}

/** Within so many pixels of a line a thing comes to rest on it. */
const REACH_PX = 10;

/** A thing of the bay under the finger follows it, and is written down where it is let go. */
function useBayDrag(
  bay: Bay,
  items: readonly Stood[],
  { perMm, bay: frame }: BayLayout,
  onDrop: ((items: Stood[]) => void) | undefined,
) {
  return useDrag({
    mayMove: Boolean(onDrop),
    back: (px, py) => [px / perMm, (py - frame.y) / perMm],
    hit([x, y]) {
      const index = items.findLastIndex(
        (one) => x >= one.x_mm && x <= one.x_mm + one.along_mm && y >= one.y_mm && y <= one.y_mm + one.across_mm,
      );
      const one = items[index];
      return one ? { index, corner: [one.x_mm, one.y_mm] } : null;
    },
    rest: (index, to) => restingPlace(items, index, bay, to, REACH_PX / perMm),
    drop: (index, [x, y]) => onDrop?.(movedTo(items, index, x, y)),
  });
}

function Measured({ system, bank, bay, onArrange }: Props & { bay: Bay }) {
  const units = useUnits();
  const stored = arrangementOf(system, bank, bay);
  const still = bayLayout(bay, stored);
  const { drag, handlers } = useBayDrag(
    bay,
    stored.items,
    still,
    onArrange && ((items) => onArrange('Moved in the bay', standsOf(items))),
  );
  const moving = drag && standsOf(movedTo(stored.items, drag.index, ...drag.at));
  const arranged = moving ? arrangementOf(system, { ...bank, stands: moving }, bay) : stored;
  const layout = moving ? bayLayout(bay, arranged) : still;
  const nameOf = (id: string) => system.inverters?.find((one) => one.id === id)?.label ?? 'the inverter';
  const wrong = standSentences(arranged, nameOf, (length) => mm(Math.ceil(length), units));
  return (
    <View className="gap-2" testID="fit">
      <T look="head">{fitText(bay)}</T>
      {unmeasuredBeside(system).map((id) => (
        <T key={id} look="fact">{`${nameOf(id)} stands in the bay and is not measured: it is not drawn.`}</T>
      ))}
      <BayFromAbove bay={bay} layout={layout} handlers={onArrange && handlers} />
      {/* Below the drawing: what comes and goes above it would move it under the thumb. */}
      {wrong.map((sentence) => (
        <T key={sentence} look="head" className="border-l-4 border-ink pl-3 text-second" testID="bay-wrong">
          {sentence}
        </T>
      ))}
      {onArrange && bay.fit.count > 0 ? (
        <BayMoves
          items={stored.items}
          nameOf={nameOf}
          isArranged={Boolean(bank.stands)}
          onArrange={(what, items) => onArrange(what, items ? standsOf(items) : null)}
        />
      ) : null}
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
  if (wanted === 1)
    return count === 1 ? 'The block fits, and no more' : `The block fits, with room for ${count - 1} more`;
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

function FromFront({ bay: { bay, fit, hand, cable }, layout }: { bay: Bay; layout: BayLayout }) {
  const units = useUnits();
  const { colours } = useGround();
  const measure = { fontSize: 14, fill: colours.ink, fontFamily: 'HyperlegibleSemi' };
  const { height, bay: frame, items, clear, bend } = layout.front;
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
      {items.map((item) => (
        <BayBox key={item.index} item={item} />
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
