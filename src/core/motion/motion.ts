import { channelAt, type Channel, type Spacing } from './curve';
import { placementOf, type Placement, type Pose } from './transform';

export const MOTION_CHANNELS = ['x', 'y', 'depth', 'scale', 'stretch', 'turn', 'tiltX', 'tiltY', 'pivotX', 'pivotY'] as const;
export type MotionChannel = (typeof MOTION_CHANNELS)[number];

/**
 * How a thing moves. `scale` 1 is its own size, `stretch` its width against its height; `turn` is clockwise, the tilts turn it about its
 * level and its upright axis, degrees; all about the pivot. `depth` is film pixels away from the viewer.
 */
export type Motion = Readonly<Record<MotionChannel, Channel>> & {
  /** Mirrored about its pivot. */
  readonly flip?: 'across' | 'down' | 'both';
  /** The pivot rides on the middle of this track of the layer's medium; its channels are added to that. */
  readonly pivotTrackId?: string;
  /** x and y are keyed each on its own; else a key of one is a key of both. */
  readonly apart?: boolean;
};

export const STILL: Motion = { x: 0, y: 0, depth: 0, scale: 1, stretch: 1, turn: 0, tiltX: 0, tiltY: 0, pivotX: 0, pivotY: 0 };

export const CAMERA_CHANNELS = ['x', 'y', 'depth', 'turn', 'tiltX', 'tiltY'] as const;
export type CameraChannel = (typeof CAMERA_CHANNELS)[number];

/** The eye of a join. Unmoved, a film-sized layer at depth 0 fills the frame exactly. */
export type Camera = Readonly<Record<CameraChannel, Channel>> & {
  /** mm on a back 36 mm wide. */
  readonly focalMm: number;
  readonly ridesOn?: string;
};

export const STILL_CAMERA: Camera = { focalMm: 50, x: 0, y: 0, depth: 0, turn: 0, tiltX: 0, tiltY: 0 };

/** How the film is exposed, degrees of a turning shutter: how long it is open, and when it opens, counted from the frame's own time. */
export interface Shutter {
  readonly angle: number;
  readonly phase: number;
}

export const SHUTTER: Shutter = { angle: 180, phase: -90 };

export const BETWEEN = ['nearest', 'blended', 'flow'] as const;

/** Which picture at which frame: a speed curve, 1 as filmed, 0 held, negative backwards. */
export interface Timing {
  readonly speed: Channel;
  /** The frame whose picture stays put, whatever the curve: film frames on the curve's own clock. */
  readonly anchor: number;
  /** Between two pictures: the nearer before, both blended, or one made by their motion. */
  readonly between: (typeof BETWEEN)[number];
}

/** How a channel's values are spaced: sizes by factors. */
export const spacingOf = (channel: string): Spacing => (channel === 'scale' || channel === 'stretch' ? 'factors' : 'steps');

const AT_REST: Record<MotionChannel, number> = {
  x: 0,
  y: 0,
  depth: 0,
  scale: 1,
  stretch: 1,
  turn: 0,
  tiltX: 0,
  tiltY: 0,
  pivotX: 0,
  pivotY: 0,
};

/** The numbers of a motion at a time, frames from the cut; `pivot` is added to its pivot's. */
export function poseAt(motion: Motion, time: number, pivot: readonly [number, number] = [0, 0]): Pose {
  const pose = { ...AT_REST };
  for (const name of MOTION_CHANNELS) pose[name] = channelAt(motion[name], time, AT_REST[name], spacingOf(name));
  pose.pivotX += pivot[0];
  pose.pivotY += pivot[1];
  return pose;
}

export const motionAt = (motion: Motion, time: number, pivot?: readonly [number, number]): Placement =>
  placementOf(poseAt(motion, time, pivot), motion.flip);

/** Where the camera stands at a time. */
export function cameraAt(camera: Camera, time: number): Placement {
  const at = (name: CameraChannel): number => channelAt(camera[name], time);
  return placementOf({
    x: at('x'),
    y: at('y'),
    depth: at('depth'),
    turn: at('turn'),
    tiltX: at('tiltX'),
    tiltY: at('tiltY'),
    scale: 1,
    stretch: 1,
    pivotX: 0,
    pivotY: 0,
  });
}
