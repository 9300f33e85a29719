import type { PropsWithChildren } from 'react';
import { ScrollView, View } from 'react-native';
import { Top } from './top';
import { UndoBar } from './undo';

/** A place outside a site: its name, the way back, and what is there. */
export function Page({ title, onBack, children }: PropsWithChildren<{ title: string; onBack(): void }>) {
  return (
    <View className="flex-1" role="main">
      <View className="w-full max-w-[760px] flex-1 self-center">
        <Top title={title} onBack={onBack} />
        <ScrollView contentContainerClassName="pb-10" keyboardShouldPersistTaps="handled">
          {children}
        </ScrollView>
        <UndoBar />
      </View>
    </View>
  );
}
