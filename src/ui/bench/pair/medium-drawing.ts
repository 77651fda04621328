import type { Film, Medium } from '../../../core/film/film';
import type { FramePlan } from '../../../core/plan/frame-plan';
import { plainPlanned } from '../../../core/plan/plan-frame';
import type { Drawing } from '../../../core/plan/plan-views';
import { baseFraming } from '../../../core/plan/shot-framing';

/** One frame of a medium, filling the film's frame. */
export function mediumDrawing(film: Pick<Film, 'width' | 'height'>, medium: Medium, frame: number): Drawing {
  const { id: mediumId, width, height } = medium;
  const picture = { mediumId, frame: Math.max(0, Math.min(medium.frames - 1, frame)), width, height };
  const layer = plainPlanned({ kind: 'picture', picture, next: null }, width, height, baseFraming(film, medium));
  const plan: FramePlan = { width: film.width, height: film.height, layers: [layer], finish: [], background: null, missing: [] };
  return { kind: 'picture', plan };
}
