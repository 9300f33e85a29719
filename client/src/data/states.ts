import { createStore } from './store';

/** The state in which each site is looked at on this device; none: everything on. Forgotten with the page. */
const chosen = createStore<Readonly<Record<string, string>>>({});

/** The state in which a site is looked at; null: everything on. */
export const useChosenState = (siteId: string): string | null => chosen.use()[siteId] ?? null;

/** Looks at a site in another state; null: everything on. */
export function chooseState(siteId: string, stateId: string | null): void {
  const { [siteId]: _, ...others } = chosen.get();
  chosen.set(stateId === null ? others : { ...others, [siteId]: stateId });
}
