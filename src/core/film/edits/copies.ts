import type { Draft } from 'immer';
import { isSame } from '../patches';
import { plainLayer } from '../composition';
import type { FilmDraft, NewId } from '../drafts';
import type { Film, Join, Matte, Shot } from '../film';
import { isChangedByHand, markOfMade } from '../made-mark';
import { withIds } from '../with-ids';

/** Copying shots and joins, so that what was made of them stays made. */

/** Whether more was made of a join than the plain cut that any two neighbours have. */
export function isFinished(join: Join): boolean {
  const { layers, before, after, carriers, finish, recipe, camera, byDepth, sound, hits = [], interest = [] } = join;
  if (recipe !== undefined || before + after > 0 || camera !== undefined || byDepth === true || sound !== undefined) return true;
  if (carriers.length + finish.length + hits.length + interest.length > 0) return true;
  const plain = (['leaving', 'entering'] as const).map((side, i) => plainLayer(layers[i]?.id ?? '', layers[i]?.name ?? '', side));
  return !isSame(layers, plain);
}

/** The mattes that a join's or shot's recipe made, under the names they have for another. */
function ownedIds(mattes: readonly Matte[], owner: string, next: string): [string, string][] {
  // ids of what is owned hold the owner's; where they were shortened for length they do not
  return mattes
    .filter((m) => m.ownerId === owner)
    .map((m) => [m.id, m.id.includes(owner) ? m.id.replace(owner, next) : `${next}-${m.name}`.slice(0, 64)]);
}

/** Adds copies of mattes under other ids. Those that are there already stay. */
function addCopies(film: FilmDraft, mattes: readonly Matte[], ids: ReadonlyMap<string, string>): void {
  for (const matte of mattes) {
    const copy = withIds(matte, ids);
    if (!film.mattes.some((m) => m.id === copy.id)) film.mattes.push(copy as Draft<Matte>);
  }
}

/** The join as one of other shots or names; what its recipe made counts as made by it still. */
function joinAs(join: Join, before: Pick<Film, 'mattes'>, after: Pick<Film, 'mattes'>, ids: ReadonlyMap<string, string>): Join {
  const next = withIds(join, ids);
  if (join.recipe === undefined || join.recipe.made === '' || isChangedByHand(before, join)) return next;
  return { ...next, recipe: { ...next.recipe!, made: markOfMade(after, next) } };
}

/** Lets a join that leaves one shot leave another that shows the same there. */
export function leaveFrom(film: FilmDraft, join: Join, from: Shot, to: Shot): void {
  const owned = ownedIds(film.mattes, from.id, to.id);
  const ids = new Map([[from.id, to.id], ...owned]);
  const before = { mattes: [...film.mattes] };
  addCopies(film, film.mattes.filter((m) => owned.some(([id]) => id === m.id)), ids); // prettier-ignore
  film.joins[film.joins.findIndex((j) => j.id === join.id)] = joinAs(join, before, film, ids) as Draft<Join>;
}

/** Shots that were copied, with the joins between them and what those own. Plain data, as it was in the film then. */
export interface CopiedShots {
  readonly filmId: string;
  readonly shots: readonly Shot[];
  readonly joins: readonly Join[];
  readonly mattes: readonly Matte[];
}

/** A copy of shots in the order of the reel. */
export function copyShots(film: Film, filmId: string, shotIds: ReadonlySet<string>): CopiedShots {
  const shots = film.shots.filter((s) => shotIds.has(s.id));
  const next = new Map(shots.slice(1).map((s, i) => [shots[i]!.id, s.id]));
  const joins = film.joins.filter((j) => next.get(j.leavingShotId) === j.enteringShotId);
  const owners = new Set([...shots, ...joins].map((o) => o.id));
  return { filmId, shots, joins, mattes: film.mattes.filter((m) => m.ownerId !== undefined && owners.has(m.ownerId)) };
}

/** The ids that all things in a join go by of their own. */
const idsIn = ({ id, layers, carriers, finish, hits = [], interest = [] }: Join): string[] => [
  id,
  ...[...layers, ...carriers, ...finish, ...hits, ...interest, ...layers.flatMap((l) => l.effects)].map((t) => t.id),
];

/** Copies of what was copied, under ids of their own. */
export function freshCopies({ shots, joins, mattes }: CopiedShots, film: FilmDraft, newId: NewId): readonly Shot[] {
  const ids = new Map([...shots.map((s) => s.id), ...joins.flatMap(idsIn)].map((id) => [id, newId()]));
  for (const owner of [...shots, ...joins]) for (const [id, next] of ownedIds(mattes, owner.id, ids.get(owner.id)!)) ids.set(id, next);
  addCopies(film, mattes, ids);
  for (const join of joins) film.joins.push(joinAs(join, { mattes }, film, ids) as Draft<Join>);
  return shots.map((s) => withIds(s, ids));
}
