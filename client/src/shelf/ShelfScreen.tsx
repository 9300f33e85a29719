import { FaultError, faultLine, searchShelf, SHELF_KINDS, type ShelfKind } from '@true-lantern/core';
import { router } from 'expo-router';
import { useMemo, useState } from 'react';
import { View } from 'react-native';
import { useMayWrite } from '../data/session';
import { useShelf } from '../data/shelf';
import { priceText, shelfFact, shelfKindWord } from '../ui/shelf-words';
import { Button, Chip, Row } from '../ui/controls';
import { TextField } from '../ui/field';
import { Page } from '../ui/page';
import { T } from '../ui/text';
import { exportCsv, exportJson, importShelf } from './exchange';
import { WORDS } from '../ui/words';

/** The firm's own catalogue: found as one types, brought in and taken out as CSV or JSON. */
export function ShelfScreen() {
  const { items, query } = useShelf();
  const mayWrite = useMayWrite();
  const [typed, setTyped] = useState('');
  const [kind, setKind] = useState<ShelfKind | null>(null);
  const [note, setNote] = useState<string[]>([]);
  const found = useMemo(
    () => searchShelf(kind ? items.filter((item) => item.kind === kind) : items, typed),
    [items, kind, typed],
  );
  const bring = async () => {
    setNote([]);
    try {
      const result = await importShelf(items);
      if (result)
        setNote([
          `${result.taken} ${result.taken === 1 ? 'part was' : 'parts were'} imported, ${result.replaced} of them replacing one with the same name.`,
        ]);
    } catch (error) {
      if (!(error instanceof FaultError)) throw error;
      setNote(['Nothing was imported.', ...error.faults.map(faultLine)]);
    }
  };
  return (
    <Page title="Shelf" onBack={() => router.navigate('/')}>
      <View className="gap-3 px-[18px] py-4">
        <TextField label="Search the shelf" value={typed} onChangeText={setTyped} inputMode="search" />
        <View role="radiogroup" aria-label="Kind" className="flex-row flex-wrap gap-2">
          <Chip label="All" on={kind === null} onPress={() => setKind(null)} />
          {SHELF_KINDS.filter((item) => items.some((other) => other.kind === item)).map((item) => (
            <Chip key={item} label={shelfKindWord(item)} on={kind === item} onPress={() => setKind(item)} />
          ))}
        </View>
      </View>
      <View className="border-t border-rule">
        {found.map((item) => (
          <Row key={item.id} testID={`item-${item.label}`} onPress={() => router.navigate(`/shelf/${item.id}`)}>
            <View className="min-w-0 flex-1">
              <T look="head">{item.label}</T>
              <T look="fact">{`${shelfKindWord(item.kind)} \u00b7 ${shelfFact(item)}`}</T>
            </View>
            <T className="font-semi">{priceText(item) ?? ''}</T>
          </Row>
        ))}
        {found.length === 0 ? (
          <T className="px-[18px] py-6 text-soft">
            {query.isPending
              ? 'Loading the shelf ...'
              : items.length === 0
                ? 'The shelf is empty. Add a part from a site, or import a table.'
                : 'Nothing on the shelf matches that.'}
          </T>
        ) : null}
      </View>
      <View className="gap-3 px-[18px] pt-5">
        {note.map((line, i) => (
          <T key={line} role="status" look={i === 0 ? 'head' : 'mono'}>
            {line}
          </T>
        ))}
        {mayWrite ? <Button label="New part" kind="main" onPress={() => router.navigate('/shelf/new')} /> : null}
        {mayWrite ? <Button label="Import CSV or JSON" onPress={() => void bring()} /> : null}
        <View className="flex-row gap-3">
          <Button label={WORDS.exportCsv} className="flex-1" onPress={() => exportCsv(items)} />
          <Button label="Export JSON" className="flex-1" onPress={() => exportJson(items)} />
        </View>
      </View>
    </Page>
  );
}
