import {
  CONDITIONS,
  expectedTests,
  figure,
  judgeReading,
  median,
  positionWords,
  QUANTITIES,
  readingText,
  subjectName,
  type ExpectedTest,
  type Quantity,
} from '@true-lantern/core';
import { useMemo, useState } from 'react';
import { View } from 'react-native';
import { meterUsed } from '../data/meters';
import { addReading } from '../data/readings';
import { usePerson } from '../data/session';
import type { OpenSite } from '../data/site';
import { useUnits } from '../data/units';
import { HowTo } from '../entry/HowTo';
import { JUDGED, ReadingPad } from '../entry/ReadingPad';
import { Chip, Row } from '../ui/controls';
import { TextField } from '../ui/field';
import { Mark } from '../ui/mark';
import { readEntry } from '../ui/number-entry';
import { T } from '../ui/text';
import { offerUndo } from '../ui/undo';

/** Rounds over many parts of one kind under the same conditions. */
export type RoundKind = 'drops' | 'strings';

/** What each round reads. */
export const ROUNDS: Readonly<Record<RoundKind, { takes(quantity: Quantity): boolean; lead: string }>> = {
  drops: {
    takes: (quantity) => quantity === 'drop_V',
    lead: 'Switch on a steady load and clamp its current at the bank. Then measure along each run, end to end, both conductors.',
  },
  strings: {
    takes: (quantity) => quantity === 'stringIsc_A' || quantity === 'stringImp_A',
    lead: 'Clamp one string after the other while the light does not change: a clear sky, within two minutes.',
  },
};

/** Strings further from the middle one than this are told (Practice, D). */
const APART = 0.03;

/** One round: a condition entered once, then a figure a part; what stands out comes first. */
export function Round({ site, kind }: { site: OpenSite; kind: RoundKind }) {
  const person = usePerson();
  const [share, setShare] = useState(String(Math.round(100 * CONDITIONS.share)));
  const [working, setWorking] = useState(true);
  const [values, setValues] = useState<Readonly<Record<string, number>>>({});
  const [open, setOpen] = useState<string | null>(null);
  const typed = readEntry(share);
  const good = typeof typed === 'number' && typed > 0 && typed <= 200;
  const part = good ? typed / 100 : CONDITIONS.share;
  const tests = useMemo(
    () =>
      expectedTests(site.model, { ...CONDITIONS, share: part }, (one) =>
        kind === 'drops' ? one === 'drop_V' : one === (working ? 'stringImp_A' : 'stringIsc_A'),
      ).tests,
    [site.model, part, kind, working],
  );
  const judged = judgedIn(kind, tests, values);
  const save = (test: ExpectedTest, value: number, pair: [number, number] | null) => {
    const back = addReading(site, {
      subject: test.subject,
      quantity: test.quantity,
      value,
      ...(pair ? { pair } : {}),
      ...(test.position ? { position: test.position } : {}),
      ...meterUsed(person.id),
      // Of the light nothing is known but that it is the same for all.
      ...(kind === 'drops' ? { note: `At ${Math.round(100 * part)} % of design current` } : {}),
    });
    setValues({ ...values, [test.id]: value });
    offerUndo('Reading saved', () => {
      back();
      setValues((all) => {
        const { [test.id]: _, ...rest } = all;
        return rest;
      });
    });
    setOpen(tests.find((one) => one.id !== test.id && values[one.id] === undefined)?.id ?? null);
  };
  return (
    <View className="gap-3 pt-4">
      <T look="lead" className="px-[18px]" testID="round-lead">
        {leadOf(kind, site, judged, tests.length)}
      </T>
      <T className="px-[18px]">{ROUNDS[kind].lead}</T>
      <View className="px-[18px]">
        {kind === 'drops' ? (
          <TextField
            label="Current now, % of design current"
            inputMode="decimal"
            value={share}
            onChangeText={setShare}
            error={good ? undefined : 'A figure from 1 to 200.'}
          />
        ) : (
          <View role="radiogroup" aria-label="Which current" className="flex-row flex-wrap gap-2">
            <Chip label="At work" on={working} onPress={() => setWorking(true)} />
            <Chip label="Short-circuited" on={!working} onPress={() => setWorking(false)} />
          </View>
        )}
      </View>
      <View>
        {judged.map((one) => (
          <RoundRow
            key={one.test.id}
            judged={one}
            name={nameOf(site, one.test)}
            open={open === one.test.id}
            onOpen={() => setOpen(open === one.test.id ? null : one.test.id)}
            expects={kind === 'drops'}
            onSave={(value, pair) => save(one.test, value, pair)}
          />
        ))}
      </View>
    </View>
  );
}

interface RoundRowProps {
  judged: Judged;
  name: string;
  open: boolean;
  onOpen(): void;
  /** True where the model says what to expect. */
  expects: boolean;
  onSave(value: number, pair: [number, number] | null): void;
}

function RoundRow({ judged: { test, value, verdict, says }, name, open, onOpen, expects, onSave }: RoundRowProps) {
  const units = useUnits();
  return (
    <View className={open ? 'border-b border-l-[5px] border-l-lamp bg-well' : ''}>
      <Row aria-expanded={open} onPress={onOpen} testID={`round-${test.id}`}>
        <Mark verdict={verdict ? JUDGED[verdict].verdict : 'unknown'} />
        <View className="min-w-0 flex-1">
          <T look="head">{name}</T>
          <T look="fact">{says}</T>
        </View>
        <T look="figure">{value === undefined ? '\u2026' : readingText(value, test.unit, units)}</T>
      </Row>
      {open ? (
        <View className="gap-3 px-[18px] pb-4">
          <HowTo test={test} />
          <ReadingPad
            quantity={test.quantity}
            test={expects ? test : null}
            onSave={(read, _, pair) => onSave(read, pair)}
          />
        </View>
      ) : null}
    </View>
  );
}

type Verdict = 'inside' | 'outside' | 'cannot-tell';
interface Judged {
  test: ExpectedTest;
  value: number | undefined;
  verdict: Verdict | null;
  says: string;
  /** How far out, the most first. */
  rank: number;
}

/** Drops against what is expected at this current; strings against their middle one, which needs no light meter. */
function judgedIn(kind: RoundKind, tests: readonly ExpectedTest[], values: Readonly<Record<string, number>>): Judged[] {
  const read = tests.flatMap(({ id }) => values[id] ?? []);
  const middle = read.length > 1 ? median(read) : Number.NaN;
  return tests
    .map((test): Judged => {
      const value = values[test.id];
      if (kind === 'drops') {
        const most = test.high ?? test.expected;
        return {
          test,
          value,
          verdict: value === undefined ? null : judgeReading(test, value),
          says:
            test.cannotTell ??
            (most === null ? QUANTITIES[test.quantity][1] : `at most ${figure(most, 3)} ${test.unit}`),
          rank: value === undefined || !most ? 0 : value / most,
        };
      }
      const off = value === undefined ? Number.NaN : value / middle - 1;
      return {
        test,
        value,
        verdict: Number.isFinite(off) ? (Math.abs(off) > APART ? 'outside' : 'inside') : null,
        says: Number.isFinite(off)
          ? `${off < 0 ? '\u2212' : '+'}${Math.abs(100 * off).toFixed(1)} % from the middle`
          : 'within 3 % of the others',
        rank: Number.isFinite(off) ? Math.abs(off) : 0,
      };
    })
    .sort((a, b) => b.rank - a.rank);
}

function leadOf(kind: RoundKind, site: OpenSite, judged: readonly Judged[], count: number): string {
  const read = judged.filter(({ value }) => value !== undefined);
  const out = read.filter(({ verdict }) => verdict === 'outside');
  const [worst] = out;
  if (read.length === 0) return kind === 'drops' ? `${count} runs to measure.` : `${count} strings to clamp.`;
  if (worst) return `${nameOf(site, worst.test)} stands out${out.length > 1 ? `, and ${out.length - 1} more` : ''}.`;
  return `${read.length} of ${count} measured, none stands out.`;
}

function nameOf(site: OpenSite, test: ExpectedTest): string {
  const where = positionWords(test.position);
  return `${subjectName(site.model, test.subject)}${where ? `, ${where}` : ''}`;
}
