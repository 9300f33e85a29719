import {
  figure,
  judgeReading,
  QUANTITIES,
  readingFault,
  type ExpectedTest,
  type Judgement,
  type Quantity,
  shownUnit,
  toShown,
  bandText,
} from '@true-lantern/core';
import { useState, type ReactNode } from 'react';
import { View } from 'react-native';
import { useUnits } from '../data/units';
import { Button } from '../kit/controls';
import { padKeys, useKeys } from '../kit/keys';
import { Mark } from '../kit/mark';
import { readQuantity } from '../kit/number-entry';
import { NumberPad, shownEntry, withoutLast } from '../kit/pad';
import { T } from '../kit/text';
import { inUnits, usePretty, unitText } from '../kit/units';

/** Mark and word for how a reading compares with what was expected. */
export const JUDGED: Record<Judgement, { verdict: 'holds' | 'over' | 'unknown'; word: string }> = {
  inside: { verdict: 'holds', word: 'inside' },
  outside: { verdict: 'over', word: 'outside' },
  'cannot-tell': { verdict: 'unknown', word: 'cannot tell' },
};

interface Props {
  quantity: Quantity;
  /** What the model says; null where nothing is expected. */
  test: Pick<ExpectedTest, 'expected' | 'low' | 'high' | 'unit' | 'cannotTell' | 'bound'> | null;
  onSave(value: number, judged: Judgement | null): void;
  label?: string;
  /** Below what is typed: why it is out of its band, a meter, a position. */
  children?: (value: number | null, judged: Judgement | null) => ReactNode;
}

/** A reading typed by thumb: what is expected stands beside it, and the row flips by shape and word while it is typed. */
export function ReadingPad({ quantity, test, onSave, label = 'Keep the reading', children }: Props) {
  const pretty = usePretty();
  const units = useUnits();
  const [entry, setEntry] = useState('');
  const [unit] = QUANTITIES[quantity];
  const typed = readQuantity(entry, unit, units);
  const value = typeof typed === 'number' ? typed : null;
  const fault = value === null ? null : readingFault(quantity, value);
  const judged = value === null || fault || !test ? null : judgeReading(test, value);
  const type = (key: string) => setEntry((text) => (key === 'back' ? withoutLast(text) : (text + key).slice(0, 16)));
  const save = () => {
    if (value !== null && !fault) onSave(value, judged);
  };
  useKeys({
    ...padKeys('0123456789.-', type),
    Enter: save,
  });
  return (
    <View className="gap-3" testID="reading-pad">
      <View className="min-h-[64px] flex-row items-center gap-3 border-b-2 border-ink">
        {judged ? <Mark verdict={JUDGED[judged].verdict} size={34} /> : null}
        <T look="pad" className="min-w-0 flex-1" aria-live="polite" testID="reading-entry">
          {entry === '' ? '\u2026' : shownEntry(entry)}
          {unit ? `\u00a0${unitText(shownUnit(unit, units))}` : ''}
        </T>
        <T look="head" testID="reading-judged">
          {judged ? JUDGED[judged].word : ''}
        </T>
      </View>
      {test ? <T testID="reading-expected">{`Expected ${bandText(test, units)}`}</T> : null}
      {fault ? (
        <T role="alert" className="font-semi">
          {pretty(fault)}
        </T>
      ) : null}
      {entry !== '' && value === null ? <T role="alert">This is not read as a figure yet.</T> : null}
      {unit === 'degC' && units.temperature === 'degF' && value !== null ? (
        <T look="fact">{`${figure(toShown(value, unit, units), 3)} \u00b0F is ${inUnits(value, unit, { ...units, temperature: 'degC' })}`}</T>
      ) : null}
      {children?.(value, judged)}
      <NumberPad onKey={type} />
      <Button
        label={label}
        kind="main"
        className="min-h-[64px]"
        disabled={value === null || fault !== null}
        onPress={save}
      />
    </View>
  );
}
