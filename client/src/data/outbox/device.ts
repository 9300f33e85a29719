import { newId } from '../ids';

const KEY = 'lantern.device';

/** Of a page that may store nothing: a name as long as it is open, or two such pages would pass for one device. */
let ofThisPage: string | null = null;

/** This browser's name among the firm's devices; made once. */
export function deviceId(): string {
  try {
    const store = globalThis.localStorage;
    const known = store.getItem(KEY);
    if (known) return known;
    const made = ofThisPage ?? newId();
    store.setItem(KEY, made);
    return made;
  } catch {
    return (ofThisPage ??= newId());
  }
}
