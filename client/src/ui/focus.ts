import { useEffect, useRef, type RefObject } from 'react';
import type { View } from 'react-native';

/** What a view is on the web; null elsewhere. */
const elementOf = ({ current }: RefObject<View | null>) =>
  typeof HTMLElement !== 'undefined' && current instanceof HTMLElement ? current : null;

const focused = () =>
  typeof document !== 'undefined' && document.activeElement instanceof HTMLElement ? document.activeElement : null;

/** The keys go to what lies over a screen as long as it is there, and then back to what opened it. */
export function useHeldFocus() {
  const ref = useRef<View>(null);
  useEffect(() => {
    const before = focused();
    elementOf(ref)?.focus({ preventScroll: true });
    return () => before?.focus({ preventScroll: true });
  }, []);
  return ref;
}

/** A new page is where the keys and a screen reader go on, unless it has put them on a field of its own. */
export function useFocusOnArrival(place: string) {
  const ref = useRef<View>(null);
  const last = useRef(place);
  useEffect(() => {
    if (last.current === place) return;
    last.current = place;
    const element = elementOf(ref);
    if (element && !(focused() !== document.body && element.contains(focused())))
      element.focus({ preventScroll: true });
  }, [place]);
  return ref;
}
