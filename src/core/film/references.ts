import type { Layer } from './composition';
import type { Film, Join } from './film';
import type { FilmDraft } from './drafts';
import type { Recipe } from './recipe-settings';

/** What things in a film refer to by id. Carriers are known only within their join. */
export type ReferredTo = 'medium' | 'matte' | 'track' | 'shot' | 'carrier';

/** One place in a film that refers to something by id. */
export interface Reference {
  readonly to: ReferredTo;
  readonly id: string;
  /** What refers to it, such as 'layer Glow of join Dawn'. */
  readonly by: string;
  /** The join it is in; null outside joins. */
  readonly joinId: string | null;
  /** Says something about what it refers to and goes with it, as marks and beats do: it does not keep it in use. */
  readonly goesWith: boolean;
  /** A setting of a recipe: what is shown of it, layers tell. */
  readonly isSetting: boolean;
  /** On a draft: takes the reference out, so that what refers does without it. */
  drop(): void;
}

type Visit = (reference: Reference) => void;

/** Walks over every reference in a film: the one place that knows what refers to what. */
export function visitReferences(film: Film | FilmDraft, visit: Visit): void {
  const draft = film as FilmDraft;
  const say = (to: ReferredTo, id: string | null | undefined, by: string, drop: () => void, goesWith = false): void => {
    if (id != null) visit({ to, id, by, joinId: null, goesWith, isSetting: false, drop });
  };
  for (const list of ['shots', 'aside'] as const)
    for (const shot of draft[list] ?? []) {
      const by = list === 'shots' ? `shot ${shot.name}` : `shot ${shot.name}, put aside`;
      say('medium', shot.mediumId, by, () => (draft[list] = draft[list]!.filter((s) => s !== shot)));
      say('track', shot.steadying?.trackId, by, () => delete shot.steadying);
    }
  for (const matte of draft.mattes) {
    say('medium', matte.mediumId, `matte ${matte.name}`, () => (draft.mattes = draft.mattes.filter((m) => m !== matte)));
    const { trackId } = matte;
    say('track', trackId, `matte ${matte.name}`, () => delete matte.trackId);
  }
  for (const track of draft.tracks ?? [])
    say('medium', track.mediumId, `track ${track.name}`, () => (draft.tracks = draft.tracks!.filter((t) => t !== track)));
  for (const lane of draft.soundLanes ?? [])
    for (const clip of lane.clips)
      say('medium', clip.mediumId, `sound ${clip.name}`, () => (lane.clips = lane.clips.filter((c) => c !== clip)));
  for (const mark of draft.mediumMarkers ?? [])
    say('medium', mark.mediumId, `mark ${mark.name}`, () => (draft.mediumMarkers = draft.mediumMarkers!.filter((m) => m !== mark)), true);
  for (const beats of draft.beats ?? [])
    say('medium', beats.mediumId, 'beats', () => (draft.beats = draft.beats!.filter((b) => b !== beats)), true);
  for (const name of draft.mediumNames ?? [])
    say('medium', name.mediumId, `the name ${name.name}`, () => (draft.mediumNames = draft.mediumNames!.filter((n) => n !== name)), true);
  for (const bin of draft.bins ?? [])
    for (const id of bin.mediumIds)
      say('medium', id, `bin ${bin.name}`, () => (bin.mediumIds = bin.mediumIds.filter((m) => m !== id)), true);
  for (const join of draft.joins) visitJoin(join, visit);
}

/** The references inside one join. */
export function visitJoin(given: Join, visit: Visit): void {
  const join = given as FilmDraft['joins'][number];
  const ofJoin = `join ${join.name}`;
  const saying =
    (isSetting: boolean): Say =>
    (to, id, by, drop) => {
      if (id != null) visit({ to, id, by, joinId: join.id, goesWith: false, isSetting, drop });
    };
  const say = saying(false);
  // a join without one of its shots goes with it, which is up to who takes the shot away
  say('shot', join.leavingShotId, ofJoin, () => undefined);
  say('shot', join.enteringShotId, ofJoin, () => undefined);
  for (const layer of join.layers) visitLayer(layer, `layer ${layer.name} of ${ofJoin}`, say);
  for (const rider of [...join.carriers, ...(join.camera === undefined ? [] : [{ ...join.camera, name: null }])]) {
    const by = rider.name === null ? `the camera of ${ofJoin}` : `carrier ${rider.name} of ${ofJoin}`;
    const here = rider.name === null ? join.camera! : rider;
    say('carrier', rider.ridesOn, by, () => delete here.ridesOn);
  }
  for (const hit of join.hits ?? [])
    say('medium', hit.mediumId, `sound ${hit.name} of ${ofJoin}`, () => (join.hits = join.hits!.filter((h) => h !== hit)));
  for (const point of join.interest ?? []) say('track', point.trackId, `a point of interest of ${ofJoin}`, () => delete point.trackId);
  if (join.recipe !== undefined) visitSettings(join.recipe, `the settings of ${ofJoin}`, saying(true));
}

type Say = (to: ReferredTo, id: string | null | undefined, by: string, drop: () => void) => void;
type LayerDraft = FilmDraft['joins'][number]['layers'][number];

function visitLayer(given: Layer, by: string, say: Say): void {
  const layer = given as LayerDraft;
  const { source } = layer;
  say('carrier', layer.ridesOn, by, () => delete layer.ridesOn);
  say('track', layer.motion.pivotTrackId, by, () => delete layer.motion.pivotTrackId);
  for (const use of layer.mattes) say('matte', use.matteId, by, () => (layer.mattes = layer.mattes.filter((u) => u !== use)));
  switch (source.kind) {
    case 'medium':
      say('medium', source.mediumId, by, () => (layer.source = { kind: 'all beneath' }));
      break;
    case 'melt': {
      const { lines, subjects } = source;
      for (const pair of lines?.pairs ?? [])
        for (const id of [pair.leaving, pair.entering]) say('matte', id, by, () => (lines!.pairs = lines!.pairs.filter((p) => p !== pair)));
      for (const id of [subjects?.leaving, subjects?.entering]) say('matte', id, by, () => delete source.subjects);
      break;
    }
    case 'leaving':
    case 'entering':
    case 'held':
    case 'colour':
    case 'all beneath':
      break;
    default:
      source satisfies never;
  }
}

/** The references in the settings of a recipe. */
export function visitRecipe(recipe: Recipe, by: string, visit: Visit): void {
  visitSettings(recipe, by, (to, id, who, drop) => {
    if (id != null) visit({ to, id, by: who, joinId: null, goesWith: false, isSetting: true, drop });
  });
}

/** Settings that name one matte or medium, by kind, and those that name several mattes. */
function visitSettings(recipe: Recipe, by: string, say: Say): void {
  const settings = recipe.settings as unknown as Record<string, unknown>;
  const one = (to: ReferredTo, ...names: readonly string[]): void => {
    for (const name of names) say(to, settings[name] as string | null, by, () => (settings[name] = null));
  };
  switch (recipe.kind) {
    case 'wipe past':
    case 'dissolve':
    case 'panels on the beat':
    case 'drop through':
      break;
    case 'zoom through':
    case 'arrive':
    case 'melt':
      one('matte', 'matteId');
      break;
    case 'held cut-out':
      one('matte', 'matteId', 'subjectId');
      break;
    case 'bridge':
      one('matte', 'subjectId', 'fadesId');
      for (const id of recipe.settings.occluderIds)
        say('matte', id, by, () => (settings.occluderIds = (settings.occluderIds as string[]).filter((o) => o !== id)));
      break;
    case 'tiles in space':
      one('matte', 'drawnId');
      one('medium', 'mediumId');
      break;
    case 'feature morph': {
      const own = recipe.settings as { -readonly [K in keyof typeof recipe.settings]: (typeof recipe.settings)[K] };
      one('medium', 'groundMediumId');
      for (const pair of own.pairs)
        for (const id of [pair.leaving, pair.entering]) say('matte', id, by, () => (own.pairs = own.pairs.filter((p) => p !== pair)));
      for (const side of ['leaving', 'entering'] as const) {
        const subjects = own.subjects as Record<typeof side, string | null>;
        say('matte', subjects[side], by, () => (subjects[side] = null));
      }
      break;
    }
    default:
      recipe satisfies never;
  }
}

/** Every reference in a film to something of a kind, or to one thing of it. */
export function referencesTo(film: Film | FilmDraft, to: ReferredTo, id?: string): Reference[] {
  const found: Reference[] = [];
  visitReferences(film, (r) => {
    if (r.to === to && (id === undefined || r.id === id)) found.push(r);
  });
  return found;
}

/** What in a film keeps a medium in use, as names; marks and beats of it do not. */
export const usesOfMedium = (film: Film | FilmDraft, mediumId: string): readonly string[] =>
  referencesTo(film, 'medium', mediumId).flatMap((r) => (r.goesWith ? [] : [r.by]));

/** Takes every reference to something out of a film. */
export function dropReferences(film: FilmDraft, to: ReferredTo, id: string): void {
  for (const reference of referencesTo(film, to, id)) reference.drop();
}

/** What a film holds, by what can be referred to. Media are not in it. */
export interface Holdings {
  readonly matte: ReadonlySet<string>;
  readonly track: ReadonlySet<string>;
  readonly shot: ReadonlySet<string>;
  /** By join. */
  readonly carrier: ReadonlyMap<string, ReadonlySet<string>>;
}

export const holdingsOf = (film: Film): Holdings => ({
  matte: new Set(film.mattes.map((m) => m.id)),
  track: new Set((film.tracks ?? []).map((t) => t.id)),
  shot: new Set([...film.shots, ...(film.aside ?? [])].map((s) => s.id)),
  carrier: new Map(film.joins.map((j) => [j.id, new Set(j.carriers.map((c) => c.id))])),
});

/**
 * The references to what is not there. `media` are the ids of all media of the film; without them media are not looked at. One that was
 * taken off the shelf is still there for what goes with it, since it may come back.
 */
export function danglingReferences(film: Film, media?: ReadonlySet<string>): Reference[] {
  const held = holdingsOf(film);
  const off = new Set(film.offShelf);
  const isMedium = (id: string, goesWith: boolean): boolean => media === undefined || (media.has(id) && (goesWith || !off.has(id)));
  const isThere = ({ to, id, joinId, goesWith }: Reference): boolean =>
    to === 'medium' ? isMedium(id, goesWith) : to === 'carrier' ? held.carrier.get(joinId!)!.has(id) : held[to].has(id);
  const found: Reference[] = [];
  visitReferences(film, (r) => {
    if (!isThere(r)) found.push(r);
  });
  return found;
}

/** A carrier of a join that rides, in the end, on itself; null where none does. */
export function circlingCarrier({ carriers }: Pick<Join, 'carriers'>): string | null {
  const next = new Map(carriers.map((c) => [c.id, c.ridesOn]));
  const isSound = new Set<string>();
  for (const { id } of carriers) {
    const way = new Set<string>();
    for (let at: string | undefined = id; at !== undefined && !isSound.has(at); at = next.get(at)) {
      if (way.has(at)) return at;
      way.add(at);
    }
    for (const passed of way) isSound.add(passed);
  }
  return null;
}
