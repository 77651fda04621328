'use client';
import { useState } from 'react';

/** A value that is remembered in this browser under `name`. */
export function usePreference<T>(name: string, fallback: T): [T, (value: T) => void] {
  const key = `irimi:${name}`;
  const [value, setValue] = useState<T>(() => {
    const stored = typeof window === 'undefined' ? null : localStorage.getItem(key);
    return stored === null ? fallback : (JSON.parse(stored) as T);
  });
  return [
    value,
    (next) => {
      localStorage.setItem(key, JSON.stringify(next));
      setValue(next);
    },
  ];
}
