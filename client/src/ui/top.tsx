import { View } from 'react-native';
import { Button, HeavyRule } from './controls';
import { Heading } from './text';

/** Head of a screen inside a place: what it is, and the way back. */
export function Top({ title, back = 'Back', onBack }: { title: string; back?: string; onBack(): void }) {
  return (
    <View>
      <View className="min-h-[60px] flex-row items-center justify-between gap-3 px-[18px]">
        <Heading look="lead" className="shrink">
          {title}
        </Heading>
        <View className="print:hidden">
          <Button label={back} kind="plain" onPress={onBack} />
        </View>
      </View>
      <HeavyRule />
    </View>
  );
}
