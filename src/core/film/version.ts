import type { FilmDraft } from './drafts';
import type { Film } from './film';

/** A version of a film as it is listed. */
export interface VersionEntry {
  readonly id: string;
  readonly name: string;
  readonly revision: number;
  /** ms */
  readonly madeAt: number;
  /** Kept by the program rather than by a hand. */
  readonly isByItself: boolean;
}

/** Makes a film what it was: all of it, by one edit that can be taken back. */
export function goBackTo(film: FilmDraft, version: Film): void {
  const draft = film as unknown as Record<string, unknown>;
  for (const field of Object.keys(draft)) if (!(field in version)) delete draft[field];
  for (const [field, value] of Object.entries(version)) draft[field] = structuredClone(value);
}
