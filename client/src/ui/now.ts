import { useEffect, useState } from 'react';

/** The time, ms since 1970, asked for again and again; a page that was asleep asks at once when it is looked at. */
export function useNow(every_ms: number): number {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const tick = () => setNow(Date.now());
    const timer = setInterval(tick, every_ms);
    document.addEventListener('visibilitychange', tick);
    return () => {
      clearInterval(timer);
      document.removeEventListener('visibilitychange', tick);
    };
  }, [every_ms]);
  return now;
}
