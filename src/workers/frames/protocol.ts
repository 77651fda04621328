import type { FrameLook, LookPlans } from '../../core/check/look';
import type { Aligned } from '../../core/pair/align';
import type { Placement } from '../../core/pair/placement';
import type { OutlinePoint } from '../../core/matte/outline/outline';
import type { HoleShape } from '../../core/recipes/hole-shape';
import type { FramePlan } from '../../core/plan/frame-plan';
import type { Drawing } from '../../core/plan/plan-views';
import type { Band } from '../../core/render/compositor';

/** A worker does one thing at a time: who asks waits for the answer. */
export type FramesRequest =
  /** Where stored coverage comes from: this, the matte's id, a slash and the frame. */
  | { readonly kind: 'mattes'; readonly url: string }
  /** The stored coverage of a matte has changed on a frame, or with null on any. */
  | { readonly kind: 'forget'; readonly matteId: string; readonly frame: number | null }
  /** Where pictures come from. */
  | { readonly kind: 'pictures'; readonly port: MessagePort }
  | {
      readonly kind: 'draw';
      readonly job: number;
      /** Pictures much smaller than the frame will do. */
      readonly isSmall: boolean;
      /** With less work in it than the drawing says. */
      readonly isDraft: boolean;
      readonly drawing: Drawing;
      readonly width: number;
      readonly height: number;
      /** Only these rows of it, which the bitmap has. */
      readonly band?: Band;
    }
  /** Asks how much of a frame is empty. */
  | { readonly kind: 'measure'; readonly job: number; readonly plan: FramePlan }
  /** Asks what hole the mattes of a plan's first layer make in the frame. */
  | { readonly kind: 'measure hole'; readonly job: number; readonly plan: FramePlan }
  /** Asks how the picture of one plan lies over that of another. */
  | {
      readonly kind: 'align';
      readonly job: number;
      readonly plan: FramePlan;
      readonly over: FramePlan;
      /** One of them shows a part of the other, much larger. */
      readonly within: boolean;
    }
  /** Asks where the camera takes the picture of one plan on that of the next. */
  | { readonly kind: 'step'; readonly job: number; readonly plan: FramePlan; readonly over: FramePlan }
  /** Asks where the motion from one plan's picture to another's takes points, pixels of both from the centre. */
  | {
      readonly kind: 'carry points';
      readonly job: number;
      readonly plan: FramePlan;
      readonly over: FramePlan;
      readonly points: readonly OutlinePoint[];
    }
  /** Asks what a frame of a join looks like. */
  | { readonly kind: 'look'; readonly job: number; readonly plans: LookPlans };

/** Each request with a number ends in exactly one reply. The bitmap is transferred. */
export type FramesReply =
  | { readonly kind: 'drawn'; readonly job: number; readonly bitmap: ImageBitmap }
  /** The share of the frame that nothing covers, 0..1. */
  | { readonly kind: 'measured'; readonly job: number; readonly empty: number }
  | { readonly kind: 'hole'; readonly job: number; readonly hole: HoleShape | null }
  | { readonly kind: 'looked'; readonly job: number; readonly look: FrameLook }
  | { readonly kind: 'aligned'; readonly job: number; readonly before: number; readonly aligned: Aligned }
  | { readonly kind: 'stepped'; readonly job: number; readonly step: Placement }
  | { readonly kind: 'carried points'; readonly job: number; readonly points: readonly OutlinePoint[] }
  | { readonly kind: 'failed'; readonly job: number; readonly reason: string };
