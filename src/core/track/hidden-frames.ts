import { lerp } from '../geometry/lerp';
import type { Corner } from './plane-template';
import type { TrackFrame } from './track';

/** Confidence under which a region was not seen on a frame, its place only predicted. */
export const SEEN = 0.2;
/** Frames each side of a gap from which the speed there is measured. */
const SPEED_FRAMES = 3;
/** A gap of this many frames is bridged half by the speed at its ends and half straight. */
const TRUSTED_GAP = 16;

/**
 * Lays the frames on which a region was not seen on a smooth path between those on which it was (a cubic with the speeds
 * at both ends). Frames before the first and after the last on which it was seen stay as they are, and so does the confidence.
 * @param frames of one track, rising, without gaps
 */
export function bridgeHidden(frames: readonly TrackFrame[]): TrackFrame[] {
  const out = [...frames];
  let last = -1;
  for (let i = 0; i < frames.length; i++) {
    if (frames[i]!.confidence < SEEN) continue;
    if (last >= 0 && i - last > 1) bridge(frames, last, i, out);
    last = i;
  }
  return out;
}

function bridge(frames: readonly TrackFrame[], from: number, to: number, out: TrackFrame[]): void {
  const gap = to - from;
  const [a, b] = [frames[from]!.corners, frames[to]!.corners];
  const trust = 1 / (1 + gap / TRUSTED_GAP);
  const [leaving, arriving] = [speedAt(frames, from, -1), speedAt(frames, to, 1)];
  for (let i = from + 1; i < to; i++) {
    const t = (i - from) / gap;
    const corners = a.map((corner, c): Corner => {
      const at = (axis: 0 | 1): number => {
        const whole = b[c]![axis] - corner[axis];
        const start = lerp(whole, (leaving?.[c]?.[axis] ?? whole / gap) * gap, trust);
        const end = lerp(whole, (arriving?.[c]?.[axis] ?? whole / gap) * gap, trust);
        return corner[axis] + t * t * (3 - 2 * t) * whole + t * (1 - t) * ((1 - t) * start - t * end);
      };
      return [at(0), at(1)];
    });
    out[i] = { ...frames[i]!, corners };
  }
}

/** Pixels a frame of each corner over the seen frames on `side` of frame `at`; null when there is none. */
function speedAt(frames: readonly TrackFrame[], at: number, side: 1 | -1): Corner[] | null {
  let n = 0;
  while (n < SPEED_FRAMES && (frames[at + side * (n + 1)]?.confidence ?? 0) >= SEEN) n++;
  if (n === 0) return null;
  const other = frames[at + side * n]!.corners;
  return frames[at]!.corners.map(([x, y], c): Corner => [(other[c]![0] - x) / (side * n), (other[c]![1] - y) / (side * n)]);
}

/**
 * One track of two that cover the same frames, one followed on from the key before them and one back from the key after: each
 * counts the more, the nearer its key and the surer it is, so that nothing jumps at a key.
 */
export function meetBetweenKeys(onward: readonly TrackFrame[], back: readonly TrackFrame[]): TrackFrame[] {
  return onward.map((a, i) => {
    const b = back[i]!;
    const t = (i + 1) / (onward.length + 1);
    const [wa, wb] = [(1 - t) * weightOf(a), t * weightOf(b)];
    const share = wb / (wa + wb);
    const corners = a.corners.map(([x, y], c): Corner => [lerp(x, b.corners[c]![0], share), lerp(y, b.corners[c]![1], share)]);
    return { frame: a.frame, corners, confidence: lerp(a.confidence, b.confidence, share) };
  });
}

const weightOf = ({ confidence }: TrackFrame): number => (confidence < SEEN ? 0.01 : confidence);
