'use client';
import { useState } from 'react';

function stored<T>(key: string, fallback: T): T {
  const text = typeof window === 'undefined' ? null : localStorage.getItem(key);
  return text === null ? fallback : (JSON.parse(text) as T);
}

/** A value that is remembered in this browser under `name`, which may change to that of another one. */
export function usePreference<T>(name: string, fallback: T): [T, (value: T) => void] {
  const key = `irimi:${name}`;
  const [held, setHeld] = useState(() => ({ key, value: stored(key, fallback) }));
  const now = held.key === key ? held : { key, value: stored(key, fallback) };
  if (now !== held) setHeld(now);
  return [
    now.value,
    (value) => {
      localStorage.setItem(key, JSON.stringify(value));
      setHeld({ key, value });
    },
  ];
}
