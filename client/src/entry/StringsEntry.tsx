import type { System } from '@true-lantern/core';
import { View } from 'react-native';
import { Chip } from '../kit/controls';
import { Stepper } from '../kit/stepper';
import { T } from '../kit/text';

interface StringsEntryProps {
  system: System;
  strings: string[][];
  onChange(strings: string[][]): void;
}

/** An even array by two steppers; a mixed one is shown as it is until somebody makes it even. */
export function StringsEntry({ system, strings, onChange }: StringsEntryProps) {
  const series = Math.max(1, ...strings.map(({ length }) => length));
  const parallel = Math.max(1, strings.length);
  const types = [...new Set(strings.flat())];
  const type = types[0] ?? system.moduleTypes?.[0]?.id ?? '';
  const mixed = types.length > 1 || strings.some(({ length }) => length !== series);
  const make = (nextType: string, s: number, p: number) =>
    onChange(Array.from({ length: p }, () => Array.from({ length: s }, () => nextType)));
  return (
    <View className="gap-3">
      {mixed ? (
        <T look="fact">
          This array is mixed: {strings.map((string) => string.join(' + ')).join('; ')}. A step makes it even.
        </T>
      ) : null}
      {(system.moduleTypes ?? []).length > 1 ? (
        <View role="radiogroup" aria-label="Module" className="flex-row flex-wrap gap-2">
          {(system.moduleTypes ?? []).map(({ id, label }) => (
            <Chip key={id} label={label ?? id} on={!mixed && id === type} onPress={() => make(id, series, parallel)} />
          ))}
        </View>
      ) : null}
      <Stepper label="In series" value={series} min={1} max={64} onChange={(value) => make(type, value, parallel)} />
      <Stepper label="Strings" value={parallel} min={1} max={64} onChange={(value) => make(type, series, value)} />
    </View>
  );
}
