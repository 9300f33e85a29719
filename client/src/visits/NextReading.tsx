import { positionWords, QUANTITIES, readingText, type Conditions, type Faults, type Reading } from '@true-lantern/core';
import { useEffect, useRef, useState } from 'react';
import { View } from 'react-native';
import { metersOf } from '../data/meters';
import { addReading } from '../data/readings';
import { useMayWrite, usePerson } from '../data/session';
import type { OpenSite } from '../data/site';
import { useUnits } from '../data/units';
import { beginVisit, visitNow } from '../data/visits';
import { HowTo, takenIn } from '../entry/HowTo';
import { ReadingPad } from '../entry/ReadingPad';
import { Button } from '../ui/controls';
import { T } from '../ui/text';
import { offerUndo } from '../ui/undo';
import { grouped, percent, titleOf } from './fault-words';
import { nameOf } from './names';
import { WORDS } from '../ui/words';

/** What the faults of a site are shown from. */
export interface AnswerProps {
  site: OpenSite;
  faults: Faults;
  /** As it would be with what is being typed; null: nothing is, or it is still being weighed. */
  preview: Faults | null;
  onTyped(reading: Reading | null): void;
  readings: readonly Reading[];
  conditions: Conditions;
}

/** The reading that tells most by the minute: where, with what, what each answer would mean, and its pad. */
export function NextReading({ site, faults, preview, onTyped, conditions }: Omit<AnswerProps, 'readings'>) {
  const units = useUnits();
  const person = usePerson();
  const mayWrite = useMayWrite();
  const [at, setAt] = useState(0);
  const open = faults.next.filter(({ gain_bits }) => gain_bits > 0.005);
  const next = open[Math.min(at, open.length - 1)];
  if (!next) return <T className="px-[18px] pt-4">No other reading here would tell these causes apart.</T>;
  const [unit, name] = QUANTITIES[next.quantity];
  const where = positionWords(next.position);
  const meter = metersOf(person.id)[0];
  const read = {
    subject: next.subject,
    quantity: next.quantity,
    ...(next.position ? { position: next.position } : {}),
    conditions: takenIn(conditions),
    meter_pct: conditions.meter_pct,
  };
  const keep = (value: number) => {
    const visit = visitNow(site, null)?.id ?? beginVisit(site, person.name, null);
    const back = addReading(site, { ...read, value, visit, ...(meter?.name ? { meter: meter.name } : {}) });
    offerUndo(`${name}: saved`, back);
    onTyped(null);
    setAt(0);
  };
  return (
    <View className="mt-5 gap-2 border-l-[5px] border-l-lamp bg-well px-[18px] py-4" testID="next-reading">
      <T look="small">Measure this next</T>
      <T look="head">{`${name}${where ? `, ${where}` : ''}: ${nameOf(site.model, next.subject)}`}</T>
      <HowTo test={next} />
      {next.means.slice(0, 3).map(({ title, expected }, i) => (
        <T key={i} look="fact">{`About ${readingText(Number(expected.toPrecision(3)), unit, units)}: ${title}`}</T>
      ))}
      {mayWrite ? (
        <ReadingPad
          key={`${next.subject} ${next.quantity} ${where}`}
          quantity={next.quantity}
          test={null}
          onSave={keep}
          label={WORDS.saveReading}
        >
          {(value) => (
            <AsTyped
              value={value}
              preview={preview}
              onTyped={(typed) => onTyped(typed === null ? null : { id: TYPED, at: TYPED_AT, ...read, value: typed })}
            />
          )}
        </ReadingPad>
      ) : null}
      {open.length > 1 ? (
        <Button label="Show another reading" onPress={() => setAt((at + 1) % Math.min(open.length, MOST_OFFERED))} />
      ) : null}
    </View>
  );
}
/** A reading that is not saved has neither a name nor a moment of its own. */
const TYPED = 'typed';
const TYPED_AT = '2000-01-01T00:00:00Z';
/** What is typed is weighed once the thumb rests, ms. */
const RESTS_MS = 250;
const SHOWN_TYPED = 3;

/** The likeliest causes with what is being typed, beside the pad. */
function AsTyped({
  value,
  preview,
  onTyped,
}: {
  value: number | null;
  preview: Faults | null;
  onTyped(value: number | null): void;
}) {
  const told = useRef<number | null>(null);
  const tell = useRef(onTyped);
  useEffect(() => {
    tell.current = onTyped;
  });
  useEffect(() => {
    if (told.current === value) return;
    const timer = setTimeout(() => {
      told.current = value;
      tell.current(value);
    }, RESTS_MS);
    return () => clearTimeout(timer);
  }, [value]);
  // Another reading begins with nothing typed.
  useEffect(() => () => tell.current(null), []);
  if (value === null || !preview) return null;
  return (
    <View className="gap-2" role="status" testID="as-typed">
      {grouped(preview.ranking)
        .slice(0, SHOWN_TYPED)
        .map((cause) => (
          <View key={cause.key} className="gap-1">
            <View className="flex-row items-baseline gap-3">
              <T className="min-w-0 flex-1">{titleOf(cause)}</T>
              <T look="head">{percent(cause.chance)}</T>
            </View>
            <Bar share={cause.chance} />
          </View>
        ))}
    </View>
  );
}

const Bar = ({ share }: { share: number }) => (
  <View className="h-[8px] bg-paper">
    <View className="h-[8px] bg-ink" style={{ width: `${Math.max(1, 100 * share)}%` }} />
  </View>
);
/** Readings that tell far less are not offered. */
const MOST_OFFERED = 6;
