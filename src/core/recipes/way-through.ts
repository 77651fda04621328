import { type Film, type Media } from '../film/film';
import type { Recipe } from '../film/recipe-settings';
import { mediumOf, shotFrameAt, startsAround, type PlacedJoin } from '../film/timing';
import { composedKind, isComposed, type AnySettings } from './composed';
import type { HoleShape } from './hole-shape';
import { next, type NextThing } from './next-thing';
import { isReady, offersFor, recipeKind } from './recipe';
import { wipeMatte, type WipeReport } from './wipe-past-report';

/** What is known of a recipe's hole: measured frames of a zoom, or the report of a wipe. */
export interface KnownOfRecipe {
  readonly holes: readonly (HoleShape | null)[] | undefined;
  readonly report: WipeReport | null;
}

/** The first thing that a join made by a recipe lacks; null when nothing does, or the join is made by none. */
export function nextThing(film: Film, media: Media, placed: PlacedJoin, known: KnownOfRecipe): NextThing | null {
  const { recipe } = placed.join;
  if (recipe === undefined) return null;
  if (!isReady(media, placed)) return next('pair', 'One of the two shots is not ready yet; it goes on by itself when it is.');
  if (isComposed(recipe.kind)) {
    const kind = composedKind(recipe.kind);
    if (placed.to - placed.from < kind.shortest)
      return next('pair', 'Give the overlap some frames: in them one shot goes over into the other.');
    return kind.lacks?.(film, placed, recipe.settings as unknown as AnySettings) ?? null;
  }
  return recipe.kind === 'zoom through' ? nextOfZoom(film, media, placed, recipe, known) : nextOfWipe(film, placed, known);
}

function nextOfZoom(
  film: Film,
  media: Media,
  placed: PlacedJoin,
  { settings }: Extract<Recipe, { kind: 'zoom through' }>,
  { holes }: KnownOfRecipe,
): NextThing | null {
  const matte = film.mattes.find((m) => m.id === settings.matteId);
  const { leaving } = placed;
  if (placed.to - placed.from < 2) return next('pair', 'Give the overlap some frames: in them the move happens.');
  if (matte === undefined) {
    const offers = offersFor(film, placed, recipeKind('zoom through').need);
    return offers.length > 0
      ? next('move', `Choose the hole on the right: ${offers.map((o) => o.name).join(', ')} ${offers.length === 1 ? 'is' : 'are'} there.`)
      : next('mask', `Paint over the hole in ${leaving.name}, or draw around it.`, null, lastShown(film, media, placed));
  }
  if (matte.painted?.length === 0 && (matte.frameEdits ?? []).length === 0)
    return next('mask', `Paint over the hole in ${leaving.name}. One or two strokes are enough.`, matte.id, lastShown(film, media, placed));
  if (matte.painted === undefined && matte.key === undefined && !matte.outline.closed)
    return next('mask', `Draw around the hole in ${leaving.name} and close the outline.`, matte.id, lastShown(film, media, placed));
  if (holes === undefined) return null;
  const there = holes.flatMap((h, i) => (h === null ? [] : [i]));
  if (there.length === 0)
    return next(
      'mask',
      `The hole is on no frame of the overlap: carry it there, frames ${placed.from} to ${placed.to - 1}.`,
      matte.id,
      placed.to - 1,
    );
  const first = holes.findIndex((h, i) => h === null && i < there.at(-1)!);
  if (first >= 0)
    return next(
      'mask',
      `The hole is missing on ${holes.slice(0, there.at(-1)).filter((h) => h === null).length} frames of the move: carry it back from ${placed.from + there[0]!} to ${placed.from}.`,
      matte.id,
      placed.from + there[0]!,
    );
  return null;
}

/** The last frame of the overlap on which the leaving shot has a picture: there the hole has to be widest. */
function lastShown(film: Film, media: Media, placed: PlacedJoin): number {
  for (let frame = placed.to - 1; frame > placed.from; frame--)
    if (mediumOf(media, placed.leaving) !== null && shotFrameAt(film, media, placed.leaving, startsAround(placed).leaving, frame) !== null)
      return frame;
  return placed.from;
}

function nextOfWipe(film: Film, placed: PlacedJoin, { report }: KnownOfRecipe): NextThing | null {
  const found = wipeMatte(film, placed);
  if (found === null) return next('pair', 'The layer of the leaving shot has lost its outline. Choose the kind of join again.');
  const { matte } = found;
  if (!matte.outline.closed)
    return next('mask', 'Press Find the trailing edge, or draw an outline around what lies behind the trailing edge.', matte.id);
  if (report !== null && report.firstHole === null)
    return next('mask', 'The outline hides nothing yet: move it into the picture where the edge has passed.', matte.id);
  if (report !== null && report.fullFrom === null)
    return next(
      'mask',
      `The outline never covers the whole frame: move its last keyframe, near ${report.widest}, until it lies outside on every side.`,
      matte.id,
      report.widest,
    );
  return null;
}
