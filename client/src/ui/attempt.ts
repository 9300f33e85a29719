import { messageOf } from '@true-lantern/core/base';
import { useState } from 'react';

/**
 * What only works with a signal: what it answered, and why it did not, in the server's own sentence.
 * @param after done after each attempt, whatever came of it
 */
export function useAttempt<T>(after: () => void): {
  made: T | null;
  trouble: string | null;
  attempt(act: () => Promise<T | undefined>): Promise<void>;
  forget(): void;
} {
  const [made, setMade] = useState<T | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  return {
    made,
    trouble,
    async attempt(act) {
      setTrouble(null);
      try {
        setMade((await act()) ?? null);
      } catch (error) {
        setTrouble(messageOf(error));
      }
      after();
    },
    forget: () => setMade(null),
  };
}
