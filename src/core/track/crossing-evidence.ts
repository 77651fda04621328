import type { Shift } from './free-plate';
import { CHANNELS, differenceAt, type Turned } from './turned-frame';

const COLOUR_BITS = 3;
const COLOURS = 1 << (CHANNELS * COLOUR_BITS);

/**
 * Which colours the crossing thing has and which the free background: where both are dark, that a pixel agrees with the
 * background says little.
 */
export class Colours {
  private readonly thing = new Float32Array(COLOURS).fill(0.01);
  private readonly free = new Float32Array(COLOURS).fill(0.01);
  private things = 0.01 * COLOURS;
  private frees = 0.01 * COLOURS;

  static binOf({ width, height, data }: Turned, i: number): number {
    const size = width * height;
    const down = 8 - COLOUR_BITS;
    return ((data[i]! >> down) << (2 * COLOUR_BITS)) | ((data[size + i]! >> down) << COLOUR_BITS) | (data[2 * size + i]! >> down);
  }

  /** 0..1: how much agreement with the background at a colour counts. */
  weight(bin: number): number {
    const thing = this.thing[bin]! / this.things;
    const free = this.free[bin]! / this.frees;
    return free / (free + thing);
  }

  learn(frame: Turned, signs: Float32Array, edge: Float32Array): void {
    const { width, height } = frame;
    for (let y = 0; y < height; y += 2)
      for (let x = 0; x < width; x += 2) {
        const i = y * width + x;
        const bin = Colours.binOf(frame, i);
        if (x < edge[y]! - 3 && signs[i]! > 0) [this.thing[bin], this.things] = [this.thing[bin]! + 1, this.things + 1];
        else if (x > edge[y]! + 3) [this.free[bin], this.frees] = [this.free[bin]! + 1, this.frees + 1];
      }
  }
}

/**
 * For every pixel how surely it is the crossing thing (+1) or the free background (−1): the smallest difference to the
 * plate within a pixel around, against `threshold`.
 */
export function evidence(
  frame: Turned,
  plate: Turned,
  { dx, dy }: Shift,
  gain: number,
  threshold: number,
  colours: Colours,
  out: Float32Array,
): void {
  const { width, height } = frame;
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      let least = Infinity;
      for (let v = -1; v <= 1; v++)
        for (let u = -1; u <= 1; u++) least = Math.min(least, differenceAt(frame, plate, gain, x, y, dx + u, dy + v));
      const sign = Math.max(-1, Math.min(1, (least - threshold) / threshold));
      out[i] = sign < 0 ? sign * colours.weight(Colours.binOf(frame, i)) : sign;
    }
}
