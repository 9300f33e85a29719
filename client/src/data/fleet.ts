import { useQuery, useQueryClient } from '@tanstack/react-query';
import type { FleetSpan } from '@true-lantern/core';
import type { FleetAnswer } from '@true-lantern/wire';
import { ask } from './api';

/** Asked again while sites are being worked out, ms. */
const WORKING_MS = 1500;

/** Who of the firm's sites may lose power; without a signal what it was when it was last asked. */
export const useFleet = (span: FleetSpan) =>
  useQuery({
    queryKey: ['fleet', span],
    queryFn: () => ask<FleetAnswer>('GET', `/fleet?span=${span}`),
    refetchInterval: ({ state }) => ((state.data?.waiting ?? 0) > 0 ? WORKING_MS : false),
  });

/** Has every site worked out that changed or is of another day. @throws NoSignal, ApiError */
export const workOutFleet = (span: FleetSpan) => ask<{ asked: number }>('POST', '/fleet', { span });
/** Takes back what nobody has begun. @throws NoSignal, ApiError */
export const stopFleet = () => ask<undefined>('DELETE', '/fleet');

/** Asks for the answer again. */
export function useFleetAgain(): () => void {
  const client = useQueryClient();
  return () => void client.invalidateQueries({ queryKey: ['fleet'] });
}

/** The coasts of the world, once a map is looked at; kept by the browser from then on. */
export const useCoasts = () =>
  useQuery({
    queryKey: ['coasts'],
    staleTime: Infinity,
    queryFn: async () => {
      const response = await fetch('/map/land.json');
      if (!response.ok) throw new Error('The map could not be loaded.');
      const [{ feature }, topology] = await Promise.all([
        import('topojson-client'),
        response.json() as Promise<Topology>,
      ]);
      return feature(topology, topology.objects.land);
    },
  });
type Topology = import('topojson-specification').Topology<{
  land: import('topojson-specification').GeometryCollection;
}>;
