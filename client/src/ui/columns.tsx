import type { ReactNode } from 'react';
import { View } from 'react-native';

/** Two pieces of a page: side by side where there is room, else one under the other. */
export function Columns({ two, children: [first, second] }: { two: boolean; children: [ReactNode, ReactNode] }) {
  if (!two)
    return (
      <>
        {first}
        {second}
      </>
    );
  return (
    <View className="flex-row items-start">
      <View className="min-w-0 flex-1">{first}</View>
      <View className="min-w-0 flex-1">{second}</View>
    </View>
  );
}
