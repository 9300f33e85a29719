import type { Conditions, Visit } from '@true-lantern/core';
import { useState } from 'react';
import { View } from 'react-native';
import { keepMeter, metersOf, type Meter } from '../data/meters';
import { usePerson } from '../data/session';
import { useUnits } from '../data/units';
import { Button, Chip, Row } from '../ui/controls';
import { TextField } from '../ui/field';
import { readEntry, readQuantity } from '../ui/number-entry';
import { T } from '../ui/text';
import { inUnits, withUnit } from '../ui/units';

const BY: [Conditions['irradianceBy'], string][] = [
  ['cell', 'by a reference cell'],
  ['meter', 'by a light meter'],
  ['sky', 'by looking at the sky'],
];

interface Props {
  conditions: Conditions;
  /** What somebody entered; null: nothing yet. */
  entered: Visit['conditions'];
  meter: Meter;
  onMeter(meter: Meter): void;
  mayWrite: boolean;
  onSet(fields: Record<string, unknown>): void;
}

/** Light, air, charge, load and meter, entered once for the whole walk. */
export function ConditionsEntry({ conditions, entered, meter, onMeter, mayWrite, onSet }: Props) {
  const units = useUnits();
  const [open, setOpen] = useState(false);
  const { irradiance_W_m2, irradianceBy, ambient_C, cell_C, soc, share, load_A } = conditions;
  const assumed = entered?.irradiance_W_m2 === undefined && entered?.ambient_C === undefined;
  return (
    <View className="pt-2" testID="conditions">
      <Row aria-expanded={open} onPress={() => setOpen(!open)}>
        <View className="min-w-0 flex-1">
          <T look="head">Conditions{assumed ? ': assumed, not measured yet' : ''}</T>
          <T look="fact">
            {`${withUnit(irradiance_W_m2, 'W/m\u00b2')} ${BY.find(([by]) => by === irradianceBy)?.[1] ?? ''}, air ${inUnits(ambient_C, 'degC', units)}${cell_C === null ? '' : `, cells ${inUnits(cell_C, 'degC', units)}`}, bank at ${Math.round(100 * soc)} %, ${Math.round(100 * share)} % of design current${load_A ? `, ${withUnit(load_A, 'A')} running` : ''}, meter to ${meter.pct} %`}
          </T>
        </View>
        <T look="fact">{open ? 'hide' : 'enter'}</T>
      </Row>
      {open && mayWrite ? (
        <View className="gap-3 bg-well px-[18px] py-3">
          <Figure
            label={'Light on the array, W/m\u00b2'}
            unit=""
            value={irradiance_W_m2}
            low={0}
            high={2000}
            onSet={(value) => onSet({ irradiance_W_m2: value })}
          />
          <View role="radiogroup" aria-label="How it was measured" className="flex-row flex-wrap gap-2">
            {BY.map(([by, label]) => (
              <Chip key={by} label={label} on={irradianceBy === by} onPress={() => onSet({ irradianceBy: by })} />
            ))}
          </View>
          <Figure
            label="Air temperature (and bank)"
            unit="degC"
            value={ambient_C}
            low={-60}
            high={70}
            onSet={(value) => onSet({ ambient_C: value })}
          />
          <Figure
            label="Cell temperature of the array, if measured"
            unit="degC"
            value={cell_C}
            low={-60}
            high={120}
            onSet={(value) => onSet({ cell_C: value })}
          />
          <Figure
            label="State of charge of the bank, %"
            unit=""
            value={100 * soc}
            low={0}
            high={100}
            onSet={(value) => onSet({ soc: value / 100 })}
          />
          <Figure
            label="Current during voltage drop tests, % of design"
            unit=""
            value={100 * share}
            low={0}
            high={200}
            onSet={(value) => onSet({ share: value / 100 })}
          />
          <Figure
            label="Loads running now, A at the battery"
            unit=""
            value={load_A}
            low={0}
            high={10_000}
            onSet={(value) => onSet({ load_A: value })}
          />
          <MeterEntry meter={meter} onMeter={onMeter} />
        </View>
      ) : null}
    </View>
  );
}

function Figure({
  label,
  unit,
  value,
  low,
  high,
  onSet,
}: {
  label: string;
  unit: string;
  value: number | null;
  low: number;
  high: number;
  onSet(value: number): void;
}) {
  const units = useUnits();
  const [text, setText] = useState<string | null>(null);
  const typed = text === null ? null : readQuantity(text, unit, units);
  const good = typeof typed === 'number' && typed >= low && typed <= high;
  const shown =
    value === null
      ? ''
      : unit === 'degC'
        ? inUnits(value, unit, units).replace(/[^\d.\u2212-]/g, '')
        : String(Math.round(value * 10) / 10);
  const keep = () => {
    if (good && typed !== value) onSet(typed);
    setText(null);
  };
  return (
    <TextField
      label={label}
      inputMode="decimal"
      value={text ?? shown}
      onChangeText={setText}
      onBlur={keep}
      onSubmitEditing={keep}
      error={text !== null && text !== '' && !good ? `A figure from ${low} to ${high}.` : undefined}
    />
  );
}

/** Meters are a person's own, each with its error; the one used last is taken again. */
function MeterEntry({ meter, onMeter }: { meter: Meter; onMeter(meter: Meter): void }) {
  const { id } = usePerson();
  const [name, setName] = useState(meter.name);
  const [pct, setPct] = useState(String(meter.pct));
  const error = readEntry(pct) ?? Number.NaN;
  const good = name.trim() !== '' && error > 0 && error <= 20;
  const take = (one: Meter) => {
    keepMeter(id, one);
    onMeter(one);
    setName(one.name);
    setPct(String(one.pct));
  };
  return (
    <View className="gap-2">
      <View role="radiogroup" aria-label="Meter" className="flex-row flex-wrap gap-2">
        {metersOf(id).map((one) => (
          <Chip
            key={one.name}
            label={`${one.name}, ${one.pct} %`}
            on={one.name === meter.name}
            onPress={() => take(one)}
          />
        ))}
      </View>
      <TextField label="Another meter" value={name} onChangeText={setName} />
      <TextField label="Meter accuracy, % of reading" inputMode="decimal" value={pct} onChangeText={setPct} />
      <Button label="Use this meter" disabled={!good} onPress={() => take({ name: name.trim(), pct: error })} />
    </View>
  );
}
