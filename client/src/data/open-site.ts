import { createContext, useContext } from 'react';
import type { OpenSite } from './site';

/** The site that is open, for everything below its shell. */
export const SiteContext = createContext<OpenSite | null>(null);

/** The site that the shell has opened. */
export function useOpenSite(): OpenSite {
  const site = useContext(SiteContext);
  if (!site) throw new Error('useOpenSite outside a site');
  return site;
}
