import {
  bandText,
  liveExpected,
  partTitle,
  QUANTITIES,
  readingText,
  subjectName,
  type LiveExpected,
} from '@true-lantern/core';
import type { Feed, LiveSeries, LiveSpan } from '@true-lantern/wire';
import { router } from 'expo-router';
import { useMemo, useState } from 'react';
import { ScrollView, View } from 'react-native';
import Svg, { Path } from 'react-native-svg';
import { endFeed, makeFeed, useFeeds, useFeedsAgain, useLive } from '../data/live';
import { useOpenSite } from '../data/open-site';
import { useMayWrite } from '../data/session';
import { useUnits } from '../data/units';
import { JUDGED } from '../entry/ReadingPad';
import { useWidth } from '../kit/chart';
import { useAttempt } from '../kit/attempt';
import { Button, Chip, Plain, Waiting } from '../kit/controls';
import { shortDay } from '../kit/dates';
import { useGround } from '../kit/ground';
import { Mark } from '../kit/mark';
import { useNow } from '../kit/now';
import { Heading, T } from '../kit/text';
import { Top } from '../kit/top';

const SPANS: readonly (readonly [span: LiveSpan, label: string])[] = [
  ['day', 'Day'],
  ['month', 'Month'],
  ['year', 'Year'],
];
/** Older than this a value is no longer what is so now. */
const FRESH_MS = 5 * 60_000;
const TICK_MS = 10_000;

/** What the system says of itself: each quantity with its newest value, how old that is, and its course. */
export function LiveScreen() {
  const site = useOpenSite();
  const mayWrite = useMayWrite();
  const [span, setSpan] = useState<LiveSpan>('day');
  const { data, error, isPending, refetch } = useLive(site.id, span);
  const now = useNow(TICK_MS);
  const expected = useMemo(
    () =>
      liveExpected(
        site.judged,
        (data?.series ?? []).map(({ subject, quantity, value, at }) => ({
          subject,
          quantity,
          value,
          at: Date.parse(at),
        })),
      ),
    [site.judged, data],
  );
  const outside = expected.filter(({ judged }) => judged === 'outside');
  const newest = Math.max(...(data?.series ?? []).map(({ at }) => Date.parse(at)));
  return (
    <View className="flex-1">
      <Top title="Live" onBack={() => router.navigate(`/site/${site.id}/prove`)} />
      <ScrollView>
        <View className="max-w-[860px] pb-10">
          <Heading look="lead" className="px-[18px] pt-4" testID="live-lead">
            {!data
              ? ' '
              : data.series.length === 0
                ? 'Nothing has been heard from this system yet.'
                : now - newest < FRESH_MS
                  ? `Heard ${agoText(now - newest)} ago.`
                  : `Silent: last heard ${agoText(now - newest)} ago.`}
          </Heading>
          {isPending ? <Waiting what="Loading the values ..." /> : null}
          {error && !data ? (
            <Plain title="The values could not be loaded." text={error.message}>
              <Button label="Try again" kind="main" onPress={() => void refetch()} />
            </Plain>
          ) : null}
          {error && data ? (
            <T className="px-[18px] pt-1" role="status">
              No signal: these are the values this device last saw.
            </T>
          ) : null}
          {outside.length > 0 && now - newest < FRESH_MS ? (
            <View className="mx-[18px] mt-3 gap-2 border-l-[5px] border-ink pl-3" role="alert" testID="live-outside">
              {outside.map(({ subject, quantity }) => (
                <T key={`${subject} ${quantity}`} look="head">
                  {`${QUANTITIES[quantity][1]} of ${subjectName(site.model, subject)} is out of range.`}
                </T>
              ))}
              <Button label="Find the fault" onPress={() => router.navigate(`/site/${site.id}/faults`)} />
            </View>
          ) : null}
          <View role="radiogroup" aria-label="How far back" className="flex-row flex-wrap gap-2 px-[18px] pt-3">
            {SPANS.map(([one, label]) => (
              <Chip key={one} label={label} on={span === one} onPress={() => setSpan(one)} />
            ))}
          </View>
          {data?.series.map((one) => (
            <Series
              key={`${one.subject} ${one.quantity}`}
              series={one}
              now={now}
              expected={expected.find((row) => row.subject === one.subject && row.quantity === one.quantity) ?? null}
              name={partTitle(site.model.system, one.subject) ?? one.subject}
            />
          ))}
          {mayWrite ? <Feeds siteId={site.id} /> : null}
        </View>
      </ScrollView>
    </View>
  );
}

/** "40 s", "12 min", "3 h", "5 days". */
export function agoText(ms: number): string {
  const seconds = Math.max(0, Math.round(ms / 1000));
  if (seconds < 90) return `${seconds} s`;
  if (seconds < 90 * 60) return `${Math.round(seconds / 60)} min`;
  if (seconds < 36 * 3600) return `${Math.round(seconds / 3600)} h`;
  return `${Math.round(seconds / 86_400)} days`;
}

interface SeriesProps {
  series: LiveSeries;
  name: string;
  now: number;
  expected: LiveExpected | null;
}

function Series({ series, name, now, expected }: SeriesProps) {
  const units = useUnits();
  const { subject, quantity, at, value, steps } = series;
  const [unit, label] = QUANTITIES[quantity];
  const age = now - Date.parse(at);
  const known = steps.flatMap((step) => (step ? [step] : []));
  const text = (one: number) =>
    quantity === 'head_soc' ? `${Math.round(100 * one)}\u00a0%` : readingText(one, unit, units);
  return (
    <View className="border-b border-rule px-[18px] py-3" testID={`live-${subject}.${quantity}`}>
      <View className="flex-row items-baseline justify-between gap-3">
        <View className="min-w-0 flex-1">
          <T look="head">{name}</T>
          <T look="fact">{label}</T>
          {expected ? (
            <T look="fact" testID="live-expected">
              {`expected ${bandText({ ...expected, unit }, units)}`}
            </T>
          ) : null}
        </View>
        {expected ? <Mark verdict={JUDGED[expected.judged].verdict} size={22} /> : null}
        <View className="items-end">
          <T look="figure" className={age > FRESH_MS ? 'text-soft' : 'text-ink'}>
            {text(value)}
          </T>
          <T look="fact">{`${agoText(age)} ago${expected ? `, ${JUDGED[expected.judged].word}` : ''}`}</T>
        </View>
      </View>
      <Course steps={steps} label={`${label} of ${name} over time`} />
      {known.length > 0 ? (
        <T look="fact">
          {`from ${text(Math.min(...known.map(([least]) => least)))} to ${text(Math.max(...known.map(([, , most]) => most)))}`}
        </T>
      ) : null}
    </View>
  );
}

const HIGH = 56;

/** The mean as a line, least and most as a band; where nothing came there is nothing. */
function Course({ steps, label }: { steps: LiveSeries['steps']; label: string }) {
  const { colours } = useGround();
  const [width, onLayout] = useWidth();
  const known = steps.flatMap((step) => (step ? [step] : []));
  const low = Math.min(...known.map(([least]) => least));
  const high = Math.max(...known.map(([, , most]) => most));
  const x = (i: number) => (i / Math.max(1, steps.length - 1)) * width;
  const y = (value: number) => HIGH - 4 - ((value - low) / Math.max(1e-9, high - low)) * (HIGH - 8);
  let line = '';
  let band = '';
  steps.forEach((step, i) => {
    if (!step) return;
    const begins = !steps[i - 1];
    line += `${begins ? 'M' : 'L'}${x(i).toFixed(1)} ${y(step[1]).toFixed(1)}`;
    band += `M${x(i).toFixed(1)} ${y(step[0]).toFixed(1)}V${y(step[2]).toFixed(1)}`;
  });
  return (
    <View onLayout={onLayout} className="pt-1">
      <Svg width={width} height={HIGH} role="img" aria-label={label}>
        <Path d={band} stroke={colours.rule} strokeWidth={Math.max(1, width / steps.length)} fill="none" />
        <Path d={line} stroke={colours.ink} strokeWidth={2} fill="none" />
      </Svg>
    </View>
  );
}

/** The tokens by which devices send: made here, told once, ended here. */
function Feeds({ siteId }: { siteId: string }) {
  const { data } = useFeeds(siteId);
  const { made, trouble, attempt } = useAttempt<Feed>(useFeedsAgain());
  return (
    <View className="gap-3 px-[18px] pt-8">
      <Heading level={2} look="station">
        Who may send
      </Heading>
      <T look="fact">
        A logger or a gateway on site sends its values here, one JSON a line. Its token can send, and nothing else.
      </T>
      {trouble ? <T role="alert">{trouble}</T> : null}
      {made?.token ? (
        <View className="gap-2 bg-well px-4 py-4" role="status" testID="feed-token">
          <T look="mono" selectable>
            {made.token}
          </T>
          <T look="mono" selectable>
            {`POST ${location.origin}/api/live`}
          </T>
          <T look="fact">The token is shown only once.</T>
        </View>
      ) : null}
      {data?.feeds.map(({ id, createdAt, by, used }) => (
        <View key={id} className="min-h-[64px] flex-row items-center justify-between gap-3 border-b border-rule">
          <View className="min-w-0 flex-1">
            <T>{`Made ${shortDay(createdAt)}${by ? ` by ${by}` : ''}`}</T>
            <T look="fact">{`used ${used} times`}</T>
          </View>
          <Button
            label="End"
            aria-label={`End the token of ${shortDay(createdAt)}`}
            kind="plain"
            onPress={() => void attempt(() => endFeed(siteId, id))}
          />
        </View>
      ))}
      <Button label="Make a token" onPress={() => void attempt(() => makeFeed(siteId))} />
    </View>
  );
}
