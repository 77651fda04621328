// Runs in Node worker threads: draws one frame of what is being sent out, in shared memory.
import { unmultiply } from '../core/image/image';
import { createImage, type Image } from '../core/image/pixels';
import { rgbOfYuv, yuvOfRgb } from '../core/image/yuv';
import type { CoverageSource, PictureSource } from '../core/render/compositor';
import { CpuCompositor } from '../core/render/cpu/compositor';
import type { StoredCoverage } from '../core/matte/coverage/stored-coverage';
import type { FramePlan } from '../core/plan/frame-plan';

/** A decoded picture in shared memory: RGBA, or YUV 4:2:0 as `core/image/yuv` has it. */
export interface SharedPicture {
  readonly mediumId: string;
  readonly frame: number;
  readonly width: number;
  readonly height: number;
  readonly pixels: 'rgba' | 'yuv420p';
  readonly memory: SharedArrayBuffer;
}

/** Stored coverage of one matte on one medium frame. */
export interface TaskCoverage extends StoredCoverage {
  readonly matteId: string;
  readonly frame: number;
}

export interface ComposeTask {
  /** The film's picture in these pixels, what its first layer's mattes leave (one byte a pixel), or that layer cut out by them (straight RGBA). */
  readonly as: 'rgba' | 'yuv420p' | 'matte' | 'cut-out';
  readonly plan: FramePlan;
  readonly coverages: readonly TaskCoverage[];
  readonly pictures: readonly SharedPicture[];
  readonly out: SharedArrayBuffer;
}

/** Alpha from which a pixel counts as covered fully. */
const COVERED = 253;

let compositor: CpuCompositor | null = null;

/** Draws the plan at its full size into `out`; gives the number of pixels that nothing covers fully. */
export default function compose({ as, plan, pictures, coverages, out }: ComposeTask): number {
  if (compositor === null || compositor.width !== plan.width || compositor.height !== plan.height)
    compositor = new CpuCompositor(plan.width, plan.height);
  const opened = new Map<SharedPicture, Image>();
  const pictureOf: PictureSource = (ref) => {
    const found = pictures.find((p) => p.mediumId === ref.mediumId && p.frame === ref.frame);
    if (found === undefined) return null;
    const image = opened.get(found) ?? imageOf(found);
    opened.set(found, image);
    return image;
  };
  const coverageOf: CoverageSource = (matte) => coverages.find((c) => c.matteId === matte.matteId && c.frame === matte.frame) ?? null;
  if (as === 'matte') {
    compositor.drawMattes(plan, plan.layers[0]!.mattes, pictureOf, new Uint8Array(out, 0, plan.width * plan.height), coverageOf);
    return 0;
  }
  if (as === 'yuv420p') {
    const drawn = createImage(plan.width, plan.height);
    compositor.draw(plan, pictureOf, drawn, coverageOf);
    return yuvOfRgb(drawn, new Uint8Array(out), COVERED);
  }
  const target = { width: plan.width, height: plan.height, data: new Uint8ClampedArray(out, 0, 4 * plan.width * plan.height) };
  compositor.draw(plan, pictureOf, target, coverageOf);
  if (as === 'cut-out') {
    unmultiply(target.data);
    return 0;
  }
  let empty = 0;
  for (let i = 3; i < target.data.length; i += 4) if (target.data[i]! < COVERED) empty++;
  return empty;
}

function imageOf({ width, height, pixels, memory }: SharedPicture): Image {
  if (pixels === 'rgba') return { width, height, data: new Uint8ClampedArray(memory, 0, 4 * width * height) };
  const image = createImage(width, height);
  rgbOfYuv(new Uint8Array(memory), image);
  return image;
}
