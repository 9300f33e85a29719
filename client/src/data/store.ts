import { useSyncExternalStore } from 'react';

/** A value outside of React that components follow. */
export interface Store<T> {
  get(): T;
  set(next: T): void;
  /** As a hook: named as one, so that the compiler of the components knows it. */
  useValue(): T;
}

/** A store with its first value. */
export function createStore<T>(initial: T): Store<T> {
  let value = initial;
  const listeners = new Set<() => void>();
  const get = () => value;
  const subscribe = (listener: () => void) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  };
  return {
    get,
    set(next) {
      value = next;
      listeners.forEach((listener) => listener());
    },
    useValue: () => useSyncExternalStore(subscribe, get, get),
  };
}
