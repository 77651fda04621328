import type { Draft } from 'immer';
import type { FilmDraft } from '../film/drafts';
import { setOverlap, spreadOverlap } from '../film/edits';
import { byId, type Film, type Join, type Media } from '../film/film';
import type { Recipe, RecipeName, SettingsByKind } from '../film/recipe-settings';
import { placeJoin, type PlacedJoin } from '../film/timing';
import type { FramePlan } from '../plan/frame-plan';
import { arrive } from './arrive';
import { bridge } from './bridge';
import type { AllMeasured, ComposedKind, Measured } from './composed-kind';
import { cutOut } from './cut-out';
import { dissolve } from './dissolve';
import { dropThrough } from './drop-through';
import { featureMorph } from './feature-morph';
import { layMade } from './made-layers';
import { melt } from './melt';
import { isChangedByHand } from './recipe';
import { panels } from './panels';
import { tiles } from './tiles';

/** Kinds of join that follow from their settings at once; a wipe follows its outline, a zoom is solved. */
export type ComposedName = Exclude<RecipeName, 'wipe past' | 'zoom through'>;

export const COMPOSED: { readonly [K in ComposedName]: ComposedKind<SettingsByKind[K]> } = {
  arrive,
  'held cut-out': cutOut,
  'panels on the beat': panels,
  'tiles in space': tiles,
  'drop through': dropThrough,
  bridge,
  melt,
  'feature morph': featureMorph,
  dissolve,
};

export const isComposed = (kind: RecipeName): kind is ComposedName => kind in COMPOSED;

/** Settings of whatever kind, by name. */
export type AnySettings = Record<string, unknown>;

/** A kind whatever its settings are; those of a recipe of that kind fit it. */
export const composedKind = (kind: ComposedName): ComposedKind<AnySettings> => COMPOSED[kind] as unknown as ComposedKind<AnySettings>;

const settingsOf = ({ settings }: Recipe): AnySettings => settings as unknown as AnySettings;

const NOTHING: AllMeasured = new Map();

/** The joins that are made together with this one, in order. */
export function runOf(film: Film, joinId: string): readonly string[] {
  const { recipe } = byId(film.joins, joinId, 'join');
  return recipe !== undefined && isComposed(recipe.kind) ? (composedKind(recipe.kind).run?.(film, joinId) ?? [joinId]) : [joinId];
}

/** Makes a join anew from its settings, and those that hang together with it. What is measured later is laid in later. */
export function layComposed(film: FilmDraft, media: Media, joinId: string, measured: AllMeasured = NOTHING): void {
  for (const id of runOf(film, joinId)) layOne(film, media, id, measured.get(id));
}

/** The overlap that the settings of a join ask for, whatever a hand has set; null where they ask for none. */
export function overlapAsked(film: Film, media: Media, placed: PlacedJoin): Pick<Join, 'before' | 'after'> | null {
  const { recipe } = placed.join;
  if (recipe === undefined || !isComposed(recipe.kind)) return null;
  const { overlapByHand: _, ...free } = recipe;
  const asked = { ...placed, join: { ...placed.join, recipe: free as Recipe } };
  return composedKind(recipe.kind).overlap?.(film, media, asked, settingsOf(recipe)) ?? null;
}

function layOne(film: FilmDraft, media: Media, joinId: string, measured: Measured | undefined): void {
  const join: Draft<Join> = byId(film.joins, joinId, 'join');
  const before = placeJoin(film, joinId);
  const recipe = join.recipe as Recipe | undefined;
  if (recipe === undefined || before === null || !isComposed(recipe.kind)) return;
  const kind = composedKind(recipe.kind);
  const wanted = overlapAsked(film, media, before);
  if (wanted !== null && recipe.overlapByHand !== true) setOverlap(film, joinId, wanted.before, wanted.after);
  const placed = placeJoin(film, joinId)!;
  layMade(film, join, kind.make({ film, media, join, placed, settings: settingsOf(recipe), measured }));
  if (
    kind.measures !== undefined &&
    measured === undefined &&
    kind.measures(film, media, placed, settingsOf(recipe)).some((p) => p !== null)
  )
    join.recipe!.made = '';
}

/** Gives a join of a kind an overlap of so many frames, where that kind has it. */
export function setLength(film: FilmDraft, media: Media, joinId: string, kind: ComposedName, frames: number): void {
  if (composedKind(kind).endsWithCut === true) setOverlap(film, joinId, frames, 0);
  else spreadOverlap(film, media, joinId, frames);
}

/** Makes a join one of a kind, over the overlap it has or one of the usual length. */
export function makeComposed<K extends ComposedName>(
  film: FilmDraft,
  media: Media,
  joinId: string,
  kind: K,
  settings: Partial<SettingsByKind[K]> = {},
  length?: number,
): void {
  const join: Draft<Join> = byId(film.joins, joinId, 'join');
  const { shortest, longest, usual, defaults, begin, endsWithCut = false } = composedKind(kind);
  const now = join.before + join.after;
  const before = join.recipe?.kind;
  // an overlap that shows nothing of the entering shot that runs is none for a kind that does
  const isOther = before !== undefined && isComposed(before) && (composedKind(before).endsWithCut ?? false) !== endsWithCut;
  if (isOther || now < shortest || now > longest) setLength(film, media, joinId, kind, length ?? usual);
  const placed = placeJoin(film, joinId);
  const begun = placed === null ? {} : begin?.(film, media, placed);
  // a kind and its defaults belong together
  join.recipe = { kind, settings: { ...structuredClone(defaults), ...begun, ...settings }, made: '' } as unknown as Draft<Recipe>;
  layComposed(film, media, joinId);
}

/** Changes settings of a join and makes it anew, unless a hand has changed what was made: that stays until it is asked for. */
export function setComposed<K extends ComposedName>(
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
  Object.assign(recipe.settings, change);
  if (!isOwn) layComposed(film, media, joinId, measured);
}

/** What has to be measured before a join is made as it should be; nothing for most. */
export function measuresOf(film: Film, media: Media, placed: PlacedJoin): readonly (FramePlan | null)[] {
  const { recipe } = placed.join;
  return recipe === undefined || !isComposed(recipe.kind)
    ? []
    : (composedKind(recipe.kind).measures?.(film, media, placed, settingsOf(recipe)) ?? []);
}

/** Whether a join's settings say how one shot lies over the other, which points in both may tell. */
export const asksForPin = ({ recipe }: Join): boolean =>
  recipe !== undefined && isComposed(recipe.kind) && composedKind(recipe.kind).fields.some((f) => f.kind === 'pin');
