import { View } from 'react-native';
import { takeNewer, useNewer } from '../data/offline';
import { Button } from '../ui/controls';
import { T } from '../ui/text';

/** A newer version of the app, in one quiet line; taken when a person says so, never under their fingers. */
export function NewerLine() {
  if (!useNewer()) return null;
  return (
    <View
      role="status"
      testID="newer"
      className="min-h-[56px] flex-row items-center justify-between gap-3 border-t border-rule bg-paper px-[18px]"
    >
      <T look="fact" className="min-w-0 flex-1">
        A new version is available.
      </T>
      <Button label="Update now" kind="plain" onPress={takeNewer} />
    </View>
  );
}
