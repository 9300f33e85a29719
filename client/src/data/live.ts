import { useQuery, useQueryClient } from '@tanstack/react-query';
import type { Reading } from '@true-lantern/core';
import type { Feed, LiveAnswerOfSite, LiveReadingsAnswer, LiveSpan } from '@true-lantern/wire';
import { ask, askOnceSent, UNTIL_SENT } from './api';

/** Live values of a site, asked for again while the screen is open; without a signal what was last seen, with its age. */

const AGAIN_MS = 10_000;

/** The newest values and their course over a span. */
export const useLive = (site: string, span: LiveSpan) =>
  useQuery({
    ...UNTIL_SENT,
    queryKey: ['live', site, span],
    queryFn: () => ask<LiveAnswerOfSite>('GET', `/sites/${site}/live?span=${span}`),
    refetchInterval: AGAIN_MS,
  });

/** What each day of live values comes to as readings; none where nothing was ever heard, or without a signal. */
export function useLiveReadings(site: string): readonly Reading[] {
  const { data } = useQuery({
    queryKey: ['live-readings', site],
    queryFn: () => ask<LiveReadingsAnswer>('GET', `/sites/${site}/live/readings`),
  });
  return data?.readings ?? NONE;
}
const NONE: readonly Reading[] = [];

/** The tokens by which the site's devices send. */
export const useFeeds = (site: string) =>
  useQuery({ queryKey: ['feeds', site], queryFn: () => ask<{ feeds: Feed[] }>('GET', `/sites/${site}/feeds`) });
/** A new token, told once. @throws NoSignal, ApiError */
export const makeFeed = (site: string) => askOnceSent<Feed>('POST', `/sites/${site}/feeds`, {});
/** Ends a token. @throws NoSignal, ApiError */
export const endFeed = (site: string, id: string) => ask<undefined>('DELETE', `/sites/${site}/feeds/${id}`);

/** What was changed is asked for again. */
export function useFeedsAgain(): () => void {
  const client = useQueryClient();
  return () => void client.invalidateQueries({ queryKey: ['feeds'] });
}
