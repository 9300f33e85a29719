import { createStore } from './store';

/** The state in which each site is looked at on this device; null: everything on. Forgotten with the page. */
const chosen = createStore<Readonly<Record<string, string | null>>>({});

/** The state that was chosen for a site; null: everything on; undefined: none was, and the worst is shown. */
export const useChosenState = (siteId: string): string | null | undefined => chosen.useValue()[siteId];

/** Looks at a site in another state; null: everything on. */
export function chooseState(siteId: string, stateId: string | null): void {
  chosen.set({ ...chosen.get(), [siteId]: stateId });
}
