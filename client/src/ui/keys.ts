import { useEffect, useRef } from 'react';

/** Who listens to keys, the latest last: what lies on top is asked first. */
interface Layer {
  keys: Record<string, () => void>;
  /** Nothing below hears anything while this is there: a digit typed into a field must not change the stage. */
  alone: boolean;
}
const layers: { current: Layer }[] = [];

/** Arrows move between the answers of a question, as everywhere on the web. */
const STEPS: Readonly<Record<string, number>> = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 };
function moveInGroup(target: HTMLElement, key: string): boolean {
  const step = STEPS[key];
  if (step === undefined || target.getAttribute('role') !== 'radio') return false;
  const answers = [...(target.closest('[role=radiogroup]')?.querySelectorAll<HTMLElement>('[role=radio]') ?? [])];
  const next = answers[(answers.indexOf(target) + step + answers.length) % answers.length];
  next?.focus();
  return next !== undefined;
}

const PRESSED = new Set(['button', 'radio', 'checkbox', 'link', 'tab']);

function onKey(event: KeyboardEvent) {
  const { target } = event;
  if (event.ctrlKey || event.metaKey || event.altKey) return;
  if (target instanceof HTMLElement && (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName)))
    return;
  if (target instanceof HTMLElement && moveInGroup(target, event.key)) return event.preventDefault();
  for (const { current } of [...layers].reverse()) {
    const act = current.keys[event.key];
    if (act) {
      // What has the focus behind a dialog is not what the key is meant for.
      const mine = !current.alone || (target instanceof HTMLElement && target.closest('[role=dialog]') !== null);
      // Enter and space on what is focused and can be pressed are its own: a choice is taken before its sheet is saved.
      const pressed = target instanceof HTMLElement && PRESSED.has(target.getAttribute('role') ?? '');
      if (mine && pressed && (event.key === 'Enter' || event.key === ' ')) return;
      event.preventDefault();
      return act();
    }
    if (current.alone) return;
  }
}

/** A desk's keys that count as a pad's own: each of some characters, and the one that takes the last back. */
export const padKeys = (characters: string, onKey: (key: string) => void): Record<string, () => void> => ({
  ...Object.fromEntries([...characters].map((key) => [key, () => onKey(key)])),
  Backspace: () => onKey('back'),
});

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
