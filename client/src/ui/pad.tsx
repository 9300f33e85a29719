import Delete from 'lucide-react-native/icons/delete';
import { Pressable, View } from 'react-native';
import { useGround } from './ground';
import { T } from './text';
import { unitText } from './units';

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

/** Keys of a further row: what is written for each, and what it is called. */
const MORE: Record<string, [face: string, name: string]> = {
  '~': ['about', 'about'],
  '..': ['to', 'to'],
};

/** What remains when the last key is taken back: a word or "to" goes whole. */
export const withoutLast = (entry: string) => entry.replace(/(\.\.|\s?[a-z]+\d?|.)$/i, '');

/** As it is shown while it is typed. */
export const shownEntry = (entry: string) =>
  unitText(entry).replace(/-/g, '\u2212').replace('..', ' to ').replace('~', 'about ');

/** A number pad with minus, point, fraction and thousand; the figures 64 px high where the screen allows. */
export function NumberPad({ onKey, more = [] }: { onKey(key: string): void; more?: readonly string[] }) {
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
      {more.length > 0 ? (
        <View className="flex-row gap-[6px]">
          {more.map((key) => {
            const [face, name] = MORE[key] ?? [unitText(key.trim()), key.trim()];
            return (
              <Pressable
                key={key}
                role="button"
                aria-label={name}
                onPress={() => onKey(key)}
                className="h-[52px] flex-1 items-center justify-center rounded-[4px] bg-well active:bg-rule"
              >
                <T look="station">{face}</T>
              </Pressable>
            );
          })}
        </View>
      ) : null}
    </View>
  );
}
