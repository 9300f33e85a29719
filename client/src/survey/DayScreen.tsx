import { dayStrip, type DayStrip } from '@true-lantern/core';
import { router } from 'expo-router';
import { useMemo, useState } from 'react';
import { ScrollView, View } from 'react-native';
import Svg, { Line, Path, Rect } from 'react-native-svg';
import { useOpenSite } from '../data/open-site';
import { useMayWrite } from '../data/session';
import { rowOfPart, setFields, type OpenSite } from '../data/site';
import { HourAxis, useWidth } from '../ui/chart';
import { ChartText } from '../ui/chart-text';
import { Button, Chip, Row } from '../ui/controls';
import { useGround } from '../ui/ground';
import { Stepper } from '../ui/stepper';
import { T } from '../ui/text';
import { Top } from '../ui/top';
import { withUnit } from '../ui/units';
import { STRIP, stripLayout } from './strip-layout';

const RUNS = ['base', 'may', 'alone'] as const;
const RUN_WORDS: Record<(typeof RUNS)[number], string> = {
  base: 'always with the others',
  may: 'can run with others',
  alone: 'never with others of its group',
};

/** The loads of a day on one strip of twenty-four hours: what they take, what may run at once; each set by thumb. */
export function DayScreen() {
  const site = useOpenSite();
  const [open, setOpen] = useState<string | null>(null);
  const strip = useMemo(() => dayStrip(site.model), [site.model]);
  const peak = Math.max(0, ...strip.together_W);
  const at = strip.together_W.indexOf(peak);
  const energy = strip.loads.reduce((sum, { mean_W }) => sum + mean_W.reduce((all, watts) => all + watts, 0), 0);
  return (
    <View className="flex-1">
      <Top title="The day's loads" onBack={() => router.navigate(`/site/${site.id}`)} />
      <ScrollView>
        <View className="max-w-[860px] gap-3 pb-10 pt-3">
          {strip.loads.length === 0 ? (
            <T className="px-[18px]">No load is recorded yet.</T>
          ) : (
            <View className="px-[18px]">
              <T look="lead" testID="day-lead">
                {`${withUnit(energy / 1000, 'kWh')} a day; at most ${withUnit(peak, 'W')} at once${Math.min(...strip.together_W) < peak ? `, from ${at}\u00a0h` : ''}.`}
              </T>
              <Strip strip={strip} open={open} />
              <T look="fact">
                Blocks: each load in the hours it can run, fainter if it runs only part of them. Line: total that can
                run at once, without losses.
              </T>
            </View>
          )}
          <View>
            {strip.loads.map((load) => (
              <View key={load.id} className={open === load.id ? 'border-l-[5px] border-lamp bg-well' : ''}>
                <Row
                  testID={`day-${load.id}`}
                  aria-expanded={open === load.id}
                  onPress={() => setOpen(open === load.id ? null : load.id)}
                >
                  <View className="min-w-0 flex-1">
                    <T look="head">{load.title}</T>
                    <T look="fact">{`${windowWords(site, load.id)}; ${RUN_WORDS[load.overlap]}`}</T>
                  </View>
                  <T look="figure">{withUnit(load.running_W, 'W')}</T>
                </Row>
                {open === load.id ? <Set site={site} id={load.id} overlap={load.overlap} /> : null}
              </View>
            ))}
          </View>
        </View>
      </ScrollView>
    </View>
  );
}

function Strip({ strip, open }: { strip: DayStrip; open: string | null }) {
  const { colours } = useGround();
  const [width, onLayout] = useWidth();
  const { pieces, together, x, foot, most_W } = stripLayout(strip, width);
  // Neighbours in a stack are told apart by their tone; the same load has the same in every hour.
  const tone = (id: string) =>
    id === open
      ? colours.lamp
      : strip.loads.findIndex((load) => load.id === id) % 2 === 0
        ? colours.soft
        : colours.rule;
  return (
    <View onLayout={onLayout} testID="day-strip">
      <Svg
        width={width}
        height={STRIP.height}
        role="img"
        aria-label={strip.together_W.map((watts, h) => `${h} h: ${Math.round(watts)} W at once`).join(', ')}
      >
        {pieces.map((piece) => (
          <Rect
            key={`${piece.id} ${piece.hour}`}
            x={piece.x}
            y={piece.y}
            width={piece.width}
            height={piece.height}
            fill={tone(piece.id)}
            opacity={piece.id === open ? 1 : 0.3 + 0.7 * piece.runs}
            stroke={colours.paper}
            strokeWidth={1}
          />
        ))}
        <Path d={together} fill="none" stroke={colours.ink} strokeWidth={3} />
        <Line x1={STRIP.left} x2={width - STRIP.right} y1={foot} y2={foot} stroke={colours.ink} strokeWidth={2} />
        <ChartText x={STRIP.left - 4} y={STRIP.top + 10} anchor="end">
          {String(Math.round(most_W))}
        </ChartText>
        <ChartText x={STRIP.left - 4} y={STRIP.top + 26} anchor="end">
          W
        </ChartText>
        <HourAxis x={x} y={STRIP.height - 6} />
      </Svg>
    </View>
  );
}

const loadOf = (site: OpenSite, id: string) => site.model.system.loads?.find((load) => load.id === id);

function windowWords(site: OpenSite, id: string): string {
  const load = loadOf(site, id);
  if (!load) return '';
  const hours = `${withUnit(load.hours_d, 'h')} a day`;
  const { from_h, to_h } = load;
  const known = typeof from_h === 'number' && typeof to_h === 'number' && from_h !== to_h;
  return known ? `${hours}, between ${from_h} and ${to_h}\u00a0h` : `${hours}, at any time`;
}

/** When it runs and with what, by thumb. */
function Set({ site, id, overlap }: { site: OpenSite; id: string; overlap: (typeof RUNS)[number] }) {
  const mayWrite = useMayWrite();
  const load = loadOf(site, id);
  const row = rowOfPart(site, id);
  if (!load || !row) return null;
  if (!mayWrite) return <T className="px-[18px] py-3 text-soft">You can view this, not change it.</T>;
  const set = (fields: Record<string, unknown>) => setFields(site, row, fields);
  const from = load.from_h ?? 0;
  const to = load.to_h ?? 24;
  return (
    <View className="gap-3 px-[18px] py-3">
      <Stepper
        label="From, o'clock"
        value={from}
        min={0}
        max={23}
        onChange={(from_h) => set({ from_h, to_h: load.to_h ?? 24 })}
      />
      <Stepper
        label="To, o'clock"
        value={to}
        min={1}
        max={24}
        onChange={(to_h) => set({ from_h: load.from_h ?? 0, to_h })}
      />
      <Stepper label="Hours a day" value={load.hours_d} min={0} max={24} onChange={(hours_d) => set({ hours_d })} />
      <View role="radiogroup" aria-label="With others" className="flex-row flex-wrap gap-2">
        {RUNS.map((one) => (
          <Chip key={one} label={RUN_WORDS[one]} on={overlap === one} onPress={() => set({ overlap: one })} />
        ))}
      </View>
      <Button
        label="All fields of this load"
        kind="plain"
        className="self-start px-0"
        onPress={() => router.navigate(`/site/${site.id}/part/${encodeURIComponent(id)}`)}
      />
    </View>
  );
}
