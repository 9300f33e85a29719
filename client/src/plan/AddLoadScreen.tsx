import {
  applyChanges,
  compare,
  FaultError,
  figure,
  sentenceOf,
  setOnRow,
  withSystem,
  type Change,
  type Model,
  type PartRow,
} from '@true-lantern/core';
import { router } from 'expo-router';
import { useState } from 'react';
import { ScrollView, View } from 'react-native';
import { FIELDS } from '../data/fields';
import { useOpenSite } from '../data/open-site';
import { draftRow } from '../data/parts';
import { addProposal } from '../data/proposals';
import { useMayWrite } from '../data/session';
import { bodyOfItem } from '../data/shelf';
import type { OpenSite } from '../data/site';
import { FieldRow } from '../entry/FieldRow';
import { ShelfPick } from '../entry/ShelfPick';
import { useEditor } from '../entry/useEditor';
import { storedValue } from '../entry/values';
import { Button } from '../kit/controls';
import { Mark } from '../kit/mark';
import { Heading, T } from '../kit/text';
import { pretty } from '../kit/units';
import { PlanHeader } from './PlanHeader';

const ASKED = ['label', 'kind', 'power_W', 'hours_d', 'type', 'quantity', 'surge_W'];

/** "What if a freezer goes on": what it turns over, before anybody buys it. */
export function AddLoadScreen() {
  const site = useOpenSite();
  const mayWrite = useMayWrite();
  const [draft, setDraft] = useState<PartRow>(() => draftRow(site, 'loads', { kind: 'ac' }));
  const specs = (FIELDS.loads ?? []).filter(({ path }) => ASKED.includes(path));
  const { open, editor } = useEditor({
    site: null,
    row: draft,
    specs,
    onSave: (set) => setDraft(setOnRow(draft, set)),
  });
  const lacking = specs.filter(({ path, required }) => required && storedValue(draft, path) === null);
  const changes: Change[] = [{ op: 'add', at: 'loads', value: draft.body }];
  const result = lacking.length > 0 ? null : outcome(site, changes);
  const save = () => {
    const title = `Add ${String(draft.body.label)}, ${figure(Number(draft.body.power_W))} W`;
    router.navigate(`/site/${site.id}/plan/${addProposal(site, title, changes)}`);
  };
  return (
    <View className="flex-1">
      <PlanHeader title="Add a load" />
      <ScrollView>
        <View className="max-w-[720px] pb-10">
          <ShelfPick
            kind="loads"
            onPick={(item) => setDraft({ ...draft, body: { ...draft.body, ...bodyOfItem(item) } })}
          />
          {specs.map((field) => (
            <FieldRow key={field.path} row={draft} spec={field} onOpen={() => open(field.path)} />
          ))}
          <View className="gap-3 px-[18px] pt-4" testID="outcome" aria-live="polite">
            {lacking.length > 0 ? (
              <T look="fact">Still needed: {lacking.map(({ label }) => label.toLowerCase()).join(', ')}.</T>
            ) : null}
            {result && 'fault' in result ? <T role="alert">{result.fault}</T> : null}
            {result && 'broken' in result ? (
              <>
                <Heading level={2} look="station">
                  {result.broken.length === 0 ? 'It turns nothing over' : 'It turns over'}
                </Heading>
                {result.broken.map(({ key, text }) => (
                  <View key={key} className="flex-row items-center gap-3">
                    <Mark verdict="over" />
                    <T className="min-w-0 flex-1">{pretty(text)}</T>
                  </View>
                ))}
                {result.remaining > 0 ? (
                  <T look="fact">
                    {result.remaining === 1 ? '1 finding was' : `${result.remaining} findings were`} over before and
                    still {result.remaining === 1 ? 'is' : 'are'}.
                  </T>
                ) : null}
                {mayWrite ? <Button label="Save as a proposal" kind="second" onPress={save} /> : null}
              </>
            ) : null}
          </View>
        </View>
      </ScrollView>
      {editor}
    </View>
  );
}

type Outcome = { broken: { key: string; text: string }[]; remaining: number } | { fault: string };

function outcome(site: OpenSite, changes: Change[]): Outcome {
  try {
    const after: Model = withSystem(site.model, applyChanges(site.model.system, { changes }));
    const { broken, remaining } = compare(site.findings, after);
    return {
      broken: broken.map((finding) => ({
        key: `${finding.rule} ${finding.subject} ${finding.quantity}`,
        text: sentenceOf(after, finding),
      })),
      remaining: remaining.length,
    };
  } catch (error) {
    if (!(error instanceof FaultError)) throw error;
    return { fault: `That cannot be: ${error.faults[0]?.message ?? ''}.` };
  }
}
