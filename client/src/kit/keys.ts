import { useEffect, useRef } from 'react';

/** Keys of a wide screen. Quiet while something is being typed or a modifier is held. */
export function useKeys(keys: Record<string, () => void>): void {
  const latest = useRef(keys);
  useEffect(() => {
    latest.current = keys;
  });
  useEffect(() => {
    if (typeof document === 'undefined') return;
    const onKey = (event: KeyboardEvent) => {
      const { target } = event;
      if (event.ctrlKey || event.metaKey || event.altKey) return;
      if (
        target instanceof HTMLElement &&
        (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName))
      )
        return;
      const act = latest.current[event.key];
      if (!act) return;
      event.preventDefault();
      act();
    };
    document.addEventListener('keydown', onKey);
    return () => document.removeEventListener('keydown', onKey);
  }, []);
}
