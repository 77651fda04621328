import type { Draft } from 'immer';
import { newLayer, type Carrier, type Layer, type LayerSource, type MatteUse } from '../film/composition';
import type { FilmDraft } from '../film/drafts';
import type { Join } from '../film/film';
import type { Channel } from '../motion/curve';
import { easedKeys, type EaseName } from '../motion/eases';
import type { Camera } from '../motion/motion';
import type { Made } from './composed-kind';
import { markOfMade } from './recipe';

/** The id of what a recipe makes for one role: the same each time it is made. */
export const idOf = (join: Pick<Join, 'id'>, role: string): string => `${join.id}-${role}`.slice(-64);

const known = (join: Pick<Join, 'id'> & { readonly layers: readonly unknown[] }, role: string): Layer | undefined =>
  (join.layers as readonly Layer[]).find((l) => l.id === idOf(join, role));

type MadeIn = Pick<Draft<Join>, 'id' | 'layers'>;

/** The layer of a role, under the name and as visible as a hand has left it. */
export function madeLayer(join: MadeIn, role: string, name: string, source: LayerSource): Layer {
  const before = known(join, role);
  return { ...newLayer(idOf(join, role), before?.name ?? name, source), visible: before?.visible ?? true };
}

/** How the layer of a role uses a matte, as a hand has left it; `otherwise` when it did not yet. */
export const madeUse = (join: MadeIn, role: string, otherwise: MatteUse): MatteUse =>
  known(join, role)?.mattes.find((m) => m.matteId === otherwise.matteId) ?? otherwise;

/** A curve over the frames of an overlap, its ends just outside, so that every frame is on the way. */
export const wayOver = (
  ease: EaseName,
  { before, after }: Pick<Join, 'before' | 'after'>,
  [from, to]: readonly [number, number],
): Channel => easedKeys(ease, [-before - 1, from], [Math.max(-before, after), to]);

/** Makes these all that a join is made of, and marks it as made by its recipe. */
export function layMade(film: FilmDraft, join: Draft<Join>, { layers, carriers = [], camera, byDepth }: Made): void {
  join.layers = layers as Draft<Layer>[];
  join.carriers = carriers as Draft<Carrier>[];
  delete join.camera;
  delete join.byDepth;
  if (camera !== undefined) join.camera = camera as Draft<Camera>;
  if (byDepth === true) join.byDepth = true;
  if (join.recipe !== undefined) join.recipe.made = markOfMade(film, join);
}
