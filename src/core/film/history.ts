import { produce, setAutoFreeze, type Draft, type Patch } from 'immer';
import type { Film } from './film';
import { patched, patchesBetween } from './patches';

// types keep films as they are; freezing one would go through all of it with every edit
setAutoFreeze(false);

/** A named change of a film as it is stored: what it did, and what takes it back. */
export interface Edit {
  readonly name: string;
  /** An undo or redo is an edit of its own that refers to the revision it takes back or brings back. */
  readonly kind: 'edit' | 'undo' | 'redo';
  /** Revision of the edit that an undo takes back or a redo brings back; null for a plain edit. */
  readonly target: number | null;
  readonly patches: readonly Patch[];
  readonly inverse: readonly Patch[];
}

/** An edit in its place: it made this revision of the film. */
export interface StoredEdit extends Edit {
  readonly revision: number;
  /** Its own for all time: an edit that arrives twice is stored once. */
  readonly id: string;
  /** The window it was made in; null where that is not known. */
  readonly window: string | null;
  /** Of what a job did, the revision the film had when it was asked for: it stands there among what was made. Null for all else. */
  readonly askedAt: number | null;
}

/** The film after a change; the same film when it changes nothing. */
export const changedFilm = (film: Film, change: (draft: Draft<Film>) => void): Film =>
  produce(film, (draft) => {
    change(draft);
  });

/** Runs `change` on a copy of the film; null when it changed nothing. The patches are as small as what changed. */
export function makeEdit(
  film: Film,
  name: string,
  change: (draft: Draft<Film>) => void,
): { readonly film: Film; readonly edit: Edit } | null {
  const next = changedFilm(film, change);
  const patches = patchesBetween(film, next);
  if (patches.length === 0) return null;
  return { film: next, edit: { name, kind: 'edit', target: null, patches, inverse: patchesBetween(next, film) } };
}

/** @throws RangeError when a patch does not fit the film. */
export const applyEdit = (film: Film, { patches }: Edit): Film => patched(film, patches);

const FOLLOWS = ' follows';

/** The name of an edit that the program makes of itself, in answer to the one before: it is taken back and brought back with that. */
export const followingName = (subject: string): string => `${subject}${FOLLOWS}`;

export const isFollowing = ({ name }: Pick<Edit, 'name'>): boolean => name.endsWith(FOLLOWS);

export interface UndoStacks {
  readonly undo: readonly StoredEdit[];
  readonly redo: readonly StoredEdit[];
}

/** The list with an edit in its place: after all that was there when it was asked for, and what followed of that. */
function withEdit(list: readonly StoredEdit[], edit: StoredEdit): StoredEdit[] {
  const { askedAt } = edit;
  if (askedAt === null) return [...list, edit];
  let at = list.findIndex((e) => (e.askedAt ?? e.revision) > askedAt);
  if (at < 0) at = list.length;
  while (at < list.length && isFollowing(list[at]!)) at++;
  return [...list.slice(0, at), edit, ...list.slice(at)];
}

const everyone = (): boolean => true;

/**
 * What can be taken back and brought back, newest last, after all of `edits` (oldest first). With `isOwn` only edits of one's own
 * count; what another has taken back, or brought back, is no longer there for oneself. What a job did stands where it was asked for, and takes
 * nothing away of what can be brought back since.
 */
export function undoStacks(edits: readonly StoredEdit[], isOwn: (edit: StoredEdit) => boolean = everyone): UndoStacks {
  const byRevision = new Map(edits.map((e) => [e.revision, e]));
  let undo: StoredEdit[] = [];
  let redo: StoredEdit[] = [];
  let lastStep = 0;
  for (const edit of edits) {
    const target = edit.target === null ? undefined : byRevision.get(edit.target);
    if (edit.kind === 'edit') {
      if (!isOwn(edit)) continue;
      undo = withEdit(undo, edit);
      if (edit.askedAt === null || edit.askedAt >= lastStep) redo = [];
      continue;
    }
    lastStep = edit.revision;
    undo = undo.filter((e) => e !== target);
    redo = redo.filter((e) => e !== target);
    if (target !== undefined && isOwn(edit)) (edit.kind === 'undo' ? redo : undo).push(target);
  }
  return { undo, redo };
}

/**
 * The edit that keeps `step`, which takes back or brings back an edit among `edits` (oldest first), from being laid on the film:
 * one that came after that edit, still holds, and touches the same; null when none does.
 */
export function inTheWay(edits: readonly StoredEdit[], step: Edit): StoredEdit | null {
  const isHeld = new Map<number, boolean>();
  for (const edit of edits) isHeld.set(edit.target ?? edit.revision, edit.kind !== 'undo');
  const later = edits.filter((e) => e.kind === 'edit' && e.revision > step.target! && isHeld.get(e.revision) === true);
  return later.find((e) => !areApart(e, step)) ?? null;
}

/** The edit that takes back `target`, which is the newest undoable one. */
export const undoEdit = (target: StoredEdit): Edit => ({
  name: target.name,
  kind: 'undo',
  target: target.revision,
  patches: target.inverse,
  inverse: target.patches,
});

/** The edit that brings back `target`, which is the newest one taken back. */
export const redoEdit = (target: StoredEdit): Edit => ({
  name: target.name,
  kind: 'redo',
  target: target.revision,
  patches: target.patches,
  inverse: target.inverse,
});

type Path = readonly (string | number)[];

/** The place an edit's patch disturbs: a list as a whole where elements come or go, else the value itself. */
function placeOf({ op, path }: Patch): Path {
  const last = path.at(-1);
  const movesElements = last === 'length' || (typeof last === 'number' && op !== 'replace');
  return movesElements ? path.slice(0, -1) : path;
}

/** Places by their steps: the end of a place is marked. */
interface Places {
  isEnd: boolean;
  readonly next: Map<string | number, Places>;
}

const noPlaces = (): Places => ({ isEnd: false, next: new Map() });

function placesOf(patches: readonly Patch[]): Places {
  const root = noPlaces();
  for (const patch of patches) {
    let at = root;
    for (const step of placeOf(patch)) {
      const next = at.next.get(step) ?? noPlaces();
      at.next.set(step, next);
      at = next;
    }
    at.isEnd = true;
  }
  return root;
}

/** True where a place lies within one of `places`, or one of them within it. */
function touches(place: Path, places: Places): boolean {
  let at = places;
  for (const step of place) {
    if (at.isEnd) return true;
    const next = at.next.get(step);
    if (next === undefined) return false;
    at = next;
  }
  return true;
}

/** True when neither of the edits touches anything that the other touches or stands in, so that their order is of no matter. */
export function areApart(a: Edit, b: Edit): boolean {
  if (a.patches.length === 0 || b.patches.length === 0) return true;
  const places = placesOf(b.patches);
  return a.patches.every((p) => !touches(placeOf(p), places));
}
