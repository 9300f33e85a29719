import { useState } from 'react';
import { Button } from '../kit/controls';
import { ear, listen } from '../kit/spoken';

/** The number spoken, where the browser can listen: both hands may be busy. */
export function SayIt({ onNumber }: { onNumber(entry: string): void }) {
  const [state, setState] = useState<'ready' | 'listening' | 'lost'>('ready');
  const say = async () => {
    const Ear = ear();
    if (!Ear) return;
    setState('listening');
    const entry = await listen(Ear);
    if (entry) onNumber(entry);
    setState(entry ? 'ready' : 'lost');
  };
  return (
    <Button
      label={{ ready: 'Say the number', listening: 'Listening ...', lost: 'Not understood; say it again' }[state]}
      disabled={state === 'listening'}
      onPress={() => void say()}
    />
  );
}
