// Runs in Node worker threads: draws one frame of what is being sent out, in shared memory.
import { unmultiply } from '../core/image/image';
import type { CoverageSource, PictureSource } from '../core/render/compositor';
import { CpuCompositor } from '../core/render/cpu/compositor';
import type { StoredCoverage } from '../core/matte/coverage/stored-coverage';
import type { FramePlan } from '../core/plan/frame-plan';

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
  /** The film's picture (RGBA), what its first layer's mattes leave (one byte a pixel), or that layer cut out by them (straight RGBA). */
  readonly as: 'picture' | 'matte' | 'cut-out';
  readonly plan: FramePlan;
  readonly coverages: readonly TaskCoverage[];
  readonly pictures: readonly SharedPicture[];
  readonly out: SharedArrayBuffer;
}

let compositor: CpuCompositor | null = null;

/** Draws the plan at its full size into `out`; gives the number of pixels that nothing covers fully. */
export default function compose({ as, plan, pictures, coverages, out }: ComposeTask): number {
  if (compositor === null || compositor.width !== plan.width || compositor.height !== plan.height)
    compositor = new CpuCompositor(plan.width, plan.height);
  const pictureOf: PictureSource = (ref) => {
    const found = pictures.find((p) => p.mediumId === ref.mediumId && p.frame === ref.frame);
    return found === undefined
      ? null
      : { width: found.width, height: found.height, data: new Uint8ClampedArray(found.memory, 0, 4 * found.width * found.height) };
  };
  const coverageOf: CoverageSource = (matte) => coverages.find((c) => c.matteId === matte.matteId && c.frame === matte.frame) ?? null;
  if (as === 'matte') {
    compositor.drawMattes(plan, plan.layers[0]!.mattes, pictureOf, new Uint8Array(out, 0, plan.width * plan.height), coverageOf);
    return 0;
  }
  const target = new Uint8ClampedArray(out, 0, 4 * plan.width * plan.height);
  compositor.draw(plan, pictureOf, { width: plan.width, height: plan.height, data: target }, coverageOf);
  if (as === 'cut-out') {
    unmultiply(target);
    return 0;
  }
  let empty = 0;
  for (let i = 3; i < target.length; i += 4) if (target[i]! < 253) empty++;
  return empty;
}
