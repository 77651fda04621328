'use client';
import { useEffect } from 'react';
import { useTools } from './film-context';
import { usePreference } from './preferences';

export const MEGABYTE = 2 ** 20;
/** What can be set, MB. */
export const BUDGETS_MB = [128, 256, 512, 1024, 2048] as const;
const USUAL_MB = 512;

/** Memory that frames that are ready may take in this browser, MB, and a way to set it. */
export const useFrameBudget = (): [number, (megabytes: number) => void] => usePreference('frame memory', USUAL_MB);

/** Holds the frames of the film to the memory that is set. */
export function FrameBudget() {
  const { frames } = useTools();
  const [megabytes] = useFrameBudget();
  useEffect(() => frames.setBudget(megabytes * MEGABYTE), [frames, megabytes]);
  return null;
}
