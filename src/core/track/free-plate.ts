import { CHANNELS, differenceAt, type Turned } from './turned-frame';

/** Largest movement of the camera from frame to frame, pixels. */
const CAMERA_REACH = 3;
/** Share of the picture that must be free to tell it. */
const FREE_SHARE = 0.03;
/** Differences below this many levels of 255 are never taken for another thing. */
const LEAST_THRESHOLD = 9;

export interface Shift {
  readonly dx: number;
  readonly dy: number;
}

/** The camera's movement between a frame and the plate behind it, from what is free to the right of `edge`. */
export function cameraShift(frame: Turned, plate: Turned, edge: Float32Array): Shift {
  const { width, height } = frame;
  let best: Shift = { dx: 0, dy: 0 };
  let least = Infinity;
  const points: number[] = [];
  for (let y = 1; y < height; y += 3)
    for (let x = Math.max(CAMERA_REACH, Math.ceil(edge[y]!) + 5); x < width - CAMERA_REACH; x += 3) points.push(y * width + x);
  if (points.length < (FREE_SHARE * width * height) / 9) return best;
  for (let dy = -CAMERA_REACH; dy <= CAMERA_REACH; dy++)
    for (let dx = -CAMERA_REACH; dx <= CAMERA_REACH; dx++) {
      let sum = 0;
      for (const i of points) sum += Math.min(30, differenceAt(frame, plate, 1, i % width, (i / width) | 0, dx, dy));
      sum *= 1 + 0.002 * (dx * dx + dy * dy); // where nothing tells, the camera stands still
      if (sum < least) [least, best] = [sum, { dx, dy }];
    }
  return best;
}

/** How much brighter the free part of a frame is than the plate behind it: the median of ratios. */
export function exposureGain(frame: Turned, plate: Turned, { dx, dy }: Shift, edge: Float32Array): number {
  const { width, height } = frame;
  const ratios: number[] = [];
  for (let y = 2; y < height; y += 4)
    for (let x = Math.ceil(edge[y]!) + 5; x < width; x += 4) {
      const px = Math.max(0, Math.min(width - 1, x + dx));
      const py = Math.max(0, Math.min(height - 1, y + dy));
      const under = plate.data[width * height + py * width + px]!;
      if (under > 12) ratios.push(frame.data[width * height + y * width + x]! / under);
    }
  if (ratios.length < 20) return 1;
  ratios.sort((a, b) => a - b);
  return Math.max(0.7, Math.min(1.4, ratios[ratios.length >> 1]!));
}

/** The plate behind the next earlier frame: what is free there is learned anew, the rest is what was known, moved along. */
export function learnPlate(frame: Turned, plate: Turned, { dx, dy }: Shift, edge: Float32Array): Turned {
  const { width, height } = frame;
  const size = width * height;
  const data = new Float32Array(plate.data.length);
  for (let y = 0; y < height; y++) {
    const row = Math.max(0, Math.min(height - 1, y + dy)) * width;
    const free = edge[y]! + 2;
    for (let x = 0; x < width; x++) {
      const j = row + Math.max(0, Math.min(width - 1, x + dx));
      const i = y * width + x;
      const fresh = x >= free ? 0.6 : 0;
      for (let c = 0; c < CHANNELS; c++)
        data[c * size + i] = plate.data[c * size + j]! + fresh * (frame.data[c * size + i]! - plate.data[c * size + j]!);
    }
  }
  return { width, height, data };
}

/** What two free frames in a row differ by, several times over. */
export function noiseThreshold(a: Turned, b: Turned): number {
  const all: number[] = [];
  for (let y = 1; y < a.height; y += 3) for (let x = 1; x < a.width; x += 3) all.push(differenceAt(a, b, 1, x, y, 0, 0));
  all.sort((p, q) => p - q);
  return Math.max(LEAST_THRESHOLD, 4 * all[all.length >> 1]!);
}
