import { nameOfRow, type PastEntry, type RowKind } from '@true-lantern/core';
import { router } from 'expo-router';
import { ScrollView, View } from 'react-native';
import { changeWords, lostWords } from '../data/change-words';
import { stateWord, undoChange, useHistory } from '../data/history';
import { useOpenSite } from '../data/open-site';
import { keyOfEntry } from '../data/outbox';
import { partName } from '../data/reading';
import { useMayWrite } from '../data/session';
import type { OpenSite } from '../data/site';
import { Button } from '../ui/controls';
import { momentText } from '../ui/dates';
import { T } from '../ui/text';
import { Top } from '../ui/top';
import { offerUndo } from '../ui/undo';
import { WORDS } from '../ui/words';

/** Who set what, when, and what it rests on; any of it can be taken back. */
export function HistoryScreen() {
  const site = useOpenSite();
  const mayWrite = useMayWrite();
  const { query, waiting, past } = useHistory(site.id);
  return (
    <View className="flex-1">
      <Top title="History" onBack={() => router.navigate(`/site/${site.id}/more`)} />
      <ScrollView>
        <View className="max-w-[860px] pb-10">
          {waiting.map((entry) => (
            <View key={keyOfEntry(entry)} className="border-b border-rule bg-well px-[18px] py-3" testID="waiting">
              <T look="head">{partOfRow(site, entry.change.partId)}</T>
              <Lines site={site} rowId={entry.change.partId} fields={entry.change.set} before={null} />
              <T look="small">
                {momentText(entry.change.at)}, on this device, {stateWord(entry)}
              </T>
            </View>
          ))}
          {past.map((entry) => (
            <View
              key={entry.changeId}
              className="flex-row items-center gap-3 border-b border-rule px-[18px] py-3"
              testID="past"
            >
              <View className="min-w-0 flex-1">
                <T look="head">{entry.part || 'A part that was removed'}</T>
                <Lines site={site} rowId={entry.partId} fields={entry.fields} before={entry.before} kind={entry.kind} />
                {entry.conflicts?.map((conflict) => (
                  <T key={conflict.field} look="fact" className="text-ink" testID="not-taken">
                    {lostWords(entry.kind as RowKind, conflict)}
                  </T>
                ))}
                <T look="small">
                  {momentText(entry.madeAt)}, {entry.person ?? 'the firm'}
                </T>
              </View>
              {mayWrite && Object.keys(entry.fields).length > 0 ? (
                <Button
                  label={WORDS.undo}
                  aria-label={`Undo: ${entry.part}, ${momentText(entry.madeAt)}`}
                  onPress={() => undo(site, entry)}
                />
              ) : null}
            </View>
          ))}
          {query.hasNextPage ? (
            <Button
              label={query.isFetchingNextPage ? 'Loading ...' : 'Show earlier changes'}
              className="mx-[18px] mt-4"
              disabled={query.isFetchingNextPage}
              onPress={() => void query.fetchNextPage()}
            />
          ) : null}
          {query.isPending ? <T className="p-[18px] text-soft">Reading the history ...</T> : null}
          {query.error && !query.data ? (
            <T className="p-[18px] text-soft">
              The history is saved on the server and will load when you have a signal.
            </T>
          ) : null}
          {query.data && past.length + waiting.length === 0 ? (
            <T className="p-[18px] text-soft">Nothing has changed since this site was imported.</T>
          ) : null}
        </View>
      </ScrollView>
    </View>
  );
}

function undo(site: OpenSite, entry: PastEntry) {
  undoChange(site.id, entry);
  offerUndo(`${entry.part || 'The part'} has been restored.`, () =>
    undoChange(site.id, { ...entry, fields: entry.before, before: entry.fields, revision: entry.revision + 1 }),
  );
}

const partOfRow = (site: OpenSite, rowId: string) => {
  const row = site.rows.find(({ id }) => id === rowId);
  return row ? partName(site, nameOfRow(row)) : 'A part that was removed';
};

interface LinesProps {
  site: OpenSite;
  rowId: string;
  fields: Record<string, unknown>;
  before: Record<string, unknown> | null;
  kind?: string;
}

function Lines({ site, rowId, fields, before, kind }: LinesProps) {
  const rowKind = (site.rows.find(({ id }) => id === rowId)?.kind ?? kind ?? '') as RowKind;
  return changeWords(rowKind, fields, before).map((words) => (
    <T key={words} look="fact" className="text-ink">
      {words}
    </T>
  ));
}
