import { useInfiniteQuery, useQuery } from '@tanstack/react-query';
import { api, body } from '../api/client';
import type { State } from '../words/states';

/** Who carried an update at the end of a day; nothing is asked without one. */
export function usePast(id: string, on: string | undefined) {
  return useQuery({
    queryKey: ['past carriers', id, on],
    queryFn: () => body(api.GET('/api/carriers/{id}/past', { params: { path: { id }, query: { on: on ?? '' } } })),
    enabled: on !== undefined,
    retry: false,
  });
}

export function usePastHosts(id: string, on: string | undefined, population: string[], state: State | undefined) {
  return useInfiniteQuery({
    queryKey: ['past carriers', id, on, 'hosts', population, state],
    queryFn: ({ pageParam }) =>
      body(
        api.GET('/api/carriers/{id}/past/hosts', {
          params: { path: { id }, query: { on: on ?? '', population, state, after: pageParam } },
        }),
      ),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (page) => page.next,
    enabled: on !== undefined,
    retry: false,
  });
}

/** What became of an update since a day, until another or now. */
export function useDifference(id: string, from: string | undefined, to: string | undefined) {
  return useQuery({
    queryKey: ['past carriers', id, 'difference', from, to],
    queryFn: () => body(api.GET('/api/carriers/{id}/difference', { params: { path: { id }, query: { from: from ?? '', to } } })),
    enabled: from !== undefined,
    retry: false,
  });
}
