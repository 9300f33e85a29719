import {
  nameIn,
  atTheCounter,
  inBody,
  judgeLine,
  setMember,
  specify,
  swapChanges,
  type Aspect,
  type Change,
  type SpecLine,
} from '@true-lantern/core';
import { router, useLocalSearchParams } from 'expo-router';
import { useMemo, useState } from 'react';
import { ScrollView, View } from 'react-native';
import { useOpenSite } from '../data/open-site';
import { readPreference, writePreference } from '../data/preferences';
import { useMayWrite, usePerson } from '../data/session';
import { Button, Chip, HeavyRule, Plain } from '../ui/controls';
import { TextField } from '../ui/field';
import { Mark } from '../ui/mark';
import { readEntry, readSize } from '../ui/number-entry';
import { T } from '../ui/text';
import { usePretty, unitText } from '../ui/units';
import { saveOn, useBase, type Base } from './base';
import { Outcome, useResult } from './Outcome';
import { PlanHeader } from './PlanHeader';
import { asked, LINE_VERDICTS, specTitle } from './spec-words';
import { WORDS } from '../ui/words';

type Entries = Record<string, string>;

/** In the shop, off line: what is on the sheet is typed, and each line passes or fails. Nothing typed is lost. */
export function CounterScreen() {
  const { part = '', aspect } = useLocalSearchParams<{ part?: string; aspect?: Aspect }>();
  const base = useBase();
  return <Counter key={`${part} ${aspect}`} base={base} partId={part} {...(aspect ? { aspect } : {})} />;
}

/** What was typed at the counter, kept on this device: what one person typed on a shared one is not another's. */
function useEntries(siteId: string, partId: string, aspect: Aspect | undefined) {
  const place = `${usePerson().id} ${siteId} ${partId} ${aspect ?? 'part'}`;
  const [entries, setEntries] = useState<Entries>(() => readPreference('counter')?.[place] ?? {});
  const enter = (key: string, text: string) => {
    const next = { ...entries, [key]: text };
    setEntries(next);
    writePreference('counter', { ...readPreference('counter'), [place]: next });
  };
  const clear = () => {
    setEntries({});
    writePreference('counter', { ...readPreference('counter'), [place]: {} });
  };
  return { entries, enter, clear };
}

function Counter({ base, partId, aspect }: { base: Base; partId: string; aspect?: Aspect }) {
  const pretty = usePretty();
  const site = useOpenSite();
  const mayWrite = useMayWrite();
  const { entries, enter, clear } = useEntries(site.id, partId, aspect);
  const spec = useMemo(() => specify(base.model, partId, aspect), [base, partId, aspect]);
  const fields = useMemo(() => (spec ? byField(spec.lines) : []), [spec]);
  const which = spec?.aspect ?? 'part';
  const body = useMemo(() => stated(fields, entries, which), [fields, entries, which]);
  const label = entries.label?.trim() ?? '';
  const judged = fields.flatMap(({ key, lines }) =>
    lines.map((line) => ({ line, verdict: judgeLine(line, body.values[key]) })),
  );
  const passed = atTheCounter(judged).verdict === 'pass' && spec !== null && spec.aspect !== 'module';
  const changes = useMemo(
    () =>
      passed && spec
        ? swapChanges(base.model, spec, body.body, label || `${nameIn(base.model, partId)}, product checked in a shop`)
        : null,
    [passed, base, spec, body, label, partId],
  );
  if (!spec)
    return (
      <Plain title="This part is not here.">
        <Button label="All proposals" onPress={() => router.navigate(`/site/${site.id}/plan`)} />
      </Plain>
    );
  const save = () => {
    if (changes) saveOn(site, base, `${nameIn(base.model, partId)}: ${label || 'product checked in a shop'}`, changes);
  };
  return (
    <View className="flex-1">
      <PlanHeader title={`Check a product: ${specTitle(nameIn(base.model, partId), spec)}`} />
      <Verdict counted={atTheCounter(judged)} />
      <HeavyRule />
      <ScrollView>
        <View className="max-w-[860px] gap-2 pb-10">
          {spec.conflicts.map((conflict) => (
            <T key={conflict} role="alert" className="px-[18px] pt-3">
              {pretty(conflict)}
            </T>
          ))}
          <View className="px-[18px] pt-3">
            <TextField label="Maker and model" value={label} onChangeText={(text) => enter('label', text)} />
          </View>
          {fields.map(({ key, lines }) => (
            <Entry
              key={key}
              name={key}
              lines={lines}
              text={entries[key] ?? ''}
              value={body.values[key]}
              onEnter={(text) => enter(key, text)}
            />
          ))}
          <View className="gap-3 px-[18px] pt-4">
            {changes ? <Swapped base={base} changes={changes} onSave={mayWrite ? save : null} /> : null}
            <Button label="Clear and check another" onPress={clear} />
            <T look="fact">The figures stay on this device until you clear them.</T>
          </View>
        </View>
      </ScrollView>
    </View>
  );
}

/** Whether to buy it. */
function Verdict({ counted: { verdict: all, failed, open, outOf } }: { counted: ReturnType<typeof atTheCounter> }) {
  return (
    <View className="flex-row items-center gap-3 px-[18px] py-3" role="status" testID="counter-verdict">
      <Mark verdict={LINE_VERDICTS[all][0]} size={32} />
      <T look="lead" className="min-w-0 flex-1">
        {all === 'fail'
          ? `Do not buy: ${failed === 1 ? '1 line fails' : `${failed} lines fail`}.`
          : all === 'pass'
            ? 'It meets every requirement.'
            : `${open} left${outOf > open ? ', none fails yet' : ''}.`}
      </T>
    </View>
  );
}

/** It meets its lines; the rest of the system is asked as well. */
function Swapped({ base, changes, onSave }: { base: Base; changes: Change[]; onSave: (() => void) | null }) {
  const result = useResult(base, changes);
  if (!result) return null;
  if ('fault' in result) return <T>{`More data is needed before it can be used here: ${result.fault}`}</T>;
  return (
    <>
      <Outcome base={base} result={result} />
      {onSave ? <Button label={WORDS.saveAsProposal} kind="second" onPress={onSave} /> : null}
    </>
  );
}

interface Field {
  key: string;
  lines: SpecLine[];
}

/** Lines that ask the same figure share one entry. */
function byField(lines: readonly SpecLine[]): Field[] {
  const fields = new Map<string, SpecLine[]>();
  for (const line of lines) {
    const key = line.field ?? line.label;
    fields.set(key, [...(fields.get(key) ?? []), line]);
  }
  return [...fields].map(([key, found]) => ({ key, lines: found }));
}

const OTHER = 'another';

/** What the entries say: by field for the lines, and as a part's body for the swap. */
function stated(
  fields: readonly Field[],
  entries: Entries,
  aspect: Aspect,
): { values: Record<string, unknown>; body: Record<string, unknown> } {
  const values: Record<string, unknown> = {};
  const body: Record<string, unknown> = {};
  for (const { key, lines } of fields) {
    const [line] = lines;
    const text = entries[key]?.trim() ?? '';
    if (!line || text === '') continue;
    const value = valueOf(line, text);
    if (value === undefined) continue;
    values[key] = value;
    if (line.field !== null && value !== OTHER) setMember(body, inBody(aspect, line.field), numeric(line, value));
  }
  return { values, body };
}

/** Words that stand for numbers go into the part as numbers. */
const numeric = ({ test }: SpecLine, value: unknown) =>
  test === 'one-of' && typeof value === 'string' && /^\d+(\.\d+)?$/.test(value) ? Number(value) : value;

function valueOf({ test }: SpecLine, text: string): unknown {
  if (test === 'eyes' || test === 'true' || test === 'false')
    return text === 'yes' ? test !== 'false' : text === 'no' ? test === 'false' : undefined;
  if (test === 'one-of') return text;
  if (test === 'includes') return [text];
  if (test === 'size') return readSize(text) ?? undefined;
  const value = readEntry(text);
  return typeof value === 'number' ? value : undefined;
}

interface EntryProps {
  name: string;
  lines: SpecLine[];
  text: string;
  value: unknown;
  onEnter(text: string): void;
}

function Entry({ name, lines, text, value, onEnter }: EntryProps) {
  const pretty = usePretty();
  const [line] = lines;
  if (!line) return null;
  const choices =
    line.test === 'one-of' || line.test === 'includes'
      ? [...line.words, OTHER]
      : line.test === 'eyes' || line.test === 'true' || line.test === 'false'
        ? ['yes', 'no']
        : null;
  return (
    <View className="gap-2 border-b border-rule px-[18px] py-3" testID={`counter-${name}`}>
      {choices ? (
        <>
          <T look="head">{pretty(line.label)}</T>
          <View role="radiogroup" aria-label={line.label} className="flex-row flex-wrap gap-2">
            {choices.map((choice) => (
              <Chip
                key={choice}
                label={choice}
                on={text === choice}
                onPress={() => onEnter(text === choice ? '' : choice)}
              />
            ))}
          </View>
        </>
      ) : (
        <TextField
          label={`${pretty(line.label.replace(/, at (least|most)$/, ''))}${line.unit ? `, ${unitText(line.unit)}` : ''}`}
          value={text}
          onChangeText={onEnter}
          inputMode={line.test === 'size' ? 'text' : 'decimal'}
          error={text !== '' && value === undefined ? 'This is not a valid number.' : undefined}
        />
      )}
      {lines.map((each) => {
        const verdict = judgeLine(each, value);
        return (
          <View key={`${each.test} ${each.label} ${each.rule}`} className="flex-row items-center gap-3">
            <Mark verdict={LINE_VERDICTS[verdict][0]} size={22} />
            <T className="min-w-0 flex-1">
              {each.test === 'eyes'
                ? pretty(each.why[0] ?? '')
                : `needed ${pretty(asked(each))}${each.must ? '' : ', recommended'}`}
            </T>
            <T look="head">{LINE_VERDICTS[verdict][1]}</T>
          </View>
        );
      })}
    </View>
  );
}
