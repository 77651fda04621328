import { fitMap, invertMap, type Homography, type MotionModel } from '../geometry/fit-map';
import type { Corner } from './plane-template';

/** How a region may move: only from place to place, as a point does, or also in shape. */
export type TrackModel = 'position' | MotionModel;

/** A region given by hand on one medium frame. Medium pixels, origin at the picture's centre. */
export interface TrackKey {
  readonly frame: number;
  readonly corners: readonly Corner[];
}

/** The region found on one medium frame. */
export interface TrackFrame extends TrackKey {
  readonly confidence: number;
}

/** A plane region of a medium followed through its frames. */
export interface Track {
  readonly id: string;
  readonly mediumId: string;
  readonly name: string;
  readonly model: TrackModel;
  /** Rising frames; where the hand has said where the region is. */
  readonly keys: readonly TrackKey[];
  /** Rising frames; empty before it was followed. */
  readonly frames: readonly TrackFrame[];
}

/** The region on `frame`: as followed, else as given; null where it is not known. */
export function regionAt(track: Track, frame: number): TrackFrame | null {
  const key = track.keys.find((k) => k.frame === frame);
  if (key !== undefined) return { ...key, confidence: 1 };
  return track.frames.find((f) => f.frame === frame) ?? null;
}

/** The region on `frame`, or on the known frame nearest to it. */
export function regionOrNearest(track: Track, frame: number): TrackKey {
  const here = regionAt(track, frame);
  if (here !== null) return here;
  let best = track.keys[0]!;
  for (const known of [...track.keys, ...track.frames]) if (Math.abs(known.frame - frame) < Math.abs(best.frame - frame)) best = known;
  return best;
}

/**
 * The motion of the region from its first key to `frame`, as a map of medium pixels from the centre. Beyond the frames
 * that were followed the last motion holds.
 */
export function motionAt(track: Track, frame: number): Homography {
  return mapBetween(track.keys[0]!.corners, regionOrNearest(track, frame).corners, track.model);
}

function mapBetween(from: readonly Corner[], to: readonly Corner[], model: TrackModel): Homography {
  if (model === 'position') {
    const [a, b] = [centreOf(from), centreOf(to)];
    return Float64Array.of(1, 0, b[0] - a[0], 0, 1, b[1] - a[1], 0, 0, 1);
  }
  const usable = model === 'perspective' && from.length < 4 ? 'affine' : model;
  const scale = Math.max(1, ...from.flat().map(Math.abs));
  // counted in units of the region's reach, so that the equations are well matched
  const pairs = from.flatMap(([x, y], i) => [x / scale, y / scale, to[i]![0] / scale, to[i]![1] / scale, 1]);
  const m = fitMap(usable, Float64Array.from(pairs), 1, 1) ?? Float64Array.of(1, 0, 0, 0, 1, 0, 0, 0, 1);
  return Float64Array.of(m[0]!, m[1]!, m[2]! * scale, m[3]!, m[4]!, m[5]! * scale, m[6]! / scale, m[7]! / scale, 1);
}

/** Where a point drawn on `frame` lies in the frame of the track's first key, and back. */
export function ontoTrack(track: Track, frame: number): { readonly toKey: Homography; readonly toFrame: Homography } {
  const toFrame = motionAt(track, frame);
  return { toFrame, toKey: invertMap(toFrame) };
}

/** Mean of the corners: the point itself where a track follows one. */
export const centreOf = (corners: readonly Corner[]): Corner => [
  corners.reduce((sum, [x]) => sum + x, 0) / corners.length,
  corners.reduce((sum, [, y]) => sum + y, 0) / corners.length,
];

/** The patch around a point by which it is followed on a medium `width` pixels wide. */
export function patchAround([x, y]: Corner, width: number): Corner[] {
  const reach = Math.max(8, width / 90);
  return [
    [x - reach, y - reach],
    [x + reach, y - reach],
    [x + reach, y + reach],
    [x - reach, y + reach],
  ];
}
