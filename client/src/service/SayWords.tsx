import { useState } from 'react';
import { Button } from '../kit/controls';
import { ear, listenWords } from '../kit/spoken';

/** Words spoken instead of typed, where the browser can listen. */
export function SayWords({ onWords }: { onWords(words: string): void }) {
  const [state, setState] = useState<'ready' | 'listening' | 'lost'>('ready');
  const Ear = ear();
  if (!Ear) return null;
  const say = async () => {
    setState('listening');
    const words = await listenWords(Ear);
    if (words) onWords(words);
    setState(words ? 'ready' : 'lost');
  };
  return (
    <Button
      label={{ ready: 'Speak it', listening: 'Listening ...', lost: 'Not understood; say it again' }[state]}
      disabled={state === 'listening'}
      onPress={() => void say()}
    />
  );
}
