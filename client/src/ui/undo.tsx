import { useEffect } from 'react';
import { View } from 'react-native';
import { createStore } from '../data/store';
import { Button } from './controls';
import { T } from './text';
import { WORDS } from './words';

/** Undo instead of "are you sure": what was done, and for a while the way back. */
interface Offer {
  text: string;
  /** Null: nothing to take back, only something to say. */
  undo: (() => void) | null;
}

const FOR_MS = 12_000;
const offer = createStore<Offer | null>(null);

/** Offers to take back what was just done, until something else is. */
export const offerUndo = (text: string, undo: () => void) => offer.set({ text, undo });

/** Says something at the foot of the page for a while. */
export const tell = (text: string) => offer.set({ text, undo: null });

/** The offer, at the foot of the page. */
export function UndoBar() {
  const current = offer.useValue();
  useEffect(() => {
    if (!current) return;
    const timer = setTimeout(() => offer.set(null), FOR_MS);
    return () => clearTimeout(timer);
  }, [current]);
  if (!current) return null;
  const back = () => {
    current.undo?.();
    offer.set(null);
  };
  return (
    <View
      role="status"
      className="flex-row items-center gap-3 border-t-2 border-ink bg-well px-[18px] py-2"
      testID="undo"
    >
      <T className="min-w-0 flex-1">{current.text}</T>
      <Button label={current.undo ? WORDS.undo : WORDS.close} onPress={back} />
    </View>
  );
}
