import {
  CONDITIONS,
  counted,
  positionWords,
  QUANTITIES,
  readable,
  readingText,
  type ExpectedTest,
  type Level,
  type Practice,
} from '@true-lantern/core';
import { router, useLocalSearchParams } from 'expo-router';
import { useEffect, useMemo, useState } from 'react';
import { ScrollView, View } from 'react-native';
import { useOpenSite } from '../data/open-site';
import { readPreference, writePreference } from '../data/preferences';
import type { OpenSite } from '../data/site';
import { useUnits } from '../data/units';
import { Button, Chip, HeavyRule, Row, Waiting } from '../kit/controls';
import { Heading, T } from '../kit/text';
import { Top } from '../kit/top';
import { useAnswer } from '../workers/engine';
import { HowTo } from '../entry/HowTo';
import { nameOf } from './names';

const LEVELS: readonly (readonly [Level, string])[] = [
  [1, '1: one plain fault'],
  [2, '2: any fault'],
  [3, '3: poor light, maybe none'],
  [4, '4: two, one misread'],
];
/** Cases that everybody can share by their number. */
const SET_PIECES: readonly (readonly [seed: number, level: Level])[] = [
  [11, 1],
  [12, 1],
  [13, 1],
  [21, 2],
  [22, 2],
  [23, 2],
  [31, 3],
  [32, 3],
  [41, 4],
  [42, 4],
];
/** Moves that end a case in real life: offered as any other, and stopped with the reason. */
const UNSAFE: readonly (readonly [id: string, label: string])[] = [
  ['resistance_ohm', 'Measure ohms across the live bank'],
  ['unplug', 'Unplug a module string in full sun'],
];

/** A hidden fault in a copy of this site: read, decide, and see the best way beside one's own. Never a record. */
export function PracticeScreen() {
  const site = useOpenSite();
  const given = useLocalSearchParams<{ seed?: string; level?: string }>();
  const seed = Number(given.seed);
  const level = LEVELS.find(([one]) => String(one) === given.level)?.[0];
  const chosen = Number.isInteger(seed) && seed >= 0 && level !== undefined;
  return (
    <View className="flex-1">
      <Top
        title="Practice"
        onBack={() => (chosen ? router.setParams({ seed: '', level: '' }) : router.navigate(`/site/${site.id}/prove`))}
      />
      <View className="border-b-2 border-ink bg-well px-[18px] py-2" testID="practice-banner">
        <T look="head">Practice: nothing here is a real reading, and nothing is saved to the site.</T>
      </View>
      <ScrollView>
        <View className="max-w-[860px] pb-10">
          {chosen ? <Case key={`${seed} ${level}`} site={site} seed={seed} level={level} /> : <Choose />}
        </View>
      </ScrollView>
    </View>
  );
}

function Choose() {
  const [level, setLevel] = useState<Level>(1);
  const scores = readPreference('practice') ?? {};
  const begin = (seed: number, at: Level) => router.setParams({ seed: String(seed), level: String(at) });
  const weak = Object.entries(readPreference('missed') ?? {})
    .sort(([, a], [, b]) => b - a)
    .slice(0, 3);
  return (
    <View className="gap-3 px-[18px] pt-4">
      <T look="lead">
        A fault is hidden in a copy of this system. Find it with as few minutes of measuring as you can.
      </T>
      <View role="radiogroup" aria-label="Level" className="flex-row flex-wrap gap-2">
        {LEVELS.map(([one, label]) => (
          <Chip key={one} label={label} on={level === one} onPress={() => setLevel(one)} />
        ))}
      </View>
      <Button kind="main" label="Start a new case" onPress={() => begin(Math.floor(Math.random() * 1e6), level)} />
      <Heading level={2} look="station" className="pt-3">
        Ten set cases
      </Heading>
      <T look="fact">The same for everyone on this site: share the address of a case.</T>
      <View className="-mx-[18px]">
        {SET_PIECES.map(([seed, at], i) => (
          <Row key={seed} onPress={() => begin(seed, at)} testID={`case-${seed}`}>
            <T look="head" className="flex-1">{`Case ${i + 1}`}</T>
            <T look="fact">{`level ${at}${scores[`${seed} ${at}`] ? ` \u00b7 ${scores[`${seed} ${at}`]}` : ''}`}</T>
          </Row>
        ))}
      </View>
      {weak.length > 0 ? <T look="fact">{`Missed most often: ${weak.map(([title]) => title).join(', ')}.`}</T> : null}
    </View>
  );
}

function Case({ site, seed, level }: { site: OpenSite; seed: number; level: Level }) {
  const units = useUnits();
  const [read, setRead] = useState<string[]>([]);
  const [answer, setAnswer] = useState<string | null>(null);
  const [deciding, setDeciding] = useState(false);
  const { data, error } = useAnswer<'practice'>({
    ask: 'practice',
    model: site.model,
    asked: { seed, level, read, answer },
  });
  const tests = useMemo(() => readable(site.model, CONDITIONS), [site.model]);
  // What was shown stays until the next answer comes.
  const [kept, setKept] = useState<Practice | null>(null);
  if (data && data !== kept) setKept(data);
  const now = data ?? kept;
  if (error) return <T className="px-[18px] pt-4">{error.message}</T>;
  if (!now) return <Waiting what="Hiding a fault ..." />;
  if (now.answered) return <Outcome practice={now} site={site} seed={seed} level={level} />;
  const can = tests.filter(({ id }) => now.canRead.includes(id) && !read.includes(id));
  return (
    <View>
      <View className="gap-1 px-[18px] pt-4">
        <T look="small">The customer says</T>
        <T look="lead" testID="practice-complaint">
          {now.complaint}
        </T>
        <T look="fact">{`${counted(now.read.length, 'reading')}, ${now.minutes} min so far`}</T>
      </View>
      {now.read.map((one) => (
        <View key={one.id} className="flex-row gap-3 border-b border-rule px-[18px] py-3" testID="practice-read">
          <T className="min-w-0 flex-1">{`${QUANTITIES[one.quantity][1]}${one.position ? `, ${positionWords(one.position)}` : ''}: ${nameOf(site.model, one.subject)}`}</T>
          <T look="head">{readingText(one.value, one.unit, units)}</T>
        </View>
      ))}
      {now.stopped.map(({ id, why }) => (
        <View key={id} className="mx-[18px] mt-3 border-l-[5px] border-ink pl-3" role="alert">
          <T look="head">Stop</T>
          <T>{why}</T>
        </View>
      ))}
      <View className="px-[18px] py-4">
        <Button
          kind="main"
          label={deciding ? 'Back to the readings' : 'Name the cause'}
          onPress={() => setDeciding(!deciding)}
        />
      </View>
      <HeavyRule />
      {deciding ? (
        <Causes site={site} onAnswer={setAnswer} />
      ) : (
        <ToRead
          tests={can}
          site={site}
          stopped={now.stopped.map(({ id }) => id)}
          onRead={(id) => setRead([...read, id])}
        />
      )}
    </View>
  );
}

interface ToReadProps {
  tests: readonly ExpectedTest[];
  site: OpenSite;
  stopped: readonly string[];
  onRead(id: string): void;
}

/** What can be read, part by part, with the tool and its minutes. */
function ToRead({ tests, site, stopped, onRead }: ToReadProps) {
  const [open, setOpen] = useState<string | null>(null);
  const subjects = [...new Set(tests.map(({ subject }) => subject))];
  return (
    <View>
      {subjects.map((subject) => (
        <View key={subject}>
          <Heading level={2} look="station" className="px-[18px] pb-1 pt-4">
            {nameOf(site.model, subject)}
          </Heading>
          {tests
            .filter((test) => test.subject === subject)
            .map((test) => (
              <View key={test.id}>
                <Row
                  onPress={() => setOpen(open === test.id ? null : test.id)}
                  aria-expanded={open === test.id}
                  testID={`read-${test.id}`}
                >
                  <T className="min-w-0 flex-1">{`${QUANTITIES[test.quantity][1]}${test.position ? `, ${positionWords(test.position)}` : ''}`}</T>
                  <T look="fact">{`${test.minutes} min`}</T>
                </Row>
                {open === test.id ? (
                  <View className="gap-2 border-b border-rule bg-well px-[18px] py-3">
                    <HowTo test={test} />
                    <Button label="Read it" onPress={() => onRead(test.id)} />
                  </View>
                ) : null}
              </View>
            ))}
        </View>
      ))}
      <Heading level={2} look="station" className="px-[18px] pb-1 pt-4">
        Other moves
      </Heading>
      {UNSAFE.filter(([id]) => !stopped.includes(id)).map(([id, label]) => (
        <Row key={id} onPress={() => onRead(id)} testID={`unsafe-${id}`}>
          <T>{label}</T>
        </Row>
      ))}
    </View>
  );
}

/** Every cause that this system can have, part by part. */
function Causes({ site, onAnswer }: { site: OpenSite; onAnswer(answer: string): void }) {
  const { data } = useAnswer<'faults'>({ ask: 'faults', model: site.model, readings: [], asked: {} });
  if (!data) return <Waiting what="Listing the causes ..." />;
  const seen = new Set<string>();
  const causes = data.ranking.flatMap(({ hypothesis, subject, title, and }) => {
    const key = `${hypothesis}@${subject}`;
    if (and || seen.has(key)) return [];
    seen.add(key);
    return [{ key, title }];
  });
  return (
    <View>
      {[...causes]
        .sort((a, b) => a.title.localeCompare(b.title))
        .map(({ key, title }) => (
          <Row key={key} onPress={() => onAnswer(key)} testID={`answer-${key}`}>
            <T>{title}</T>
          </Row>
        ))}
    </View>
  );
}

function Outcome({
  practice: { answered, minutes },
  site,
  seed,
  level,
}: {
  practice: Practice;
  site: OpenSite;
  seed: number;
  level: Level;
}) {
  useEffect(() => {
    if (!answered) return;
    const { right, truth, bestMinutes } = answered;
    writePreference('practice', {
      ...readPreference('practice'),
      [`${seed} ${level}`]: right ? `found in ${minutes} min, best ${bestMinutes}` : 'missed',
    });
    const missed = readPreference('missed') ?? {};
    if (!right) writePreference('missed', { ...missed, [truth.title]: (missed[truth.title] ?? 0) + 1 });
  }, [answered, minutes, seed, level]);
  if (!answered) return null;
  const { right, truth, yours, best, bestMinutes } = answered;
  return (
    <View className="gap-2 px-[18px] pt-4" testID="practice-outcome">
      <T look="lead">{right ? 'Right.' : 'Not this one.'}</T>
      <T look="head">{`It was: ${truth.title}${truth.and ? ', and a second fault' : ''}.`}</T>
      {truth.misread ? <T look="fact">One reading was misread by a factor of ten.</T> : null}
      <T>{truth.apart}</T>
      <T look="head" className="pt-3">{`Your way: ${minutes} min`}</T>
      <Steps steps={yours} site={site} />
      <T look="head" className="pt-3">{`Most information per minute: ${bestMinutes} min`}</T>
      <Steps steps={best} site={site} />
      <Button
        kind="main"
        className="mt-3"
        label="Next case"
        onPress={() => router.setParams({ seed: String(Math.floor(Math.random() * 1e6)), level: String(level) })}
      />
    </View>
  );
}

type Step = NonNullable<Practice['answered']>['yours'][number];

function Steps({ steps, site }: { steps: readonly Step[]; site: OpenSite }) {
  if (steps.length === 0) return <T look="fact">No reading.</T>;
  return (
    <View>
      {steps.map((step, i) => {
        const [subject = '', quantity = ''] = step.id.split('.');
        const name = QUANTITIES[quantity as keyof typeof QUANTITIES]?.[1] ?? quantity;
        return (
          <View key={i} className="flex-row gap-3 border-b border-rule py-2">
            <T look="fact" className="w-[64px]">{`${step.minutes} min`}</T>
            <T className="min-w-0 flex-1">{`${name}, ${nameOf(site.model, subject)}`}</T>
            <T look="fact">{`${Math.round(100 * step.probability)} % sure`}</T>
          </View>
        );
      })}
    </View>
  );
}
