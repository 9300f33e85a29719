import { bandText, liveExpected, partTitle, QUANTITIES, subjectName, type LiveExpected } from '@true-lantern/core';
import type { LiveAnswerOfSite, LiveSeries, LiveSpan } from '@true-lantern/wire';
import { router } from 'expo-router';
import { useEffect, useMemo, useState } from 'react';
import { ScrollView, View } from 'react-native';
import Svg, { Path } from 'react-native-svg';
import { useLive } from '../data/live';
import { liveNow } from '../data/live-now';
import { useOpenSite } from '../data/open-site';
import { useMayWrite } from '../data/session';
import { useUnits } from '../data/units';
import { JUDGED } from '../entry/ReadingPad';
import { useWidth } from '../ui/chart';
import { Button, Chip, Plain, Waiting } from '../ui/controls';
import { useGround } from '../ui/ground';
import { Mark } from '../ui/mark';
import { useNow } from '../ui/now';
import { Heading, T } from '../ui/text';
import { Top } from '../ui/top';
import { useWide } from '../ui/wide';
import { SiteLine } from '../line/SiteLine';
import { DemoFault } from './DemoFault';
import { agoText, FRESH_MS, liveSaid, liveText } from './live-said';
import { LiveAlerts } from './LiveAlerts';
import { LiveFeeds } from './LiveFeeds';
import { Polled } from './Polled';
import { SunOfDay } from './SunOfDay';
import { WORDS } from '../ui/words';

const SPANS: readonly (readonly [span: LiveSpan, label: string])[] = [
  ['day', 'Day'],
  ['month', 'Month'],
  ['year', 'Year'],
];
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
  const units = useUnits();
  const said = useMemo(() => liveSaid(data?.series ?? [], expected, now, units), [data, expected, now, units]);
  // The Line shows the same for as long as this screen is open.
  useEffect(() => liveNow.set(said.size > 0 ? said : null), [said]);
  useEffect(() => () => liveNow.set(null), []);
  const wide = useWide();
  const [onLine, setOnLine] = useState(false);
  return (
    <View className="flex-1">
      <Top title="Live" onBack={() => router.navigate(`/site/${site.id}/service`)} />
      <ScrollView>
        <View className="max-w-[860px] pb-10">
          <LiveHead
            data={data ?? null}
            error={error}
            isPending={isPending}
            expected={expected}
            now={now}
            onAgain={() => void refetch()}
          />
          <View role="radiogroup" aria-label="How far back" className="flex-row flex-wrap gap-2 px-[18px] pt-3">
            {SPANS.map(([one, label]) => (
              <Chip
                key={one}
                label={label}
                on={span === one && !onLine}
                onPress={() => (setSpan(one), setOnLine(false))}
              />
            ))}
            {wide || said.size === 0 ? null : <Chip label="On the Line" on={onLine} onPress={() => setOnLine(true)} />}
          </View>
          {onLine && !wide ? <SiteLine site={site} /> : null}
          {data && span === 'day' && !onLine ? <SunOfDay data={data} /> : null}
          {(onLine && !wide ? [] : (data?.series ?? [])).map((one) => (
            <Series
              key={`${one.subject} ${one.quantity}`}
              series={one}
              now={now}
              expected={expected.find((row) => row.subject === one.subject && row.quantity === one.quantity) ?? null}
              name={partTitle(site.model.system, one.subject) ?? one.subject}
            />
          ))}
          <DemoFault siteName={site.file.site.name} />
          <LiveAlerts />
          {mayWrite ? <LiveFeeds siteId={site.id} /> : null}
          {mayWrite || (site.file.feeds ?? []).length > 0 ? (
            <Polled polled={data?.polled ?? {}} asks={data?.asks ?? true} now={now} mayWrite={mayWrite} />
          ) : null}
        </View>
      </ScrollView>
    </View>
  );
}

interface LiveHeadProps {
  data: LiveAnswerOfSite | null;
  error: Error | null;
  isPending: boolean;
  expected: readonly LiveExpected[];
  now: number;
  onAgain(): void;
}

/** When it was last heard, what is out of range, and what went wrong in asking. */
function LiveHead({ data, error, isPending, expected, now, onAgain }: LiveHeadProps) {
  const site = useOpenSite();
  const outside = expected.filter(({ judged }) => judged === 'outside');
  const newest = Math.max(...(data?.series ?? []).map(({ at }) => Date.parse(at)));
  return (
    <>
      <Heading look="lead" className="px-[18px] pt-4" testID="live-lead">
        {!data
          ? ' '
          : data.series.length === 0
            ? 'This system has not sent anything yet.'
            : now - newest < FRESH_MS
              ? `Heard ${agoText(now - newest)} ago.`
              : `Silent: last heard ${agoText(now - newest)} ago.`}
      </Heading>
      {isPending ? <Waiting what="Loading the values ..." /> : null}
      {error && !data ? (
        <Plain title="The values could not be loaded." text={error.message}>
          <Button label={WORDS.tryAgain} kind="main" onPress={onAgain} />
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
    </>
  );
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
  const text = (one: number) => liveText(quantity, one, units);
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
    // One value alone is a dot, not nothing.
    if (begins && !steps[i + 1]) line += `M${(x(i) - 2).toFixed(1)} ${y(step[1]).toFixed(1)}h4`;
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
