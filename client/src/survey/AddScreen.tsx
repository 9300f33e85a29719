import {
  cablesWanted,
  flatFields,
  isListName,
  isShelfKind,
  isSingleName,
  itemOfPlate,
  nameOfRow,
  setOnRow,
  type PartKind,
  type PartRow,
  type StoredItem,
  partTitle,
  lowered,
} from '@true-lantern/core';
import { Redirect, router } from 'expo-router';
import { useState } from 'react';
import { Pressable, ScrollView, View } from 'react-native';
import { FIELDS, KIND_WORDS } from '../data/fields';
import { useOpenSite } from '../data/open-site';
import { addPart, draftRow, recordPart } from '../data/parts';
import { typicalRow } from '../data/typical';
import { bodyOfItem, useShelf } from '../data/shelf';
import type { OpenSite } from '../data/site';
import { FieldRow } from '../entry/FieldRow';
import { SeriesParallel } from '../entry/SeriesParallel';
import { ShelfPick } from '../entry/ShelfPick';
import { useEditor } from '../entry/useEditor';
import { storedValue } from '../entry/values';
import { addPhoto } from '../data/attachments';
import { fromPlate, platesWaiting, type FromPlate } from '../data/plate';
import { Button, Chip } from '../ui/controls';
import { T } from '../ui/text';
import { Thing, type Drawn } from '../ui/things';
import { Top } from '../ui/top';
import { useWide } from '../ui/wide';
import { CableSheet } from './CableSheet';
import { PlateSheet } from './PlateSheet';
import { likelyFirst, seenAs, type Seen } from './seen';

interface AddProps {
  kind: string | null;
  /** An item of the shelf to begin with. */
  from: string | null;
  /** The part whose cable is missing. */
  at: string | null;
  /** Every field of the kind, where there is a quicker sheet. */
  all: boolean;
  /** What of the kind was seen: a lamp, a breaker. */
  as: string | null;
}

/** Adding a part: what do you see? From the shelf or from nothing, then only what the checks need first. */
export function AddScreen({ kind, from, at, all, as }: AddProps) {
  const site = useOpenSite();
  const { items } = useShelf();
  // Where every cable that the parts imply is there, another one is described field by field.
  const [quick] = useState(() => cablesWanted(site.model.system).length > 0);
  if (kind === 'runs' && !all && quick) return <CableSheet site={site} at={at} />;
  if (kind === 'moduleTypes' && !all && from === null)
    return (
      <PlateSheet site={site} onShelf={(id) => router.navigate(`/site/${site.id}/add?kind=moduleTypes&from=${id}`)} />
    );
  // A roof is drawn, not filled in.
  if (kind === 'roofs') return <Redirect href={`/site/${site.id}/roof`} />;
  if (kind !== null && (isListName(kind) || isSingleName(kind)))
    return (
      <NewPart site={site} kind={kind} start={items.find(({ id }) => id === from) ?? null} seen={seenAs(kind, as)} />
    );
  const begin = (path: string) => router.navigate(`/site/${site.id}/add?${path}`);
  return (
    <View className="flex-1">
      <Top title="What do you see?" onBack={() => router.navigate(`/site/${site.id}`)} />
      <ScrollView>
        <View className="pb-8">
          <ShelfPick
            kind={null}
            onPick={({ id, kind: picked }) =>
              begin(isListName(picked) || isSingleName(picked) ? `kind=${picked}&from=${id}` : 'kind=runs')
            }
          />
          <View className="flex-row flex-wrap gap-2 px-[18px] pt-4">
            {likelyFirst(site.model.system, site.rows).map(({ thing, kind: becomes, word }) => (
              <Tile key={thing} thing={thing} word={word} onPress={() => begin(`kind=${becomes}&as=${thing}`)} />
            ))}
            <Tile thing="plate" word="Photo of a plate" onPress={() => router.navigate(`/site/${site.id}/plate`)} />
            <Tile thing="roofs" word="Roof" onPress={() => router.navigate(`/site/${site.id}/roof`)} />
          </View>
        </View>
      </ScrollView>
    </View>
  );
}

function Tile({ thing, word, onPress }: { thing: Drawn; word: string; onPress(): void }) {
  const wide = useWide();
  return (
    <Pressable
      role="button"
      testID={`kind-${thing}`}
      onPress={onPress}
      className={`min-h-[108px] items-center ${wide ? 'w-[150px]' : 'w-[31%] grow'} justify-center gap-2 rounded-[4px] border-2 border-rule px-1 py-3 active:bg-well`}
    >
      <Thing thing={thing} />
      <T look="head" className="text-center">
        {word}
      </T>
    </Pressable>
  );
}

interface NewPartProps {
  site: OpenSite;
  kind: PartKind;
  start: StoredItem | null;
  seen: Seen | null;
}

function NewPart({ site, kind, start, seen }: NewPartProps) {
  /** What a photo of its plate gave, where one was taken for it. */
  const [plate] = useState(() => (fromPlate.get()?.kind === kind ? fromPlate.get() : null));
  const [draft, setDraft] = useState<PartRow>(() =>
    platedDraft(filled(firstDraft(site, kind, seen?.set), start), plate),
  );
  const { items } = useShelf();
  const likely = plate ? itemOfPlate(kind, plate.set, items) : null;
  const [picked, setPicked] = useState<string | null>(start?.id ?? null);
  /** A module taken from the shelf for this array: it is recorded together with it. */
  const [module, setModule] = useState<PartRow | null>(null);
  const specs = (FIELDS[kind] ?? []).filter(({ first }) => first);
  const lacking = specs.filter((item) => item.required && storedValue(draft, item.path) === null);
  const take = (set: Record<string, unknown>) => setDraft(setOnRow(draft, set));
  const { open, editor } = useEditor({ site, row: draft, specs, onSave: take });
  const pick = (item: StoredItem) => {
    setPicked(item.id);
    // What stands on its own plate stays as it was read there.
    if (kind !== 'arrays') return setDraft(platedDraft(filled(draft, item), plate));
    const { row, known } = moduleOf(site, item);
    setModule(known ? null : row);
    const strings = draft.body.strings as string[][] | undefined;
    take({ strings: even(nameOfRow(row), strings?.[0]?.length ?? 1, strings?.length ?? 1) });
  };
  const add = () => {
    record(site, { draft, module, photo: plate?.photo ?? null });
    // Of plates that were chosen together the next one follows at once.
    const more = plate !== null && platesWaiting.get().files.length > 0;
    router.navigate(more ? `/site/${site.id}/plate` : `/site/${site.id}/part/${encodeURIComponent(nameOfRow(draft))}`);
  };
  const guessed = Object.values(draft.evidence).filter(({ grade }) => grade === 'assumed').length;
  return (
    <View className="flex-1">
      <Top
        title={seen?.word ?? `New ${(KIND_WORDS[kind] ?? kind).toLowerCase()}`}
        onBack={() => router.navigate(`/site/${site.id}/add`)}
      />
      <ScrollView keyboardShouldPersistTaps="handled">
        <View className="max-w-[640px] pb-8">
          {kind === 'arrays' ? (
            <ArrayShape site={site} draft={draft} module={module} onPick={pick} picked={picked} take={take} />
          ) : plate && likely && picked !== likely.id ? (
            <OnShelf label={likely.label} onUse={() => pick(likely)} />
          ) : isShelfKind(kind) && !plate ? (
            <ShelfPick kind={kind} onPick={pick} picked={picked} />
          ) : null}
          {kind === 'bank' ? (
            <SeriesParallel
              what="Blocks"
              series={storedValue(draft, 'series') as number | null}
              parallel={storedValue(draft, 'parallel') as number | null}
              onChange={(series, parallel) => take({ series, parallel })}
            />
          ) : null}
          {specs.map((item) =>
            kind === 'arrays' && item.path === 'strings' ? null : (
              <FieldRow key={item.path} row={draft} spec={item} onOpen={() => open(item.path)} />
            ),
          )}
        </View>
      </ScrollView>
      <View className="gap-2 border-t border-rule px-[18px] py-3">
        {guessed > 0 ? (
          <T look="fact">Typical values are filled in and marked as assumed until somebody measures them.</T>
        ) : null}
        {lacking.length > 0 ? (
          <T look="fact">Still needed: {lacking.map(({ label }) => lowered(label)).join(', ')}.</T>
        ) : null}
        <Button
          label="Add to the Line"
          kind="main"
          className="min-h-[64px]"
          disabled={lacking.length > 0}
          onPress={add}
        />
      </View>
      {editor}
    </View>
  );
}

const even = (id: string, series: number, parallel: number) =>
  Array.from({ length: parallel }, () => Array.from({ length: series }, () => id));

interface ArrayShapeProps {
  site: OpenSite;
  draft: PartRow;
  module: PartRow | null;
  picked: string | null;
  onPick(item: StoredItem): void;
  take(set: Record<string, unknown>): void;
}

/** Which module, how many in a string, how many strings: the module is on the site already or comes from the shelf. */
function ArrayShape({ site, draft, module, picked, onPick, take }: ArrayShapeProps) {
  const strings = draft.body.strings as string[][] | undefined;
  const type = strings?.[0]?.[0] ?? null;
  const types = site.model.system.moduleTypes ?? [];
  return (
    <View>
      {types.length > 0 ? (
        <View role="radiogroup" aria-label="Module" className="flex-row flex-wrap gap-2 px-[18px] pt-3">
          {types.map(({ id, label }) => (
            <Chip
              key={id}
              label={partTitle(site.model.system, id) ?? label ?? id}
              on={id === type && !module}
              onPress={() => take({ strings: even(id, strings?.[0]?.length ?? 1, strings?.length ?? 1) })}
            />
          ))}
        </View>
      ) : null}
      <ShelfPick kind="moduleTypes" onPick={onPick} picked={module ? picked : null} most={types.length > 0 ? 2 : 4} />
      {type ? (
        <SeriesParallel
          what="Modules"
          series={strings?.[0]?.length ?? null}
          parallel={strings?.length ?? null}
          onChange={(series, parallel) => take({ strings: even(type, series ?? 1, parallel ?? 1) })}
        />
      ) : (
        <T className="px-[18px] py-3 text-soft">Pick the module first, or add it by its nameplate.</T>
      )}
    </View>
  );
}

/** The module type of an item: the one that is on the site, else a new one. */
function moduleOf(site: OpenSite, item: StoredItem): { row: PartRow; known: boolean } {
  const known = site.rows.find((row) => row.kind === 'moduleTypes' && row.body.label === item.label);
  return { row: known ?? filled(draftRow(site, 'moduleTypes', {}), item), known: known !== undefined };
}

/** A new part is recorded with the module that came with it, and with the photo of its plate. */
function record(
  site: OpenSite,
  { draft, module, photo }: { draft: PartRow; module: PartRow | null; photo: Blob | null },
) {
  if (module) addPart(site, module);
  recordPart(site, draft);
  if (photo) void addPhoto(site, nameOfRow(draft), photo);
  fromPlate.set(null);
}

const OnShelf = ({ label, onUse }: { label: string; onUse(): void }) => (
  <View className="gap-2 px-[18px] pt-4" testID="plate-on-shelf">
    <T>{`On the shelf: ${label}. Every figure of the plate is the same.`}</T>
    <Button label={`Use ${label}`} onPress={onUse} />
  </View>
);

/** A draft with what the shelf knows of the part, as from its data sheet. */
function filled(draft: PartRow, item: StoredItem | null): PartRow {
  if (!item) return draft;
  const set = bodyOfItem(item);
  const grades = Object.fromEntries(
    Object.keys(flatFields(item.body)).map((path) => [path, { grade: 'datasheet' as const }]),
  );
  const body = { ...draft.body, ...set };
  return { ...draft, body, evidence: { ...draft.evidence, ...grades } };
}

/** A draft with what was read off its plate. */
function platedDraft(draft: PartRow, plate: FromPlate | null): PartRow {
  if (!plate) return draft;
  const read = Object.keys(plate.set).filter((path) => path !== 'label');
  const grades = Object.fromEntries(read.map((path) => [path, { grade: 'nameplate' as const }]));
  return { ...setOnRow(draft, plate.set), evidence: { ...draft.evidence, ...grades } };
}

function firstDraft(site: OpenSite, kind: PartKind, set: Record<string, unknown> = {}): PartRow {
  const { moduleTypes, controllers } = site.model.system;
  const module = moduleTypes?.[0];
  const body: Record<string, unknown> = { ...set };
  // The one there is is most likely the one that is meant.
  if (kind === 'arrays' && module) body.strings = [[module.id]];
  if (kind === 'arrays' && controllers?.length === 1) body.controllerId = controllers[0]?.id;
  return typicalRow(draftRow(site, kind, body));
}
