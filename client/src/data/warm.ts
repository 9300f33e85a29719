import { checkSteps, fromRows, modelOf } from '@true-lantern/core/base';
import type { SiteRows } from '@true-lantern/wire';
import { keptData } from './persistence';
import { queryClient, siteQuery } from './site';

/** Longer than this at once and a thumb feels it, ms. */
const SLICE_MS = 25;

/**
 * Checks a site that is about to be opened in slices, for what the check then finds at hand: on a phone the first takes
 * half a second in one. Nothing is done for a site that this device does not have yet.
 * @param gone whether nobody waits for it any more
 */
export async function warmCheck(id: string, gone: () => boolean): Promise<void> {
  const { queryKey } = siteQuery(id);
  const site = queryClient.getQueryData<SiteRows>(queryKey) ?? (await keptData<SiteRows>(queryKey));
  if (!site) return;
  const pause = () => new Promise((resolve) => setTimeout(resolve, 0));
  // The page that was tapped is drawn first.
  await pause();
  try {
    const steps = checkSteps(modelOf(fromRows(site.parts)));
    for (let from = performance.now(); !gone() && !steps.next().done;) {
      if (performance.now() - from < SLICE_MS) continue;
      await pause();
      from = performance.now();
    }
  } catch {
    // What is wrong with it is told where it is opened.
  }
}
