import { applyPatches, enablePatches, produceWithPatches, type Draft, type Patch } from 'immer';
import type { Film } from './film';

enablePatches();

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
}

/** Runs `change` on a copy of the film; null when it changed nothing. */
export function makeEdit(
  film: Film,
  name: string,
  change: (draft: Draft<Film>) => void,
): { readonly film: Film; readonly edit: Edit } | null {
  const [next, patches, inverse] = produceWithPatches(film, (draft) => {
    change(draft);
  });
  return patches.length === 0 ? null : { film: next, edit: { name, kind: 'edit', target: null, patches, inverse } };
}

/** @throws Error when a patch does not fit the film. */
export const applyEdit = (film: Film, edit: Edit): Film => applyPatches(film, edit.patches as Patch[]);

/** What can be taken back and brought back, newest last, after all of `edits` (oldest first). */
export function undoStacks(edits: readonly StoredEdit[]): { readonly undo: readonly StoredEdit[]; readonly redo: readonly StoredEdit[] } {
  const byRevision = new Map(edits.map((e) => [e.revision, e]));
  const undo: StoredEdit[] = [];
  const redo: StoredEdit[] = [];
  for (const edit of edits) {
    const target = edit.target === null ? undefined : byRevision.get(edit.target);
    if (edit.kind === 'edit') {
      undo.push(edit);
      redo.length = 0;
    } else if (edit.kind === 'undo') {
      undo.pop();
      if (target !== undefined) redo.push(target);
    } else {
      redo.pop();
      if (target !== undefined) undo.push(target);
    }
  }
  return { undo, redo };
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

const isWithin = (inner: Path, outer: Path): boolean => outer.every((step, i) => inner[i] === step);

/** True when neither of the edits touches anything that the other touches or stands in, so that their order is of no matter. */
export function areApart(a: Edit, b: Edit): boolean {
  const places = b.patches.map(placeOf);
  return a.patches.map(placeOf).every((p) => places.every((q) => !isWithin(p, q) && !isWithin(q, p)));
}
