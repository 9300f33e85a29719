import { useQuery, useQueryClient } from '@tanstack/react-query';
import type { Trip, TripsAnswer } from '@true-lantern/wire';
import { ask } from './api';

/** The firm's trips; without a signal what they were when they were last asked for. */
export const useTrips = () => useQuery({ queryKey: ['trips'], queryFn: () => ask<TripsAnswer>('GET', '/trips') });

/** Saves and removes trips, each shown at once. */
export function useTripWriter(): { save(trip: Trip): Promise<void>; remove(id: string): Promise<void> } {
  const client = useQueryClient();
  const show = (change: (trips: Trip[]) => Trip[]) =>
    client.setQueryData<TripsAnswer>(['trips'], (now) => ({ trips: change(now?.trips ?? []) }));
  const again = () => void client.invalidateQueries({ queryKey: ['trips'] });
  return {
    async save({ id, ...trip }) {
      show((trips) =>
        trips.some((one) => one.id === id)
          ? trips.map((one) => (one.id === id ? { id, ...trip } : one))
          : [{ id, ...trip }, ...trips],
      );
      await ask<undefined>('PUT', `/trips/${id}`, trip).finally(again);
    },
    async remove(id) {
      show((trips) => trips.filter((one) => one.id !== id));
      await ask<undefined>('DELETE', `/trips/${id}`).finally(again);
    },
  };
}
