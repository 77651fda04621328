import type { Layer } from '../film/composition';
import { byId, type Film, type Matte, type Medium } from '../film/film';
import { drawnPoints } from '../film/mattes';
import { mediumFramesPerFilmFrame, shotFrameAt, startsAround } from '../film/timing';
import { compose, IDENTITY, type Matrix } from '../geometry/matrix';
import { UNTIDIED } from '../matte/coverage/tidy';
import { keyAtFrame } from '../matte/key/key';
import type { Content, FramePlan, PlannedLayer, PlannedMatte } from './frame-plan';
import { EPSILON, pictureRef, plainPlanned } from './plan-shot';
import type { Planner } from './planner';
import { baseFraming, shotFraming } from './shot-framing';

/** The layer's mattes at a time. One of the layer's own medium moves with the layer; one of another stands where its own shot stands. */
export function planMattes(
  planner: Planner,
  layer: Pick<Layer, 'mattes' | 'source'>,
  own: { readonly medium: Medium | null; readonly frame: number; readonly framing: Matrix; readonly map: Matrix },
  time: number,
): PlannedMatte[] {
  const { film } = planner;
  const planned: PlannedMatte[] = [];
  for (const { matteId, side, combine = 'intersect', growPx, featherPx, ridesAlong = false } of layer.mattes) {
    const matte = byId(film.mattes, matteId, 'matte');
    if (!isDrawable(matte)) continue;
    const placement = { side, combine, growPx, featherPx };
    if (matte.mediumId === own.medium?.id) {
      planned.push(plannedMatte(film, own.medium, matte, own.frame, { ...placement, matrix: compose(own.framing, own.map), rides: true }));
      continue;
    }
    const other = standing(planner, matte, time);
    if (other === null) continue;
    const matrix = ridesAlong ? compose(other.framing, own.map) : other.framing;
    planned.push(plannedMatte(film, other.medium, matte, other.frame, { ...placement, matrix, rides: ridesAlong }));
  }
  return planned;
}

/** Where a matte of another medium than its layer's stands: with the shot of its medium or, of a medium in neither shot, filling the frame. */
function standing(planner: Planner, matte: Matte, time: number): { medium: Medium; frame: number; framing: Matrix } | null {
  const { film, media, placed } = planner;
  const medium = media.get(matte.mediumId);
  if (medium === undefined) return null;
  for (const side of ['leaving', 'entering'] as const) {
    const shot = placed[side];
    if (shot.mediumId !== matte.mediumId) continue;
    const start = startsAround(placed)[side];
    const frame = shotFrameAt(film, media, shot, start, placed.cut + time);
    if (frame !== null) return { medium, frame, framing: shotFraming(film, medium, shot, frame, placed.cut + time - start) };
  }
  if ([placed.leaving, placed.entering].some((s) => s.mediumId === matte.mediumId)) return null;
  const frame = Math.floor(time * mediumFramesPerFilmFrame(film, medium) + EPSILON);
  const shown = medium.kind === 'still' ? 0 : frame;
  return shown < 0 || shown >= medium.frames ? null : { medium, frame: shown, framing: baseFraming(film, medium) };
}

function plannedMatte(
  film: Film,
  medium: Medium,
  matte: Matte,
  frame: number,
  placement: Pick<PlannedMatte, 'side' | 'combine' | 'growPx' | 'featherPx' | 'matrix' | 'rides'>,
): PlannedMatte {
  const { tidying = UNTIDIED } = matte;
  if (matte.key !== undefined)
    return { kind: 'key', key: keyAtFrame(matte.key, frame), picture: pictureRef(medium, frame), tidying, ...placement };
  if (matte.painted !== undefined) {
    const { width, height } = medium;
    return { kind: 'coverage', matteId: matte.id, frame, width, height, picture: pictureRef(medium, frame), tidying, ...placement };
  }
  return { kind: 'outline', points: drawnPoints(film, matte, frame), ...placement };
}

/** An outline covers nothing until it is closed; it is left out, so that drawing it begins with the whole picture. */
const isDrawable = (matte: Matte): boolean => matte.painted !== undefined || matte.key !== undefined || matte.outline.closed;

/**
 * One frame of a medium at its own size with a single matte on its inside, whatever joins show of it.
 * @throws RangeError when the film has no such matte
 */
export function planMediumMatte(film: Film, medium: Medium, matteId: string, frame: number): FramePlan {
  const matte = byId(film.mattes, matteId, 'matte');
  const placement = { side: 'inside', combine: 'intersect', growPx: 0, featherPx: 0, matrix: IDENTITY, rides: true } as const;
  const content: Content = { kind: 'picture', picture: pictureRef(medium, frame), next: null };
  const layer: PlannedLayer = {
    ...plainPlanned(content, medium.width, medium.height, IDENTITY),
    mattes: isDrawable(matte) ? [plannedMatte(film, medium, matte, frame, placement)] : [],
  };
  return { width: medium.width, height: medium.height, layers: [layer], finish: [], background: null, missing: [] };
}
