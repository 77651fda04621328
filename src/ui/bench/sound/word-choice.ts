'use client';
import { create } from 'zustand';
import type { ShotSide } from '../../../core/film/composition';
import type { SecondsSpan, SharedWord } from '../../../core/sound/words';

interface WordChoice {
  readonly joinId: string | null;
  /** What is selected of one shot's sound, seconds of its medium. */
  readonly side: ShotSide;
  readonly span: SecondsSpan | null;
  /** What was found of it in the other shot; `a` is the side it was selected on. */
  readonly found: SharedWord | null;
}

const NONE = { side: 'leaving', span: null, found: null } as const;

/** The word that is being looked for; not stored. */
export const useWord = create<WordChoice>(() => ({ joinId: null, ...NONE }));

export const selectSpan = (joinId: string, side: ShotSide, span: SecondsSpan | null): void =>
  useWord.setState({ joinId, side, span, found: null });

export const keepFound = (found: SharedWord | null): void => useWord.setState({ found });
