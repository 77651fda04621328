import type { Draft } from 'immer';
import type { FilmDraft, NewId } from '../film/drafts';
import { setOverlap, spreadOverlap } from '../film/edits/joins';
import { addMatte, addOutlineOnTrack } from '../film/edits/mattes';
import { byId, type Film, type Join, type Media } from '../film/film';
import type { Recipe, RecipeName, SettingsByKind } from '../film/recipe-settings';
import { placeJoin, type PlacedJoin } from '../film/timing';
import type { AllMeasured, Given, KindOfJoin, Measured } from './kind';
import { kindNamed, settingsOf, type AnySettings } from './kinds';
import { layMade } from './made-layers';
import { isChangedByHand } from '../film/made-mark';
import { offersFor } from './offers';

const NOTHING: AllMeasured = new Map();

/** The joins that are made together with this one, in order. */
export function runOf(film: Film, joinId: string): readonly string[] {
  const { recipe } = byId(film.joins, joinId, 'join');
  return recipe === undefined ? [joinId] : (kindNamed(recipe.kind).run?.(film, joinId) ?? [joinId]);
}

/** Makes a join anew from its settings, and those that hang together with it. What is measured later is laid in later. */
export function layJoin(film: FilmDraft, media: Media, joinId: string, measured: AllMeasured = NOTHING): void {
  const { recipe } = byId<Draft<Join>>(film.joins, joinId, 'join');
  if (recipe === undefined) return;
  const { lay } = kindNamed(recipe.kind);
  if (lay !== undefined) lay(film, joinId, measured);
  else for (const id of runOf(film, joinId)) layOne(film, media, id, measured.get(id));
}

/** The overlap that the settings of a join ask for, whatever a hand has set; null where they ask for none. */
export function overlapAsked(film: Film, media: Media, placed: PlacedJoin): Pick<Join, 'before' | 'after'> | null {
  const { recipe } = placed.join;
  if (recipe === undefined) return null;
  const { overlapByHand: _, ...free } = recipe;
  const asked = { ...placed, join: { ...placed.join, recipe: free as Recipe } };
  return kindNamed(recipe.kind).overlap?.(film, media, asked, settingsOf(recipe)) ?? null;
}

function layOne(film: FilmDraft, media: Media, joinId: string, measured: Measured | undefined): void {
  const join: Draft<Join> = byId(film.joins, joinId, 'join');
  const before = placeJoin(film, joinId);
  const recipe = join.recipe as Recipe | undefined;
  if (recipe === undefined || before === null) return;
  const { make, measures } = kindNamed(recipe.kind);
  if (make === undefined) return;
  const wanted = overlapAsked(film, media, before);
  if (wanted !== null && recipe.overlapByHand !== true) setOverlap(film, joinId, wanted.before, wanted.after);
  const placed = placeJoin(film, joinId)!;
  const settings = settingsOf(recipe);
  layMade(film, join, make({ film, media, join, placed, settings, measured }));
  if (measured === undefined && (measures?.(film, media, placed, settings) ?? []).some((p) => p !== null)) join.recipe!.made = '';
}

/** Gives a join of a kind an overlap of so many frames, where that kind has it. */
export function setLength(film: FilmDraft, media: Media, joinId: string, kind: RecipeName, frames: number): void {
  if (kindNamed(kind).endsWithCut === true) setOverlap(film, joinId, frames, 0);
  else spreadOverlap(film, media, joinId, frames);
}

/** Remembers how a join is made; `layJoin` then makes it so. */
function setRecipe(join: Draft<Join>, kind: RecipeName, settings: AnySettings): void {
  join.recipe = { kind, settings, made: '' } as unknown as Draft<Recipe>;
}

const noId: NewId = () => {
  throw new RangeError('makeKind: this kind adds things of its own, and needs ids for them');
};

/** Makes a join one of a kind, over the overlap it has or one of the usual length. */
export function makeKind<K extends RecipeName>(
  film: FilmDraft,
  media: Media,
  joinId: string,
  kind: K,
  given: Partial<SettingsByKind[K]> & Given = {},
  { newId = noId, length }: { readonly newId?: NewId; readonly length?: number } = {},
): void {
  const join: Draft<Join> = byId(film.joins, joinId, 'join');
  const { start, shortest, longest, usual, defaults, begin, endsWithCut = false } = kindNamed(kind);
  if (start !== undefined) return start(film, media, joinId, given, newId);
  const now = join.before + join.after;
  const before = join.recipe?.kind;
  // an overlap that shows nothing of the entering shot that runs is none for a kind that does
  const isOther = before !== undefined && (kindNamed(before).endsWithCut ?? false) !== endsWithCut;
  if (isOther || now < shortest || now > longest) setLength(film, media, joinId, kind, length ?? usual);
  const placed = placeJoin(film, joinId);
  const begun = placed === null ? {} : begin?.(film, media, placed);
  setRecipe(join, kind, { ...structuredClone(defaults), ...begun, ...given });
  layJoin(film, media, joinId);
}

/** Makes a join one of a kind with all its settings, over the overlap it has. `matteId` serves its need where that is no setting. */
export function makeAs(
  film: FilmDraft,
  media: Media,
  joinId: string,
  kind: RecipeName,
  settings: AnySettings,
  { matteId, newId }: Given & { readonly newId: NewId },
): void {
  const { start } = kindNamed(kind);
  if (start !== undefined) return start(film, media, joinId, { matteId, ...settings }, newId);
  setRecipe(byId<Draft<Join>>(film.joins, joinId, 'join'), kind, settings);
  layJoin(film, media, joinId);
}

/** Makes a join one of a kind as a hand chooses it: on what is there for it, or on a matte that is begun for it. */
export function chooseKind(film: FilmDraft, media: Media, joinId: string, kind: RecipeName, newId: NewId): void {
  const placed = placeJoin(film, joinId);
  const { need, furnish } = kindNamed(kind);
  const matteId = placed === null ? null : matteForNeed(film, placed, need, newId);
  makeKind(film, media, joinId, kind, matteId === null ? {} : { matteId }, { newId });
  if (furnish === undefined) return;
  furnish(film, joinId, newId);
  layJoin(film, media, joinId);
}

/** The matte that serves a need: the likeliest that is there, or one that is begun to be painted; null where none is needed, or a kind begins its own. */
function matteForNeed(film: FilmDraft, placed: PlacedJoin, need: KindOfJoin<AnySettings>['need'], newId: NewId): string | null {
  const [offer] = offersFor(film, placed, need);
  if (offer !== undefined) return offer.kind === 'track' ? addOutlineOnTrack(film, offer.id, newId) : offer.id;
  const begin = (side: 'leaving' | 'entering', what: string): string =>
    addMatte(film, placed[side].mediumId, 'strokes', `${placed[side].name}, ${what}`, newId);
  if (need?.what === 'hole') return begin('leaving', 'hole');
  return need?.what === 'subject' ? begin('entering', 'subject') : null;
}

/** Changes settings of a join and makes it anew, unless a hand has changed what was made: that stays until it is asked for. */
export function setSettings<K extends RecipeName>(
  film: FilmDraft,
  media: Media,
  joinId: string,
  kind: K,
  change: Partial<SettingsByKind[K]>,
  measured?: AllMeasured,
): void {
  const { recipe } = byId<Draft<Join>>(film.joins, joinId, 'join');
  if (recipe?.kind !== kind) return;
  const isOwn = isChangedByHand(film, byId(film.joins, joinId, 'join'));
  // what was measured is of the mattes that were chosen before
  const isOtherMatte = kindNamed(kind).fields.some((f) => f.kind === 'matte' && f.name in change);
  Object.assign(recipe.settings, change);
  if (isOwn) return;
  kindNamed(kind).fit?.(film, media, joinId);
  layJoin(film, media, joinId, isOtherMatte ? NOTHING : measured);
}

/** Whether a join's settings say how one shot lies over the other, which points in both may tell. */
export const asksForPin = ({ recipe }: Join): boolean =>
  recipe !== undefined && kindNamed(recipe.kind).fields.some((f) => f.kind === 'pin');
