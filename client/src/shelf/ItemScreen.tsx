import {
  checkShelfItem,
  FaultError,
  faultLine,
  setOnRow,
  SHELF_KINDS,
  shelfFields,
  type PartRow,
  type ShelfItem,
  type ShelfKind,
} from '@true-lantern/core';
import { router } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import { useMayWrite } from '../data/session';
import { putOnShelf, takeOffShelf, useShelf } from '../data/shelf';
import { shelfKindWord } from '../ui/shelf-words';
import { useEditor } from '../entry/useEditor';
import { FieldRow } from '../entry/FieldRow';
import { Button, Plain, Row } from '../ui/controls';
import { TextField } from '../ui/field';
import { Page } from '../ui/page';
import { readEntry } from '../ui/number-entry';
import { T } from '../ui/text';
import { offerUndo } from '../ui/undo';
import { WORDS } from '../ui/words';

/** One part of the shelf, or a new one: its plate and its price. */
export function ItemScreen({ id }: { id: string }) {
  const { items, query } = useShelf();
  const [kind, setKind] = useState<ShelfKind | null>(null);
  const item = items.find((other) => other.id === id);
  const back = () => router.navigate('/shelf');
  if (id === 'new' && kind === null)
    return (
      <Page title="New part" onBack={back}>
        {SHELF_KINDS.map((word) => (
          <Row key={word} testID={`new-${word}`} onPress={() => setKind(word)}>
            <T look="station">{shelfKindWord(word)}</T>
          </Row>
        ))}
      </Page>
    );
  if (id === 'new' && kind) return <ItemForm key={kind} item={{ kind, label: '', body: {} }} id={null} onBack={back} />;
  if (item) return <ItemForm key={item.id} item={item} id={item.id} onBack={back} />;
  return (
    <Plain title={query.isPending ? 'Loading the shelf ...' : 'This part is not on the shelf.'}>
      <Button label="Back to the shelf" onPress={back} />
    </Plain>
  );
}

interface ItemProps {
  item: ShelfItem;
  /** Null: it is new. */
  id: string | null;
  onBack(): void;
}

/** What is entered of an item, and how it is kept or taken off. */
function useItem({ item, id, onBack }: ItemProps) {
  const [row, setRow] = useState<PartRow>(() => ({
    id: 'shelf',
    kind: item.kind as PartRow['kind'],
    body: structuredClone(item.body),
    evidence: {},
    position: 0,
    revision: 0,
  }));
  const [label, setLabel] = useState(item.label);
  const [price, setPrice] = useState(item.price == null ? '' : String(item.price));
  const [currency, setCurrency] = useState(item.currency ?? '');
  const [faults, setFaults] = useState<string[]>([]);
  const specs = shelfFields(item.kind);
  const { open, editor } = useEditor({
    site: null,
    row,
    specs,
    // The shelf keeps no evidence: what stands there is from the sheet.
    onSave: (set) =>
      setRow(
        setOnRow(row, Object.fromEntries(Object.entries(set).filter(([field]) => !field.startsWith('evidence/')))),
      ),
  });
  const save = () => {
    const amount = readEntry(price);
    if (amount === undefined) return setFaults(['price: not a number']);
    try {
      const checked = checkShelfItem({
        ...item,
        label,
        body: row.body,
        price: amount,
        currency: currency.trim() || null,
      });
      putOnShelf(checked, id ?? undefined);
      onBack();
    } catch (error) {
      if (!(error instanceof FaultError)) throw error;
      setFaults(error.faults.map(faultLine));
    }
  };
  const remove = (known: string) => {
    takeOffShelf(known);
    offerUndo(`${item.label} was removed from the shelf.`, () => void putOnShelf(item, known));
    onBack();
  };
  return { row, label, setLabel, price, setPrice, currency, setCurrency, faults, specs, open, editor, save, remove };
}

function ItemForm({ item, id, onBack }: ItemProps) {
  const mayWrite = useMayWrite();
  const entered = useItem({ item, id, onBack });
  const { row, faults, specs, open, editor, save, remove } = entered;
  return (
    <View className="flex-1">
      <Page title={id ? item.label : `New ${shelfKindWord(item.kind).toLowerCase()}`} onBack={onBack}>
        <NameAndPrice perMetre={item.kind === 'cable'} entered={entered} editable={mayWrite} />
        <View className="border-t border-rule">
          {specs
            .filter(({ path }) => path !== 'label')
            .map((field) => (
              <FieldRow key={field.path} row={row} spec={field} onOpen={() => open(field.path)} />
            ))}
        </View>
        <View className="gap-3 px-[18px] pt-4">
          {faults.map((line) => (
            <T key={line} role="alert" look="mono">
              {line}
            </T>
          ))}
          {mayWrite ? <Button label={WORDS.save} kind="main" className="min-h-[64px]" onPress={save} /> : null}
          {mayWrite && id ? <Button label="Remove from the shelf" onPress={() => remove(id)} /> : null}
        </View>
      </Page>
      {editor}
    </View>
  );
}

interface NameAndPriceProps {
  perMetre: boolean;
  entered: ReturnType<typeof useItem>;
  editable: boolean;
}

function NameAndPrice({ perMetre, entered, editable }: NameAndPriceProps) {
  const { label, setLabel, price, setPrice, currency, setCurrency } = entered;
  return (
    <View className="gap-3 px-[18px] py-4">
      <TextField label="Maker and model" value={label} onChangeText={setLabel} editable={editable} />
      <View className="flex-row gap-3">
        <View className="flex-1">
          <TextField
            label={perMetre ? 'Price a metre' : 'Price'}
            value={price}
            onChangeText={setPrice}
            inputMode="decimal"
            editable={editable}
          />
        </View>
        <View className="flex-1">
          <TextField label="Currency" value={currency} onChangeText={setCurrency} editable={editable} />
        </View>
      </View>
    </View>
  );
}
