import type { Said } from '@true-lantern/core';
import { createStore } from './store';

/** What each part says at this moment, for the Line, while the live values are looked at; null: they are not. */
export const liveNow = createStore<ReadonlyMap<string, Said> | null>(null);
