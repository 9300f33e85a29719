import { createHash } from 'node:crypto';

/** SHA-256, hexadecimal: what may be stored or shown of a key without being one. */
export const hashOf = (key: string): string => createHash('sha256').update(key).digest('hex');

/** As much of it as tells a few apart on a screen. */
export const shownOf = (key: string): string => hashOf(key).slice(0, 32);
