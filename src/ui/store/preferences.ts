'use client';
import { useCallback, useSyncExternalStore } from 'react';

const PREFIX = 'irimi:';

/** What was read, as text and as value: a value that has not changed stays the same thing. */
const known = new Map<string, { readonly text: string; readonly value: unknown }>();
const listeners = new Set<() => void>();

function stored<T>(key: string, fallback: T): T {
  const text = typeof window === 'undefined' ? null : localStorage.getItem(key);
  if (text === null) return fallback;
  const before = known.get(key);
  if (before?.text === text) return before.value as T;
  const value = JSON.parse(text) as T;
  known.set(key, { text, value });
  return value;
}

function subscribe(listener: () => void): () => void {
  listeners.add(listener);
  // other windows tell theirs
  window.addEventListener('storage', listener);
  return () => {
    listeners.delete(listener);
    window.removeEventListener('storage', listener);
  };
}

/** A value that is remembered in this browser under `name`, the same wherever it is shown. */
export function usePreference<T>(name: string, fallback: T): [T, (value: T) => void] {
  const key = `${PREFIX}${name}`;
  const value = useSyncExternalStore(
    subscribe,
    () => stored(key, fallback),
    () => fallback,
  );
  const set = useCallback(
    (next: T) => {
      localStorage.setItem(key, JSON.stringify(next));
      for (const listener of listeners) listener();
    },
    [key],
  );
  return [value, set];
}

/** Forgets all that is remembered under names that begin with `start`. */
export function forgetPreferences(start: string): void {
  for (const key of Object.keys(localStorage).filter((k) => k.startsWith(`${PREFIX}${start}`))) localStorage.removeItem(key);
  for (const listener of listeners) listener();
}
