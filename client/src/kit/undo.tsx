import { useEffect, useSyncExternalStore } from 'react';
import { View } from 'react-native';
import { Button } from './controls';
import { T } from './text';

/** Undo instead of "are you sure": what was done, and for a while the way back. */
interface Offer {
  text: string;
  undo: () => void;
}

const FOR_MS = 12_000;
let offer: Offer | null = null;
const listeners = new Set<() => void>();
const snapshot = () => offer;
function subscribe(listener: () => void) {
  listeners.add(listener);
  return () => listeners.delete(listener);
}
function put(next: Offer | null) {
  offer = next;
  listeners.forEach((listener) => listener());
}

export const offerUndo = (text: string, undo: () => void) => put({ text, undo });

export function UndoBar() {
  const current = useSyncExternalStore(subscribe, snapshot, snapshot);
  useEffect(() => {
    if (!current) return;
    const timer = setTimeout(() => put(null), FOR_MS);
    return () => clearTimeout(timer);
  }, [current]);
  if (!current) return null;
  const back = () => {
    current.undo();
    put(null);
  };
  return (
    <View
      role="status"
      className="flex-row items-center gap-3 border-t-2 border-ink bg-well px-[18px] py-2"
      testID="undo"
    >
      <T className="min-w-0 flex-1">{current.text}</T>
      <Button label="Undo" onPress={back} />
    </View>
  );
}
