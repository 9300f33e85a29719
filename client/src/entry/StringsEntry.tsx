import { partTitle, type System } from '@true-lantern/core';
import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { Button, Chip } from '../ui/controls';
import { Stepper } from '../ui/stepper';
import { T } from '../ui/text';

interface StringsEntryProps {
  system: System;
  strings: string[][];
  onChange(strings: string[][]): void;
}

/** An even array by two steppers; a mixed one string by string. */
export function StringsEntry({ system, strings, onChange }: StringsEntryProps) {
  const types = system.moduleTypes ?? [];
  const used = [...new Set(strings.flat())];
  const series = Math.max(1, ...strings.map(({ length }) => length));
  const parallel = Math.max(1, strings.length);
  const type = used[0] ?? types[0]?.id ?? '';
  const mixed = used.length > 1 || strings.some(({ length }) => length !== series);
  const [each, setEach] = useState(mixed);
  if (each)
    return (
      <View className="gap-3">
        <EachString system={system} strings={strings} onChange={onChange} />
        {mixed ? null : <Button label="All strings alike" onPress={() => setEach(false)} />}
      </View>
    );
  const make = (nextType: string, s: number, p: number) =>
    onChange(Array.from({ length: p }, () => Array.from({ length: s }, () => nextType)));
  return (
    <View className="gap-3">
      {types.length > 1 ? (
        <View role="radiogroup" aria-label="Module" className="flex-row flex-wrap gap-2">
          {types.map(({ id, label }) => (
            <Chip
              key={id}
              label={partTitle(system, id) ?? label ?? id}
              on={id === type}
              onPress={() => make(id, series, parallel)}
            />
          ))}
        </View>
      ) : null}
      <Stepper label="In series" value={series} min={1} max={64} onChange={(value) => make(type, value, parallel)} />
      <Stepper label="Strings" value={parallel} min={1} max={64} onChange={(value) => make(type, series, value)} />
      <Button label="String by string" onPress={() => setEach(true)} />
    </View>
  );
}

/** Every string by itself: its length, and by a tap on a module which type stands there. */
function EachString({ system, strings, onChange }: StringsEntryProps) {
  const types = system.moduleTypes ?? [];
  const put = (at: number, string: string[]) => onChange(strings.map((other, i) => (i === at ? string : other)));
  const nameOf = (id: string) => partTitle(system, id) ?? id;
  const next = (id: string) =>
    types[(types.findIndex((type) => type.id === id) + 1) % Math.max(1, types.length)]?.id ?? id;
  return (
    <View className="gap-4">
      {types.length > 1 ? <T look="fact">A tap on a module changes which type it is.</T> : null}
      {strings.map((string, s) => (
        <View key={s} className="gap-2 border-b border-rule pb-3">
          <Stepper
            label={`String ${s + 1}`}
            value={string.length}
            min={1}
            max={64}
            onChange={(length) =>
              put(
                s,
                Array.from({ length }, (_, m) => string[m] ?? string.at(-1) ?? types[0]?.id ?? ''),
              )
            }
          />
          {types.length > 1 ? (
            <View className="flex-row flex-wrap gap-1">
              {string.map((id, m) => (
                <Pressable
                  key={m}
                  role="button"
                  aria-label={`String ${s + 1}, module ${m + 1}: ${nameOf(id)}`}
                  onPress={() => put(s, string.with(m, next(id)))}
                  className="min-h-[48px] justify-center border-2 border-ink px-2 active:bg-well"
                >
                  <T look="fact" className="text-ink">
                    {nameOf(id)}
                  </T>
                </Pressable>
              ))}
            </View>
          ) : null}
          {strings.length > 1 ? (
            <Button
              label="Remove this string"
              kind="plain"
              className="self-start px-0"
              aria-label={`Take string ${s + 1} out`}
              onPress={() => onChange(strings.filter((_, i) => i !== s))}
            />
          ) : null}
        </View>
      ))}
      <Button
        label="Add a string"
        onPress={() => onChange([...strings, [...(strings.at(-1) ?? [types[0]?.id ?? ''])]])}
      />
    </View>
  );
}
