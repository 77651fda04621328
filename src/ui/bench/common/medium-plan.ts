import type { Film, Medium } from '../../../core/film/film';
import type { FramePlan } from '../../../core/plan/frame-plan';
import { plainPlanned } from '../../../core/plan/plan-shot';
import { baseFraming } from '../../../core/plan/shot-framing';

/** One frame of a medium, filling a frame of this size. */
export function mediumPlan({ width, height }: Pick<Film, 'width' | 'height'>, medium: Medium, frame: number): FramePlan {
  const shown = Math.max(0, Math.min(medium.frames - 1, frame));
  const picture = { mediumId: medium.id, frame: shown, width: medium.width, height: medium.height };
  const layer = plainPlanned({ kind: 'picture', picture, next: null }, medium.width, medium.height, baseFraming({ width, height }, medium));
  return { width, height, layers: [layer], finish: [], background: null, missing: [] };
}
