import { newId } from '../ids';

const KEY = 'lantern.device';

/** This browser's name among the firm's devices; made once. A device without storage has none, and conflicts with itself. */
export function deviceId(): string {
  try {
    const known = globalThis.localStorage?.getItem(KEY);
    if (known) return known;
    const made = newId();
    globalThis.localStorage?.setItem(KEY, made);
    return made;
  } catch {
    return 'nameless';
  }
}
