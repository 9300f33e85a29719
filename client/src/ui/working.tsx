import { View } from 'react-native';
import { Button } from './controls';
import { T } from './text';
import { WORDS } from './words';

/** What is being worked out, how far it is, and a way to stop it once it takes long enough to want one. */
export function Working({ what, progress, onStop }: { what: string; progress: number; onStop?: () => void }) {
  const percent = Math.round(100 * progress);
  return (
    <View className="flex-row items-center gap-3 px-[18px] py-3" role="status">
      <T className="min-w-0 flex-1 text-soft">{percent > 0 ? `${what} ${percent} %` : what}</T>
      {percent > 0 && onStop ? <Button label={WORDS.stop} onPress={onStop} /> : null}
    </View>
  );
}
