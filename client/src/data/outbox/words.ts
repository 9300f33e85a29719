import type { OutboxState } from './store';
import type { Entry } from './entries';

/** What is said of what has not reached the server; only what the device has is said to be kept on it. */
export function waitingText(entries: readonly Entry[], trouble: OutboxState['trouble']): string | null {
  const waiting = entries.filter(({ state }) => state === 'waiting');
  const unkept = waiting.filter((entry) => entry.unkept).length;
  if (unkept > 0)
    return `${counted(unkept)} only in this open page: the device could not save ${unkept === 1 ? 'it' : 'them'}. Do not close the page until ${unkept === 1 ? 'it is' : 'they are'} sent.`;
  if (waiting.length === 0 || trouble === 'none') return null;
  return `${counted(waiting.length)} saved on this device${WHY[trouble]}`;
}

const counted = (n: number) => (n === 1 ? '1 change is' : `${n} changes are`);

const WHY: Record<Exclude<OutboxState['trouble'], 'none'>, string> = {
  'no-signal': ' until there is a signal.',
  busy: ': the server is busy. It will try again automatically.',
  failing: ': the server had an error. It will try again automatically.',
  'signed-out': '; you have been signed out.',
};
