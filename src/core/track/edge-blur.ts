import type { Shift } from './free-plate';
import { differenceAt, type Turned } from './turned-frame';

/** Pixels beside a blurred edge that are surely the thing, or the background. */
const CLEAR = 3;
/** Pixels on either side by which thing and background are told. */
const WINDOW = 7;
/** Places on either side that are looked at so that the difference they show on the average counts. */
const LEAST_PLACES = 60;
/** The thing has to differ from the background this many times as much as the background from itself. */
const LEAST_CONTRAST = 2;

/**
 * How far the middle of a moving edge's blur lies before the place where its difference to the background is first seen, pixels, above 0 towards
 * the thing. Over all lines the difference to `plate` is taken by its distance to the edge: its middle is where it has half of what it has within
 * the thing. `edge` is where the thing ends on each line, `step` how far it goes in a frame. Null where too little of thing or background is in sight.
 */
export function blurOffset(frame: Turned, plate: Turned, { dx, dy }: Shift, gain: number, edge: Float32Array, step: number): number | null {
  const { width, height } = frame;
  // what is seen first may be half of a frame's movement before the middle, and the blur ends as far behind that
  const reach = Math.ceil(step) + CLEAR;
  const from = -reach - WINDOW;
  const count = reach + WINDOW - from + 1;
  const sums = new Float64Array(count);
  const places = new Uint32Array(count);
  for (let y = 1; y < height - 1; y += 2)
    for (let k = 0; k < count; k++) {
      const x = Math.round(edge[y]! + from + k);
      if (x < 0 || x >= width) continue;
      sums[k]! += differenceAt(frame, plate, gain, x, y, dx, dy);
      places[k]!++;
    }
  const meanOver = (first: number, last: number): number | null => {
    let sum = 0;
    let n = 0;
    for (let k = first; k <= last; k++) [sum, n] = [sum + sums[k]!, n + places[k]!];
    return n < LEAST_PLACES ? null : sum / n;
  };
  const within = meanOver(0, WINDOW);
  const beyond = meanOver(count - 1 - WINDOW, count - 1);
  if (within === null || beyond === null || within < LEAST_CONTRAST * beyond) return null;
  const half = (within + beyond) / 2;
  // from the background inwards, the first place that is more thing than background
  for (let k = count - 2; k > 0; k--) {
    if (places[k]! === 0 || places[k + 1]! === 0) continue;
    const [here, next] = [sums[k]! / places[k]!, sums[k + 1]! / places[k + 1]!];
    if (here < half) continue;
    const part = here === next ? 0 : Math.max(0, Math.min(1, (here - half) / (here - next)));
    return -(from + k + part) - 0.5;
  }
  return null;
}
