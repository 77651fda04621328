import type { Image } from '../image/pixels';

/** Where the crossing thing goes. */
export type Direction = 'left' | 'right' | 'up' | 'down';

export const CHANNELS = 3;

/** One frame turned so that the thing moves left: three channels, one after the other. */
export interface Turned {
  readonly width: number;
  readonly height: number;
  readonly data: Float32Array;
}

/** Turns an image so that movement in `direction` becomes movement to the left, and takes the grain off it. */
export function turn({ width, height, data }: Image, direction: Direction): Turned {
  const upright = direction === 'left' || direction === 'right';
  const w = upright ? width : height;
  const h = upright ? height : width;
  const flip = direction === 'right' || direction === 'down';
  const out = new Float32Array(CHANNELS * w * h);
  for (let y = 0, i = 0; y < h; y++)
    for (let x = 0; x < w; x++, i++) {
      const along = flip ? w - 1 - x : x;
      const at = 4 * (upright ? y * width + along : along * width + y);
      for (let c = 0; c < CHANNELS; c++) out[c * w * h + i] = data[at + c]!;
    }
  return { width: w, height: h, data: blurred(out, w, h) };
}

/** Means of 3×3 pixels; edges repeat. */
function blurred(data: Float32Array, width: number, height: number): Float32Array {
  const out = new Float32Array(data.length);
  const size = width * height;
  for (let c = 0; c < CHANNELS; c++)
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        let sum = 0;
        for (let v = -1; v <= 1; v++) {
          const row = c * size + Math.max(0, Math.min(height - 1, y + v)) * width;
          for (let u = -1; u <= 1; u++) sum += data[row + Math.max(0, Math.min(width - 1, x + u))]!;
        }
        out[c * size + y * width + x] = sum / 9;
      }
  return out;
}

/** Mean difference per channel at one pixel, `plate` shifted by (dx, dy). */
export function differenceAt(frame: Turned, plate: Turned, gain: number, x: number, y: number, dx: number, dy: number): number {
  const { width, height } = frame;
  const px = Math.max(0, Math.min(width - 1, x + dx));
  const py = Math.max(0, Math.min(height - 1, y + dy));
  const i = y * width + x;
  const j = py * width + px;
  const size = width * height;
  return (
    (Math.abs(frame.data[i]! - gain * plate.data[j]!) +
      Math.abs(frame.data[size + i]! - gain * plate.data[size + j]!) +
      Math.abs(frame.data[2 * size + i]! - gain * plate.data[2 * size + j]!)) /
    3
  );
}
