import {
  cellsInSeries,
  chargeOfRest,
  createLedger,
  positionsOf,
  positionWords,
  QUANTITIES,
  raised,
  readAt,
  seriesOf,
  type Position,
  type Quantity,
  type Reading,
  type Series,
  conditionsAsked,
  conditionWords,
  readingText,
  type ConditionName,
  type Units,
} from '@true-lantern/core';
import { useState } from 'react';
import { View } from 'react-native';
import Svg, { Circle, Path } from 'react-native-svg';
import { meterUsed } from '../data/meters';
import { addReading, readingsOf, removeReading } from '../data/readings';
import { useMayWrite, usePerson } from '../data/session';
import type { OpenSite } from '../data/site';
import { useUnits } from '../data/units';
import { isSigned, visitNow, visitsOf } from '../data/visits';
import { JUDGED, ReadingPad } from '../entry/ReadingPad';
import { Button, Chip } from '../ui/controls';
import { momentText } from '../ui/dates';
import { useGround } from '../ui/ground';
import { Mark } from '../ui/mark';
import { Stepper } from '../ui/stepper';
import { Heading, T } from '../ui/text';
import { offerUndo } from '../ui/undo';
import { readQuantity } from '../ui/number-entry';
import { TextField } from '../ui/field';
import { useAnswer } from '../workers/engine';
import { WORDS } from '../ui/words';

/** What was read at a part, the last of each with how it went, and a pad for the next. */
export function PartReadings({ site, partId }: { site: OpenSite; partId: string }) {
  const mayWrite = useMayWrite();
  const [open, setOpen] = useState(false);
  const quantities = readAt(site.model.system, partId);
  const rows = seriesOf(readingsOf(site, partId));
  if (quantities.length === 0 && rows.length === 0) return null;
  if (rows.length === 0 && !mayWrite) return null;
  return (
    <View className="border-b border-rule pb-3" testID="readings">
      <Heading level={2} look="station" className="px-[18px] pb-1 pt-4">
        Readings
      </Heading>
      {rows.map((row) => (
        <Read key={`${row.quantity} ${JSON.stringify(row.position)}`} site={site} row={row} />
      ))}
      {mayWrite && quantities.length > 0 ? (
        <View className="px-[18px] pt-3">
          {open ? (
            <NewReading site={site} partId={partId} quantities={quantities} onDone={() => setOpen(false)} />
          ) : (
            <Button label="Add a reading" onPress={() => setOpen(true)} />
          )}
        </View>
      ) : null}
    </View>
  );
}

/** What a reading that belongs to no visit says, worked out beside the screen. */
function Judged({ site, reading }: { site: OpenSite; reading: Reading }) {
  const { data } = useAnswer<'alone'>({ ask: 'alone', model: site.model, reading });
  if (!data) return null;
  return (
    <View className="flex-row items-center gap-1">
      <Mark verdict={JUDGED[data].verdict} size={16} />
      <T look="small" className="text-ink" testID="reading-alone">
        {JUDGED[data].word}
      </T>
    </View>
  );
}

function Read({ site, row }: { site: OpenSite; row: Series }) {
  const mayWrite = useMayWrite();
  const [open, setOpen] = useState(false);
  const [unit, name] = QUANTITIES[row.quantity];
  const last = row.readings.at(-1);
  const units = useUnits();
  if (!last) return null;
  const where = positionWords(row.position);
  const taken = conditionWords(last, units);
  const charge = row.quantity === 'rest_V' ? chargeText(site, last) : null;
  const signed = new Set(
    visitsOf(site)
      .filter(isSigned)
      .map(({ id }) => id),
  );
  const remove = (reading: Reading) => offerUndo('The reading was removed.', removeReading(site, reading.id));
  return (
    <View className="border-b border-rule px-[18px] py-2">
      <View className="min-h-[48px] flex-row items-center gap-3">
        <View className="min-w-0 flex-1">
          <T>{`${name}${where ? `, ${where}` : ''}`}</T>
          <T look="small">{last.at ? momentText(last.at) : ''}</T>
          {taken ? <T look="fact">{taken}</T> : null}
          {charge ? <T look="fact">{charge}</T> : null}
        </View>
        <Spark values={row.readings.map(({ value }) => value)} label={`${name}, ${row.readings.length} readings`} />
        <View className="items-end">
          <T look="figure">{readingText(last.value, unit, units)}</T>
          {/* On a visit it stands in its own list, under the conditions of that day. */}
          {last.visit ? null : <Judged site={site} reading={last} />}
        </View>
        {row.readings.length > 1 || mayWrite ? (
          <Button
            label={open ? WORDS.hide : 'All'}
            aria-label={`${name}: all readings`}
            kind="plain"
            onPress={() => setOpen(!open)}
          />
        ) : null}
      </View>
      {open
        ? [...row.readings].reverse().map((reading) => (
            <View key={reading.id} className="min-h-[48px] flex-row items-center gap-3 pl-4">
              <T look="fact" className="min-w-0 flex-1">
                {[reading.at ? momentText(reading.at) : '', conditionWords(reading, units), reading.note]
                  .filter(Boolean)
                  .join('; ')}
              </T>
              <T>{readingText(reading.value, unit, units)}</T>
              {/* What was read at a signed visit is part of its record, and stays. */}
              {mayWrite && !signed.has(reading.visit ?? '') ? (
                <Button label={WORDS.remove} kind="plain" onPress={() => remove(reading)} />
              ) : null}
            </View>
          ))
        : null}
    </View>
  );
}

/** What rest volts tell of the charge: a band, never more than they can. */
function chargeText(site: OpenSite, { subject, value, conditions, meter_pct }: Reading): string | null {
  const { bank } = site.model.system;
  if (!bank || bank.id !== subject) return null;
  const state = chargeOfRest({
    chemistry: bank.chemistry,
    cells: cellsInSeries(createLedger(site.model), bank),
    volts: value,
    rested_h: conditions?.rested_h ?? null,
    cell_C: conditions?.cell_C ?? null,
    ...(typeof meter_pct === 'number' ? { meter_pct } : {}),
  });
  if (!state) return null;
  const [low, high] = [Math.round(100 * state.low), Math.round(100 * state.high)];
  return `by this voltage ${low === high ? `${low} %` : `${low} to ${high} %`} charged`;
}

const SPARK_W = 84;
const SPARK_H = 26;

/** How a figure went from reading to reading; the last one marked. Fewer than three draw nothing that could be read. */
export function Spark({ values, label }: { values: readonly number[]; label: string }) {
  const { colours } = useGround();
  if (values.length < 3) return null;
  const [low, high] = [Math.min(...values), Math.max(...values)];
  const x = (i: number) => 3 + ((SPARK_W - 6) * i) / (values.length - 1);
  const y = (value: number) =>
    high === low ? SPARK_H / 2 : SPARK_H - 4 - ((SPARK_H - 8) * (value - low)) / (high - low);
  const path = values.map((value, i) => `${i === 0 ? 'M' : 'L'}${x(i).toFixed(1)} ${y(value).toFixed(1)}`).join(' ');
  return (
    <Svg width={SPARK_W} height={SPARK_H} role="img" aria-label={label}>
      <Path d={path} stroke={colours.ink} strokeWidth={2} fill="none" />
      <Circle cx={x(values.length - 1)} cy={y(values.at(-1) ?? 0)} r={3.5} fill={colours.lamp} />
    </Svg>
  );
}

/** Asked beside the figure, never wanted: a reading without them is kept too, and tells less. */
const CONDITION_WORDS: Readonly<Record<ConditionName, string>> = {
  irradiance_W_m2: 'Light on the array, W/m\u00b2, if measured',
  cell_C: 'Cell temperature, if measured',
  rested_h: 'Hours rested, if known',
  current_A: 'Current flowing, A, if measured',
};

/** What was typed of them, as it is stored; what is no figure is left out. */
function conditionsGiven(
  quantity: Quantity,
  given: Partial<Record<ConditionName, string>>,
  units: Units,
): Partial<Record<ConditionName, number>> {
  return Object.fromEntries(
    conditionsAsked(quantity).flatMap((name) => {
      const value = readQuantity(given[name] ?? '', name === 'cell_C' ? 'degC' : '', units);
      return typeof value === 'number' ? [[name, value]] : [];
    }),
  );
}

interface NewProps {
  site: OpenSite;
  partId: string;
  quantities: readonly Quantity[];
  onDone(): void;
}

function NewReading({ site, partId, quantities, onDone }: NewProps) {
  const person = usePerson();
  const [quantity, setQuantity] = useState<Quantity>(quantities[0] ?? 'rest_V');
  const [position, setPosition] = useState<Record<string, number>>({});
  const [given, setGiven] = useState<Partial<Record<ConditionName, string>>>({});
  const units = useUnits();
  const asked = positionsOf(quantity);
  const conditions = conditionsGiven(quantity, given, units);
  const at = Object.fromEntries(asked.map((name) => [name, position[name] ?? 0])) as NonNullable<Position>;
  const keep = (value: number, _: unknown, pair: [number, number] | null) => {
    const visit = visitNow(site);
    offerUndo(
      `${QUANTITIES[quantity][1]}: kept`,
      addReading(site, {
        subject: partId,
        quantity,
        value,
        ...(pair ? { pair } : {}),
        ...(asked.length > 0 ? { position: at } : {}),
        ...(Object.keys(conditions).length > 0 ? { conditions } : {}),
        ...(visit ? { visit: visit.id } : {}),
        ...meterUsed(person.id),
      }),
    );
    onDone();
  };
  return (
    <View className="gap-3">
      <View role="radiogroup" aria-label="What was measured" className="flex-row flex-wrap gap-2">
        {quantities.map((one) => (
          <Chip key={one} label={QUANTITIES[one][1]} on={quantity === one} onPress={() => setQuantity(one)} />
        ))}
      </View>
      {asked.map((name) => (
        <Stepper
          key={name}
          label={raised(name)}
          value={(position[name] ?? 0) + 1}
          min={1}
          max={64}
          onChange={(value) => setPosition({ ...position, [name]: value - 1 })}
        />
      ))}
      {conditionsAsked(quantity).map((name) => (
        <TextField
          key={name}
          label={CONDITION_WORDS[name]}
          inputMode="decimal"
          value={given[name] ?? ''}
          onChangeText={(text) => setGiven({ ...given, [name]: text })}
          error={given[name]?.trim() && conditions[name] === undefined ? 'This is not a valid number yet.' : undefined}
        />
      ))}
      <ReadingPad key={quantity} quantity={quantity} test={null} onSave={keep} />
      <Button label={WORDS.close} kind="plain" className="self-start px-0" onPress={onDone} />
    </View>
  );
}
