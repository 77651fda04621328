'use client';
import { QueryClient, QueryClientProvider, useQuery } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { call } from './api';

// What is asked of the server and is no part of the film's state: lists and results that are read where they are shown.

/** What was asked of the server in this window. It is asked again when something is shown anew; what is wrong is said at once. */
export const asked = new QueryClient({
  defaultOptions: { queries: { retry: false, refetchOnWindowFocus: false, staleTime: 0, networkMode: 'always' } },
});

export function AskedProvider({ children }: { readonly children: ReactNode }) {
  return <QueryClientProvider client={asked}>{children}</QueryClientProvider>;
}

/**
 * What the server answers at an address; null is not asked. `version` is what the answer depends on: with another one it is asked anew,
 * and what was there stays until then.
 */
export function useAsked<T>(
  url: string | null,
  version: unknown = null,
): { readonly data: T | undefined; readonly problem: string | null } {
  const { data, error } = useQuery<{ readonly answer: T }>({
    queryKey: [url, version],
    queryFn: async () => ({ answer: await call<T>('GET', url!) }),
    enabled: url !== null,
    placeholderData: (before, query) => (query?.queryKey[0] === url ? before : undefined),
  });
  return { data: data?.answer, problem: error === null ? null : error.message };
}

/** Asks anew for what is shown of an address. */
export const askAgain = (url: string): Promise<void> => asked.invalidateQueries({ queryKey: [url] });
