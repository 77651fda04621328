import { clamp } from '../../geometry/clamp';
import type { FilmDraft, NewId } from '../drafts';
import type { Media } from '../film';
import { handlesOf, mediumOf, overlapLimits, placeJoin } from '../timing';
import { defaultLayers, draftJoin, draftShot } from './tidy-joins';

export function renameJoin(film: FilmDraft, joinId: string, name: string): void {
  draftJoin(film, joinId).name = name;
}

/** Sets how far the overlap reaches before and past the cut, within the neighbouring joins. */
export function setOverlap(film: FilmDraft, joinId: string, before: number, after: number): void {
  const limits = overlapLimits(film, joinId);
  const join = draftJoin(film, joinId);
  join.before = clamp(Math.round(before), 0, Math.max(0, limits.before));
  join.after = clamp(Math.round(after), 0, Math.max(0, limits.after));
  if (join.recipe !== undefined && 'followsHole' in join.recipe.settings) join.recipe.settings.followsHole = false;
}

/** Spreads an overlap of `length` frames about the cut, as far as both shots have pictures and the reel has room. */
export function spreadOverlap(film: FilmDraft, media: Media, joinId: string, length: number): void {
  const placed = placeJoin(film, joinId);
  if (placed === null) return;
  const limits = overlapLimits(film, joinId);
  const spare = (side: 'leaving' | 'entering'): number => {
    const medium = mediumOf(media, placed[side]);
    if (medium === null) return length;
    const handles = handlesOf(film, placed[side], medium);
    return Math.max(0, side === 'leaving' ? handles.after : handles.before);
  };
  const most = { before: Math.min(limits.before, spare('entering')), after: Math.min(limits.after, spare('leaving')) };
  const after = Math.min(most.after, length - Math.min(most.before, Math.ceil(length / 2)));
  const join = draftJoin(film, joinId);
  join.before = Math.min(most.before, length - after);
  join.after = after;
}

/** Turns the join back into a plain cut. Mattes stay with their media. */
export function makePlainCut(film: FilmDraft, joinId: string, newId: NewId): void {
  const join = draftJoin(film, joinId);
  Object.assign(join, {
    before: 0,
    after: 0,
    layers: defaultLayers(newId, draftShot(film, join.leavingShotId).name, draftShot(film, join.enteringShotId).name),
    carriers: [],
    finish: [],
  });
  delete join.recipe;
  delete join.camera;
  delete join.byDepth;
}
