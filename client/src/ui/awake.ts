import { useEffect } from 'react';

/** Keeps the screen on while the component lives, where the browser can; taken again when the page comes back. */
export function useAwake(): void {
  useEffect(() => {
    if (typeof navigator === 'undefined' || !('wakeLock' in navigator)) return;
    let lock: WakeLockSentinel | null = null;
    let gone = false;
    const take = () => {
      if (document.visibilityState !== 'visible') return;
      navigator.wakeLock
        .request('screen')
        .then((taken) => {
          if (gone) void taken.release();
          else lock = taken;
        })
        .catch(() => {
          // A low battery may refuse it: the screen then sleeps as it always does.
        });
    };
    take();
    document.addEventListener('visibilitychange', take);
    return () => {
      gone = true;
      document.removeEventListener('visibilitychange', take);
      void lock?.release();
    };
  }, []);
}
