import { figure, type Finding, type System } from '@true-lantern/core';
import { useMemo } from 'react';
import { Pressable, View } from 'react-native';
import Svg, { Circle, G, Line as Stroke, Path, Text as SvgText } from 'react-native-svg';
import { useUnits } from '../data/units';
import { useGround } from '../kit/ground';
import { MarkShape, VERDICT_WORDS } from '../kit/mark';
import { T } from '../kit/text';
import { pretty, unitText } from '../kit/units';
import { Wick } from '../kit/wick';
import { isJudged, layoutLine, type Cable, type Ink, type Lever, type LineRow, type Station } from './layout';

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
  onOpen(id: string): void;
}

const FIRST_LANE = 22;
const PITCH = 21;
const laneX = (lane: number) => FIRST_LANE + lane * PITCH;

/** The system drawn as one run of conductor, sun at the top, loads at the bottom. Everything on it can be opened. */
export function Line({ system, findings, siteFact, base, selected, guesses, off, onOpen }: LineProps) {
  const units = useUnits();
  const layout = useMemo(
    () => layoutLine(system, findings, siteFact, base, units, off),
    [system, findings, siteFact, base, units, off],
  );
  const { colours } = useGround();
  const gutter = laneX(layout.lanes - 1) + 24;
  const inkColour = (ink: Ink) =>
    ink === 'new' || ink === 'changed' ? colours.second : ink === 'off' ? colours.soft : colours.ink;
  return (
    <View style={{ height: layout.height }} className="my-2" testID="line">
      <View style={{ position: 'absolute', left: 0, top: 0, zIndex: 1, pointerEvents: 'none' }} aria-hidden>
        <Svg width={gutter} height={layout.height}>
          {layout.stretches.map(({ lane, from, to, stroke, ink }) => (
            <Stroke
              key={`${lane} ${from}`}
              x1={laneX(lane)}
              x2={laneX(lane)}
              y1={from}
              y2={to}
              stroke={inkColour(ink)}
              strokeWidth={stroke}
            />
          ))}
          {layout.rows.map((row, i) => (
            <Drawn key={i} row={row} next={layout.rows[i + 1]} ink={inkColour} />
          ))}
        </Svg>
      </View>
      {layout.rows.map((row, i) => (
        <View key={i} style={{ position: 'absolute', top: row.y, left: 0, right: 0, height: row.height }}>
          <RowText row={row} gutter={gutter} selected={selected ?? null} guesses={guesses} onOpen={onOpen} />
        </View>
      ))}
    </View>
  );
}

/** The conductor within one row, and what sits on it. */
function Drawn({ row, next, ink }: { row: LineRow; next: LineRow | undefined; ink(ink: Ink): string }) {
  const { colours } = useGround();
  const x = laneX(row.lane);
  const { y, height } = row;
  const middle = y + height / 2;
  if (row.type === 'sun') {
    const ray = (angle: number) => {
      const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
      return `M${x + 17 * cos} ${y + 40 - 17 * sin} L${x + 23 * cos} ${y + 40 - 23 * sin}`;
    };
    return (
      <G>
        <Path d={`M${x - 11} ${y + 40} a11 11 0 0 1 22 0`} fill="none" stroke={colours.lamp} strokeWidth={2.5} />
        <Path d={[0.5, 1.05, Math.PI / 2, 2.09, 2.64].map(ray).join(' ')} stroke={colours.lamp} strokeWidth={2.5} />
        <Stroke x1={x - 20} x2={x + 20} y1={y + 41} y2={y + 41} stroke={colours.ink} strokeWidth={2} />
        <Stroke x1={x} x2={x} y1={y + 41} y2={y + height} stroke={colours.ink} strokeWidth={3} />
      </G>
    );
  }
  // The row itself draws the bus, across the whole width.
  if (row.type === 'bus') return null;
  if (row.type === 'lever') return <LeverDrawing lever={row} ink={ink(row.ink)} x={x} />;
  if (row.type === 'cable') return <CableDrawing cable={row} ink={ink(row.ink)} x={x} />;
  if (row.type === 'gap')
    return <Stroke x1={x} x2={x} y1={y} y2={y + height} stroke={colours.soft} strokeWidth={3} strokeDasharray="4 5" />;
  const continues =
    next !== undefined &&
    next.lane === row.lane &&
    (next.type === 'load' || next.type === 'cable' || next.type === 'lever' || next.type === 'gap');
  const colour = ink(row.ink);
  if (row.type === 'load')
    return (
      <G>
        <Stroke x1={x} x2={x} y1={y} y2={continues ? y + height : middle} stroke={colour} strokeWidth={2.5} />
        <Circle cx={x} cy={middle} r={5} fill={colours.paper} stroke={colour} strokeWidth={2.5} />
      </G>
    );
  if (row.ink === 'gone')
    return <Circle cx={x} cy={middle} r={5} fill={colours.paper} stroke={colours.soft} strokeWidth={2} />;
  return (
    <G>
      <Stroke x1={x} x2={x} y1={y} y2={continues ? y + height : middle} stroke={colour} strokeWidth={3} />
      <G transform={`translate(${x}, ${y + (isJudged(row) ? 26 : 29)})`}>
        <MarkShape verdict={row.worst?.verdict ?? null} ink={colour} />
      </G>
    </G>
  );
}

/** A fuse is a break in the stroke: two bars with its rating between. */
function CableDrawing({ cable, ink, x }: { cable: Cable; ink: string; x: number }) {
  const { y, height, stroke, fuse } = cable;
  if (fuse === null) return <Stroke x1={x} x2={x} y1={y} y2={y + height} stroke={ink} strokeWidth={stroke} />;
  const middle = y + height / 2;
  return (
    <G>
      <Stroke x1={x} x2={x} y1={y} y2={middle - 12} stroke={ink} strokeWidth={stroke} />
      <Stroke x1={x} x2={x} y1={middle + 12} y2={y + height} stroke={ink} strokeWidth={stroke} />
      <Stroke x1={x - 9} x2={x + 9} y1={middle - 11} y2={middle - 11} stroke={ink} strokeWidth={2.5} />
      <Stroke x1={x - 9} x2={x + 9} y1={middle + 11} y2={middle + 11} stroke={ink} strokeWidth={2.5} />
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
  );
}

/** A switch is an arm that stands off the stroke, between two contacts. */
function LeverDrawing({ lever, ink, x }: { lever: Lever; ink: string; x: number }) {
  const { y, height, stroke } = lever;
  const { colours } = useGround();
  const middle = y + height / 2;
  return (
    <G>
      <Stroke x1={x} x2={x} y1={y} y2={middle - 14} stroke={ink} strokeWidth={stroke} />
      <Stroke x1={x} x2={x} y1={middle + 14} y2={y + height} stroke={ink} strokeWidth={stroke} />
      <Stroke x1={x} x2={x + 13} y1={middle + 10} y2={middle - 11} stroke={ink} strokeWidth={3} />
      <Circle cx={x} cy={middle - 11} r={4} fill={colours.paper} stroke={ink} strokeWidth={2} />
      <Circle cx={x} cy={middle + 11} r={4} fill={colours.paper} stroke={ink} strokeWidth={2} />
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
      <View className="h-full">
        <View className="absolute left-1 right-[14px] top-[16px] h-[8px] bg-ink" />
        <T look="small" className="absolute right-[14px] top-[-6px] font-semi">
          {row.text}
        </T>
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
  if (row.type === 'station')
    return (
      <Pressable
        role="button"
        testID={`station-${row.id}`}
        aria-label={stationLabel(row)}
        onPress={open}
        disabled={row.ink === 'gone'}
        className={frame}
        style={{ paddingLeft: gutter }}
      >
        <StationText station={row} guesses={guesses} narrow={gutter > NARROW_FROM} />
      </Pressable>
    );
  const title = row.type === 'cable' ? row.label : row.title;
  const second = row.ink === 'new' || row.ink === 'changed' ? 'text-second' : row.ink === 'off' ? 'text-soft' : '';
  return (
    <Pressable
      role="button"
      testID={`${row.type}-${row.id}`}
      aria-label={`${title || 'Cable'}, ${row.fact}${row.worst ? `, ${VERDICT_WORDS[row.worst.verdict]}` : ''}`}
      onPress={open}
      className={frame}
      style={{ paddingLeft: gutter }}
    >
      <View className="flex-row items-center justify-between gap-3">
        <View className="min-w-0 flex-1 flex-row items-baseline gap-2">
          {row.type === 'load' || row.type === 'lever' ? (
            <T look="fact" numberOfLines={1} className={`shrink text-ink ${second}`}>
              {row.title}
            </T>
          ) : (
            <>
              <T look="fact" numberOfLines={1} className={`shrink-0 ${second || 'text-ink'}`}>
                {row.fact}
              </T>
              {row.was ? (
                <T look="small" numberOfLines={1} className="shrink line-through">
                  {row.was}
                </T>
              ) : null}
            </>
          )}
        </View>
        <T look={row.type === 'cable' ? 'small' : 'fact'} numberOfLines={1} className="max-w-[50%] text-right">
          {row.type === 'cable' ? cableRemark(row) : row.type === 'lever' ? leverRemark(row) : row.fact}
        </T>
      </View>
    </Pressable>
  );
}

/** What is worth saying at the end of a cable's row: a verdict, a fuse that was not seen, else which cable it is. */
function cableRemark({ worst, fuse, label, was }: Cable): string {
  // A changed cable needs the room for what it was.
  if (was) return '';
  if (worst && (worst.verdict === 'over' || worst.verdict === 'tight'))
    return VERDICT_WORDS[worst.verdict].toLowerCase();
  return fuse === '?' ? 'fuse: not seen' : label;
}

/** A switch's verdict where it is one to read, else what it is for. */
const leverRemark = ({ worst, fact }: Lever): string =>
  worst && (worst.verdict === 'over' || worst.verdict === 'tight') ? VERDICT_WORDS[worst.verdict].toLowerCase() : fact;

/** With so many lanes beside them the figures want the room of the wick. */
const NARROW_FROM = 70;

function StationText({
  station,
  guesses,
  narrow,
}: {
  station: Station;
  guesses: ReadonlySet<string>;
  narrow: boolean;
}) {
  const { worst, ink, title, fact, was } = station;
  const second = ink === 'new' || ink === 'changed';
  const guessed = worst?.assumed.some((path) => guesses.has(path)) ?? false;
  return (
    <View>
      <T
        look="station"
        numberOfLines={1}
        className={`${second ? 'text-second' : ink === 'off' ? 'text-soft' : ''} ${ink === 'gone' ? 'line-through' : ''}`}
      >
        {title}
      </T>
      {was ? (
        <T look="fact" numberOfLines={1} className="line-through">
          {was}
        </T>
      ) : null}
      <T look="fact" numberOfLines={1} className={second ? 'text-second' : ''}>
        {fact}
      </T>
      {worst ? (
        <View className="flex-row items-center justify-between gap-2 pt-[2px]">
          <View className="min-w-0 shrink flex-row items-baseline gap-2">
            <T look="head">{VERDICT_WORDS[worst.verdict]}</T>
            {worst.demand !== null && worst.limit !== null ? (
              <T look="figure" numberOfLines={1} className={guessed ? 'border-b-2 border-dotted border-ink' : ''}>
                {figures(worst)}
              </T>
            ) : null}
          </View>
          {worst.limit !== null ? (
            <Wick
              use={worst.use ?? (worst.verdict === 'over' ? 1.25 : 0)}
              tightAbove={worst.tightAbove ?? 1}
              width={narrow ? 56 : 104}
              label={stationLabel(station)}
            />
          ) : null}
        </View>
      ) : null}
    </View>
  );
}

/** "154 / 150 V"; for what must be reached "11.5 ≥ 9 V" */
export function figures({ demand, limit, unit, sense }: Finding): string {
  const three = (value: number | null) => pretty(figure(value ?? Number.NaN, 3));
  // Where more is better, a stroke would read as too much: say which way it must be.
  const between = sense === 'max' ? '/' : (demand ?? 0) >= (limit ?? 0) ? '\u2265' : '<';
  return `${three(demand)} ${between} ${three(limit)} ${unitText(unit ?? '')}`.trim();
}

const stationLabel = ({ title, fact, worst }: Station) =>
  [title, fact, worst ? `${VERDICT_WORDS[worst.verdict]} ${worst.demand === null ? '' : figures(worst)}` : 'not judged']
    .join(', ')
    .trim();
