import {
  cabledChanges,
  figure,
  fuseWord,
  isCabled,
  isShelfKind,
  setOnRow,
  type Change,
  type Model,
  type PartKind,
  type PartRow,
  type Run,
  lowered,
  withChanges,
} from '@true-lantern/core';
import { router, useGlobalSearchParams } from 'expo-router';
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
import { Button, Chip } from '../ui/controls';
import { T } from '../ui/text';
import { inUnits, sizeText } from '../ui/units';
import { useUnits } from '../data/units';
import { saveOn, useBase } from './base';
import { Outcome, useResult } from './Outcome';
import { PlanPage } from './PlanPage';
import { WORDS } from '../ui/words';

type Added = Extract<
  PartKind,
  'loads' | 'chargers' | 'sources' | 'inverters' | 'converters' | 'distribution' | 'switches' | 'monitor' | 'runs'
>;

/** What of a part is asked before anybody buys it; the rest is the survey's business. */
const ASKED: Record<Added, string[]> = {
  loads: ['label', 'kind', 'power_W', 'hours_d', 'type', 'quantity', 'surge_W', 'needsSine'],
  chargers: ['label', 'kind', 'max_A', 'input_V', 'alternator_A', 'profiles', 'onInverterOutput'],
  sources: ['label', 'kind', 'power_W', 'inlet_A', 'ac_V'],
  inverters: [
    'label',
    'waveform',
    'continuous_W',
    'continuous_VA',
    'surge_W',
    'minDc_V',
    'maxDc_V',
    'lowCutoff_V',
    'idle_W',
    'feeds',
    'transfer',
    'charger.max_A',
  ],
  converters: ['label', 'in_V', 'out_V', 'max_A'],
  distribution: ['label', 'slots', 'rating_A'],
  switches: ['label', 'kind', 'runId', 'end', 'rating_A', 'voltage_V', 'dcRated', 'polarised', 'lvd_V'],
  monitor: ['label', 'shunt_A'],
  runs: [
    'label',
    'kind',
    'from',
    'to',
    'length_m',
    'size',
    'protection.type',
    'protection.rating_A',
    'protection.voltage_V',
    'protection.fromSource_m',
  ],
};
const START: Record<Added, Record<string, unknown>> = {
  loads: { kind: 'ac' },
  chargers: { kind: 'mains' },
  sources: { kind: 'generator' },
  inverters: { waveform: 'sine' },
  converters: {},
  distribution: { circuits: [] },
  switches: { kind: 'isolator' },
  monitor: {},
  runs: {},
};

/** "What if a freezer goes on": what it turns over, before anybody buys it. */
export const AddLoadScreen = () => <AddPart title="Add a load" kinds={['loads']} />;
/** An inverter, with its cable and its fuse. */
export const AddInverterScreen = () => <AddPart title="Add an inverter" kinds={['inverters']} />;
/** What else may be missing: each comes with its cable where it hangs on one. */
export const AddDeviceScreen = () => (
  <AddPart title="Add a part" kinds={['converters', 'distribution', 'switches', 'monitor', 'runs']} />
);
/** A charger, or the generator or inlet that feeds one. Sun is added with its modules. */
export const AddSourceScreen = () => <AddPart title="Add a charging source" kinds={['chargers', 'sources']} />;

const KIND_LABELS: Record<Added, string> = {
  loads: 'Load',
  chargers: 'A charger',
  sources: 'Generator or inlet',
  inverters: 'An inverter',
  converters: 'A converter',
  distribution: 'A board with circuits',
  switches: 'A switch',
  monitor: 'A shunt',
  runs: 'A cable',
};

const fuseText = ({ type, rating_A }: NonNullable<Run['protection']>) => {
  const word = type && type !== 'none' ? fuseWord(type) : 'a fuse';
  return `${word} of ${figure(rating_A ?? Number.NaN)} A`;
};

/** The load that an inverter is wanted for, from the address; what is no load is nothing. */
function useWanted(): Record<string, unknown> | null {
  const { with: text } = useGlobalSearchParams<{ with?: string }>();
  return useMemo(() => {
    try {
      const value: unknown = text ? JSON.parse(text) : null;
      return value && typeof value === 'object' && 'power_W' in value ? { ...value } : null;
    } catch {
      return null;
    }
  }, [text]);
}

/** What is recorded with the part: the load that an inverter is wanted for, its cable and fuse. */
function additionsOf(model: Model, kind: Added, draft: PartRow, wanted: Record<string, unknown> | null): Change[] {
  const first: Change[] = wanted && kind === 'inverters' ? [{ op: 'add', at: 'loads', value: wanted }] : [];
  const on = withChanges(model, first);
  const body = draft.body as Record<string, unknown> & { id: string };
  return [
    ...first,
    ...(isCabled(kind) ? cabledChanges(on, kind, body) : [{ op: 'add' as const, at: kind, value: body }]),
  ];
}

function Kinds({ kinds, chosen, onChoose }: { kinds: Added[]; chosen: Added; onChoose(kind: Added): void }) {
  if (kinds.length < 2) return null;
  return (
    <View role="radiogroup" aria-label="What" className="flex-row flex-wrap gap-2 px-[18px] pt-3">
      {kinds.map((each) => (
        <Chip key={each} label={KIND_LABELS[each]} on={each === chosen} onPress={() => onChoose(each)} />
      ))}
    </View>
  );
}

/** Where nothing makes AC an AC load would be fed by nothing: the inverter first. */
function NoInverter({ siteId, on, load }: { siteId: string; on: string | null; load: PartRow['body'] }) {
  const query = new URLSearchParams({ with: JSON.stringify(load), ...(on ? { on } : {}) });
  return (
    <>
      <T className="font-semi">There is no inverter here to supply it.</T>
      <Button
        label="Add an inverter for it"
        kind="main"
        onPress={() => router.navigate(`/site/${siteId}/plan/inverter?${query.toString()}`)}
      />
    </>
  );
}

function AddPart({ title, kinds }: { title: string; kinds: Added[] }) {
  const site = useOpenSite();
  const base = useBase();
  const wanted = useWanted();
  const units = useUnits();
  const mayWrite = useMayWrite();
  const [kind, setKind] = useState<Added>(kinds[0] ?? 'loads');
  const [draft, setDraft] = useState<PartRow>(() => draftRow(site, kind, START[kind]));
  const specs = (FIELDS[kind] ?? []).filter(({ path }) => ASKED[kind].includes(path));
  const { open, editor } = useEditor({
    // Ends and cables are chosen among the parts that are there; nothing is judged against the survey.
    site: kind === 'switches' || kind === 'runs' ? site : null,
    quiet: true,
    row: draft,
    specs,
    onSave: (set) => setDraft(setOnRow(draft, set)),
  });
  const lacking = specs.filter(({ path, required }) => required && storedValue(draft, path) === null);
  const ready = lacking.length === 0;
  const changes = useMemo(
    () => (ready ? additionsOf(base.model, kind, draft, wanted) : null),
    [ready, kind, draft, base, wanted],
  );
  // An AC load where nothing makes AC: the inverter comes first.
  const unserved = kind === 'loads' && draft.body.kind !== 'dc' && (base.model.system.inverters ?? []).length === 0;
  const cable = changes?.find(({ op, at }) => op === 'add' && at === 'runs' && kind !== 'runs')?.value as
    | Run
    | undefined;
  const result = useResult(base, changes);
  const save = () => {
    if (!changes) return;
    const { label, power_W, max_A } = draft.body as Record<string, number | string | undefined>;
    const size = power_W ? `${figure(Number(power_W))} W` : max_A ? `${figure(Number(max_A))} A` : null;
    saveOn(site, base, `Add ${[label ?? KIND_LABELS[kind].toLowerCase(), size].filter(Boolean).join(', ')}`, changes);
  };
  return (
    <PlanPage title={title} base={base} over={editor}>
      <Kinds
        kinds={kinds}
        chosen={kind}
        onChoose={(each) => {
          setKind(each);
          setDraft(draftRow(site, each, START[each]));
        }}
      />
      {isShelfKind(kind) ? (
        <ShelfPick
          key={kind}
          kind={kind}
          onPick={(item) => setDraft({ ...draft, body: { ...draft.body, ...bodyOfItem(item) } })}
        />
      ) : null}
      {specs.map((field) => (
        <FieldRow key={field.path} row={draft} spec={field} onOpen={() => open(field.path)} />
      ))}
      <View className="gap-3 px-[18px] pt-4">
        {wanted && kind === 'inverters' ? (
          <T>{`For ${String(wanted.label ?? 'the load')}, ${figure(Number(wanted.power_W))} W.`}</T>
        ) : null}
        {cable ? (
          <T testID="its-cable">
            {`With ${sizeText(cable.size, units)}${cable.protection?.rating_A ? ` and ${fuseText(cable.protection)}` : ', no standard fuse fits'}; ${inUnits(cable.length_m, 'm', units)} assumed: measure it.`}
          </T>
        ) : null}
        {unserved && ready ? <NoInverter siteId={site.id} on={base.id} load={draft.body} /> : null}
        {ready ? null : <T look="fact">Still needed: {lacking.map(({ label }) => lowered(label)).join(', ')}.</T>}
        {result ? <Outcome base={base} result={result} /> : null}
        {result && 'comparison' in result && mayWrite ? (
          <Button label={WORDS.saveAsProposal} kind="second" onPress={save} />
        ) : null}
      </View>
    </PlanPage>
  );
}
