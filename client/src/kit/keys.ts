import { useEffect, useRef } from 'react';

/** Who listens to keys, the latest last: what lies on top is asked first. */
interface Layer {
  keys: Record<string, () => void>;
  /** Nothing below hears anything while this is there: a digit typed into a field must not change the stage. */
  alone: boolean;
}
const layers: { current: Layer }[] = [];

function onKey(event: KeyboardEvent) {
  const { target } = event;
  if (event.ctrlKey || event.metaKey || event.altKey) return;
  if (target instanceof HTMLElement && (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName)))
    return;
  for (const { current } of [...layers].reverse()) {
    const act = current.keys[event.key];
    if (act) {
      // What has the focus behind a dialog is not what the key is meant for.
      const mine = !current.alone || (target instanceof HTMLElement && target.closest('[role=dialog]') !== null);
      // Enter and space on a focused button are that button's own.
      const pressed = target instanceof HTMLElement && target.getAttribute('role') === 'button';
      if (mine && pressed && (event.key === 'Enter' || event.key === ' ')) return;
      event.preventDefault();
      return act();
    }
    if (current.alone) return;
  }
}

/** Keys of a wide screen. Quiet while something is being typed or a modifier is held. */
export function useKeys(keys: Record<string, () => void>, alone = false): void {
  const latest = useRef<Layer>({ keys, alone });
  useEffect(() => {
    latest.current = { keys, alone };
  });
  useEffect(() => {
    if (typeof document === 'undefined') return;
    if (layers.length === 0) document.addEventListener('keydown', onKey);
    layers.push(latest);
    return () => {
      layers.splice(layers.indexOf(latest), 1);
      if (layers.length === 0) document.removeEventListener('keydown', onKey);
    };
  }, []);
}
