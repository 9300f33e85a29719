import { estimateClimate, FaultError, faultLine, readEpw, type Grade, type Site } from '@true-lantern/core';
import { useState } from 'react';
import { View } from 'react-native';
import { chooseWeatherFile } from '../data/files';
import { useUnits } from '../data/units';
import type { OpenSite } from '../data/site';
import { Button } from '../ui/controls';
import { TextField } from '../ui/field';
import { MONTHS } from '../ui/months';
import { readEntry } from '../ui/number-entry';
import { T } from '../ui/text';
import { inUnits } from '../ui/units';

type Climate = NonNullable<Site['climate']>;

interface ClimateEntryProps {
  site: OpenSite | null;
  value: Climate | null;
  /** Null while a month lacks its figure; with the grade that the source deserves. */
  onChange(climate: Climate | null, grade: Grade): void;
}

/** Sun and temperature by month: typed, from a weather file, or estimated from where the site is. */
export function ClimateEntry({ site, value, onChange }: ClimateEntryProps) {
  const units = useUnits();
  const [sun, setSun] = useState(() => texts(value?.globalHorizontal_kWh_m2_d));
  const [warm, setWarm] = useState(() => texts(value?.meanTemp_C));
  const [note, setNote] = useState<string | null>(null);
  const { latitude_deg, elevation_m } = site?.file.site ?? {};

  const put = (nextSun: string[], nextWarm: string[], grade: Grade) => {
    setSun(nextSun);
    setWarm(nextWarm);
    const globalHorizontal_kWh_m2_d = numbers(nextSun);
    const meanTemp_C = numbers(nextWarm);
    const bare = nextWarm.every((text) => text.trim() === '');
    if (!globalHorizontal_kWh_m2_d || !(meanTemp_C || bare)) return onChange(null, grade);
    onChange({ globalHorizontal_kWh_m2_d, ...(meanTemp_C ? { meanTemp_C } : {}) }, grade);
  };
  const fill = (climate: { globalHorizontal_kWh_m2_d: number[]; meanTemp_C: number[] }, grade: Grade, text: string) => {
    put(climate.globalHorizontal_kWh_m2_d.map(String), climate.meanTemp_C.map(String), grade);
    setNote(text);
  };
  const estimate = () => {
    const guess = estimateClimate(latitude_deg ?? 0, elevation_m ?? 0);
    const [low, high] = [guess.recordLow_C, guess.recordHigh_C].map((end) => inUnits(end, 'degC', units));
    fill(
      guess,
      'assumed',
      `An estimate by latitude and elevation alone, marked as assumed. It would put the record low near ${low}, the high near ${high}.`,
    );
  };
  const readFile = async () => {
    const chosen = await chooseWeatherFile();
    if (!chosen) return;
    try {
      const epw = readEpw(chosen.text);
      const ends = `${inUnits(epw.low_C, 'degC', units)} to ${inUnits(epw.high_C, 'degC', units)}`;
      fill(epw, 'datasheet', `${epw.place}, ${epw.elevation_m} m up. That year ran from ${ends}; records go further.`);
    } catch (error) {
      if (!(error instanceof FaultError)) throw error;
      setNote(error.faults.map(faultLine).join('\n'));
    }
  };
  return (
    <View className="gap-3">
      <View className="flex-row flex-wrap gap-3">
        <Button label="From a weather file (EPW)" className="grow" onPress={() => void readFile()} />
        <Button
          label="Estimate it"
          className="grow"
          disabled={latitude_deg === null || latitude_deg === undefined}
          onPress={estimate}
        />
      </View>
      {latitude_deg === null || latitude_deg === undefined ? (
        <T look="fact">An estimate needs the latitude of the site first.</T>
      ) : null}
      {note ? (
        <T look="fact" role="status" className="text-ink">
          {note}
        </T>
      ) : null}
      <T look="fact">{'Sun on a horizontal surface in kWh/m\u00b2 a day, and the average temperature in \u00b0C.'}</T>
      <MonthFields sun={sun} warm={warm} onChange={(nextSun, nextWarm) => put(nextSun, nextWarm, 'stated')} />
    </View>
  );
}

interface MonthFieldsProps {
  sun: string[];
  warm: string[];
  onChange(sun: string[], warm: string[]): void;
}

const MonthFields = ({ sun, warm, onChange }: MonthFieldsProps) => (
  <>
    {MONTHS.map((month, i) => (
      <View key={month} className="flex-row items-end gap-3">
        <T className="w-12 pb-4">{month}</T>
        <View className="flex-1">
          <TextField
            label={`Sun, ${month}`}
            value={sun[i] ?? ''}
            inputMode="decimal"
            onChangeText={(text) => onChange(sun.with(i, text), warm)}
          />
        </View>
        <View className="flex-1">
          <TextField
            label={`\u00b0C, ${month}`}
            value={warm[i] ?? ''}
            onChangeText={(text) => onChange(sun, warm.with(i, text))}
          />
        </View>
      </View>
    ))}
  </>
);

const texts = (values: readonly number[] | null | undefined) => MONTHS.map((_, i) => String(values?.[i] ?? ''));

/** Twelve numbers, or null while one is not there. */
function numbers(entries: readonly string[]): number[] | null {
  const read = entries.map((text) => readEntry(text));
  return read.every((value): value is number => typeof value === 'number') ? read : null;
}
