import {
  checkSystemFile,
  FaultError,
  fromRows,
  GRADES,
  nameOfRow,
  setOnRow,
  type Grade,
  type PartKind,
  type PartRow,
} from '@true-lantern/core';
import { useMemo, useState } from 'react';
import { Pressable, ScrollView, View } from 'react-native';
import { KIND_WORDS, type FieldSpec } from '../data/fields';
import { openSite, type OpenSite } from '../data/site';
import { Button, Chip, HeavyRule } from '../kit/controls';
import { TextField } from '../kit/field';
import { useKeys } from '../kit/keys';
import { NumberPad } from '../kit/pad';
import { readEntry, readSize } from '../kit/number-entry';
import { Heading, T } from '../kit/text';
import { unitText } from '../kit/units';
import { StringsEntry } from './StringsEntry';
import { VerdictChange } from './VerdictChange';
import { storedValue } from './values';

interface EditorProps {
  site: OpenSite;
  row: PartRow;
  spec: FieldSpec;
  /** Takes the fields to set; evidence comes as `evidence/FIELD`. */
  onSave(set: Record<string, unknown>): void;
  onDone(): void;
}

/** What has been entered: a value to store, or why it cannot be. */
type Draft = { value: unknown } | { trouble: string };

/** One field in reach of a thumb: its value, what it rests on, and what the verdicts become before it is let go. */
export function Editor({ site, row, spec, onSave, onDone }: EditorProps) {
  const before = storedValue(row, spec.path);
  const [entry, setEntry] = useState('');
  const [picked, setPicked] = useState<unknown>(undefined);
  const [grade, setGrade] = useState<Grade | null>(row.evidence[spec.path]?.grade ?? null);
  const draft = draftOf(spec, entry, picked, before);
  const value = 'value' in draft ? draft.value : undefined;
  const preview = useMemo(
    () => (value === undefined ? null : previewOf(site, row, spec.path, value)),
    [site, row, spec.path, value],
  );
  const trouble = 'trouble' in draft ? draft.trouble : (preview?.trouble ?? null);

  const save = (next: unknown) => {
    const set: Record<string, unknown> = {};
    if (next !== before) set[spec.path] = next;
    const evidence = row.evidence[spec.path];
    // A value that is no longer known has no evidence either; a range belongs to the value it was given for.
    if (next === null && evidence) set[`evidence/${spec.path}`] = null;
    else if (next !== null && grade && (grade !== evidence?.grade || next !== before))
      set[`evidence/${spec.path}`] = { grade, ...(evidence?.note ? { note: evidence.note } : {}) };
    if (Object.keys(set).length > 0) onSave(set);
    onDone();
  };
  const confirm = () => {
    if (value !== undefined && trouble === null) save(value);
  };
  const type = (key: string) => setEntry((text) => (key === 'back' ? text.slice(0, -1) : (text + key).slice(0, 12)));
  const digits = [...'0123456789.-/'];
  useKeys({
    Enter: confirm,
    Escape: onDone,
    ...(spec.kind === 'number'
      ? { ...Object.fromEntries(digits.map((key) => [key, () => type(key)])), Backspace: () => type('back') }
      : {}),
  });

  return (
    <View className="absolute inset-0 justify-end" role="dialog" aria-modal aria-label={spec.label}>
      <Pressable
        aria-label="Close without saving"
        className="flex-1 opacity-60"
        style={{ backgroundColor: 'rgba(20,18,13,.45)' }}
        onPress={onDone}
      />
      <View className="max-h-[92%] bg-paper">
        <HeavyRule />
        <ScrollView contentContainerClassName="gap-3 px-[18px] pb-4 pt-3">
          <Heading level={2} look="station">
            {spec.label}
          </Heading>
          {spec.hint ? <T look="fact">{spec.hint}</T> : null}
          {spec.kind === 'number' ? (
            <Entered entry={entry} before={before} unit={spec.unit ?? ''} />
          ) : (
            <Choice site={site} spec={spec} before={before} picked={picked} setPicked={setPicked} />
          )}
          {trouble ? (
            <T look="fact" role="alert" className="font-semi text-ink">
              {trouble}
            </T>
          ) : null}
          {preview?.site ? (
            <VerdictChange before={site} after={preview.site} partId={String(row.body.id ?? row.kind)} />
          ) : null}
          {spec.kind === 'number' ? <NumberPad onKey={type} /> : null}
          <View role="radiogroup" aria-label="Where the value comes from" className="flex-row flex-wrap gap-2">
            {GRADES.map((item) => (
              <Chip key={item} label={item} on={grade === item} onPress={() => setGrade(item)} />
            ))}
          </View>
          <View className="flex-row gap-3">
            {spec.required ? (
              <Button label="Cancel" className="min-h-[64px] flex-1" onPress={onDone} />
            ) : (
              <Button label="Can't read it" className="min-h-[64px] flex-1" onPress={() => save(null)} />
            )}
            <Button
              label="Save"
              kind="main"
              className="min-h-[64px] flex-1"
              disabled={value === undefined || trouble !== null}
              onPress={confirm}
            />
          </View>
        </ScrollView>
      </View>
    </View>
  );
}

function Entered({ entry, before, unit }: { entry: string; before: unknown; unit: string }) {
  return (
    <View className="min-h-[56px] flex-row items-baseline gap-3 border-b-2 border-ink" aria-live="polite">
      <T look="pad" testID="entry" className={entry === '' ? 'text-soft' : ''}>
        {entry === '' ? (before === null ? 'not known' : String(before)) : entry.replace(/-/g, '\u2212')}
      </T>
      <T look="station">{unitText(unit)}</T>
      {entry !== '' && before !== null ? (
        <T look="fact" className="ml-auto line-through">{`${String(before)} ${unitText(unit)}`}</T>
      ) : null}
    </View>
  );
}

interface ChoiceProps {
  site: OpenSite;
  spec: FieldSpec;
  before: unknown;
  picked: unknown;
  setPicked(value: unknown): void;
}

function Choice({ site, spec, before, picked, setPicked }: ChoiceProps) {
  const now = picked === undefined ? before : picked;
  if (spec.kind === 'strings')
    return <StringsEntry system={site.model.system} strings={(now ?? []) as string[][]} onChange={setPicked} />;
  if (spec.kind === 'choices' || spec.kind === 'months' || spec.kind === 'parts')
    return <Several site={site} spec={spec} chosen={(now ?? []) as unknown[]} onChange={setPicked} />;
  if (spec.kind === 'part') {
    const parts = partsOf(site, spec);
    if (parts.length === 0) return <T look="fact">Nothing of that kind is recorded yet.</T>;
    return (
      <View role="radiogroup" aria-label={spec.label} className="flex-row flex-wrap gap-2">
        {parts.map(({ id, label }) => (
          <Chip key={id} label={label} on={now === id} onPress={() => setPicked(id)} />
        ))}
      </View>
    );
  }
  if (spec.kind === 'choice' || spec.kind === 'flag') {
    const answers: [string, unknown][] =
      spec.kind === 'flag'
        ? [
            ['yes', true],
            ['no', false],
          ]
        : (spec.choices ?? []).map((choice) => [choice, choice]);
    return (
      <View role="radiogroup" aria-label={spec.label} className="flex-row flex-wrap gap-2">
        {answers.map(([label, value]) => (
          <Chip key={label} label={label} on={now === value} onPress={() => setPicked(value)} />
        ))}
      </View>
    );
  }
  return (
    <TextField
      label={spec.kind === 'size' ? 'Size' : 'Text'}
      defaultValue={before === null ? '' : String(before)}
      onChangeText={setPicked}
      autoFocus
    />
  );
}

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

/** Any number of a few answers. */
function Several({
  site,
  spec,
  chosen,
  onChange,
}: {
  site: OpenSite;
  spec: FieldSpec;
  chosen: unknown[];
  onChange(value: unknown): void;
}) {
  const answers: [unknown, string][] =
    spec.kind === 'months'
      ? MONTHS.map((word, i) => [i + 1, word])
      : spec.kind === 'parts'
        ? partsOf(site, spec).map(({ id, label }) => [id, label])
        : (spec.choices ?? []).map((choice) => [choice, choice]);
  return (
    <View className="flex-row flex-wrap gap-2">
      {answers.map(([value, label]) => (
        <Chip
          key={label}
          many
          label={label}
          on={chosen.includes(value)}
          onPress={() =>
            onChange(chosen.includes(value) ? chosen.filter((other) => other !== value) : [...chosen, value])
          }
        />
      ))}
    </View>
  );
}

/** The parts that a reference may lead to, by what they are called. */
const partsOf = (site: OpenSite, spec: FieldSpec) =>
  site.rows
    .filter(({ kind }) => spec.of?.includes(kind as PartKind))
    .map((row) => ({ id: nameOfRow(row), label: String(row.body.label ?? KIND_WORDS[row.kind] ?? row.kind) }));

function draftOf(spec: FieldSpec, entry: string, picked: unknown, before: unknown): Draft {
  if (spec.kind === 'number') {
    if (entry === '') return { value: before };
    const value = readEntry(entry);
    return value === undefined || value === null ? { trouble: 'Not a number yet.' } : { value };
  }
  if (picked === undefined) return { value: before };
  if (spec.kind === 'size') {
    const size = readSize(String(picked));
    return size === undefined ? { trouble: 'A size like 16 mm\u00b2, 10 AWG or 2/0 AWG.' } : { value: size };
  }
  if (spec.kind === 'text') {
    const text = String(picked).trim();
    return text === '' && spec.required ? { trouble: 'This cannot be empty.' } : { value: text === '' ? null : text };
  }
  return { value: picked };
}

/** The site as it would be, or the sentence that says why it cannot be so. */
function previewOf(
  site: OpenSite,
  row: PartRow,
  path: string,
  value: unknown,
): { site?: OpenSite; trouble: string | null } {
  const changed = setOnRow(row, { [path]: value });
  const recorded = site.rows.some(({ id }) => id === row.id);
  const rows = recorded ? site.rows.map((other) => (other.id === row.id ? changed : other)) : [...site.rows, changed];
  try {
    checkSystemFile(fromRows(rows));
    return { site: openSite(site.id, rows), trouble: null };
  } catch (error) {
    if (!(error instanceof FaultError)) throw error;
    // A part that is being added lacks other fields still: only this one is judged.
    const fault = recorded
      ? error.faults[0]
      : error.faults.find(
          (candidate) => candidate.path.endsWith(`].${path}`) || candidate.path === `system.${row.kind}.${path}`,
        );
    return { trouble: fault && !(value === null && !recorded) ? `It ${fault.message}.` : null };
  }
}
