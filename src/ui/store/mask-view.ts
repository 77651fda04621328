'use client';
import { usePreference } from './preferences';

/** Whether an outline's neighbouring keyframes show beside it. */
export const useGhosts = (): [boolean, (on: boolean) => void] => usePreference('ghosts', true);

/** How strongly what a matte takes out is hatched, 0..1. */
export const useHatch = (): [number, (share: number) => void] => usePreference('hatch', 0.6);
