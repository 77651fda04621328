import type { FilmDraft } from './drafts';
import type { Film, Join } from './film';

/** What a mark is taken of: a film's mattes, and a join with its shots. */
type Marked = Pick<Join, 'id' | 'leavingShotId' | 'enteringShotId' | 'layers' | 'carriers' | 'camera'>;

/**
 * A mark of what a recipe made: layers, carriers, camera and the outlines that are the join's own. Without what a hand may change of it freely: names,
 * what is shown, and how mattes' edges are drawn.
 */
export function markOfMade(film: Pick<Film, 'mattes'>, { id, leavingShotId, enteringShotId, layers, carriers, camera }: Marked): string {
  const used = new Set(layers.flatMap((l) => l.mattes.map((m) => m.matteId)));
  const own = film.mattes.filter((m) => used.has(m.id) && [id, leavingShotId, enteringShotId].includes(m.ownerId ?? ''));
  const text =
    JSON.stringify([
      layers.map(({ name: _, visible: __, mattes, ...rest }) => [sorted(rest), mattes.map((m) => [m.matteId, m.side])]),
      carriers.map(sorted),
      camera === undefined ? null : sorted(camera),
    ]) + (own.length === 0 ? '' : JSON.stringify(own.map((m) => [m.id, sorted(m.outline), sorted(m.key ?? null)])));
  // FNV-1a, twice with other seeds
  const hash = (seed: number): number => {
    let h = seed;
    for (let i = 0; i < text.length; i++) h = Math.imul(h ^ text.charCodeAt(i), 16777619);
    return h >>> 0;
  };
  return hash(2166136261).toString(36) + hash(84696351).toString(36);
}

/** The fields of a thing in the order of their names, whatever order they were set in. */
function sorted(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(sorted);
  if (typeof value !== 'object' || value === null) return value;
  return Object.entries(value)
    .filter(([, v]) => v !== undefined)
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([k, v]) => [k, sorted(v)]);
}

/** Whether something that a recipe made was changed by hand since. */
export const isChangedByHand = (film: Pick<Film, 'mattes'>, join: Join): boolean =>
  join.recipe !== undefined && join.recipe.made !== '' && join.recipe.made !== markOfMade(film, join);

/** Does something to a film's joins; what their recipes made still counts as made by them, where it did before. */
export function keepingMarks(film: FilmDraft, change: () => void): void {
  const made = new Set(
    film.joins.filter((j) => j.recipe !== undefined && j.recipe.made !== '' && !isChangedByHand(film, j)).map((j) => j.id),
  );
  change();
  for (const join of film.joins) if (made.has(join.id)) join.recipe!.made = markOfMade(film, join);
}
