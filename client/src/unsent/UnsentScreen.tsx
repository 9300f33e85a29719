import { faultLine, type PartRow } from '@true-lantern/core';
import { useState } from 'react';
import { View } from 'react-native';
import { router } from 'expo-router';
import { fieldSpec } from '../data/fields';
import { saveTextFile } from '../data/files';
import {
  dependsOn,
  entryTitle,
  giveUp,
  isHeld,
  keyOfEntry,
  mendable,
  mendedValue,
  sendAgain,
  sendMended,
  unsentText,
  useMine,
  type ChangeEntry,
  type Entry,
} from '../data/outbox';
import { useRows } from '../data/site';
import { Button } from '../ui/controls';
import { TextField } from '../ui/field';
import { Page } from '../ui/page';
import { Heading, T } from '../ui/text';
import { Conflict } from './Conflict';
import { WORDS } from '../ui/words';

/** Everything of this person that has not reached the server: read, mended, exported, sent again or given up. */
export function UnsentScreen() {
  const mine = useMine();
  const find = useRows(mine.map(({ siteId }) => siteId));
  const rowOf = (entry: Entry) => ('change' in entry ? find(entry.siteId, entry.change.partId) : undefined);
  const aside = mine.filter(({ state }) => state !== 'waiting');
  const waiting = mine.filter(({ state }) => state === 'waiting');
  return (
    <Page title="Not sent yet" onBack={() => router.navigate('/')}>
      {mine.length === 0 ? (
        <T className="px-[18px] py-6">Everything has reached the server.</T>
      ) : (
        <View className="px-[18px] py-4">
          <Button
            label="Export what is not sent"
            onPress={() => saveTextFile('not-sent.lantern-unsent.json', unsentText(mine))}
          />
        </View>
      )}
      {aside.length > 0 ? (
        <Heading level={2} look="station" className="px-[18px] pb-2 pt-2">
          The server refused
        </Heading>
      ) : null}
      {aside.map((entry) => (
        <View key={keyOfEntry(entry)} className="border-b border-rule px-[18px] py-4" testID="aside">
          {entry.state === 'conflict' && 'change' in entry ? (
            <Conflict entry={entry} row={rowOf(entry)} />
          ) : (
            <Aside entry={entry} row={rowOf(entry)} />
          )}
        </View>
      ))}
      {waiting.length > 0 ? (
        <Heading level={2} look="station" className="px-[18px] pb-2 pt-6">
          Waiting
        </Heading>
      ) : null}
      {waiting.map((entry) => (
        <View
          key={keyOfEntry(entry)}
          className="min-h-[56px] justify-center border-b border-rule px-[18px] py-2"
          testID="waiting"
        >
          <T>{entryTitle(entry, rowOf(entry))}</T>
          <T look="fact">
            {entry.unkept
              ? 'only in this open page: the device could not save it'
              : isHeld(entry, mine)
                ? 'waits for an earlier entry'
                : 'sent automatically'}
          </T>
        </View>
      ))}
    </Page>
  );
}

/** One that stepped aside: what it is, why, and what can be done about it. */
function Aside({ entry, row }: { entry: Entry; row: PartRow | undefined }) {
  const [sure, setSure] = useState(false);
  const [mending, setMending] = useState(false);
  const held = dependsOn(entry);
  const mends = 'change' in entry && mendable(entry.change.set).length > 0;
  return (
    <View className="gap-2">
      <T look="head">{entryTitle(entry, row)}</T>
      {entry.faults?.map((fault) => (
        <T key={fault.path} look="mono">
          {faultLine(fault)}
        </T>
      ))}
      {mending && 'change' in entry ? (
        <Mending entry={entry} row={row} onDone={() => setMending(false)} />
      ) : (
        <View className="flex-row flex-wrap gap-3">
          <Button label="Send again" className="grow" onPress={() => void sendAgain(entry)} />
          {mends ? <Button label="Mend" className="grow" onPress={() => setMending(true)} /> : null}
          {'change' in entry || 'file' in entry ? (
            <Button label="Open the site" className="grow" onPress={() => router.navigate(`/site/${entry.siteId}`)} />
          ) : null}
          <Button
            label={
              sure
                ? `Yes, discard ${held > 0 ? `this and the ${held} that depend${held === 1 ? 's' : ''} on it` : 'this'}`
                : 'Discard'
            }
            kind="plain"
            className="grow px-3"
            onPress={() => (sure ? void giveUp(entry) : setSure(true))}
          />
        </View>
      )}
    </View>
  );
}

function Mending({ entry, row, onDone }: { entry: ChangeEntry; row: PartRow | undefined; onDone(): void }) {
  const fields = mendable(entry.change.set);
  const [typed, setTyped] = useState<Record<string, string>>({});
  const send = () => {
    const mended = Object.fromEntries(
      fields.map(([field, value]) => [field, field in typed ? mendedValue(value, typed[field] ?? '') : value]),
    );
    onDone();
    void sendMended(entry, { ...entry.change.set, ...mended });
  };
  const kind = row?.kind ?? entry.change.create?.kind;
  return (
    <View className="gap-3">
      {fields.map(([field, value]) => (
        <TextField
          key={field}
          label={(kind && fieldSpec(kind, field)?.label) ?? field}
          value={typed[field] ?? String(value)}
          onChangeText={(text) => setTyped((known) => ({ ...known, [field]: text }))}
        />
      ))}
      <View className="flex-row gap-3">
        <Button label={WORDS.cancel} className="flex-1" onPress={onDone} />
        <Button label="Send corrected" kind="main" className="flex-1" onPress={send} />
      </View>
    </View>
  );
}
