import {
  figure,
  judgeReading,
  lowered,
  PAIRS,
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
import { Button, Chip } from '../ui/controls';
import { padKeys, useKeys } from '../ui/keys';
import { Mark } from '../ui/mark';
import { readQuantity } from '../ui/number-entry';
import { NumberPad, shownEntry, withoutLast } from '../ui/pad';
import { T } from '../ui/text';
import { inUnits, usePretty, unitText } from '../ui/units';
import { WORDS } from '../ui/words';

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
  onSave(value: number, judged: Judgement | null, pair: [number, number] | null): void;
  label?: string;
  /** Below what is typed: why it is out of its band, a meter, a position. */
  children?: (value: number | null, judged: Judgement | null) => ReactNode;
}

/**
 * One figure, or of a quantity that is a difference the two it is made of: what was read first stays on the row while
 * the second is typed.
 */
function useOneOrTwo(quantity: Quantity) {
  const units = useUnits();
  const [entry, setEntry] = useState('');
  const [two, setTwo] = useState(false);
  const [first, setFirst] = useState<number | null>(null);
  const [unit] = QUANTITIES[quantity];
  const read = readQuantity(entry, unit, units);
  const typed = typeof read === 'number' ? read : null;
  const names = PAIRS[quantity];
  const pair: [number, number] | null = two && first !== null && typed !== null ? [first, typed] : null;
  // Digits of a difference that were never read are none.
  const value = !two ? typed : pair ? Number((pair[0] - pair[1]).toPrecision(9)) : null;
  const asPair = (is: boolean) => {
    setTwo(is);
    setFirst(null);
    setEntry('');
  };
  const shown = (amount: number) => inUnits(amount, unit, units, 4);
  const chooser = names ? (
    <View className="gap-2">
      <View role="radiogroup" aria-label="How it is read" className="flex-row flex-wrap gap-2">
        <Chip label="One reading" on={!two} onPress={() => asPair(false)} />
        <Chip label={`${names[0]}, ${lowered(names[1])}`} on={two} onPress={() => asPair(true)} />
      </View>
      {two ? (
        <View className="flex-row items-center gap-3" testID="reading-pair">
          <T className="min-w-0 flex-1">
            {first === null
              ? `${names[0]}: type it, then Next.`
              : `${names[0]} ${shown(first)}. ${names[1]}${pair ? ` ${shown(pair[1])}: ${shown(pair[0] - pair[1])} between them.` : ': type it.'}`}
          </T>
          {first === null ? (
            <Button
              label={WORDS.next}
              disabled={typed === null}
              onPress={() => {
                setFirst(typed);
                setEntry('');
              }}
            />
          ) : null}
        </View>
      ) : null}
    </View>
  ) : null;
  return { entry, setEntry, typed, value, pair, chooser };
}

/** A reading typed by thumb: what is expected stands beside it, and the row flips by shape and word while it is typed. */
export function ReadingPad({ quantity, test, onSave, label = WORDS.saveReading, children }: Props) {
  const pretty = usePretty();
  const units = useUnits();
  const [unit] = QUANTITIES[quantity];
  const { entry, setEntry, typed, value, pair, chooser } = useOneOrTwo(quantity);
  const fault = value === null ? null : readingFault(quantity, value);
  const judged = value === null || fault || !test ? null : judgeReading(test, value);
  const type = (key: string) => setEntry((text) => (key === 'back' ? withoutLast(text) : (text + key).slice(0, 16)));
  const save = () => {
    if (value !== null && !fault) onSave(value, judged, pair);
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
      {chooser}
      {entry !== '' && typed === null ? <T role="alert">This is not a valid number yet.</T> : null}
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
