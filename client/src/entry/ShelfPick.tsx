import { searchShelf, type ShelfKind, type StoredItem } from '@true-lantern/core';
import { useMemo, useState } from 'react';
import { View } from 'react-native';
import { noteRecent, recentIds, useShelf } from '../data/shelf';
import { shelfFact, shelfKindWord } from '../ui/shelf-words';
import { Row } from '../ui/controls';
import { TextField } from '../ui/field';
import { T } from '../ui/text';

interface ShelfPickProps {
  /** One kind, or all of them where it is not yet said what is being added. */
  kind: ShelfKind | null;
  onPick(item: StoredItem): void;
  /** How many are shown before anything is typed. */
  most?: number;
  picked?: string | null;
}

const MOST_FOUND = 8;

/** The firm's shelf as one types: what was used last stands first. */
export function ShelfPick({ kind, onPick, most = 4, picked = null }: ShelfPickProps) {
  const { items } = useShelf();
  const [typed, setTyped] = useState('');
  const found = useMemo(() => {
    const mine = items.filter((item) => kind === null || item.kind === kind);
    if (typed.trim() !== '') return searchShelf(mine, typed).slice(0, MOST_FOUND);
    const recent = recentIds();
    const rank = ({ id }: StoredItem) => (recent.includes(id) ? recent.indexOf(id) : recent.length);
    // Before anything is typed the list of all kinds would only be in the way.
    return kind === null
      ? []
      : searchShelf(mine, '')
          .sort((a, b) => rank(a) - rank(b))
          .slice(0, most);
  }, [items, kind, typed, most]);
  if (items.length === 0) return null;
  const take = (item: StoredItem) => {
    noteRecent(item.id);
    onPick(item);
  };
  return (
    <View>
      <View className="px-[18px] py-3">
        <TextField label="Search the shelf" value={typed} onChangeText={setTyped} inputMode="search" />
      </View>
      {found.map((item) => (
        <Row
          key={item.id}
          testID={`shelf-${item.label}`}
          className={item.id === picked ? 'bg-well' : ''}
          onPress={() => take(item)}
        >
          <View className="min-w-0 flex-1">
            <T look="head">{item.label}</T>
            <T look="fact">
              {[kind === null ? shelfKindWord(item.kind) : null, shelfFact(item)].filter(Boolean).join(' \u00b7 ')}
            </T>
          </View>
          {item.id === picked ? <T look="head">picked</T> : null}
        </Row>
      ))}
      {typed.trim() !== '' && found.length === 0 ? (
        <T className="px-[18px] py-2 text-soft">Nothing on the shelf matches that.</T>
      ) : null}
    </View>
  );
}
