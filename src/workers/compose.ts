// Runs in Node worker threads: draws one frame of a film that is being sent out, in shared memory.
import { Compositor } from '../core/render/compositor';
import type { StoredCoverage } from '../core/matte/stored-coverage';
import type { FramePlan } from '../core/render/plan';

/** A decoded picture in shared memory, RGBA8. */
export interface SharedPicture {
  readonly mediumId: string;
  readonly frame: number;
  readonly width: number;
  readonly height: number;
  readonly memory: SharedArrayBuffer;
}

/** Stored coverage of one matte on one medium frame. */
export interface TaskCoverage extends StoredCoverage {
  readonly matteId: string;
  readonly frame: number;
}

export interface ComposeTask {
  readonly plan: FramePlan;
  readonly coverages: readonly TaskCoverage[];
  readonly pictures: readonly SharedPicture[];
  readonly out: SharedArrayBuffer;
}

let compositor: Compositor | null = null;

/** Draws the plan at its full size into `out`; gives the number of pixels that nothing covers fully. */
export default function compose({ plan, pictures, coverages, out }: ComposeTask): number {
  if (compositor === null || compositor.width !== plan.width || compositor.height !== plan.height)
    compositor = new Compositor(plan.width, plan.height);
  const target = new Uint8ClampedArray(out, 0, 4 * plan.width * plan.height);
  compositor.draw(
    plan,
    (ref) => {
      const found = pictures.find((p) => p.mediumId === ref.mediumId && p.frame === ref.frame);
      return found === undefined
        ? null
        : { width: found.width, height: found.height, data: new Uint8ClampedArray(found.memory, 0, 4 * found.width * found.height) };
    },
    { width: plan.width, height: plan.height, data: target },
    (matte) => coverages.find((c) => c.matteId === matte.matteId && c.frame === matte.frame) ?? null,
  );
  let empty = 0;
  for (let i = 3; i < target.length; i += 4) if (target[i]! < 253) empty++;
  return empty;
}
