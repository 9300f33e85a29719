import Delete from 'lucide-react-native/icons/delete';
import { Pressable, View } from 'react-native';
import { useGround } from './ground';
import { T } from './text';

const KEYS = [
  ['7', '8', '9', 'back'],
  ['4', '5', '6', '-'],
  ['1', '2', '3', '/'],
  ['0', '.', ' ', 'k'],
] as const;
const NAMES: Record<string, string> = {
  back: 'delete',
  '-': 'minus',
  '/': 'fraction',
  '.': 'point',
  ' ': 'space',
  k: 'thousand',
};
const FACES: Record<string, string> = { '-': '\u2212', ' ': '\u2423' };

/** A number pad with minus, point, fraction and thousand; the figures 64 px high where the screen allows. */
export function NumberPad({ onKey }: { onKey(key: string): void }) {
  const { colours } = useGround();
  return (
    <View className="gap-[6px]">
      {KEYS.map((row) => (
        <View key={row.join('')} className="flex-row gap-[6px]">
          {row.map((key) => (
            <Pressable
              key={key}
              role="button"
              aria-label={NAMES[key] ?? key}
              onPress={() => onKey(key)}
              className="h-[58px] flex-1 items-center justify-center rounded-[4px] bg-well active:bg-rule"
            >
              {key === 'back' ? <Delete size={26} color={colours.ink} /> : <T look="pad">{FACES[key] ?? key}</T>}
            </Pressable>
          ))}
        </View>
      ))}
    </View>
  );
}
