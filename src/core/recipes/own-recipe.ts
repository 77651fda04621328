import type { Draft } from 'immer';
import type { Carrier, Effect, Layer, LayerSource, ShotSide } from '../film/composition';
import { retimeComposition, type FrameMap } from '../film/clocks';
import type { FilmDraft, NewId } from '../film/drafts';
import { makePlainCut, setOverlap } from '../film/edits/joins';
import { addMatte } from '../film/edits/mattes';
import { byId, type Film, type Join, type Media } from '../film/film';
import { isMade, isOfRecipe } from '../film/mattes';
import type { Recipe } from '../film/recipe-settings';
import { visitJoin, visitRecipe, type Reference } from '../film/references';
import { framesText, handlesOf, mediumFrameAt, mediumOf, overlapLimits, placeJoin, type PlacedJoin } from '../film/timing';
import type { Camera } from '../motion/motion';
import { planFrame } from '../plan/plan-film';
import { beatFrames } from './beats';
import { kindNamed } from './kinds';
import { makeAs } from './making';
import { isChangedByHand } from '../film/made-mark';
import { isHoleElsewhere, isHoleIn } from './offers';

/** A join saved by its user, to be laid on other joins. */

export const OWN_RECIPE_FORMAT = 'irimi recipe';

/** What of a recipe fits itself to the join it is laid on. */
export interface Adapts {
  /** Keeps the length of that join and stretches its keys; else it brings its own length. */
  readonly length: boolean;
  /** Takes the mattes of the new shots in place of its own. */
  readonly mattes: boolean;
  /** Keys that lay on beats lie on beats again. */
  readonly beats: boolean;
}

/** A matte a recipe uses: of which shot, and under which name it was known. */
export interface SlotMatte {
  readonly id: string;
  readonly name: string;
  /** Null for one of another medium. */
  readonly side: ShotSide | null;
  /** What it encloses is taken out; else it is a thing of its own. */
  readonly isHole?: boolean;
}

/** What of a recipe did not fit, or is still to be done, as a sentence. */
export interface Told {
  readonly text: string;
  /** The matte that is to be painted or drawn for it, and on which shot. */
  readonly matte?: { readonly id: string; readonly side: ShotSide };
}

export interface OwnRecipe {
  readonly format: typeof OWN_RECIPE_FORMAT;
  readonly version: 1;
  readonly name: string;
  /** A small picture of it as a data address; null without. */
  readonly picture: string | null;
  readonly adapts: Adapts;
  readonly before: number;
  readonly after: number;
  /** The kind it is made by, where nothing of that was changed by hand; its layers are then made anew. */
  readonly recipe: Recipe | null;
  /** Layers with held pictures tell their frame from the one shown at the cut. */
  readonly layers: readonly Layer[];
  readonly carriers: readonly Carrier[];
  readonly camera?: Camera;
  readonly byDepth?: boolean;
  readonly finish: readonly Effect[];
  readonly mattes: readonly SlotMatte[];
  /** Beats within reach, frames from the cut. */
  readonly beats: readonly number[];
}

/** A recipe as it is listed: with the id under which it is kept. */
export interface KeptRecipe {
  readonly id: string;
  readonly recipe: OwnRecipe;
}

/** Film frames around an overlap in which beats are remembered. */
const BEATS_AROUND = 48;

const beatsAround = (film: Film, media: Media, { from, to, cut }: PlacedJoin): readonly number[] =>
  beatFrames(film, media)
    .filter((f) => f >= from - BEATS_AROUND && f <= to + BEATS_AROUND)
    .map((f) => f - cut);

/** The medium frame that a shot of a join shows at the cut. */
function frameAtCut(film: Film, media: Media, placed: PlacedJoin, side: ShotSide): number {
  const medium = mediumOf(media, placed[side]);
  return medium === null ? 0 : mediumFrameAt(film, placed[side], medium, side === 'leaving' ? placed.leaving.length : 0);
}

/** The ids of all mattes that a join names. */
function matteIdsOf(join: Join): readonly string[] {
  const ids = new Set<string>();
  visitJoin(join, (r) => {
    if (r.to === 'matte') ids.add(r.id);
  });
  return [...ids];
}

/** A join as a recipe. */
export function recipeOfJoin(
  film: Film,
  media: Media,
  placed: PlacedJoin,
  { name, picture, adapts }: Pick<OwnRecipe, 'name' | 'picture' | 'adapts'>,
): OwnRecipe {
  const { join } = placed;
  const byHand = isChangedByHand(film, join);
  const layers = structuredClone(join.layers).map((layer): Layer => {
    const { source } = layer;
    if (source.kind !== 'held') return layer;
    return { ...layer, source: { ...source, frame: source.frame - frameAtCut(film, media, placed, source.side) } };
  });
  const mattes = matteIdsOf(join).flatMap((id): SlotMatte[] => {
    const matte = film.mattes.find((m) => m.id === id);
    // what its recipe makes, it makes again
    if (matte === undefined || (!byHand && matte.ownerId !== undefined)) return [];
    const side = (['leaving', 'entering'] as const).find((s) => placed[s].mediumId === matte.mediumId) ?? null;
    return [{ id, name: matte.name, side, ...(isHoleIn(join, id) ? { isHole: true } : {}) }];
  });
  return {
    format: OWN_RECIPE_FORMAT,
    version: 1,
    name,
    picture,
    adapts,
    before: join.before,
    after: join.after,
    recipe: join.recipe === undefined || byHand ? null : { ...structuredClone(join.recipe), made: '' },
    layers,
    carriers: structuredClone(join.carriers),
    ...(join.camera === undefined ? {} : { camera: structuredClone(join.camera) }),
    ...(join.byDepth === true ? { byDepth: true } : {}),
    finish: structuredClone(join.finish),
    mattes,
    beats: beatsAround(film, media, placed),
  };
}

/**
 * What takes the place of each matte of a recipe in a join. A hole of another join serves only as a hole. Where there is none, one is begun, to be
 * painted or drawn; one of another medium is done without, and null.
 */
function mattesFor(
  film: FilmDraft,
  placed: PlacedJoin,
  { mattes, adapts, recipe }: OwnRecipe,
  newId: NewId,
  told: Told[],
): ReadonlyMap<string, string | null> {
  const taken = new Set<string>();
  const fitting = ({ id, name, side, isHole = false }: SlotMatte): string | null => {
    const own = film.mattes.find((m) => m.id === id);
    const wanted = side === null ? null : placed[side].mediumId;
    if (own !== undefined && (wanted === null || own.mediumId === wanted)) return id;
    if (side === null) {
      told.push({ text: `The film has no matte for “${name}”; it is left out.` });
      return null;
    }
    const free = film.mattes.filter(
      (m) =>
        m.mediumId === wanted &&
        isMade(m) &&
        !isOfRecipe(m) &&
        !taken.has(m.id) &&
        (isHole || !isHoleElsewhere(film, placed.join.id, m.id)),
    );
    const found = adapts.mattes ? (free.find((m) => m.name === name) ?? free[0]) : undefined;
    if (found !== undefined) return found.id;
    const isDrawn = recipe !== null && kindNamed(recipe.kind).need?.what === 'outline';
    const begun = addMatte(film, wanted!, isDrawn ? 'outline' : 'strokes', name, newId);
    const what = isDrawn ? `Draw “${name}” of ${placed[side].name}` : `Paint over “${name}” of ${placed[side].name}`;
    told.push({ text: `${what}: it has none yet.`, matte: { id: begun, side } });
    return begun;
  };
  return new Map(
    mattes.map((slot) => {
      const id = fitting(slot);
      if (id !== null) taken.add(id);
      return [slot.id, id];
    }),
  );
}

/** How the frames of a recipe go over into those of a join: by its length and, where both have beats, from beat to beat. */
export function frameMap(recipe: OwnRecipe, before: number, after: number, beats: readonly number[]): FrameMap {
  const { adapts, before: ownBefore, after: ownAfter } = recipe;
  const length = ownBefore + ownAfter;
  const stretched: FrameMap = adapts.length && length > 0 ? (f) => -before + ((f + ownBefore) * (before + after)) / length : (f) => f;
  if (!adapts.beats || recipe.beats.length < 2 || beats.length < 2) return stretched;
  // beats are counted from the cut
  const firstPast = (list: readonly number[]): number => list.findIndex((b) => b >= 0);
  const [i0, j0] = [firstPast(recipe.beats), firstPast(beats)];
  if (i0 < 0 || j0 < 0) return stretched;
  const pairs = recipe.beats.flatMap((b, i): [number, number][] => {
    const other = beats[j0 + i - i0];
    return other === undefined ? [] : [[b, other]];
  });
  if (pairs.length < 2) return stretched;
  return (f) => {
    const at = Math.max(
      1,
      Math.min(
        pairs.length - 1,
        pairs.findIndex(([b]) => b >= f),
      ),
    );
    const k = pairs.at(-1)![0] < f ? pairs.length - 1 : at;
    const [[a, a2], [b, b2]] = [pairs[k - 1]!, pairs[k]!];
    return a2 + ((f - a) * (b2 - a2)) / (b - a);
  };
}

/** The overlap a recipe brings or finds. */
function setSpan(film: FilmDraft, media: Media, joinId: string, recipe: OwnRecipe, told: Told[]): void {
  const join = byId(film.joins, joinId, 'join');
  if (recipe.adapts.length && join.before + join.after > 1) return;
  const limits = overlapLimits(film, joinId);
  let [before, after] = [Math.min(recipe.before, limits.before), Math.min(recipe.after, limits.after)];
  const placed = placeJoin(film, joinId)!;
  const [a, b] = [mediumOf(media, placed.leaving), mediumOf(media, placed.entering)];
  if (recipe.adapts.length && a !== null && b !== null) {
    // no longer than both shots have pictures, as long as that is an overlap at all
    const spare = [handlesOf(film, placed.entering, b).before, handlesOf(film, placed.leaving, a).after].map((n) => Math.max(0, n));
    const fits = [Math.min(before, spare[0]!), Math.min(after, spare[1]!)] as const;
    if (fits[0] + fits[1] > 1) [before, after] = fits;
    setOverlap(film, joinId, before, after);
    return;
  }
  if (before < recipe.before || after < recipe.after)
    told.push({ text: `The reel has room for an overlap of ${before + after} frames here, not ${recipe.before + recipe.after}.` });
  setOverlap(film, joinId, before, after);
}

/** Settings with the mattes of the join they are laid on; what cannot be taken over is told, and done without. */
function settingsFor(
  film: Film,
  media: Media,
  recipe: Recipe,
  mattes: ReadonlyMap<string, string | null>,
  told: Told[],
): Record<string, unknown> {
  const settings = structuredClone(recipe.settings) as unknown as Record<string, unknown>;
  const replaced = (value: unknown): unknown => (typeof value === 'string' && mattes.has(value) ? mattes.get(value) : value);
  for (const [name, value] of Object.entries(settings)) {
    if (Array.isArray(value) && value.every((v) => typeof v === 'string')) settings[name] = value.map(replaced).filter((v) => v !== null);
    else settings[name] = replaced(value);
  }
  const isThere = ({ to, id }: Reference): boolean => (to === 'medium' ? media.has(id) : film.mattes.some((m) => m.id === id));
  visitRecipe({ ...recipe, settings } as unknown as Recipe, recipe.kind, (reference) => {
    if (isThere(reference)) return;
    reference.drop();
    if (reference.to === 'medium') told.push({ text: 'A background is left out: its media is not on the shelf.' });
  });
  const elsewhere = kindNamed(recipe.kind).elsewhere?.(settings);
  if (elsewhere === undefined) return settings;
  told.push(...elsewhere.told.map((text) => ({ text })));
  return elsewhere.settings;
}

/** Takes over layers one by one, with the mattes, media and pictures of the join they are laid on. */
function layByHand(
  film: FilmDraft,
  media: Media,
  placed: PlacedJoin,
  recipe: OwnRecipe,
  mattes: ReadonlyMap<string, string | null>,
  newId: NewId,
  told: Told[],
): void {
  const join: Draft<Join> = byId(film.joins, placed.join.id, 'join');
  const of = (id: string): string | null => (mattes.has(id) ? mattes.get(id)! : film.mattes.some((m) => m.id === id) ? id : null);
  const ids = new Map([...recipe.layers, ...recipe.carriers].map((thing) => [thing.id, newId()]));
  const sourceOf = ({ name, source }: Layer): LayerSource | null => {
    if (source.kind === 'medium' && !media.has(source.mediumId)) {
      told.push({ text: `“${name}” is left out: its media is not on the shelf.` });
      return null;
    }
    if (source.kind === 'held') {
      const medium = mediumOf(media, placed[source.side]);
      const frame = source.frame + frameAtCut(film, media, placed, source.side);
      return { ...source, frame: Math.max(0, Math.min((medium?.frames ?? 1) - 1, frame)) };
    }
    if (source.kind !== 'melt') return source;
    const { lines: _, subjects: __, ...bare } = source;
    if (source.lines !== undefined || source.subjects !== undefined)
      told.push({ text: `“${name}” is applied without its lines and subjects.` });
    return bare;
  };
  const knownTracks = new Set((film.tracks ?? []).map((t) => t.id));
  const layers = recipe.layers.flatMap((layer): Layer[] => {
    const source = sourceOf(layer);
    if (source === null) return [];
    const { pivotTrackId, ...motion } = layer.motion;
    const { ridesOn, ...rest } = layer;
    const carrier = ridesOn === undefined ? undefined : ids.get(ridesOn);
    if (pivotTrackId !== undefined && !knownTracks.has(pivotTrackId))
      told.push({ text: `The pivot of “${layer.name}” rides on no track here.` });
    return [
      {
        ...structuredClone(rest),
        id: ids.get(layer.id)!,
        source,
        mattes: layer.mattes.flatMap((u) => {
          const matteId = of(u.matteId);
          return matteId === null ? [] : [{ ...u, matteId }];
        }),
        motion: { ...motion, ...(pivotTrackId !== undefined && knownTracks.has(pivotTrackId) ? { pivotTrackId } : {}) },
        ...(carrier === undefined ? {} : { ridesOn: carrier }),
      },
    ];
  });
  const carriers = recipe.carriers.map(({ ridesOn, ...c }): Carrier => {
    const on = ridesOn === undefined ? undefined : ids.get(ridesOn);
    return { ...structuredClone(c), id: ids.get(c.id)!, ...(on === undefined ? {} : { ridesOn: on }) };
  });
  const { ridesOn: cameraOn, ...camera } = recipe.camera ?? {};
  const on = cameraOn === undefined ? undefined : ids.get(cameraOn);
  Object.assign(join, { layers, carriers });
  if (recipe.camera !== undefined)
    join.camera = { ...structuredClone(camera), ...(on === undefined ? {} : { ridesOn: on }) } as Draft<Camera>;
  if (recipe.byDepth === true) join.byDepth = true;
}

/**
 * Lays a recipe on a join, which is made anew with it.
 * @returns what of it did not fit, a sentence each; empty when all did
 */
export function layOwnRecipe(film: FilmDraft, media: Media, joinId: string, recipe: OwnRecipe, newId: NewId): readonly Told[] {
  const told: Told[] = [];
  const join: Draft<Join> = byId(film.joins, joinId, 'join');
  const [before, after] = [join.before, join.after];
  makePlainCut(film, joinId, newId);
  setOverlap(film, joinId, before, after);
  setSpan(film, media, joinId, recipe, told);
  const placed = placeJoin(film, joinId);
  if (placed === null) return [{ text: 'The join is not on the reel.' }];
  const mattes = mattesFor(film, placed, recipe, newId, told);
  if (recipe.recipe !== null) {
    const settings = settingsFor(film, media, recipe.recipe, mattes, told);
    // a kind whose matte is no setting has one at most
    const [matteId = null] = mattes.values();
    makeAs(film, media, joinId, recipe.recipe.kind, settings, { matteId, newId });
  } else layByHand(film, media, placed, recipe, mattes, newId, told);
  const laid = placeJoin(film, joinId)!;
  const beats = beatsAround(film, media, laid);
  if (recipe.adapts.beats && recipe.beats.length > 1 && beats.length < 2) told.push({ text: 'There are no beats here to keep to.' });
  const at = frameMap(recipe, laid.join.before, laid.join.after, beats);
  const finish = structuredClone(recipe.finish).map((e) => ({ ...e, id: newId() })) as Draft<Effect>[];
  if (recipe.recipe === null) retimeComposition({ ...join, finish }, at);
  else retimeComposition({ layers: [], carriers: [], finish }, at);
  join.finish = finish;
  const { from, to } = laid;
  const frames = Array.from({ length: to - from }, (_, i) => from + i).filter((f) => f >= 0);
  const missing = frames.map((f) => planFrame(film, media, f, { samples: 1 }).missing);
  for (const { id, name } of [laid.leaving, laid.entering]) {
    const bare = missing.filter((m) => m.some(({ shotId }) => shotId === id)).length;
    if (bare > 0) told.push({ text: `${name} has no picture on ${framesText(bare)} of the overlap.` });
  }
  return told.filter((t, i) => told.findIndex((other) => other.text === t.text) === i);
}
