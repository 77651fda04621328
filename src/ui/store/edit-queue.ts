import type { Film } from '../../core/film/film';
import { applyEdit, areApart, type Edit, type StoredEdit } from '../../core/film/history';
import type { AsideEdit, WaitingEdit } from './kept-edits';

/** The film as the server gives it, with the edits that led to it as far as it knows them. */
export interface Opened {
  readonly film: Film;
  readonly revision: number;
  readonly edits: readonly StoredEdit[];
}

/** The film as this window shows it: as the server had it last, with what waits to be sent laid on top. */
export interface Edited {
  readonly film: Film;
  /** All edits, those that wait with the revisions they are expected to make. */
  readonly history: readonly StoredEdit[];
  /** The revision that the server is known to have. */
  readonly revision: number;
  /** In the order in which they are sent. */
  readonly waiting: readonly WaitingEdit[];
  /** The server's film holds more than this. */
  readonly isBehind: boolean;
}

/** An edit at which the server has failed this often is not sent again by itself. */
export const MOST_FAILURES = 2;

const expected = ({ id, edit }: WaitingEdit, revision: number, window: string): StoredEdit => ({
  ...edit,
  id,
  revision,
  window,
  askedAt: null,
});

/** A step back or on, with the revision it is about as it is by now. */
const retargeted = (waits: WaitingEdit, place: (revision: number) => number): WaitingEdit =>
  waits.edit.target === null ? waits : { ...waits, edit: { ...waits.edit, target: place(waits.edit.target) } };

/** With an edit that `window` has just made; `film` is what it gives. */
export function withEdit(edited: Edited, edit: Edit, film: Film, id: string, window: string): Edited {
  const waits: WaitingEdit = { id, edit };
  const revision = edited.revision + edited.waiting.length + 1;
  return {
    ...edited,
    film,
    waiting: [...edited.waiting, waits],
    history: [...edited.history, expected(waits, revision, window)],
  };
}

/**
 * The server's film with what waits laid on it.
 * @param base the revision that the waiting edits were made on
 * @returns also the edits that are lost: the same was changed since `base`, or nobody knows what was, and all after the first such
 */
export function laidOnTop(
  { film, revision, edits }: Opened,
  base: number,
  waiting: readonly WaitingEdit[],
  window: string,
): { readonly edited: Edited; readonly lost: readonly WaitingEdit[] } {
  const since = edits.filter((e) => e.revision > base);
  const isKnown = since.length === revision - base;
  const own = new Set(waiting.map((w) => w.id));
  const others = since.filter((e) => !own.has(e.id));
  const arrived = new Map(since.map((e) => [e.id, e.revision]));
  /** Where the revisions are that the waiting edits were expected to make. */
  const places = new Map<number, number>();
  let now = film;
  const kept: WaitingEdit[] = [];
  const lost: WaitingEdit[] = [];
  for (const [i, waits] of waiting.entries()) {
    places.set(base + i + 1, arrived.get(waits.id) ?? revision + kept.length + 1);
    if (arrived.has(waits.id)) continue;
    const next = retargeted(waits, (at) => places.get(at) ?? at);
    // what builds on one that is lost is lost with it
    const fits = lost.length === 0 && isKnown && others.every((e) => areApart(e, next.edit));
    if (fits) now = applyEdit(now, next.edit);
    (fits ? kept : lost).push(next);
  }
  const history = [...edits, ...kept.map((waits, i) => expected(waits, revision + i + 1, window))];
  return { edited: { film: now, history, revision, waiting: kept, isBehind: false }, lost };
}

/** The server has stored an edit that waited, as `revision`. Where others came before it, what follows comes later by as much. */
export function acknowledged(edited: Edited, id: string, revision: number): Edited {
  const { revision: known } = edited;
  const waiting = edited.waiting.filter((w) => w.id !== id);
  const shift = revision - (known + 1);
  if (shift <= 0) return { ...edited, waiting, revision: Math.max(known, revision) };
  const moved = (at: number): number => (at > known ? at + shift : at);
  return {
    ...edited,
    revision,
    waiting: waiting.map((w) => retargeted(w, moved)),
    history: edited.history.map((e) => (e.revision > known ? { ...e, revision: moved(e.revision) } : e)),
    isBehind: true,
  };
}

/** Takes an edit out of what waits, with those that touch the same. The film still shows them, until it is fetched anew. */
export function setAside(
  edited: Edited,
  edit: WaitingEdit,
  why: string,
): { readonly edited: Edited; readonly aside: readonly AsideEdit[] } {
  const gone = [edit];
  for (const other of edited.waiting)
    if (other.id !== edit.id && !gone.every((g) => areApart(g.edit, other.edit) && other.edit.target === null)) gone.push(other);
  const ids = new Set(gone.map((g) => g.id));
  return {
    edited: { ...edited, waiting: edited.waiting.filter((w) => !ids.has(w.id)) },
    aside: gone.map((g, i) => ({ id: g.id, edit: g.edit, why: i === 0 ? why : `it builds on “${edit.edit.name}”` })),
  };
}

/** The first edit that waits was sent to a server that ended, or failed, at it. One at which it failed too often is set aside. */
export function withFailure(edited: Edited): { readonly edited: Edited; readonly aside: readonly AsideEdit[] } {
  const [first, ...rest] = edited.waiting;
  if (first === undefined) return { edited, aside: [] };
  const failed = { ...first, failures: (first.failures ?? 0) + 1 };
  const now = { ...edited, waiting: [failed, ...rest] };
  if (failed.failures < MOST_FAILURES) return { edited: now, aside: [] };
  return setAside(now, failed, 'the server failed twice when it was to be stored');
}
