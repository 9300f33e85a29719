import {
  figure,
  partsListOf,
  totalText,
  type PartsList,
  type PartsLine,
  type ShelfItem,
  type System,
} from '@true-lantern/core';
import { useMemo } from 'react';
import { View } from 'react-native';
import { Heading, T } from '../ui/text';
import { useUnits } from '../data/units';
import { inUnits, usePretty, withUnit } from '../ui/units';

/** What must be bought to get from one system to the other, priced from the shelf where it has it. */
export function usePartsList(before: System, after: System, shelf: readonly ShelfItem[]): PartsList {
  return useMemo(() => partsListOf(before, after, shelf), [before, after, shelf]);
}

const GROUPS: [what: PartsLine['what'], title: string][] = [
  ['buy', 'To buy'],
  ['set', 'To set or regroup'],
  ['out', 'To remove'],
];

/** What a proposal buys, sets and takes out. */
export function BuyList({ partsList }: { partsList: PartsList }) {
  const pretty = usePretty();
  const units = useUnits();
  if (partsList.lines.length === 0) return null;
  return (
    <View className="gap-4 px-[18px] pt-6" testID="kit">
      {GROUPS.map(([what, title]) => {
        const lines = partsList.lines.filter((line) => line.what === what);
        if (lines.length === 0) return null;
        return (
          <View key={what}>
            <Heading level={2} look="station">
              {title}
            </Heading>
            {lines.map((line) => (
              <View key={`${line.id} ${line.what}`} className="flex-row gap-3 border-b border-rule py-2">
                <T className="w-16 font-semi">
                  {line.unit === 'm' ? inUnits(line.quantity, 'm', units) : `${line.quantity} \u00d7`}
                </T>
                <View className="min-w-0 flex-1">
                  <T>{line.label}</T>
                  {line.detail ? <T look="fact">{pretty(line.detail)}</T> : null}
                </View>
                {what === 'buy' ? (
                  <T className="font-semi">
                    {line.price === null ? 'no price' : withUnit(line.price, line.currency, line.price < 100 ? 3 : 5)}
                  </T>
                ) : null}
              </View>
            ))}
            {what === 'buy' ? (
              <View className="flex-row justify-between py-2">
                <T look="head">Together</T>
                <T look="head">{totalText(partsList)}</T>
              </View>
            ) : null}
          </View>
        );
      })}
      <T look="fact">{`${partsList.kept} of ${figure(partsList.outOf)} parts stay unchanged.`}</T>
    </View>
  );
}
