import type { Finding } from '../../../core/check/finding';
import type { Matte } from '../../../core/film/film';
import { DOUBTFUL } from '../../../core/film/matte-frame';
import type { PlacedJoin } from '../../../core/film/timing';
import { MOTION_CHANNELS } from '../../../core/motion/motion';
import type { Track } from '../../../core/track/track';
import type { Step } from '../common/bench-place';
import type { StepState } from '../common/bench-tabs';
import type { StrokeTools } from '../mask/stroke-tools';
import type { TrackTools } from '../track/track-tools';

interface BenchWork {
  readonly placed: PlacedJoin;
  readonly findings: readonly Finding[];
  /** Film frames with a hole or without a picture. */
  readonly faults: ReadonlySet<number>;
  readonly matte: Matte | null;
  readonly strokes: StrokeTools | null;
  readonly track: TrackTools | null;
}

function matteState(matte: Matte | null, strokes: StrokeTools | null): StepState {
  if (matte === null) return 'open';
  if (matte.key !== undefined) return 'done';
  if (strokes === null) return matte.outline.closed ? 'done' : 'open';
  if (strokes.doubtful.length > 0) return 'look';
  return strokes.frames.length > 0 ? 'done' : 'open';
}

function trackState(track: Track | null): StepState {
  if (track === null || track.frames.length === 0) return 'open';
  return track.frames.some((f) => f.confidence < DOUBTFUL) ? 'look' : 'done';
}

/** Whether anything of the join moves by a carrier, the camera or keys of its own. */
const hasMotion = ({ join }: PlacedJoin): boolean =>
  join.carriers.length > 0 ||
  join.camera !== undefined ||
  join.layers.some((l) => MOTION_CHANNELS.some((c) => typeof l.motion[c] !== 'number'));

/** Which steps are still to do, done, or want a look. */
export function stepStates({ placed, findings, faults, matte, strokes, track }: BenchWork): Record<Step, StepState> {
  const overlap: StepState = placed.to > placed.from ? 'done' : 'open';
  return {
    pair: faults.size > 0 ? 'look' : overlap,
    mask: matteState(matte, strokes),
    track: trackState(track?.track ?? null),
    move: hasMotion(placed) ? 'done' : 'open',
    blend: placed.join.finish.length > 0 || placed.join.layers.some((l) => l.effects.length > 0 || l.blend !== 'normal') ? 'done' : 'open',
    check: findings.length > 0 ? 'look' : overlap,
  };
}
