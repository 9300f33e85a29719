import type { PropsWithChildren, ReactNode } from 'react';
import { ScrollView, View } from 'react-native';
import { OnWhat, type Base } from './base';
import { PlanHeader } from './PlanHeader';

interface PlanPageProps {
  title: string;
  second?: boolean;
  /** What the what-if is built on; a page without one asks nothing of a base. */
  base?: Base;
  /** Laid over the page: an open field. */
  over?: ReactNode;
}

/** A page of Plan: its head, what it is built on, and one column that scrolls, and prints whole. */
export function PlanPage({ title, second = false, base, over, children }: PropsWithChildren<PlanPageProps>) {
  return (
    <View className="flex-1">
      <PlanHeader title={title} second={second} />
      <ScrollView>
        <View className="max-w-[860px] pb-10" nativeID="paper">
          {base ? <OnWhat base={base} /> : null}
          {children}
        </View>
      </ScrollView>
      {over}
    </View>
  );
}
