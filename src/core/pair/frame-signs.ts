import { denseFlow, prepareFlow } from '../flow/dense-flow';
import { sharedMotion } from '../flow/flow-field';
import { shrunkTo } from '../image/image';
import { halved, lumaOf, resizePlane } from '../image/plane';
import { createImage, createPlane, type Image, type Plane } from '../image/pixels';
import { IN_PLACE, placedTwice, type Placement } from './placement';

/** Width, in pixels, at which frames are compared; heights follow the picture. */
export const SIGNS_WIDTH = 320;
/** Sides of the small picture in which every pair is compared. */
const SMALL_WIDTH = 64;

/** How a whole frame moves to the next one, in pixels of the signs' picture. */
export interface FrameMotion {
  /** Where the frame's own content goes. */
  readonly placement: Placement;
  /** The mean motion, and its strength wherever it goes. */
  readonly u: number;
  readonly v: number;
  readonly strength: number;
}

const STANDING: FrameMotion = { placement: IN_PLACE, u: 0, v: 0, strength: 0 };

/** What is known of one frame for pairing it with others. */
export interface FrameSigns {
  readonly luma: Plane;
  /** Colours at a small size. */
  readonly small: Image;
  readonly smallLuma: Plane;
  readonly motion: FrameMotion;
}

const heightAt = (width: number, image: Image): number => Math.max(1, Math.round((width * image.height) / image.width));

/** Takes the frames of a shot one after the other and gives the signs of each. */
export class SignsReader {
  private before: { readonly luma: Plane; readonly levels: readonly Plane[] } | null = null;

  /** `image` is `SIGNS_WIDTH` wide. The motion of the signs is that from the frame before; the first stands still. */
  next(image: Image): FrameSigns {
    const luma = lumaOf(image);
    const levels = flowLevels(luma);
    const motion = this.before === null ? STANDING : motionBetween(this.before.levels, levels);
    this.before = { luma, levels };
    const small = createImage(SMALL_WIDTH, heightAt(SMALL_WIDTH, image));
    small.data.set(shrunkTo(image, small.width, small.height).data);
    return { luma, small, smallLuma: lumaOf(small), motion };
  }
}

/** Times the picture of the signs is as large as the one motion is found on. */
const FLOW_SHRINK = 4;

/** What the motion of a luma plane `SIGNS_WIDTH` wide is found on. */
export const flowLevels = (luma: Plane): readonly Plane[] => prepareFlow(halved(halved(luma)));

/** How one frame moves to another. */
export function motionBetween(from: readonly Plane[], to: readonly Plane[]): FrameMotion {
  const field = denseFlow(from, to, 'fast');
  const { width, height } = from[0]!;
  const motion = sharedMotion(field);
  const [a, b, c, d, e, f] = motion as unknown as [number, number, number, number, number, number];
  const [mx, my] = [width / 2, height / 2];
  let [u, v, strength] = [0, 0, 0];
  const n = field.u.length;
  for (let i = 0; i < n; i++) {
    u += field.u[i]! / n;
    v += field.v[i]! / n;
    strength += Math.hypot(field.u[i]!, field.v[i]!) / n;
  }
  const along = 1 + 0.5 * (a + e);
  const across = 0.5 * (d - b);
  return {
    placement: {
      scale: Math.hypot(along, across),
      turn: Math.atan2(across, along),
      dx: FLOW_SHRINK * (a * mx + b * my + c),
      dy: FLOW_SHRINK * (d * mx + e * my + f),
      flip: false,
    },
    u: FLOW_SHRINK * u,
    v: FLOW_SHRINK * v,
    strength: FLOW_SHRINK * strength,
  };
}

/** Where the content of each frame lies in the first, frame after frame. */
export function pathOf(signs: readonly FrameSigns[]): Placement[] {
  let now: Placement = IN_PLACE;
  return signs.map((s, i) => (now = i === 0 ? IN_PLACE : placedTwice(now, s.motion.placement)));
}

/** A luma plane at half its size, or at a given width. */
export function planeAt(luma: Plane, width: number): Plane {
  let plane = luma;
  while (plane.width >= 2 * width) plane = halved(plane);
  if (plane.width === width) return plane;
  const out = createPlane(width, Math.max(1, Math.round((width * luma.height) / luma.width)));
  resizePlane(plane, out);
  return out;
}
