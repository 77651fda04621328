'use client';
import { usePreference } from './preferences';

/** Lines over the stage that are never in the picture. */
export interface GuideChoice {
  readonly thirds: boolean;
  readonly safeAreas: boolean;
  /** Width over height of what stays bright; the rest of the frame is darkened. Null for all of it. */
  readonly ratio: number | null;
}

const NO_GUIDES: GuideChoice = { thirds: false, safeAreas: false, ratio: null };

export const RATIOS: readonly { readonly ratio: number; readonly text: string }[] = [
  { ratio: 2.39, text: '2.39 : 1' },
  { ratio: 1.85, text: '1.85 : 1' },
  { ratio: 16 / 9, text: '16 : 9' },
  { ratio: 4 / 3, text: '4 : 3' },
  { ratio: 1, text: '1 : 1' },
  { ratio: 4 / 5, text: '4 : 5' },
  { ratio: 9 / 16, text: '9 : 16' },
];

export const useGuides = (): [GuideChoice, (choice: GuideChoice) => void] => usePreference('stage-guides', NO_GUIDES);
