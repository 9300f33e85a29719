import { createStore } from './store';

/** The state in which each site is looked at on this device; none: everything on. Forgotten with the page. */
const chosen = createStore<Readonly<Record<string, string>>>({});

export const useChosenState = (siteId: string): string | null => chosen.use()[siteId] ?? null;

export function chooseState(siteId: string, stateId: string | null): void {
  const { [siteId]: _, ...others } = chosen.get();
  chosen.set(stateId === null ? others : { ...others, [siteId]: stateId });
}
