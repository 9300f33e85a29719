import { LOG_KINDS, LOG_TESTS, LOG_WORDS, TEST_WORDS, type LogKind, type LogTest } from '@true-lantern/core';
import { useState } from 'react';
import { View } from 'react-native';
import { attachmentsOf, removeAttachment } from '../data/attachments';
import { addEntry, newEntryId } from '../data/log';
import { usePerson } from '../data/session';
import type { OpenSite } from '../data/site';
import { Attachments } from '../entry/Attachments';
import { Button, Chip } from '../ui/controls';
import { TextField } from '../ui/field';
import { readEntry } from '../ui/number-entry';
import { Speak } from '../ui/speak';
import { listenWords } from '../ui/spoken';
import { Heading } from '../ui/text';
import { offerUndo } from '../ui/undo';
import { partsOf, usualKinds } from './parts';
import { WORDS } from '../ui/words';

/** A new entry: what was done, at what, and a line about it, typed or spoken. */
export function LogEntryForm({ site, start, onDone }: { site: OpenSite; start: string | null; onDone(): void }) {
  const person = usePerson();
  const [id] = useState(newEntryId);
  const [kind, setKind] = useState<LogKind>('note');
  const [what, setWhat] = useState<LogTest>('rcd');
  const [subject, setSubject] = useState<string | null>(start);
  const [text, setText] = useState('');
  const [amount, setAmount] = useState('');
  const measure = AMOUNTS[kind];
  const number = readEntry(amount);
  const wrong = number === undefined || (number ?? 0) < 0 || (number ?? 0) > 1e6 ? 'Expected a number' : undefined;
  const taken = attachmentsOf(site, id);
  const empty = kind === 'note' && text.trim() === '' && taken.length === 0;
  const save = () => {
    offerUndo(
      `${LOG_WORDS[kind]}: saved`,
      addEntry(
        site,
        person.name,
        {
          kind,
          ...(subject ? { subject } : {}),
          ...(kind === 'tested' ? { what } : {}),
          ...(text.trim() ? { text: text.trim() } : {}),
          ...(measure && typeof number === 'number' ? { [measure.field]: number } : {}),
          ...(taken.length > 0 ? { attachments: taken.map((row) => row.id) } : {}),
        },
        id,
      ),
    );
    onDone();
  };
  return (
    <View className="gap-3 border-l-[5px] border-l-lamp bg-well p-4" testID="log-entry">
      <Heading level={2} look="station">
        New entry
      </Heading>
      <Chosen
        site={site}
        kind={kind}
        onKind={setKind}
        what={what}
        onWhat={setWhat}
        subject={subject}
        onSubject={setSubject}
      />
      {measure ? (
        <TextField label={measure.label} value={amount} onChangeText={setAmount} inputMode="decimal" error={wrong} />
      ) : null}
      <TextField label="Text" value={text} onChangeText={setText} multiline />
      <Speak label="Speak it" hear={listenWords} onHeard={(said) => setText([text, said].filter(Boolean).join(' '))} />
      <Attachments subject={id} />
      <View className="flex-row gap-3">
        <Button
          kind="main"
          className="flex-1"
          label={WORDS.saveEntry}
          disabled={empty || wrong !== undefined}
          onPress={save}
        />
        <Button
          label={WORDS.cancel}
          onPress={() => {
            // What was photographed for an entry that is not written belongs to nothing.
            for (const row of taken) removeAttachment(site, row);
            onDone();
          }}
        />
      </View>
    </View>
  );
}

interface ChosenProps {
  site: OpenSite;
  kind: LogKind;
  onKind(kind: LogKind): void;
  what: LogTest;
  onWhat(what: LogTest): void;
  subject: string | null;
  onSubject(subject: string | null): void;
}

/** What was done, and at what: the usual first. */
function Chosen({ site, kind, onKind, what, onWhat, subject, onSubject }: ChosenProps) {
  const [allKinds, setAllKinds] = useState(false);
  const [allParts, setAllParts] = useState(false);
  const parts = partsOf(site, kind, what);
  return (
    <>
      <View role="radiogroup" aria-label="What was done" className="flex-row flex-wrap gap-2">
        {(allKinds ? LOG_KINDS : usualKinds(site, kind)).map((one) => (
          <Chip key={one} label={LOG_WORDS[one]} on={kind === one} onPress={() => onKind(one)} />
        ))}
        {allKinds ? null : <Chip many label="More ..." on={false} onPress={() => setAllKinds(true)} />}
      </View>
      {kind === 'tested' ? (
        <View role="radiogroup" aria-label="What was tested" className="flex-row flex-wrap gap-2">
          {LOG_TESTS.map((one) => (
            <Chip key={one} label={TEST_WORDS[one]} on={what === one} onPress={() => onWhat(one)} />
          ))}
        </View>
      ) : null}
      <View role="radiogroup" aria-label="Part" className="flex-row flex-wrap gap-2">
        <Chip label="The whole site" on={subject === null} onPress={() => onSubject(null)} />
        {(allParts ? parts : parts.slice(0, FEW_PARTS)).map(({ id, label }) => (
          <Chip key={id} label={label} on={subject === id} onPress={() => onSubject(id)} />
        ))}
        {parts.length > FEW_PARTS && !allParts ? (
          <Chip many label="Other parts ..." on={false} onPress={() => setAllParts(true)} />
        ) : null}
      </View>
    </>
  );
}

/** So many parts are offered at first. */
const FEW_PARTS = 3;
/** The figure that goes with an entry, where there is one. */
const AMOUNTS: Partial<Record<LogKind, { field: 'litres' | 'hours' | 'minutes'; label: string }>> = {
  watered: { field: 'litres', label: 'Water, L' },
  fuel: { field: 'hours', label: 'Running hours since the last entry, h' },
  equalised: { field: 'hours', label: 'For how long, h' },
};
