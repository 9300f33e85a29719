import { useState } from 'react';
import { Button } from './controls';
import { ear } from './spoken';

interface SpeakProps<T> {
  label: string;
  /** Listens once, by the browser's own ear. */
  hear(Ear: NonNullable<ReturnType<typeof ear>>): Promise<T | null>;
  onHeard(heard: T): void;
}

/** Said instead of typed, where the browser can listen: both hands may be busy. Nothing where it cannot. */
export function Speak<T>({ label, hear, onHeard }: SpeakProps<T>) {
  const [state, setState] = useState<'ready' | 'listening' | 'lost'>('ready');
  const Ear = ear();
  if (!Ear) return null;
  const say = async () => {
    setState('listening');
    const heard = await hear(Ear);
    if (heard) onHeard(heard);
    setState(heard ? 'ready' : 'lost');
  };
  return (
    <Button
      label={{ ready: label, listening: 'Listening ...', lost: 'Not understood; say it again' }[state]}
      disabled={state === 'listening'}
      onPress={() => void say()}
    />
  );
}
