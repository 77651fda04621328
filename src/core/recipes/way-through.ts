import { type Film, type Media, type Recipe } from '../film/film';
import { mediumOf, shotFrameAt, startsAround, type PlacedJoin } from '../film/timing';
import { undrawnLine, unlikePairs } from './feature-morph';
import type { HoleShape } from './hole-shape';
import { isMade, isReady, offersFor, recipeKind } from './recipe';
import { wipeMatte, type WipeReport } from './wipe-past-report';

/** The next thing a recipe lacks: where it is done, and what to do in one sentence. */
export interface NextThing {
  readonly step: 'pair' | 'mask' | 'track' | 'move';
  readonly text: string;
  /** The matte it is about, to be opened. */
  readonly matteId: string | null;
  /** A frame to go to. */
  readonly frame: number | null;
}

/** What is known of a recipe's hole: measured frames of a zoom, or the report of a wipe. */
export interface KnownOfRecipe {
  readonly holes: readonly (HoleShape | null)[] | undefined;
  readonly report: WipeReport | null;
}

const next = (step: NextThing['step'], text: string, matteId: string | null = null, frame: number | null = null): NextThing => ({
  step,
  text,
  matteId,
  frame,
});

/** The first thing that a join made by a recipe lacks; null when nothing does, or the join is made by none. */
export function nextThing(film: Film, media: Media, placed: PlacedJoin, known: KnownOfRecipe): NextThing | null {
  const { recipe } = placed.join;
  if (recipe === undefined) return null;
  if (!isReady(media, placed)) return next('pair', 'One of the two shots is not ready yet; it goes on by itself when it is.');
  if (recipe.kind === 'melt' || recipe.kind === 'dissolve' || recipe.kind === 'feature morph') {
    if (placed.to - placed.from < 2) return next('pair', 'Give the overlap some frames: in them one shot goes over into the other.');
    return recipe.kind === 'feature morph' ? nextOfFeatures(film, placed, recipe) : null;
  }
  if (recipe.kind === 'arrive') return nextOfArrival(film, placed, recipe);
  return recipe.kind === 'zoom through' ? nextOfZoom(film, media, placed, recipe, known) : nextOfWipe(film, placed, known);
}

function nextOfArrival(film: Film, placed: PlacedJoin, { settings }: Extract<Recipe, { kind: 'arrive' }>): NextThing | null {
  if (placed.to - placed.from < 2) return next('pair', 'Give the overlap some frames: in them the subject arrives.');
  const matte = film.mattes.find((m) => m.id === settings.matteId);
  const { name } = placed.entering;
  if (matte === undefined) return next('move', `Choose on the right what arrives, or paint over it in ${name}.`);
  return isMade(matte)
    ? null
    : next('mask', `Paint over what arrives in ${name}: a stroke or two inside it are enough.`, matte.id, placed.cut);
}

function nextOfFeatures(film: Film, placed: PlacedJoin, { settings }: Extract<Recipe, { kind: 'feature morph' }>): NextThing | null {
  if (settings.pairs.length === 0) return next('move', 'Add a pair of lines on the right: what they follow goes over into one another.');
  const lacking = undrawnLine(film, placed);
  if (lacking !== null)
    return next(
      'mask',
      `Draw along something in ${placed[lacking.side].name}, point by point: around it and closed, or open.`,
      lacking.matteId,
      lacking.side === 'leaving' ? placed.cut - 1 : placed.cut,
    );
  const unlike = unlikePairs(film, settings.pairs)[0];
  return unlike === undefined
    ? null
    : next('mask', 'One line of a pair is closed, the other open: close both, or draw both open.', unlike.leaving, placed.cut - 1);
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
    return next(
      'mask',
      `Paint over the hole in ${leaving.name}: a stroke or two inside it are enough.`,
      matte.id,
      lastShown(film, media, placed),
    );
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
  if (found === null) return next('pair', 'The layer of the leaving shot has lost its outline: choose the kind of join again.');
  const { matte } = found;
  if (!matte.outline.closed) return next('mask', 'Press Find it, or draw an outline around what lies behind the trailing edge.', matte.id);
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
