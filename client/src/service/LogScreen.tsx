import { counted, foundIn, partTitle, timelineOf, timelineTable, type TimeLine } from '@true-lantern/core';
import { router, useLocalSearchParams } from 'expo-router';
import Papa from 'papaparse';
import { useDeferredValue, useMemo, useState } from 'react';
import { FlatList, View } from 'react-native';
import { saveTextFile } from '../data/files';
import { attachmentCounter } from '../data/attachments';
import { useHistory } from '../data/history';
import { addEntry, strikeOut } from '../data/log';
import { useOpenSite } from '../data/open-site';
import { useMayWrite, usePerson } from '../data/session';
import type { OpenSite } from '../data/site';
import { useUnits } from '../data/units';
import { Attachments } from '../entry/Attachments';
import { Button, Chip, HeavyRule, Row } from '../ui/controls';
import { momentText } from '../ui/dates';
import { TextField } from '../ui/field';
import { T } from '../ui/text';
import { Top } from '../ui/top';
import { offerUndo } from '../ui/undo';
import { LogEntryForm } from './LogEntryForm';
import { merged, surveyLines } from './survey-lines';
import { WORDS } from '../ui/words';

/** What the list is narrowed to. */
type Narrow = 'all' | 'log' | 'reading' | 'visit' | 'survey';
const NARROW: readonly (readonly [Narrow, string])[] = [
  ['all', 'All'],
  ['log', 'Log'],
  ['reading', 'Readings'],
  ['visit', 'Visits'],
  ['survey', 'Survey'],
];

/** Everything that happened here, the latest first; searched as one types, written in a few taps. */
export function LogScreen() {
  const site = useOpenSite();
  const mayWrite = useMayWrite();
  const { add, subject } = useLocalSearchParams<{ add?: string; subject?: string }>();
  const [words, setWords] = useState('');
  const [narrow, setNarrow] = useState<Narrow>('all');
  const [part, setPart] = useState<string | null>(null);
  const [writing, setWriting] = useState(add !== undefined);
  const [open, setOpen] = useState<string | null>(null);
  const typed = useDeferredValue(words);
  const { all, parts, more, countAttached } = useTimeline(site);
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
  return (
    <View className="flex-1">
      <Top title="Log" onBack={() => router.navigate(`/site/${site.id}/service`)} />
      <FlatList
        data={shown}
        keyExtractor={({ id }) => id}
        initialNumToRender={16}
        windowSize={9}
        testID="timeline"
        ListHeaderComponent={
          <View className="max-w-[860px] gap-3 px-[18px] pb-3 pt-4">
            {writing ? (
              <LogEntryForm site={site} start={subject ?? null} onDone={() => setWriting(false)} />
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
              {shown.length > 0 ? <Button label={WORDS.exportCsv} onPress={() => exportCsv(site, shown)} /> : null}
            </View>
            <HeavyRule />
          </View>
        }
        onEndReached={more}
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
            countAttached={countAttached}
          />
        )}
      />
    </View>
  );
}
/** What others changed in the survey is the server's to tell, page by page; the rest is here, off line too. */
function useTimeline(site: OpenSite) {
  const units = useUnits();
  const { past, query } = useHistory(site.id);
  const own = useMemo(() => timelineOf(site.file, units), [site.file, units]);
  const all = useMemo(() => merged(own, surveyLines(site, past)), [own, site, past]);
  const more = () => {
    if (query.hasNextPage && !query.isFetchingNextPage) void query.fetchNextPage();
  };
  const countAttached = useMemo(() => attachmentCounter(site), [site]);
  const parts = useMemo(() => [...new Set(all.map((line) => line.subject))].filter((id) => id !== 'site'), [all]);
  return { all, parts, more, countAttached };
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
  countAttached: ReturnType<typeof attachmentCounter>;
}

function Line({ line, open, onOpen, site, mayWrite, countAttached }: LineProps) {
  const { at, title, text, by, struck, entry } = line;
  const mayStrike = mayWrite && entry !== undefined && !struck;
  const photos = entry ? countAttached(entry) : 0;
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
            {[
              at ? momentText(at) : 'no date',
              by,
              photos > 0 ? counted(photos, 'photo or note', 'photos or notes') : '',
              struck ? 'struck out' : '',
            ]
              .filter(Boolean)
              .join(' \u00b7 ')}
          </T>
        </View>
      </Row>
      {open && entry && (mayWrite || photos > 0) ? (
        <Attachments subject={entry.id} also={entry.attachments ?? []} />
      ) : null}
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
        label={WORDS.saveCorrection}
        onPress={() => {
          const { id, at: _at, by: _by, struckOut: _struck, corrects: _corrects, ...rest } = entry;
          offerUndo('Correction saved', addEntry(site, person.name, { ...rest, text, corrects: id }));
          setOn(false);
        }}
      />
    </View>
  );
}
