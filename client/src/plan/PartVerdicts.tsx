import type { PartVerdict } from '@true-lantern/core';
import { View } from 'react-native';
import { Heading, T } from '../ui/text';
import { usePretty } from '../ui/units';

/** What becomes of a part, in a word. */
export const PART_WORDS: Record<PartVerdict['verdict'], string> = {
  keep: 'Keep',
  'keep-reset': 'Stays, new settings',
  reconfigure: 'Reconfigure',
  replace: 'Replace',
  add: 'Add',
  remove: 'Remove',
};
const ORDER: PartVerdict['verdict'][] = ['replace', 'remove', 'add', 'reconfigure', 'keep-reset', 'keep'];

/** What becomes of every part, what changes first, with the reason; what stays is one line. */
export function PartVerdicts({ parts, nameOf }: { parts: PartVerdict[]; nameOf(id: string): string }) {
  const pretty = usePretty();
  return (
    <>
      {ORDER.map((verdict) => {
        const these = parts.filter((part) => part.verdict === verdict);
        if (these.length === 0) return null;
        return (
          <View key={verdict}>
            <Heading level={3} look="head" className={verdict === 'keep' ? '' : 'text-second'}>
              {PART_WORDS[verdict]}
            </Heading>
            {verdict === 'keep' ? (
              <T look="fact">{these.map(({ id }) => nameOf(id)).join(', ')}</T>
            ) : (
              these.map(({ id, why }) => (
                <View key={id} className="border-b border-rule py-2">
                  <T>{nameOf(id)}</T>
                  <T look="fact">{pretty(why)}</T>
                </View>
              ))
            )}
          </View>
        );
      })}
    </>
  );
}
