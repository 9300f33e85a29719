import {
  positionWords,
  QUANTITIES,
  type Conditions,
  bandText,
  testKey,
  type Proved,
  readingText,
} from '@true-lantern/core';
import { useState } from 'react';
import { View } from 'react-native';
import { addReading } from '../data/readings';
import { useMayWrite } from '../data/session';
import type { OpenSite } from '../data/site';
import type { Meter } from '../data/meters';
import { useUnits } from '../data/units';
import { JUDGED, ReadingPad } from '../entry/ReadingPad';
import { Button, Row } from '../ui/controls';
import { TextField } from '../ui/field';
import { Mark } from '../ui/mark';
import { shortDay } from '../ui/dates';
import { TermHelp } from '../ui/term';
import { T } from '../ui/text';
import { offerUndo } from '../ui/undo';
import { usePretty } from '../ui/units';
import { HowTo, takenIn } from '../entry/HowTo';
import { WORDS } from '../ui/words';

interface Props {
  proved: Proved;
  open: boolean;
  onOpen(): void;
  onDone(): void;
  site: OpenSite;
  visitId: string | null;
  onVisit(): string;
  conditions: Conditions;
  meter: Meter;
  write(fields: Record<string, unknown>): void;
}

/** One test: what it should read and how, and once it is read whether it lies inside, by a shape and a word. */
export function TestRow(props: Props) {
  const pretty = usePretty();
  const { proved, open, onOpen } = props;
  const { test, reading, before, judged, untested, reason } = proved;
  const units = useUnits();
  const [, name] = QUANTITIES[test.quantity];
  const where = positionWords(test.position);
  return (
    <View className={open ? 'border-b border-l-[5px] border-rule border-l-lamp bg-well' : ''}>
      <Row testID={`test-${test.id}`} aria-expanded={open} onPress={onOpen} className={open ? 'border-b-0' : ''}>
        <Mark verdict={judged ? JUDGED[judged].verdict : untested ? 'note' : 'unknown'} />
        <View className="min-w-0 flex-1">
          <T look="head">{`${name}${where ? `, ${where}` : ''}`}</T>
          <T look="fact">
            {bandText(test, units)}
            {test.cannotTell ? ` \u00b7 ${pretty(test.cannotTell)}` : ''}
          </T>
          {before ? (
            <T
              look="fact"
              testID="read-before"
            >{`Before: ${readingText(before.value, test.unit, units)}, ${shortDay(before.at ?? '')}`}</T>
          ) : null}
          {reason ? <T look="fact" className="text-ink">{`Left as is: ${reason}`}</T> : null}
          {untested ? <T look="fact" className="text-ink">{`Not tested: ${untested}`}</T> : null}
        </View>
        <View className="items-end">
          <T look="figure">{reading ? readingText(reading.value, test.unit, units) : '\u2026'}</T>
          <T look="small" className="text-ink">
            {judged ? JUDGED[judged].word : ''}
          </T>
        </View>
      </Row>
      {open ? <Opened {...props} /> : null}
    </View>
  );
}

function Opened({ proved, onDone, onOpen, site, onVisit, conditions, meter, write, visitId }: Props) {
  const units = useUnits();
  const { test } = proved;
  const mayWrite = useMayWrite();
  const [why, setWhy] = useState('');
  const [skipping, setSkipping] = useState(false);
  const keep = (value: number, judged: string | null, pair: [number, number] | null) => {
    const visit = onVisit();
    const back = addReading(site, {
      subject: test.subject,
      quantity: test.quantity,
      value,
      ...(pair ? { pair } : {}),
      ...(test.position ? { position: test.position } : {}),
      visit,
      ...(meter.name ? { meter: meter.name } : {}),
      meter_pct: meter.pct,
      conditions: takenIn(conditions),
      ...(why.trim() ? { note: why.trim() } : {}),
    });
    if (visitId && judged === 'outside' && why.trim()) write({ [`reasons.${testKey(test.id)}`]: why.trim() });
    offerUndo(`${QUANTITIES[test.quantity][1]}: kept`, back);
    setWhy('');
    onDone();
  };
  return (
    <View className="gap-3 px-[18px] pb-4">
      <HowTo test={test}>
        <TermHelp of={test.quantity} />
      </HowTo>
      {mayWrite && !skipping ? (
        <ReadingPad
          quantity={test.quantity}
          test={test}
          onSave={keep}
          label={proved.reading ? 'Replace the reading' : WORDS.saveReading}
        >
          {(value, judged) =>
            judged === 'outside' ? (
              <View className="gap-2" testID="ask-why">
                <T look="head">{`Outside ${bandText(test, units)}. Why?`}</T>
                <TextField label="Reason" value={why} onChangeText={setWhy} />
                <LightFromArray proved={proved} value={value} conditions={conditions} write={write} />
              </View>
            ) : (
              <LightFromArray proved={proved} value={value} conditions={conditions} write={write} />
            )
          }
        </ReadingPad>
      ) : null}
      {mayWrite && skipping ? (
        <View className="gap-2">
          <TextField label="Why was it not measured?" value={why} onChangeText={setWhy} autoFocus />
          <Button
            label="Not tested"
            kind="main"
            disabled={why.trim().length < 3}
            onPress={() => {
              write({ [`untested.${testKey(test.id)}`]: why.trim() });
              onDone();
            }}
          />
        </View>
      ) : null}
      {mayWrite && !skipping ? <Button label="Not measured (give a reason)" onPress={() => setSkipping(true)} /> : null}
      <Button label={WORDS.close} kind="plain" className="self-start px-0" onPress={onOpen} />
    </View>
  );
}

/** A string's short-circuit current is a light meter in itself: sounder than looking at the sky. */
function LightFromArray({
  proved,
  value,
  conditions,
  write,
}: {
  proved: Proved;
  value: number | null;
  conditions: Conditions;
  write: Props['write'];
}) {
  const { test } = proved;
  if (test.quantity !== 'stringIsc_A' || value === null || value <= 0 || !test.expected || test.expected <= 0)
    return null;
  const light = Math.round((conditions.irradiance_W_m2 * value) / test.expected);
  return (
    <Button
      label={`Use this string's irradiance: ${light} W/m\u00b2`}
      onPress={() => write({ 'conditions.irradiance_W_m2': light, 'conditions.irradianceBy': 'cell' })}
    />
  );
}
