import type { PartRow } from '@true-lantern/core/base';
import type { PushResult } from '@true-lantern/wire';
import type { RequestEntry } from './entries';

/** What one page of this browser tells the others, so that all of them show the same. */
export type Word =
  | { about: 'entries' }
  | { about: 'changes'; siteId: string; results: PushResult[]; revision: number }
  | { about: 'site'; siteId: string; name: string; rows: PartRow[] }
  | { about: 'request'; request: RequestEntry['request'] };

const channel = typeof BroadcastChannel === 'undefined' ? null : new BroadcastChannel('lantern.outbox');
// In tests a channel would keep the process alive.
(channel as { unref?(): void } | null)?.unref?.();

/** Says it to the other pages; this one does not hear it. */
export const tell = (word: Word): void => channel?.postMessage(word);
/** Hears what other pages say. */
export const onWord = (hear: (word: Word) => void): void =>
  channel?.addEventListener('message', ({ data }: MessageEvent<Word>) => hear(data));
