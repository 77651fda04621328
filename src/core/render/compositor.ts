import type { Image } from '../image/pixels';
import type { StoredCoverage } from '../matte/coverage/stored-coverage';
import type { FramePlan, PictureRef, PlannedCoverage, PlannedMatte } from '../plan/frame-plan';

/** Hands out decoded pictures; null where one could not be had. The size is the decoder's choice. */
export type PictureSource = (picture: PictureRef) => Image | null;

/** Hands out stored coverage; null where a matte has none on that frame, which counts as covering nothing. */
export type CoverageSource = (matte: PlannedCoverage) => StoredCoverage | null;

/** Where a drawing gets its pictures and its coverage. */
export interface Sources {
  readonly pictures: PictureSource;
  readonly coverages: CoverageSource;
}

export const NO_COVERAGE: CoverageSource = () => null;

/** Rows of an output, `bottom` not included. */
export interface Band {
  readonly top: number;
  readonly bottom: number;
}

/** Executes frame plans at one output size. Whatever computes them, they agree on the plans of `test-plans.ts`. */
export interface Compositor {
  readonly width: number;
  readonly height: number;
  /**
   * Draws `plan` into `out`: colour over black, alpha how much of each pixel the layers cover together. With a band only its rows are drawn, the others of
   * `out` are left undefined.
   * @throws RangeError when `out` has another size.
   */
  draw(plan: FramePlan, pictures: PictureSource, out: Image, coverages?: CoverageSource, band?: Band): void;
  /** Writes what `mattes` together leave of the whole plane, 0..255, into `out` (one byte a pixel). */
  drawMattes(
    plan: Pick<FramePlan, 'width' | 'height'>,
    mattes: readonly PlannedMatte[],
    pictures: PictureSource,
    out: Uint8Array,
    coverages?: CoverageSource,
  ): void;
}

/** Whether rows of a plan can be drawn by themselves: effects and melts look at what lies around. */
export const canBeBanded = ({ layers, finish }: FramePlan): boolean =>
  finish.length === 0 &&
  layers.every(({ content, effects, cleanEdge }) => content.kind !== 'melt' && effects.length === 0 && cleanEdge === 0);
