import {
  CONDITIONS,
  counted,
  madeUpFor,
  modelOf,
  positionWords,
  QUANTITIES,
  readable,
  readingText,
  type ExpectedTest,
  type Level,
  type Model,
  type Practice,
} from '@true-lantern/core';
import { router, useLocalSearchParams } from 'expo-router';
import { useEffect, useMemo, useState } from 'react';
import { ScrollView, View } from 'react-native';
import { useOpenSite } from '../data/open-site';
import { saveTextFile } from '../data/files';
import { readPreference, writePreference } from '../data/preferences';
import { useUnits } from '../data/units';
import { Button, HeavyRule, Row, Waiting } from '../ui/controls';
import { Heading, T } from '../ui/text';
import { Top } from '../ui/top';
import { useAnswer } from '../workers/engine';
import { HowTo } from '../entry/HowTo';
import { nameOf } from './names';
import { caseText, type SentCase } from './practice-case';
import { Choose, LEVELS } from './PracticeChoose';

/** Moves that end a case in real life: offered as any other, and stopped with the reason. */
const UNSAFE: readonly (readonly [id: string, label: string])[] = [
  ['resistance_ohm', 'Measure ohms across the live bank'],
  ['unplug', 'Unplug a module string in full sun'],
];

/** A hidden fault in a copy of this site: read, decide, and see the best way beside one's own. Never a record. */
export function PracticeScreen() {
  const site = useOpenSite();
  const given = useLocalSearchParams<{ seed?: string; level?: string; on?: string }>();
  const seed = Number(given.seed);
  const level = LEVELS.find(([one]) => String(one) === given.level)?.[0];
  /** A case that somebody sent, with the system that it is of. */
  const [sent, setSent] = useState<SentCase | null>(null);
  const madeUp = given.on === 'made-up';
  const model = useMemo(
    () => (sent ? sent.model : madeUp ? modelOf(madeUpFor(seed)) : site.model),
    [sent, madeUp, seed, site.model],
  );
  const leave = () => {
    setSent(null);
    router.setParams({ seed: '', level: '', on: '' });
  };
  // A case that was sent is gone with the page: its number alone would hide another fault in this site.
  const there = given.on !== 'sent' || sent !== null;
  const chosen = Number.isInteger(seed) && seed >= 0 && level !== undefined && there;
  return (
    <View className="flex-1">
      <Top title="Practice" onBack={() => (chosen ? leave() : router.navigate(`/site/${site.id}/service`))} />
      <View className="border-b-2 border-ink bg-well px-[18px] py-2" testID="practice-banner">
        <T look="head">Practice: nothing here is a real reading, and nothing is saved to the site.</T>
      </View>
      <ScrollView>
        <View className="max-w-[860px] pb-10">
          {chosen ? (
            <Case key={`${seed} ${level} ${given.on}`} model={model} seed={seed} level={level} />
          ) : (
            <Choose
              onOpen={(opened) => {
                setSent(opened);
                router.setParams({ seed: String(opened.seed), level: String(opened.level), on: 'sent' });
              }}
            />
          )}
        </View>
      </ScrollView>
    </View>
  );
}

function Case({ model, seed, level }: { model: Model; seed: number; level: Level }) {
  const units = useUnits();
  const [read, setRead] = useState<string[]>([]);
  const [answer, setAnswer] = useState<string | null>(null);
  const [deciding, setDeciding] = useState(false);
  const { data, error } = useAnswer<'practice'>({
    ask: 'practice',
    model,
    asked: { seed, level, read, answer },
  });
  const tests = useMemo(() => readable(model, CONDITIONS), [model]);
  // What was shown stays until the next answer comes.
  const [kept, setKept] = useState<Practice | null>(null);
  if (data && data !== kept) setKept(data);
  const now = data ?? kept;
  if (error) return <T className="px-[18px] pt-4">{error.message}</T>;
  if (!now) return <Waiting what="Hiding a fault ..." />;
  if (now.answered) return <Outcome practice={now} model={model} seed={seed} level={level} />;
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
          <T className="min-w-0 flex-1">{`${QUANTITIES[one.quantity][1]}${one.position ? `, ${positionWords(one.position)}` : ''}: ${nameOf(model, one.subject)}`}</T>
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
        <Causes model={model} onAnswer={setAnswer} />
      ) : (
        <ToRead
          tests={can}
          model={model}
          stopped={now.stopped.map(({ id }) => id)}
          onRead={(id) => setRead([...read, id])}
        />
      )}
    </View>
  );
}

interface ToReadProps {
  tests: readonly ExpectedTest[];
  model: Model;
  stopped: readonly string[];
  onRead(id: string): void;
}

/** What can be read, part by part, with the tool and its minutes. */
function ToRead({ tests, model, stopped, onRead }: ToReadProps) {
  const [open, setOpen] = useState<string | null>(null);
  const subjects = [...new Set(tests.map(({ subject }) => subject))];
  return (
    <View>
      {subjects.map((subject) => (
        <View key={subject}>
          <Heading level={2} look="station" className="px-[18px] pb-1 pt-4">
            {nameOf(model, subject)}
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
function Causes({ model, onAnswer }: { model: Model; onAnswer(answer: string): void }) {
  const { data } = useAnswer<'faults'>({ ask: 'faults', model, readings: [], asked: { chancesOnly: true } });
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
  model,
  seed,
  level,
}: {
  practice: Practice;
  model: Model;
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
      <Steps steps={yours} model={model} />
      <T look="head" className="pt-3">{`Most information per minute: ${bestMinutes} min`}</T>
      <Steps steps={best} model={model} />
      <Button
        className="mt-3"
        label="Save this case as a file"
        onPress={() => saveTextFile(`practice-${seed}-${level}.json`, caseText({ seed, level, model }))}
      />
      <Button
        kind="main"
        label="Next case"
        onPress={() => router.setParams({ seed: String(Math.floor(Math.random() * 1e6)), level: String(level) })}
      />
    </View>
  );
}

type Step = NonNullable<Practice['answered']>['yours'][number];

function Steps({ steps, model }: { steps: readonly Step[]; model: Model }) {
  if (steps.length === 0) return <T look="fact">No reading.</T>;
  return (
    <View>
      {steps.map((step, i) => {
        const [subject = '', quantity = ''] = step.id.split('.');
        const name = QUANTITIES[quantity as keyof typeof QUANTITIES]?.[1] ?? quantity;
        return (
          <View key={i} className="gap-1 border-b border-rule py-2">
            <View className="flex-row gap-3">
              <T look="fact" className="w-[64px]">{`${step.minutes} min`}</T>
              <T className="min-w-0 flex-1">{`${name}, ${nameOf(model, subject)}`}</T>
              <T look="fact">{`${Math.round(100 * step.probability)} % sure`}</T>
            </View>
            {step.why ? <T look="fact">{step.why}</T> : null}
          </View>
        );
      })}
    </View>
  );
}
