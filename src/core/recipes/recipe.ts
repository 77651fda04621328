import type { ShotSide } from '../film/composition';
import type { Film, Join, Matte, Media } from '../film/film';
import type { Recipe } from '../film/recipe-settings';
import { mediumOf, type PlacedJoin } from '../film/timing';

/** One setting of a recipe, from which its row in the panel is made. */
export type Field<S> = {
  readonly [K in keyof S & string]: {
    readonly name: K;
    readonly label: string;
    /** Only shown where this holds. */
    readonly when?: (settings: S) => boolean;
  } & (
    | { readonly kind: 'choice'; readonly options: readonly S[K][] }
    | { readonly kind: 'switch' }
    | {
        readonly kind: 'number';
        readonly unit: string;
        readonly min: number;
        readonly max: number;
        readonly step: number;
        /** What is shown for 1 of the setting. */
        readonly factor?: number;
      }
    /** A matte of one of the shots, or of any medium; `orNone` where it may do without. */
    | { readonly kind: 'matte'; readonly side: ShotSide | 'any' | ((settings: S) => ShotSide); readonly orNone?: string }
    /** Mattes of any medium, in order. */
    | { readonly kind: 'mattes'; readonly most: number }
    | { readonly kind: 'medium' }
    | { readonly kind: 'colour' }
    /** A frame of one of the shots' media; `null` is the one at the cut. */
    | { readonly kind: 'moment'; readonly side: (settings: S) => ShotSide }
    /** How the entering shot lies over the leaving one; `within` where one shows a part of the other. */
    | { readonly kind: 'pin'; readonly within?: boolean }
  );
}[keyof S & string];

/** What a recipe takes, as it is asked for. */
export interface Need {
  readonly what: 'outline' | 'hole' | 'subject' | 'lines';
  /** 'needs …' */
  readonly text: string;
}

/** What a kind of join says of itself before it is made. */
export interface RecipeKind {
  readonly kind: Recipe['kind'];
  readonly name: string;
  /** 'Made it …' */
  readonly made: string;
  /** In half a sentence. */
  readonly does: string;
  /** Null for one that needs nothing but two shots. */
  readonly need: Need | null;
}

/** Every kind of join that works, in the order it is offered. */
export const RECIPES: readonly RecipeKind[] = [
  {
    kind: 'wipe past',
    name: 'Wipe past',
    made: 'a wipe past',
    does: 'a passing object reveals the next shot',
    need: { what: 'outline', text: 'an outline that follows' },
  },
  {
    kind: 'zoom through',
    name: 'Zoom through',
    made: 'a zoom through',
    does: 'into a hole, out into the next shot',
    need: { what: 'hole', text: 'a hole' },
  },
  {
    kind: 'arrive',
    name: 'Arrive',
    made: 'an arrival',
    does: 'the subject of the next shot arrives before its background',
    need: { what: 'subject', text: 'a subject' },
  },
  {
    kind: 'held cut-out',
    name: 'Held cut-out',
    made: 'a held cut-out',
    does: 'a cut-out of a held frame lands, or opens like a window',
    need: { what: 'subject', text: 'a subject' },
  },
  {
    kind: 'panels on the beat',
    name: 'Panels on the beat',
    made: 'panels on the beat',
    does: 'the next shot lands slice by slice',
    need: null,
  },
  {
    kind: 'tiles in space',
    name: 'Tiles in space',
    made: 'tiles in space',
    does: 'shots hang as tiles in depth, and the camera travels',
    need: null,
  },
  { kind: 'drop through', name: 'Drop through', made: 'a drop through', does: 'out at the bottom, in again at the top', need: null },
  { kind: 'bridge', name: 'Bridge', made: 'a bridge', does: 'from a wide view into the same thing close up', need: null },
  { kind: 'melt', name: 'Melt', made: 'a melt', does: 'matching parts flow into each other', need: null },
  {
    kind: 'feature morph',
    name: 'Feature morph',
    made: 'a feature morph',
    does: 'lines drawn in both shots become each other',
    need: { what: 'lines', text: 'a line drawn in each' },
  },
  { kind: 'dissolve', name: 'Dissolve', made: 'a dissolve', does: 'one shot fades into the other', need: null },
];

export const recipeKind = (kind: Recipe['kind']): RecipeKind => RECIPES.find((r) => r.kind === kind)!;

/** What of a shot could serve a need: its mattes, and tracks whose region could become one. */
export interface Offer {
  readonly kind: 'matte' | 'track';
  readonly id: string;
  readonly name: string;
}

/** Whether a matte shows anything: an outline is closed, strokes are painted or frames brought in. */
export const isMade = (matte: Film['mattes'][number]): boolean =>
  matte.key !== undefined ||
  (matte.painted === undefined ? matte.outline.closed : matte.painted.length > 0 || (matte.frameEdits ?? []).length > 0);

/** Whether a matte was made by the recipe of a join, which keeps it as its settings say: it is no one's choice for another. */
export const isOfRecipe = ({ ownerId }: Pick<Matte, 'ownerId'>): boolean => ownerId !== undefined;

/** Whether a matte is a hole in a join: what it encloses is taken out there, and nothing of it is shown as a thing of its own. */
export function isHoleIn({ layers, recipe }: Pick<Join, 'layers' | 'recipe'>, matteId: string): boolean {
  if (recipe?.kind === 'zoom through' && recipe.settings.matteId === matteId) return true;
  const sides = layers.flatMap((l) => l.mattes.flatMap((u) => (u.matteId === matteId ? [u.side] : [])));
  return sides.length > 0 && sides.every((side) => side === 'outside');
}

/** Whether a matte is a hole in another join than this one. */
export const isHoleElsewhere = (film: Film, joinId: string, matteId: string): boolean =>
  film.joins.some((j) => j.id !== joinId && isHoleIn(j, matteId));

/** What is there for a need, the likeliest first. */
export function offersFor(film: Film, placed: PlacedJoin, need: Need | null): readonly Offer[] {
  // lines are drawn for the join they serve
  if (need === null || need.what === 'lines') return [];
  const { what } = need;
  const { mediumId } = what === 'subject' ? placed.entering : placed.leaving;
  const mattes = film.mattes.filter((m) => m.mediumId === mediumId && isMade(m) && !isOfRecipe(m));
  const fits = mattes.filter((m) =>
    what === 'outline' ? m.painted === undefined && m.key === undefined : what === 'hole' || !isHoleElsewhere(film, placed.join.id, m.id),
  );
  const tracks = what === 'hole' ? (film.tracks ?? []).filter((t) => t.mediumId === mediumId && t.model !== 'position') : [];
  return [
    ...fits.map((m): Offer => ({ kind: 'matte', id: m.id, name: m.name })),
    ...tracks.filter((t) => !fits.some((m) => m.trackId === t.id)).map((t): Offer => ({ kind: 'track', id: t.id, name: t.name })),
  ];
}

/** Whether a kind could be made at once from what is there. */
export const isThere = (film: Film, placed: PlacedJoin, kind: RecipeKind): boolean =>
  kind.need === null || offersFor(film, placed, kind.need).length > 0;

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

/** Whether both media of a join are ready. */
export const isReady = (media: Media, placed: PlacedJoin): boolean =>
  mediumOf(media, placed.leaving) !== null && mediumOf(media, placed.entering) !== null;
