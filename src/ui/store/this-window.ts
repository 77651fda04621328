import { newId } from './new-id';
const NAME = 'irimi:window';

/** The name of this window, by which its edits are told from another's; the same after a reload. */
export function windowName(): string {
  const known = sessionStorage.getItem(NAME);
  if (known !== null) return known;
  const name = newId();
  sessionStorage.setItem(NAME, name);
  return name;
}

/** The revision a film had when this window first saw it, which is `revision` when that is now; the same after a reload. */
export function firstSeen(filmId: string, revision: number): number {
  const key = `${NAME}:${filmId}`;
  const known = sessionStorage.getItem(key);
  if (known !== null) return Number(known);
  sessionStorage.setItem(key, String(revision));
  return revision;
}
