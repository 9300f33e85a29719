import { isListName, isSingleName, nameOfRow, setOnRow, type PartKind, type PartRow } from '@true-lantern/core';
import { router } from 'expo-router';
import { useState } from 'react';
import { ScrollView, View } from 'react-native';
import { FIELDS, KIND_ORDER, KIND_WORDS, TYPICAL } from '../data/fields';
import { useOpenSite } from '../data/open-site';
import { addPart, draftRow } from '../data/parts';
import type { OpenSite } from '../data/site';
import { Button, HeavyRule, Row } from '../kit/controls';
import { Heading, T } from '../kit/text';
import { Editor } from './Editor';
import { FieldRow } from './FieldRow';
import { storedValue } from './values';

/** Adding a part: what do you see? Then only what the checks need first; the rest can wait on the Line. */
export function AddScreen({ kind }: { kind: string | null }) {
  const site = useOpenSite();
  if (kind !== null && (isListName(kind) || isSingleName(kind))) return <NewPart site={site} kind={kind} />;
  const kinds = KIND_ORDER.filter((item) => !(isSingleName(item) && site.model.system[item]));
  return (
    <View className="flex-1">
      <Top title="What do you see?" onBack={() => router.navigate(`/site/${site.id}`)} />
      <ScrollView>
        <View className="max-w-[640px] pb-8">
          {kinds.map((item) => (
            <Row
              key={item}
              testID={`kind-${item}`}
              onPress={() => router.navigate(`/site/${site.id}/add?kind=${item}`)}
            >
              <T look="station">{KIND_WORDS[item]}</T>
            </Row>
          ))}
        </View>
      </ScrollView>
    </View>
  );
}

function NewPart({ site, kind }: { site: OpenSite; kind: PartKind }) {
  const [draft, setDraft] = useState<PartRow>(() => firstDraft(site, kind));
  const specs = (FIELDS[kind] ?? []).filter(({ first }) => first);
  const [editing, setEditing] = useState<string | null>(null);
  const spec = specs.find(({ path }) => path === editing) ?? null;
  const lacking = specs.filter((item) => item.required && storedValue(draft, item.path) === null);
  const take = (set: Record<string, unknown>) => setDraft(setOnRow(draft, set));
  const add = () => {
    addPart(site, draft);
    router.navigate(`/site/${site.id}/part/${encodeURIComponent(nameOfRow(draft))}`);
  };
  const guessed = Object.keys(draft.evidence).length;
  return (
    <View className="flex-1">
      <Top
        title={`New ${(KIND_WORDS[kind] ?? kind).toLowerCase()}`}
        onBack={() => router.navigate(`/site/${site.id}/add`)}
      />
      <ScrollView>
        <View className="max-w-[640px] pb-8">
          {specs.map((item) => (
            <FieldRow key={item.path} row={draft} spec={item} onOpen={() => setEditing(item.path)} />
          ))}
          <View className="gap-2 px-[18px] pt-4">
            {guessed > 0 ? (
              <T look="fact">Typical values are filled in and marked as assumed until somebody reads them.</T>
            ) : null}
            {lacking.length > 0 ? (
              <T look="fact">Still needed: {lacking.map(({ label }) => label.toLowerCase()).join(', ')}.</T>
            ) : null}
            <Button
              label="Put it on the Line"
              kind="main"
              className="min-h-[64px]"
              disabled={lacking.length > 0}
              onPress={add}
            />
          </View>
        </View>
      </ScrollView>
      {spec ? (
        <Editor key={spec.path} site={site} row={draft} spec={spec} onSave={take} onDone={() => setEditing(null)} />
      ) : null}
    </View>
  );
}

function firstDraft(site: OpenSite, kind: PartKind): PartRow {
  const typical = TYPICAL[kind] ?? {};
  const { moduleTypes, controllers } = site.model.system;
  const module = moduleTypes?.[0];
  const body: Record<string, unknown> = { ...typical };
  // The one there is is most likely the one that is meant.
  if (kind === 'arrays' && module) body.strings = [[module.id]];
  if (kind === 'arrays' && controllers?.length === 1) body.controllerId = controllers[0]?.id;
  const draft = draftRow(site, kind, body);
  return {
    ...draft,
    evidence: Object.fromEntries(Object.keys(typical).map((field) => [field, { grade: 'assumed' as const }])),
  };
}

function Top({ title, onBack }: { title: string; onBack(): void }) {
  return (
    <View>
      <View className="min-h-[60px] flex-row items-center justify-between px-[18px]">
        <Heading look="lead">{title}</Heading>
        <Button label="Back" kind="plain" onPress={onBack} />
      </View>
      <HeavyRule />
    </View>
  );
}
