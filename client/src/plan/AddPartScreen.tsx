import { figure, setOnRow, type PartKind, type PartRow } from '@true-lantern/core';
import { useMemo, useState } from 'react';
import { View } from 'react-native';
import { FIELDS } from '../data/fields';
import { useOpenSite } from '../data/open-site';
import { draftRow } from '../data/parts';
import { useMayWrite } from '../data/session';
import { bodyOfItem } from '../data/shelf';
import { FieldRow } from '../entry/FieldRow';
import { ShelfPick } from '../entry/ShelfPick';
import { useEditor } from '../entry/useEditor';
import { storedValue } from '../entry/values';
import { Button, Chip } from '../kit/controls';
import { T } from '../kit/text';
import { saveOn, useBase } from './base';
import { Outcome, useResult } from './Outcome';
import { PlanPage } from './PlanPage';

type Added = Extract<PartKind, 'loads' | 'chargers' | 'sources'>;

/** What of a part is asked before anybody buys it; the rest is the survey's business. */
const ASKED: Record<Added, string[]> = {
  loads: ['label', 'kind', 'power_W', 'hours_d', 'type', 'quantity', 'surge_W', 'needsSine'],
  chargers: ['label', 'kind', 'max_A', 'input_V', 'alternator_A', 'profiles', 'onInverterOutput'],
  sources: ['label', 'kind', 'power_W', 'inlet_A', 'ac_V'],
};
const START: Record<Added, Record<string, unknown>> = {
  loads: { kind: 'ac' },
  chargers: { kind: 'mains' },
  sources: { kind: 'generator' },
};

/** "What if a freezer goes on": what it turns over, before anybody buys it. */
export const AddLoadScreen = () => <AddPart title="Add a load" kinds={['loads']} />;
/** A charger, or the generator or inlet that feeds one. Sun is added with its modules. */
export const AddSourceScreen = () => <AddPart title="Add a charging source" kinds={['chargers', 'sources']} />;

const KIND_LABELS: Record<Added, string> = { loads: 'Load', chargers: 'A charger', sources: 'Generator or inlet' };

function AddPart({ title, kinds }: { title: string; kinds: Added[] }) {
  const site = useOpenSite();
  const base = useBase();
  const mayWrite = useMayWrite();
  const [kind, setKind] = useState<Added>(kinds[0] ?? 'loads');
  const [draft, setDraft] = useState<PartRow>(() => draftRow(site, kind, START[kind]));
  const specs = (FIELDS[kind] ?? []).filter(({ path }) => ASKED[kind].includes(path));
  const { open, editor } = useEditor({
    site: null,
    row: draft,
    specs,
    onSave: (set) => setDraft(setOnRow(draft, set)),
  });
  const lacking = specs.filter(({ path, required }) => required && storedValue(draft, path) === null);
  const ready = lacking.length === 0;
  const changes = useMemo(
    () => (ready ? [{ op: 'add' as const, at: kind, value: draft.body }] : null),
    [ready, kind, draft],
  );
  const result = useResult(base, changes);
  const save = () => {
    if (!changes) return;
    const { label, power_W, max_A } = draft.body as Record<string, number | string | undefined>;
    const size = power_W ? `${figure(Number(power_W))} W` : max_A ? `${figure(Number(max_A))} A` : null;
    saveOn(site, base, `Add ${[label ?? KIND_LABELS[kind].toLowerCase(), size].filter(Boolean).join(', ')}`, changes);
  };
  return (
    <PlanPage title={title} base={base} over={editor}>
      {kinds.length > 1 ? (
        <View role="radiogroup" aria-label="What" className="flex-row flex-wrap gap-2 px-[18px] pt-3">
          {kinds.map((each) => (
            <Chip
              key={each}
              label={KIND_LABELS[each]}
              on={each === kind}
              onPress={() => {
                setKind(each);
                setDraft(draftRow(site, each, START[each]));
              }}
            />
          ))}
        </View>
      ) : null}
      <ShelfPick
        key={kind}
        kind={kind}
        onPick={(item) => setDraft({ ...draft, body: { ...draft.body, ...bodyOfItem(item) } })}
      />
      {specs.map((field) => (
        <FieldRow key={field.path} row={draft} spec={field} onOpen={() => open(field.path)} />
      ))}
      <View className="gap-3 px-[18px] pt-4">
        {ready ? null : <T look="fact">Still needed: {lacking.map(({ label }) => label.toLowerCase()).join(', ')}.</T>}
        {result ? <Outcome base={base} result={result} /> : null}
        {result && 'comparison' in result && mayWrite ? (
          <Button label="Save as a proposal" kind="second" onPress={save} />
        ) : null}
      </View>
    </PlanPage>
  );
}
