import { type Finding, type System } from '@true-lantern/core';
import { useMemo, useState } from 'react';
import { Pressable, ScrollView, View } from 'react-native';
import Svg, { Circle, G, Line as Stroke, Path, Text as SvgText } from 'react-native-svg';
import { useUnits } from '../data/units';
import { Chip } from '../kit/controls';
import { useGround } from '../kit/ground';
import { MarkShape } from '../kit/mark';
import { T } from '../kit/text';
import { Wick } from '../kit/wick';
import { endsOf, isLoud, layoutLine, type Arrow, type Form, type LineLayout, type LineRow } from './layout';
import type { CableRow, Ink, LeverRow, LoadRow, LoadsRow, StationRow } from './rows';

interface LineProps {
  system: System;
  findings: readonly Finding[];
  siteFact: string;
  /** The system as found, when `system` is a proposal. */
  base?: System;
  selected?: string | null;
  guesses: ReadonlySet<string>;
  /** Parts that do not run in the state that is looked at. */
  off?: ReadonlySet<string>;
  /** Of the whole drawing, px. */
  width: number;
  /** Where the whole system is to be seen at once: the height there is, px. */
  fitHeight?: number;
  onOpen(id: string): void;
}

/** From this many branches on, one of them may be looked at alone. */
const MANY = 3;

/** The system drawn as one run of conductor, sun at the top, loads at the bottom. Everything on it can be opened. */
export function Line({
  system,
  findings,
  siteFact,
  base,
  selected,
  guesses,
  off,
  width,
  fitHeight,
  onOpen,
}: LineProps) {
  const units = useUnits();
  const [only, setOnly] = useState<string | null>(null);
  const [unfolded, setUnfolded] = useState<ReadonlySet<string>>(new Set());
  const layout = useMemo(() => {
    const lay = (dense: boolean, foldLoads: boolean) =>
      layoutLine(system, findings, siteFact, { base, units, off, width, dense, foldLoads, unfolded, only });
    if (fitHeight === undefined) return lay(false, false);
    // The roomiest of these that is seen whole; else the lowest.
    const first = lay(false, false);
    if (first.height <= fitHeight) return first;
    const second = lay(true, false);
    return second.height <= fitHeight ? second : lay(true, true);
  }, [system, findings, siteFact, base, units, off, width, fitHeight, unfolded, only]);
  const known = layout.branches.some(({ id }) => id === only);
  return (
    <View>
      {layout.branches.length > MANY && !base && fitHeight === undefined ? (
        <ScrollView horizontal showsHorizontalScrollIndicator={false} contentContainerClassName="gap-2 px-[14px] pt-3">
          <View role="radiogroup" aria-label="Branch" className="flex-row gap-2">
            <Chip label="The whole Line" on={!known} onPress={() => setOnly(null)} />
            {layout.branches.map(({ id, name }) => (
              <Chip key={id} label={name} on={only === id} onPress={() => setOnly(only === id ? null : id)} />
            ))}
          </View>
        </ScrollView>
      ) : null}
      <View style={{ height: layout.height }} className="my-2" testID="line">
        <View style={{ position: 'absolute', left: 0, top: 0, zIndex: 1, pointerEvents: 'none' }} aria-hidden>
          <Conductors layout={layout} />
        </View>
        {layout.rows.map((row, i) => (
          <View key={i} style={{ position: 'absolute', top: row.y, left: 0, right: 0, height: row.height }}>
            <RowText
              row={row}
              gutter={layout.gutter}
              selected={selected ?? null}
              guesses={guesses}
              onOpen={row.type === 'loads' ? () => setUnfolded((before) => new Set([...before, row.id])) : onOpen}
            />
          </View>
        ))}
      </View>
    </View>
  );
}

/** All strokes of the drawing. */
function Conductors({ layout }: { layout: LineLayout }) {
  const { colours } = useGround();
  const inkColour = (ink: Ink) =>
    ink === 'new' || ink === 'changed' ? colours.second : ink === 'off' ? colours.soft : colours.ink;
  return (
    <Svg width={layout.gutter} height={layout.height}>
      {layout.stretches.map(({ lane, from, to, stroke, ink }, i) => (
        <Stroke
          key={i}
          x1={layout.laneX(lane)}
          x2={layout.laneX(lane)}
          y1={from}
          y2={to}
          stroke={inkColour(ink)}
          strokeWidth={stroke}
        />
      ))}
      {layout.rows.map((row, i) => (
        <Drawn key={i} row={row} next={layout.rows[i + 1]} x={layout.laneX(row.lane)} ink={inkColour} />
      ))}
      {layout.arrows.map((arrow, i) => (
        <ArrowDrawing key={i} arrow={arrow} x={layout.laneX(arrow.lane)} />
      ))}
    </Svg>
  );
}

/** Into the bus, out of it, or both ways: at the bank energy comes and goes. */
function ArrowDrawing({ arrow: { y, way }, x }: { arrow: Arrow; x: number }) {
  const { colours } = useGround();
  const down = `M${x - 8} ${y} h16 l-8 9 z`;
  const both = `M${x - 8} ${y + 5} h16 l-8 8 z M${x - 8} ${y + 1} h16 l-8 -8 z`;
  return <Path d={way === 'down' ? down : both} fill={colours.ink} stroke={colours.paper} strokeWidth={1.5} />;
}

interface DrawnProps {
  row: LineRow;
  next: LineRow | undefined;
  x: number;
  ink(ink: Ink): string;
}

/** The conductor within one row, and what sits on it. */
function Drawn({ row, next, x, ink }: DrawnProps) {
  const { colours } = useGround();
  const { y, height } = row;
  const middle = y + height / 2;
  if (row.type === 'sun') return <SunDrawing x={x} y={y} height={height} />;
  // The row itself draws the bus, across the whole width.
  if (row.type === 'bus') return null;
  if (row.type === 'lever') return <LeverDrawing lever={row} ink={ink(row.ink)} x={x} />;
  if (row.type === 'cable') return <CableDrawing cable={row} ink={ink(row.ink)} x={x} />;
  if (row.type === 'gap')
    return <Stroke x1={x} x2={x} y1={y} y2={y + height} stroke={colours.soft} strokeWidth={3} strokeDasharray="4 5" />;
  const continues =
    next !== undefined &&
    next.lane === row.lane &&
    next.type !== 'station' &&
    next.type !== 'bus' &&
    next.type !== 'sun';
  const colour = ink(row.ink);
  if (row.type === 'load' || row.type === 'loads')
    return (
      <G>
        <Stroke x1={x} x2={x} y1={y} y2={continues ? y + height : middle} stroke={colour} strokeWidth={2.5} />
        {isLoud(row) ? (
          <G transform={`translate(${x}, ${middle}) scale(0.75)`}>
            <MarkShape verdict={row.worst?.verdict ?? null} ink={colour} />
          </G>
        ) : (
          <Circle cx={x} cy={middle} r={5} fill={colours.paper} stroke={colour} strokeWidth={2.5} />
        )}
      </G>
    );
  if (row.ink === 'gone')
    return <Circle cx={x} cy={middle} r={5} fill={colours.paper} stroke={colours.soft} strokeWidth={2} />;
  return (
    <G>
      <Stroke x1={x} x2={x} y1={y} y2={continues ? y + height : y + 26} stroke={colour} strokeWidth={3} />
      <G transform={`translate(${x}, ${y + Math.min(26, height / 2)})`}>
        <MarkShape verdict={row.worst?.verdict ?? null} ink={colour} />
      </G>
    </G>
  );
}

function SunDrawing({ x, y, height }: { x: number; y: number; height: number }) {
  const { colours } = useGround();
  const base = y + height - 16;
  const ray = (angle: number) => {
    const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
    return `M${x + 17 * cos} ${base - 17 * sin} L${x + 23 * cos} ${base - 23 * sin}`;
  };
  return (
    <G>
      <Path d={`M${x - 11} ${base} a11 11 0 0 1 22 0`} fill="none" stroke={colours.lamp} strokeWidth={2.5} />
      <Path d={[0.5, 1.05, Math.PI / 2, 2.09, 2.64].map(ray).join(' ')} stroke={colours.lamp} strokeWidth={2.5} />
      <Stroke x1={x - 20} x2={x + 20} y1={base + 1} y2={base + 1} stroke={colours.ink} strokeWidth={2} />
      <Stroke x1={x} x2={x} y1={base + 1} y2={y + height} stroke={colours.ink} strokeWidth={3} />
    </G>
  );
}

/** A fuse is a break in the stroke: two bars with its rating between. What is over is marked on the cable itself. */
function CableDrawing({ cable, ink, x }: { cable: CableRow & LineRow; ink: string; x: number }) {
  const { y, height, stroke, fuse } = cable;
  const { colours } = useGround();
  // A low row has room for one of the two: its words say the verdict, nothing else says the fuse.
  const loud = isLoud(cable) && (fuse === null || height >= 40);
  // The mark has the lower half where a fuse takes the upper one.
  const middle = loud && fuse !== null ? y + Math.min(24, height / 3) : y + height / 2;
  const mark = fuse === null ? middle : y + height - 16;
  const reach = Math.min(12, height / 2 - 2);
  return (
    <G>
      <Stroke x1={x} x2={x} y1={y} y2={y + height} stroke={ink} strokeWidth={stroke} />
      {fuse === null ? null : (
        <G>
          <Path d={`M${x - 10} ${middle - reach} h20 v${2 * reach} h-20 z`} fill={colours.paper} />
          <Stroke
            x1={x - 9}
            x2={x + 9}
            y1={middle - reach + 1}
            y2={middle - reach + 1}
            stroke={ink}
            strokeWidth={2.5}
          />
          <Stroke
            x1={x - 9}
            x2={x + 9}
            y1={middle + reach - 1}
            y2={middle + reach - 1}
            stroke={ink}
            strokeWidth={2.5}
          />
          <SvgText
            x={x}
            y={middle + 5}
            fontFamily="HyperlegibleBold"
            fontSize={fuse.length > 2 ? 13 : 14}
            textAnchor="middle"
            fill={ink}
          >
            {fuse}
          </SvgText>
        </G>
      )}
      {loud ? (
        <G transform={`translate(${x}, ${mark}) scale(0.8)`}>
          <MarkShape verdict={cable.worst?.verdict ?? null} ink={ink} />
        </G>
      ) : null}
    </G>
  );
}

/** A switch is an arm that stands off the stroke, between two contacts. */
function LeverDrawing({ lever, ink, x }: { lever: LeverRow & LineRow; ink: string; x: number }) {
  const { y, height, stroke } = lever;
  const { colours } = useGround();
  const middle = y + height / 2;
  const reach = Math.min(14, height / 2 - 2);
  return (
    <G>
      <Stroke x1={x} x2={x} y1={y} y2={middle - reach} stroke={ink} strokeWidth={stroke} />
      <Stroke x1={x} x2={x} y1={middle + reach} y2={y + height} stroke={ink} strokeWidth={stroke} />
      <Stroke x1={x} x2={x + 13} y1={middle + reach - 4} y2={middle - reach + 3} stroke={ink} strokeWidth={3} />
      <Circle cx={x} cy={middle - reach + 3} r={4} fill={colours.paper} stroke={ink} strokeWidth={2} />
      <Circle cx={x} cy={middle + reach - 3} r={4} fill={colours.paper} stroke={ink} strokeWidth={2} />
    </G>
  );
}

interface RowTextProps {
  row: LineRow;
  gutter: number;
  selected: string | null;
  guesses: ReadonlySet<string>;
  onOpen(id: string): void;
}

function RowText({ row, gutter, selected, guesses, onOpen }: RowTextProps) {
  if (row.type === 'sun')
    return (
      <View style={{ paddingLeft: gutter + 8 }} className="h-full justify-center pr-[18px]">
        <T look="fact" numberOfLines={1}>
          {row.text}
        </T>
      </View>
    );
  if (row.type === 'bus')
    return (
      <View className="h-full justify-center">
        <View className="absolute left-1 right-[14px] h-[8px] bg-ink" />
        {row.text ? (
          <T look="small" className="absolute right-[14px] top-[-6px] font-semi">
            {row.text}
          </T>
        ) : null}
      </View>
    );
  const open = () => onOpen(row.id);
  const chosen = selected === row.id;
  const frame = `h-full justify-center pr-[14px] active:bg-well ${chosen ? 'border-r-[5px] border-lamp bg-well' : ''}`;
  if (row.type === 'gap')
    return (
      <Pressable
        role="button"
        aria-label={`Missing: ${row.text}`}
        onPress={open}
        className={frame}
        style={{ paddingLeft: gutter }}
      >
        <T look="fact" className="font-semi text-ink">
          {row.text}
        </T>
      </Pressable>
    );
  return (
    <Pressable
      role="button"
      testID={`${row.type}-${row.id}`}
      aria-label={labelFor(row)}
      onPress={open}
      disabled={row.ink === 'gone'}
      className={frame}
      style={{ paddingLeft: gutter }}
    >
      {row.type === 'station' ? (
        <StationText station={row} guesses={guesses} />
      ) : (
        <SlenderText row={row} guesses={guesses} />
      )}
    </Pressable>
  );
}

const inkClass = (ink: Ink) =>
  ink === 'new' || ink === 'changed'
    ? 'text-second'
    : ink === 'off'
      ? 'text-soft'
      : ink === 'gone'
        ? 'line-through'
        : '';

function StationText({ station, guesses }: { station: StationRow & LineRow; guesses: ReadonlySet<string> }) {
  const { ink, title, fact, was, form } = station;
  const beside = form.figure === 'beside';
  return (
    <View>
      <View className="flex-row items-baseline justify-between gap-3">
        <T look="station" className={`shrink ${inkClass(ink)}`}>
          {title}
        </T>
        {beside ? <Figure row={station} guesses={guesses} /> : null}
      </View>
      {was ? (
        <T look="fact" className="line-through">
          {was}
        </T>
      ) : null}
      <View className="flex-row items-center justify-between gap-3">
        <T look="fact" className={`shrink ${ink === 'new' || ink === 'changed' ? 'text-second' : ''}`}>
          {fact}
        </T>
        {beside ? <RowWick row={station} /> : null}
      </View>
      {beside ? null : <FigureLines row={station} guesses={guesses} />}
    </View>
  );
}

/** A cable, a switch or a load: one line; what is over or tight has its figure below, as loud as a part's. */
function SlenderText({
  row,
  guesses,
}: {
  row: (CableRow | LeverRow | LoadRow | LoadsRow) & LineRow;
  guesses: ReadonlySet<string>;
}) {
  const [start, end] = endsOf(row);
  const cable = row.type === 'cable';
  const struck = cable && row.was !== null;
  const last = end ? (
    <T
      look={cable ? 'small' : 'fact'}
      {...(row.type === 'loads' ? { numberOfLines: 1 } : {})}
      className={`${row.form.broken ? '' : 'shrink-0 text-right'} ${struck ? 'line-through' : ''}`}
    >
      {end}
    </T>
  ) : null;
  return (
    <View>
      <View className="flex-row items-baseline justify-between gap-3">
        <T look="fact" className={`shrink text-ink ${inkClass(row.ink)}`}>
          {start}
        </T>
        {row.form.figure === 'beside' ? <Figure row={row} guesses={guesses} /> : row.form.broken ? null : last}
      </View>
      {row.form.broken ? last : null}
      <FigureLines row={row} guesses={guesses} />
    </View>
  );
}

type Judged = Pick<StationRow, 'worst' | 'said'> & { form: Form } & Pick<LineRow, 'y'>;

/** The figure below the words: on a line with its wick, or over two where it is wide. */
function FigureLines({ row, guesses }: { row: Judged; guesses: ReadonlySet<string> }) {
  if (!row.said || row.form.figure === 'none' || row.form.figure === 'beside') return null;
  if (row.form.figure === 'under')
    return (
      <View className="flex-row items-center justify-between gap-2">
        <Figure row={row} guesses={guesses} />
        <RowWick row={row} />
      </View>
    );
  return (
    <View>
      <View className="flex-row items-center justify-between gap-2">
        <T look="head">{row.said.word}</T>
        <RowWick row={row} />
      </View>
      <FigureText row={row} guesses={guesses} />
    </View>
  );
}

function Figure({ row, guesses }: { row: Judged; guesses: ReadonlySet<string> }) {
  if (!row.said) return null;
  return (
    <View className="shrink-0 flex-row items-baseline gap-2">
      <T look="head">{row.said.word}</T>
      <FigureText row={row} guesses={guesses} />
    </View>
  );
}

function FigureText({ row, guesses }: { row: Judged; guesses: ReadonlySet<string> }) {
  const { said, worst } = row;
  if (!said) return null;
  const guessed = worst?.assumed.some((path) => guesses.has(path)) ?? false;
  return (
    <T
      look={said.figures ? 'figure' : 'base'}
      testID="figure"
      className={guessed && said.figures ? 'border-b-2 border-dotted border-ink' : ''}
    >
      {said.text}
    </T>
  );
}

function RowWick({ row: { worst, said, form } }: { row: Judged }) {
  if (!worst || form.wick === 0) return null;
  return (
    <Wick
      use={worst.use ?? (worst.verdict === 'over' ? 1.25 : 0)}
      tightAbove={worst.tightAbove ?? 1}
      width={form.wick}
      label={`${said?.word ?? ''} ${said?.text ?? ''}`.trim()}
    />
  );
}

const labelFor = (row: (StationRow | CableRow | LeverRow | LoadRow | LoadsRow) & LineRow): string =>
  [
    row.type === 'cable' ? row.label : row.title,
    row.fact,
    row.said ? `${row.said.word} ${row.said.text}` : row.type === 'station' ? 'not judged' : '',
  ]
    .filter(Boolean)
    .join(', ');
