import { moveShots } from '../../core/film/edits/reel';
import { stretchShot } from '../../core/film/edits/shots';
import { rollCut, slideShot, slipShot, trimEnd, trimStart } from '../../core/film/edits/trims';
import type { FilmDraft } from '../../core/film/drafts';
import type { Film, Media, Shot } from '../../core/film/film';
import { nearestTarget, snapTargets } from '../../core/film/snap';
import { placedJoins, startOfShot } from '../../core/film/timing';

/** Dragging shots and their ends, as numbers: what is held, where the pointer is, what it comes to. */

/** What a drag does: shots move; an end is trimmed, changes the speed, or is rolled over the cut; the pictures slip, or the shot slides. */
export type DragKind = 'move' | 'start' | 'end' | 'stretch' | 'roll' | 'slip' | 'slide';

export interface Drag {
  readonly kind: DragKind;
  /** The shot that is held. */
  readonly id: string;
  /** All that move with it. */
  readonly ids: ReadonlySet<string>;
  /** CSS pixels of the page where it was taken hold of. */
  readonly from: number;
  /** CSS pixels it was dragged since. */
  readonly dx: number;
  /** Film frames an end, or the pictures, are moved by. */
  readonly by: number;
  /** Where moved shots would stand among the others. */
  readonly index: number;
}

/** Keys that are held as a drag begins. */
export interface HeldKeys {
  readonly shiftKey: boolean;
  readonly altKey: boolean;
}

/** What is dragged of a shot: itself, or an end. */
export type Grip = 'body' | 'start' | 'end';

/** What a grip does with these keys held. */
export function dragKind(grip: Grip, { shiftKey, altKey }: HeldKeys): DragKind {
  if (grip === 'body') return altKey ? (shiftKey ? 'slide' : 'slip') : 'move';
  if (altKey) return 'roll';
  return grip === 'end' && shiftKey ? 'stretch' : grip;
}

/** Pixels below which a drag is a click. */
export const DRAG_THRESHOLD_PX = 4;

export const isMoved = ({ dx }: Pick<Drag, 'dx'>): boolean => Math.abs(dx) >= DRAG_THRESHOLD_PX;

/** Where shots that are dropped at a film frame would stand, among the others. */
export const indexAt = (film: Film, at: number, without: ReadonlySet<string>): number =>
  film.shots.filter((s) => !without.has(s.id) && startOfShot(film, s.id) + s.length / 2 < at).length;

/** Film frame before which shots would be laid at place `index` among the others. */
export function insertionFrame(film: Film, index: number, without: ReadonlySet<string>): number {
  const next = film.shots.filter((s) => !without.has(s.id))[index];
  return next === undefined ? film.shots.reduce((sum, s) => sum + s.length, 0) : startOfShot(film, next.id);
}

/** Frames an end is moved by: to a cut, a beat or a marker that what is behind it would begin on, where one lies within `reach` frames. */
export function snappedBy(film: Film, media: Media, { kind, id }: Pick<Drag, 'kind' | 'id'>, frames: number, reach: number): number {
  const shot = film.shots.find((s) => s.id === id);
  if (shot === undefined || reach === 0 || kind === 'slip') return Math.round(frames);
  const way = kind === 'start' ? -1 : 1;
  const start = startOfShot(film, shot.id);
  const edge = kind === 'slide' || kind === 'roll' ? start : start + shot.length;
  const rest = film.shots.slice(film.shots.indexOf(shot)).map((s) => s.id);
  const found = nearestTarget(edge + way * frames, snapTargets(film, media, rest), reach);
  return Math.round(found === null ? frames : way * (Math.round(found) - edge));
}

/** A change of the film by its name. */
export interface NamedChange {
  readonly name: string;
  readonly change: (film: FilmDraft) => void;
}

/** The cut that a roll moves: the one at the shot's start. */
export const rolledCut = (film: Film, shot: Shot): ReturnType<typeof placedJoins>[number] | undefined =>
  placedJoins(film).find((p) => p.entering.id === shot.id);

/** What a drag does to a film; null where it does nothing. */
export function changeOf(film: Film, media: Media, drag: Drag, newId: () => string): NamedChange | null {
  const { kind, id, ids, by, index } = drag;
  const shot = film.shots.find((s) => s.id === id);
  const medium = shot === undefined ? undefined : media.get(shot.mediumId);
  if (shot === undefined) return null;
  const { name } = shot;
  if (kind === 'move') {
    const isThere = film.shots.slice(index, index + ids.size).every((s) => ids.has(s.id));
    if (!isMoved(drag) || isThere) return null;
    return { name: `Moved ${ids.size === 1 ? name : `${ids.size} shots`}`, change: (d) => moveShots(d, ids, index, newId) };
  }
  if (medium === undefined || by === 0) return null;
  switch (kind) {
    case 'start':
      return { name: `Trimmed the start of ${name}`, change: (d) => trimStart(d, medium, id, by, newId) };
    case 'end':
      return { name: `Trimmed the end of ${name}`, change: (d) => trimEnd(d, medium, id, by, newId) };
    case 'stretch':
      return { name: `Speed of ${name}`, change: (d) => stretchShot(d, medium, id, Math.max(1, shot.length + by), newId) };
    case 'slip':
      // pictures go with the pointer: what comes earlier is to the left
      return { name: `Slipped ${name}`, change: (d) => slipShot(d, medium, id, -by) };
    case 'slide':
      return { name: `Slid ${name}`, change: (d) => slideShot(d, media, id, by, newId) };
    case 'roll': {
      const cut = rolledCut(film, shot);
      return cut === undefined ? null : { name: `Rolled the cut of ${cut.join.name}`, change: (d) => rollCut(d, media, cut.join.id, by) };
    }
  }
}
