import type { OutboxState } from './store';
import type { Entry } from './entries';

/** What is said of what has not reached the server; only what the device has is said to be kept on it. */
export function waitingText(entries: readonly Entry[], trouble: OutboxState['trouble']): string | null {
  const waiting = entries.filter(({ state }) => state === 'waiting');
  const unkept = waiting.filter((entry) => entry.unkept).length;
  if (unkept > 0)
    return `${counted(unkept)} in this page alone: the device would not keep ${unkept === 1 ? 'it' : 'them'}. Do not close the page before ${unkept === 1 ? 'it is' : 'they are'} sent.`;
  if (waiting.length === 0 || trouble === 'none') return null;
  return `${counted(waiting.length)} kept on this device${WHY[trouble]}`;
}

const counted = (n: number) => (n === 1 ? '1 change is' : `${n} changes are`);

const WHY: Record<Exclude<OutboxState['trouble'], 'none'>, string> = {
  'no-signal': ' until there is a signal.',
  busy: ': the server answers, but cannot take them now. Tried again by itself.',
  failing: ': the server had a fault of its own. Tried again by itself.',
  'signed-out': '; the session has ended.',
};
