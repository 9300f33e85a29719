import {
  bankFigures,
  chargeOfRest,
  cellsInSeries,
  createLedger,
  runHours,
  setOnRow,
  type PartRow,
} from '@true-lantern/core';
import { useMemo, useState } from 'react';
import { View } from 'react-native';
import type { FieldSpec } from '../data/fields';
import { pathName } from '../data/reading';
import type { OpenSite } from '../data/site';
import { FieldRow } from '../entry/FieldRow';
import { useEditor } from '../entry/useEditor';
import { Heading, T } from '../ui/text';
import { usePretty, withUnit } from '../ui/units';

/** The bank in the figures that are asked for by name: volts, Ah, kWh, and what of it may be used. */
export function BankNumbers({ site }: { site: OpenSite }) {
  const figures = useMemo(() => bankFigures(site.model), [site.model]);
  if (!figures) return null;
  const { volts, capacity_Ah, stored_kWh, usable_kWh, missing } = figures;
  const shown = (value: number | null, unit: string) => (value === null ? 'not known' : withUnit(value, unit, 3));
  return (
    <View className="px-[18px] pt-6" testID="bank-numbers">
      <Heading level={2} look="station">
        The bank today
      </Heading>
      <View className="flex-row flex-wrap gap-x-6 gap-y-2 pt-2">
        {[
          ['nominal', shown(volts, 'V')],
          ['capacity', shown(capacity_Ah, 'Ah')],
          ['stored when full', shown(stored_kWh, 'kWh')],
          ['usable', shown(usable_kWh, 'kWh')],
        ].map(([label, value]) => (
          <View key={label}>
            <T look="figure">{value}</T>
            <T look="fact">{label}</T>
          </View>
        ))}
      </View>
      {usable_kWh === null && missing.length > 0 ? (
        <T look="fact" className="pt-1">
          {`Usable energy unknown without: ${missing.map((path) => pathName(site, path)).join(', ')}.`}
        </T>
      ) : (
        <T look="fact" className="pt-1">
          Usable: allowing for age, cold and daily use, to the chosen depth of discharge.
        </T>
      )}
    </View>
  );
}

const SPECS: FieldSpec[] = [
  {
    path: 'rest',
    label: 'Resting voltage',
    unit: 'V',
    kind: 'number',
    hint: 'at the posts, no charging and no load',
  },
  { path: 'rested', label: 'Rest time', unit: 'h', kind: 'number', hint: 'at least 4 h; 12 h after charging' },
  { path: 'cell', label: 'Cell temperature', unit: 'degC', kind: 'number' },
  { path: 'watts', label: 'A load, AC', unit: 'W', kind: 'number', hint: 'to work out the run time' },
];
const EMPTY: PartRow = { id: 'rest', kind: 'file', body: {}, evidence: {}, position: 0, revision: 0 };

/** From rest volts to a state of charge, and how long a load runs from there: asked here and now, kept nowhere. */
export function useRestAndRun(site: OpenSite) {
  const [row, setRow] = useState<PartRow>(EMPTY);
  const { open, editor } = useEditor({ site: null, row, specs: SPECS, onSave: (set) => setRow(setOnRow(row, set)) });
  const said = useMemo(() => answer(site, row), [site, row]);
  const pretty = usePretty();
  const panel = (
    <View className="pt-6" testID="rest-and-run">
      <Heading level={2} look="station" className="px-[18px]">
        Resting voltage and run time
      </Heading>
      {SPECS.map((spec) => (
        <FieldRow key={spec.path} row={row} spec={spec} onOpen={() => open(spec.path)} />
      ))}
      <View className="gap-1 px-[18px] pt-2" aria-live="polite">
        {said.map((text, i) => (
          <T key={text} look={i === 0 ? 'head' : 'fact'} className={i === 0 ? '' : 'text-ink'}>
            {pretty(text)}
          </T>
        ))}
      </View>
    </View>
  );
  return { panel, editor };
}

function answer({ model }: OpenSite, row: PartRow): string[] {
  const { bank, inverters } = model.system;
  const of = (path: string) => (typeof row.body[path] === 'number' ? row.body[path] : null);
  const [volts, watts] = [of('rest'), of('watts')];
  if (!bank) return [];
  const cells = cellsInSeries(createLedger(model), bank);
  const state =
    volts === null
      ? null
      : chargeOfRest({ chemistry: bank.chemistry, cells, volts, rested_h: of('rested'), cell_C: of('cell') });
  const pct = (share: number) => Math.round(100 * share);
  const ac = (inverters ?? []).length > 0;
  const hours = (from: number) => (watts ? runHours(model, watts, { ac, from }) : null);
  const full = hours(1);
  const range = state && watts ? [hours(state.low)?.hours, hours(state.high)?.hours] : [];
  const [least, most] = range;
  return [
    ...(volts !== null && !state ? ['This voltage does not fit the bank. Check the label and the meter.'] : []),
    ...(state
      ? [
          state.best === null
            ? `${pct(state.low)} to ${pct(state.high)} % full(voltage tells no more).`
            : `About ${pct(state.best)} % full; ${pct(state.low)} to ${pct(state.high)} %.`,
        ]
      : []),
    ...(typeof least === 'number' && typeof most === 'number'
      ? [`${withUnit(watts ?? 0, 'W')} runs ${withUnit(least, 'h', 2)} to ${withUnit(most, 'h', 2)} from here.`]
      : []),
    ...(full?.hours
      ? [
          `${withUnit(watts ?? 0, 'W')} runs ${withUnit(full.hours, 'h', 2)} from full to the chosen depth of discharge.`,
        ]
      : []),
    ...(full && full.hours === null ? ['Record the bank to see how long it runs.'] : []),
    ...(state?.notes.map((note) => `${note.charAt(0).toUpperCase()}${note.slice(1)}.`) ?? []),
  ];
}
