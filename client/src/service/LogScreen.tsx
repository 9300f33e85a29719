import {
  counted,
  foundIn,
  LOG_KINDS,
  LOG_TESTS,
  LOG_WORDS,
  partTitle,
  TEST_WORDS,
  timelineOf,
  timelineTable,
  type LogKind,
  type LogTest,
  type TimeLine,
} from '@true-lantern/core';
import { router, useLocalSearchParams } from 'expo-router';
import Papa from 'papaparse';
import { useDeferredValue, useMemo, useState } from 'react';
import { FlatList, View } from 'react-native';
import { saveTextFile } from '../data/files';
import { addEntry, strikeOut } from '../data/log';
import { useOpenSite } from '../data/open-site';
import { useMayWrite, usePerson } from '../data/session';
import type { OpenSite } from '../data/site';
import { useUnits } from '../data/units';
import { Button, Chip, HeavyRule, Row } from '../kit/controls';
import { momentText } from '../kit/dates';
import { TextField } from '../kit/field';
import { readEntry } from '../kit/number-entry';
import { Speak } from '../kit/speak';
import { listenWords } from '../kit/spoken';
import { Heading, T } from '../kit/text';
import { Top } from '../kit/top';
import { offerUndo } from '../kit/undo';
import { partsOf, usualKinds } from './parts';

/** What the list is narrowed to. */
type Narrow = 'all' | 'log' | 'reading' | 'visit';
const NARROW: readonly (readonly [Narrow, string])[] = [
  ['all', 'All'],
  ['log', 'Log'],
  ['reading', 'Readings'],
  ['visit', 'Visits'],
];

/** Everything that happened here, the latest first; searched as one types, written in a few taps. */
export function LogScreen() {
  const site = useOpenSite();
  const units = useUnits();
  const mayWrite = useMayWrite();
  const { add, subject } = useLocalSearchParams<{ add?: string; subject?: string }>();
  const [words, setWords] = useState('');
  const [narrow, setNarrow] = useState<Narrow>('all');
  const [part, setPart] = useState<string | null>(null);
  const [writing, setWriting] = useState(add !== undefined);
  const [open, setOpen] = useState<string | null>(null);
  const typed = useDeferredValue(words);
  const all = useMemo(() => timelineOf(site.file, units), [site.file, units]);
  const shown = useMemo(
    () =>
      foundIn(all, typed).filter(
        (line) =>
          (narrow === 'all' ||
            (narrow === 'log' ? line.entry !== undefined : narrow === 'visit' ? isVisit(line) : line.of === narrow)) &&
          (part === null || line.subject === part),
      ),
    [all, typed, narrow, part],
  );
  const parts = useMemo(() => [...new Set(all.map((line) => line.subject))].filter((id) => id !== 'site'), [all]);
  return (
    <View className="flex-1">
      <Top title="Log" onBack={() => router.navigate(`/site/${site.id}/prove`)} />
      <FlatList
        data={shown}
        keyExtractor={({ id }) => id}
        initialNumToRender={16}
        windowSize={9}
        testID="timeline"
        ListHeaderComponent={
          <View className="max-w-[860px] gap-3 px-[18px] pb-3 pt-4">
            {writing ? (
              <Entry site={site} start={subject ?? null} onDone={() => setWriting(false)} />
            ) : mayWrite ? (
              <Button kind="main" label="Add entry" onPress={() => setWriting(true)} />
            ) : null}
            <Narrowing
              site={site}
              parts={parts}
              words={words}
              onWords={setWords}
              narrow={narrow}
              onNarrow={setNarrow}
              part={part}
              onPart={setPart}
            />
            <View className="flex-row items-center gap-3">
              <T look="fact" className="flex-1" testID="log-count">
                {shown.length === all.length
                  ? counted(all.length, 'entry', 'entries')
                  : `${shown.length} of ${counted(all.length, 'entry', 'entries')}`}
              </T>
              {shown.length > 0 ? <Button label="Export CSV" onPress={() => exportCsv(site, shown)} /> : null}
            </View>
            <HeavyRule />
          </View>
        }
        ListEmptyComponent={
          <T className="px-[18px] py-4 text-soft">
            {all.length === 0
              ? 'Nothing is logged yet. Readings, visits and what is done here will appear, the latest first.'
              : 'No entry has all of these words.'}
          </T>
        }
        renderItem={({ item }) => (
          <Line
            line={item}
            open={open === item.id}
            onOpen={() => setOpen(open === item.id ? null : item.id)}
            site={site}
            mayWrite={mayWrite}
          />
        )}
      />
    </View>
  );
}
interface NarrowingProps {
  site: OpenSite;
  parts: readonly string[];
  words: string;
  onWords(words: string): void;
  narrow: Narrow;
  onNarrow(narrow: Narrow): void;
  part: string | null;
  onPart(part: string | null): void;
}

/** By words, by what it is, by part. */
function Narrowing({ site, parts, words, onWords, narrow, onNarrow, part, onPart }: NarrowingProps) {
  const [byPart, setByPart] = useState(false);
  return (
    <>
      <TextField label="Search the log" value={words} onChangeText={onWords} testID="log-search" />
      <View role="radiogroup" aria-label="Show" className="flex-row flex-wrap gap-2">
        {NARROW.map(([name, label]) => (
          <Chip key={name} label={label} on={narrow === name} onPress={() => onNarrow(name)} />
        ))}
        {parts.length > 1 ? (
          <Chip many label="One part" on={byPart} onPress={() => (setByPart(!byPart), onPart(null))} />
        ) : null}
      </View>
      {byPart ? (
        <View role="radiogroup" aria-label="Part" className="flex-row flex-wrap gap-2">
          {parts.slice(0, MOST_PARTS).map((id) => (
            <Chip
              key={id}
              label={partTitle(site.model.system, id) ?? nameGone(site, id)}
              on={part === id}
              onPress={() => onPart(part === id ? null : id)}
            />
          ))}
        </View>
      ) : null}
    </>
  );
}

/** More chips than this are no choice any more: the search finds the others. */
const MOST_PARTS = 8;

const isVisit = ({ of }: TimeLine) => of === 'visit' || of === 'installed';
const nameGone = (site: OpenSite, id: string) =>
  site.file.gone?.find((one) => one.id === id)?.label ?? 'A part that was removed';

const exportCsv = (site: OpenSite, lines: readonly TimeLine[]) =>
  saveTextFile(`${site.file.site.name || 'site'} log.csv`, `${Papa.unparse(timelineTable(lines))}\r\n`, 'text/csv');

interface LineProps {
  line: TimeLine;
  open: boolean;
  onOpen(): void;
  site: OpenSite;
  mayWrite: boolean;
}

function Line({ line, open, onOpen, site, mayWrite }: LineProps) {
  const { at, title, text, by, struck, entry } = line;
  const mayStrike = mayWrite && entry !== undefined && !struck;
  return (
    <View className="max-w-[860px]">
      <Row onPress={onOpen} aria-expanded={open} testID="log-line">
        <View className="min-w-0 flex-1">
          <T look="head" className={struck ? 'text-soft line-through' : ''}>
            {title}
          </T>
          {text ? (
            <T look="fact" numberOfLines={open ? undefined : 2}>
              {text}
            </T>
          ) : null}
          <T look="small">
            {[at ? momentText(at) : 'no date', by, struck ? 'struck out' : ''].filter(Boolean).join(' \u00b7 ')}
          </T>
        </View>
      </Row>
      {open && mayStrike ? (
        <View className="flex-row gap-3 border-b border-rule px-[18px] py-3">
          <Button
            label="Strike out"
            className="flex-1"
            onPress={() => offerUndo('Struck out', strikeOut(site, entry.id))}
          />
          <Correct site={site} line={line} />
        </View>
      ) : null}
    </View>
  );
}

/** A correction is an entry of its own: the first text stays, and settles nothing any more. */
function Correct({ site, line }: Pick<LineProps, 'site' | 'line'>) {
  const [on, setOn] = useState(false);
  const [text, setText] = useState(line.entry?.text ?? '');
  const person = usePerson();
  const { entry } = line;
  if (!entry) return null;
  if (!on) return <Button label="Correct" className="flex-1" onPress={() => setOn(true)} />;
  return (
    <View className="min-w-0 flex-[2] gap-2">
      <TextField label="Corrected text" value={text} onChangeText={setText} multiline />
      <Button
        label="Save correction"
        onPress={() => {
          const { id, at: _at, by: _by, struckOut: _struck, corrects: _corrects, ...rest } = entry;
          offerUndo('Correction saved', addEntry(site, person.name, { ...rest, text, corrects: id }));
          setOn(false);
        }}
      />
    </View>
  );
}

/** A new entry: what was done, at what, and a line about it, typed or spoken. */
function Entry({ site, start, onDone }: { site: OpenSite; start: string | null; onDone(): void }) {
  const person = usePerson();
  const [kind, setKind] = useState<LogKind>('note');
  const [what, setWhat] = useState<LogTest>('rcd');
  const [subject, setSubject] = useState<string | null>(start);
  const [text, setText] = useState('');
  const [amount, setAmount] = useState('');
  const [allKinds, setAllKinds] = useState(false);
  const [allParts, setAllParts] = useState(false);
  const parts = partsOf(site, kind, what);
  const measure = AMOUNTS[kind];
  const number = readEntry(amount);
  const wrong = number === undefined || (number ?? 0) < 0 || (number ?? 0) > 1e6 ? 'Expected a number' : undefined;
  const empty = kind === 'note' && text.trim() === '';
  const save = () => {
    offerUndo(
      `${LOG_WORDS[kind]}: saved`,
      addEntry(site, person.name, {
        kind,
        ...(subject ? { subject } : {}),
        ...(kind === 'tested' ? { what } : {}),
        ...(text.trim() ? { text: text.trim() } : {}),
        ...(measure && typeof number === 'number' ? { [measure.field]: number } : {}),
      }),
    );
    onDone();
  };
  return (
    <View className="gap-3 border-l-[5px] border-l-lamp bg-well p-4" testID="log-entry">
      <Heading level={2} look="station">
        New entry
      </Heading>
      <View role="radiogroup" aria-label="What was done" className="flex-row flex-wrap gap-2">
        {(allKinds ? LOG_KINDS : usualKinds(site, kind)).map((one) => (
          <Chip key={one} label={LOG_WORDS[one]} on={kind === one} onPress={() => setKind(one)} />
        ))}
        {allKinds ? null : <Chip many label="More ..." on={false} onPress={() => setAllKinds(true)} />}
      </View>
      {kind === 'tested' ? (
        <View role="radiogroup" aria-label="What was tested" className="flex-row flex-wrap gap-2">
          {LOG_TESTS.map((one) => (
            <Chip key={one} label={TEST_WORDS[one]} on={what === one} onPress={() => setWhat(one)} />
          ))}
        </View>
      ) : null}
      <View role="radiogroup" aria-label="Part" className="flex-row flex-wrap gap-2">
        <Chip label="The whole site" on={subject === null} onPress={() => setSubject(null)} />
        {(allParts ? parts : parts.slice(0, FEW_PARTS)).map(({ id, label }) => (
          <Chip key={id} label={label} on={subject === id} onPress={() => setSubject(id)} />
        ))}
        {parts.length > FEW_PARTS && !allParts ? (
          <Chip many label="Other parts ..." on={false} onPress={() => setAllParts(true)} />
        ) : null}
      </View>
      {measure ? (
        <TextField label={measure.label} value={amount} onChangeText={setAmount} inputMode="decimal" error={wrong} />
      ) : null}
      <TextField label="Text" value={text} onChangeText={setText} multiline />
      <Speak label="Speak it" hear={listenWords} onHeard={(said) => setText([text, said].filter(Boolean).join(' '))} />
      <View className="flex-row gap-3">
        <Button
          kind="main"
          className="flex-1"
          label="Save entry"
          disabled={empty || wrong !== undefined}
          onPress={save}
        />
        <Button label="Cancel" onPress={onDone} />
      </View>
    </View>
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
