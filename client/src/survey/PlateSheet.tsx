import { readEntry } from '../ui/number-entry';
import { plateOf, type PartRow } from '@true-lantern/core';
import { router } from 'expo-router';
import { useRef, useState } from 'react';
import { ScrollView, TextInput, View } from 'react-native';
import { draftRow, recordPart } from '../data/parts';
import { typicalRow } from '../data/typical';
import type { OpenSite } from '../data/site';
import { Button } from '../ui/controls';
import { TextField } from '../ui/field';
import { Mark } from '../ui/mark';
import { T } from '../ui/text';
import { Top } from '../ui/top';
import { withUnit } from '../ui/units';
import { ShelfPick } from '../entry/ShelfPick';

const FIELDS = ['pmax_W', 'voc_V', 'isc_A', 'vmp_V', 'imp_A'] as const;
const WORDS: Record<(typeof FIELDS)[number], [name: string, unit: string]> = {
  pmax_W: ['Power', 'W'],
  voc_V: ['Open circuit (Voc)', 'V'],
  isc_A: ['Short circuit (Isc)', 'A'],
  vmp_V: ['Maximum power (Vmp)', 'V'],
  imp_A: ['Maximum power (Imp)', 'A'],
};
const PLACES = [0, 1, 2, 3, 4];

/** A module's plate: its five figures typed one after another in the plate's own order; which is which is worked out. */
export function PlateSheet({ site, onShelf }: { site: OpenSite; onShelf(id: string): void }) {
  const [entries, setEntries] = useState<string[]>(['', '', '', '', '']);
  const [label, setLabel] = useState('');
  const boxes = useRef<(TextInput | null)[]>([]);
  const figures = entries.map((entry) => readEntry(entry) ?? Number.NaN);
  const full = entries.every((entry) => entry.trim() !== '');
  const plate = full ? plateOf(figures) : null;
  const save = () => {
    if (!plate) return;
    const row: PartRow = typicalRow(
      draftRow(site, 'moduleTypes', { ...plate, ...(label.trim() ? { label: label.trim() } : {}) }),
    );
    recordPart(site, row);
    router.navigate(`/site/${site.id}/add?kind=arrays`);
  };
  return (
    <View className="flex-1">
      <Top title="A module's plate" onBack={() => router.navigate(`/site/${site.id}/add`)} />
      <ScrollView keyboardShouldPersistTaps="handled">
        <View className="max-w-[640px] gap-4 pb-6">
          <ShelfPick kind="moduleTypes" onPick={({ id }) => onShelf(id)} picked={null} most={3} />
          <View className="gap-2 px-[18px]">
            <T>The five figures in the order printed on the nameplate. Enter moves to the next.</T>
            <View className="flex-row gap-[6px]">
              {PLACES.map((place) => (
                <TextInput
                  key={place}
                  ref={(box) => {
                    boxes.current[place] = box;
                  }}
                  testID={`plate-${place}`}
                  aria-label={`Figure ${place + 1} on the nameplate`}
                  value={entries[place] ?? ''}
                  inputMode="decimal"
                  enterKeyHint={place === 4 ? 'done' : 'next'}
                  autoFocus={place === 0}
                  onChangeText={(text) => setEntries((all) => all.map((one, i) => (i === place ? text : one)))}
                  onSubmitEditing={() => (place === 4 ? undefined : boxes.current[place + 1]?.focus())}
                  submitBehavior="submit"
                  className="h-[60px] min-w-0 flex-1 rounded-[4px] border-2 border-ink bg-paper px-1 text-center font-semi text-figure text-ink"
                />
              ))}
            </View>
            {plate ? (
              <View className="gap-1 pt-2" testID="plate-read">
                {FIELDS.map((field) => (
                  <View key={field} className="flex-row items-center gap-3">
                    <Mark verdict="holds" size={18} />
                    <T className="flex-1">{WORDS[field][0]}</T>
                    <T look="figure">{withUnit(plate[field], WORDS[field][1], 5)}</T>
                  </View>
                ))}
              </View>
            ) : full ? (
              <T role="alert" className="font-semi">
                These five figures do not match: Vmp times Imp must equal the power. Read them again or enter each by
                name.
              </T>
            ) : null}
            <TextField label="Maker and model (optional)" value={label} onChangeText={setLabel} />
            <Button
              label="Enter each by name"
              kind="plain"
              onPress={() => router.navigate(`/site/${site.id}/add?kind=moduleTypes&all=1`)}
            />
          </View>
        </View>
      </ScrollView>
      <View className="border-t border-rule px-[18px] py-2">
        <Button
          label="Save and continue to the strings"
          kind="main"
          className="min-h-[64px]"
          disabled={!plate}
          onPress={save}
        />
      </View>
    </View>
  );
}
