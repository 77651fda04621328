import type { FrameLook, LookPlans } from '../../core/check/look';
import type { Aligned } from '../../core/pair/align';
import type { Placement } from '../../core/pair/placement';
import type { OutlinePoint } from '../../core/matte/outline/outline';
import type { HoleShape } from '../../core/recipes/hole-shape';
import type { FramePlan } from '../../core/plan/frame-plan';
import type { Drawing } from '../../core/plan/plan-views';

/** A medium the worker may decode. */
export interface ProxySource {
  readonly mediumId: string;
  /** A WebM of its frames or, of a still, a PNG. */
  readonly url: string;
  readonly framesPerSecond: number;
  readonly frames: number;
}

/**
 * 'now' answers the newest request first and drops older ones that wait; 'ahead' (frames about to be played) and
 * 'thumb' are served in order when nothing more urgent waits.
 */
export type Lane = 'now' | 'ahead' | 'thumb';

export type FramesRequest =
  /** Where stored coverage comes from: this, the matte's id, a slash and the frame. */
  | { readonly kind: 'mattes'; readonly url: string }
  /** The stored coverage of a matte has changed on a frame, or with null on any. */
  | { readonly kind: 'forget'; readonly matteId: string; readonly frame: number | null }
  | { readonly kind: 'media'; readonly media: readonly ProxySource[] }
  | {
      readonly kind: 'draw';
      readonly job: number;
      readonly lane: Lane;
      readonly drawing: Drawing;
      readonly width: number;
      readonly height: number;
    }
  /** Asks for `owner` how much of a frame is empty; answered when nothing else waits. */
  | { readonly kind: 'measure'; readonly job: number; readonly owner: string; readonly plan: FramePlan }
  /** Asks for `owner` what hole the mattes of a plan's first layer make in the frame. */
  | { readonly kind: 'measure hole'; readonly job: number; readonly owner: string; readonly plan: FramePlan }
  /** Asks for `owner` how the picture of one plan lies over that of another. */
  | {
      readonly kind: 'align';
      readonly job: number;
      readonly owner: string;
      readonly plan: FramePlan;
      readonly over: FramePlan;
      /** One of them shows a part of the other, much larger. */
      readonly within: boolean;
    }
  /** Asks for `owner` where the camera takes the picture of one plan on that of the next. */
  | { readonly kind: 'step'; readonly job: number; readonly owner: string; readonly plan: FramePlan; readonly over: FramePlan }
  /** Asks for `owner` where the motion from one plan's picture to another's takes points, pixels of both from the centre. */
  | {
      readonly kind: 'carry points';
      readonly job: number;
      readonly owner: string;
      readonly plan: FramePlan;
      readonly over: FramePlan;
      readonly points: readonly OutlinePoint[];
    }
  /** Asks for `owner` what a frame of a join looks like; answered when nothing else waits. */
  | { readonly kind: 'look'; readonly job: number; readonly owner: string; readonly plans: LookPlans }
  /** Drops what waits to be measured for `owner`; each dropped job is answered. */
  | { readonly kind: 'drop measures'; readonly owner: string }
  /** Drops what waits in a lane; each dropped job is answered. */
  | { readonly kind: 'drop'; readonly lane: Lane };

/** Each draw job ends in exactly one reply. The bitmap is transferred. */
export type FramesReply =
  | { readonly kind: 'drawn'; readonly job: number; readonly bitmap: ImageBitmap }
  /** The share of the frame that nothing covers, 0..1. */
  | { readonly kind: 'measured'; readonly job: number; readonly empty: number }
  | { readonly kind: 'hole'; readonly job: number; readonly hole: HoleShape | null }
  | { readonly kind: 'looked'; readonly job: number; readonly look: FrameLook }
  | { readonly kind: 'aligned'; readonly job: number; readonly before: number; readonly aligned: Aligned }
  | { readonly kind: 'stepped'; readonly job: number; readonly step: Placement }
  | { readonly kind: 'carried points'; readonly job: number; readonly points: readonly OutlinePoint[] }
  | { readonly kind: 'dropped'; readonly job: number }
  | { readonly kind: 'failed'; readonly job: number; readonly reason: string };
