import type { FilmDraft } from './drafts';
import type { Film, Media } from './film';
import { filmLength, mediumFrameAt, startOfShot } from './timing';

/** A version of a film as it is listed. */
export interface VersionEntry {
  readonly id: string;
  readonly name: string;
  readonly revision: number;
  /** ms */
  readonly madeAt: number;
  /** Kept by the program rather than by a hand. */
  readonly isByItself: boolean;
  readonly strip: VersionStrip;
}

/** What a version shows: its length in film frames, and medium frames of it from beginning to end. */
export interface VersionStrip {
  readonly shots: number;
  readonly length: number;
  readonly pictures: readonly { readonly mediumId: string; readonly frame: number }[];
}

const PICTURES = 6;

/** The strip of a film: from each part of it the medium frame in the middle, where a shot shows one. */
export function stripOf(film: Film, media: Media): VersionStrip {
  const length = filmLength(film);
  const pictures = Array.from({ length: PICTURES }, (_, i) => {
    const at = Math.floor(((i + 0.5) * length) / PICTURES);
    const shot = film.shots.find((s) => at < startOfShot(film, s.id) + s.length);
    const medium = shot === undefined ? undefined : media.get(shot.mediumId);
    if (shot === undefined || medium === undefined) return null;
    return { mediumId: medium.id, frame: mediumFrameAt(film, shot, medium, at - startOfShot(film, shot.id)) };
  });
  return { shots: film.shots.length, length, pictures: pictures.filter((p) => p !== null) };
}

/** Makes a film what it was: all of it, by one edit that can be taken back. */
export function goBackTo(film: FilmDraft, version: Film): void {
  const draft = film as unknown as Record<string, unknown>;
  for (const field of Object.keys(draft)) if (!(field in version)) delete draft[field];
  for (const [field, value] of Object.entries(version)) draft[field] = structuredClone(value);
}
