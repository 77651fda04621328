import type { Draft } from 'immer';
import { newLayer, type Carrier, type Layer, type LayerSource, type MatteUse } from '../film/composition';
import type { FilmDraft } from '../film/drafts';
import { addMatte } from '../film/edits/mattes';
import { byId, type Join, type Matte } from '../film/film';
import { apply, invert, type Matrix } from '../geometry/matrix';
import { corner } from '../matte/outline/outline';
import type { Channel } from '../motion/curve';
import { easedKeys, type EaseName } from '../motion/eases';
import type { Camera } from '../motion/motion';
import type { Made } from './kind';
import { markOfMade } from '../film/made-mark';

/** The id of what a recipe makes for one role: the same each time it is made. */
export const idOf = (join: { readonly id: string }, role: string): string => `${join.id}-${role}`.slice(-64);

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

/** The outline that belongs to a join or a shot for one role, made where there is none yet. */
export function ownOutline(film: FilmDraft, owner: { readonly id: string }, role: string, mediumId: string, name: string): Draft<Matte> {
  const id = idOf(owner, role);
  if (!film.mattes.some((m) => m.id === id)) addMatte(film, mediumId, 'outline', name, () => id);
  const matte = byId(film.mattes, id, 'matte');
  matte.ownerId = owner.id;
  return matte;
}

/** An outline that stands still: corners in film pixels, on a shot that lies in the frame by `framing`. */
export const standing = (corners: readonly (readonly [number, number])[], framing: Matrix): Draft<Matte['outline']> => {
  const back = invert(framing);
  const points = corners.map(([x, y]) => apply(back, { x, y }));
  return { closed: true, keys: [{ frame: 0, ease: 'straight', points: points.map((p) => corner(p.x, p.y)) }] };
};
