import { useQuery, useQueryClient } from '@tanstack/react-query';
import type {
  CalendarAnswer,
  DueAnswer,
  HandOverAnswer,
  HandOverMade,
  OfferLinkMade,
  OfferLinksAnswer,
} from '@true-lantern/wire';
import { ask, askOnceSent, UNTIL_SENT } from './api';

/** What the server works out over the firm, and the addresses that lead out of it. */

/** What is due over the firm within some days; without a signal what it was when it was last asked. */
export const useFirmDue = (days: number) =>
  useQuery({ queryKey: ['due', days], queryFn: () => ask<DueAnswer>('GET', `/due?days=${days}`) });

/** One's own calendar address: whether there is one. */
export const useCalendar = () =>
  useQuery({ queryKey: ['calendar'], queryFn: () => ask<CalendarAnswer>('GET', '/calendar') });
/** A new address, told once; the one before ends. @throws NoSignal, ApiError */
export const makeCalendar = () => ask<CalendarAnswer>('POST', '/calendar', {});
/** Ends the address. @throws NoSignal, ApiError */
export const endCalendar = () => ask<undefined>('DELETE', '/calendar');

/** What a customer would be told today, and the pages that are out. */
export const useHandOver = (site: string, proposal: string | null) =>
  useQuery({
    ...UNTIL_SENT,
    queryKey: ['handover', site, proposal],
    queryFn: () =>
      ask<HandOverAnswer>(
        'GET',
        `/sites/${site}/handover${proposal ? `?proposal=${encodeURIComponent(proposal)}` : ''}`,
      ),
  });
/** What the firm writes on the page. */
export interface HandOverEntry {
  call: string;
  lights: string;
  more: string;
  days: number;
  proposal: string | null;
}
/** Makes the page as it is today; its address is told once. @throws NoSignal, ApiError */
export const makeHandOver = (site: string, entry: HandOverEntry) =>
  askOnceSent<HandOverMade>('POST', `/sites/${site}/handover`, entry);
/** Ends a page. @throws NoSignal, ApiError */
export const endHandOver = (site: string, id: string) => ask<undefined>('DELETE', `/sites/${site}/handover/${id}`);

const offersAt = (site: string, proposal: string) => `/sites/${site}/offers/${encodeURIComponent(proposal)}`;
/** The offers of a proposal that are out. */
export const useOfferLinks = (site: string, proposal: string) =>
  useQuery({
    ...UNTIL_SENT,
    queryKey: ['offers', site, proposal],
    queryFn: () => ask<OfferLinksAnswer>('GET', offersAt(site, proposal)),
  });
/** Makes an offer of the proposal as the server has it; its address is told once. @throws NoSignal, ApiError */
export const makeOfferLink = (site: string, proposal: string) =>
  askOnceSent<OfferLinkMade>('POST', offersAt(site, proposal), {});
/** Ends one. @throws NoSignal, ApiError */
export const endOffer = (site: string, proposal: string, id: string) =>
  ask<undefined>('DELETE', `${offersAt(site, proposal)}/${id}`);

/** What was changed is asked for again. */
export function useGivenAgain(): () => void {
  const client = useQueryClient();
  return () => {
    for (const key of ['calendar', 'handover', 'offers']) void client.invalidateQueries({ queryKey: [key] });
  };
}
