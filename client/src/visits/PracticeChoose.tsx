import type { Level } from '@true-lantern/core';
import { router } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import { chooseTextFile } from '../data/files';
import { readPreference } from '../data/preferences';
import { Button, Chip, Row } from '../ui/controls';
import { Heading, T } from '../ui/text';
import { MOST_CASE_BYTES, readCase, type SentCase } from './practice-case';

/** Levels of practice, as they are chosen. */
export const LEVELS: readonly (readonly [Level, string])[] = [
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
/** Which case: at this site or a made-up one, at a level, a set piece, or one that somebody sent. */
export function Choose({ onOpen }: { onOpen(sent: SentCase): void }) {
  const [level, setLevel] = useState<Level>(1);
  const scores = readPreference('practice') ?? {};
  const [madeUp, setMadeUp] = useState(false);
  const [fault, setFault] = useState<string | null>(null);
  const begin = (seed: number, at: Level) =>
    router.setParams({ seed: String(seed), level: String(at), on: madeUp ? 'made-up' : '' });
  const open = async () => {
    const chosen = await chooseTextFile('.json', MOST_CASE_BYTES);
    if (!chosen) return;
    const sent = readCase(chosen.text);
    if (typeof sent === 'string') setFault(sent);
    else onOpen(sent);
  };
  const weak = Object.entries(readPreference('missed') ?? {})
    .sort(([, a], [, b]) => b - a)
    .slice(0, 3);
  return (
    <View className="gap-3 px-[18px] pt-4">
      <T look="lead">
        {`A fault is hidden in ${madeUp ? 'a made-up system' : 'a copy of this system'}. Find it with as few minutes of measuring as you can.`}
      </T>
      <View role="radiogroup" aria-label="System" className="flex-row flex-wrap gap-2">
        <Chip label="This site" on={!madeUp} onPress={() => setMadeUp(false)} />
        <Chip label="A made-up site" on={madeUp} onPress={() => setMadeUp(true)} />
      </View>
      <View role="radiogroup" aria-label="Level" className="flex-row flex-wrap gap-2">
        {LEVELS.map(([one, label]) => (
          <Chip key={one} label={label} on={level === one} onPress={() => setLevel(one)} />
        ))}
      </View>
      <Button kind="main" label="Start a new case" onPress={() => begin(Math.floor(Math.random() * 1e6), level)} />
      <Heading level={2} look="station" className="pt-3">
        Ten set cases
      </Heading>
      <T look="fact">The same for everyone: share the address of a case, or save it as a file once it is open.</T>
      <View className="-mx-[18px]">
        {SET_PIECES.map(([seed, at], i) => (
          <Row key={seed} onPress={() => begin(seed, at)} testID={`case-${seed}`}>
            <T look="head" className="flex-1">{`Case ${i + 1}`}</T>
            <T look="fact">{`level ${at}${scores[`${seed} ${at}`] ? ` \u00b7 ${scores[`${seed} ${at}`]}` : ''}`}</T>
          </Row>
        ))}
      </View>
      <Button label="Open a case from a file" onPress={() => void open()} />
      {fault ? (
        <T role="alert" look="fact">
          {fault}
        </T>
      ) : null}
      {weak.length > 0 ? <T look="fact">{`Missed most often: ${weak.map(([title]) => title).join(', ')}.`}</T> : null}
    </View>
  );
}
