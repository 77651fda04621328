import { beginCall, kernels, putBytes, putFloats, putInts, reserve, takeBytes } from '../kernels/kernels';
import type { Image, Plane } from './pixels';

/** Which source samples a target sample covers, and by how much: `count` weights a target, of which some may be 0. */
interface Spans {
  readonly count: number;
  readonly first: Int32Array;
  readonly weights: Float32Array;
}

function spansOf(from: number, to: number): Spans {
  const ratio = from / to;
  const count = Math.ceil(ratio) + 1;
  const first = new Int32Array(to);
  const weights = new Float32Array(to * count);
  for (let t = 0; t < to; t++) {
    const start = t * ratio;
    const end = start + ratio;
    first[t] = Math.min(from - 1, Math.floor(start + 1e-9));
    for (let k = 0, s = first[t]!; k < count && s < from; k++, s++)
      weights[t * count + k] = Math.max(0, Math.min(end, s + 1) - Math.max(start, s)) / ratio;
  }
  return { count, first, weights };
}

/**
 * Scales a picture by averaging for every target pixel the area of the source that it covers, parts of pixels included: even
 * at any ratio, and free of aliasing where it shrinks. `out` must be other memory.
 */
export function averagePicture(from: Image, out: Image): void {
  const across = spansOf(from.width, out.width);
  const down = spansOf(from.height, out.height);
  beginCall();
  const small = reserve(out.data.length, 1);
  kernels.averagePicture(
    putBytes(from.data),
    from.width,
    putInts(across.first),
    putFloats(across.weights),
    across.count,
    putInts(down.first),
    putFloats(down.weights),
    down.count,
    small,
    out.width,
    out.height,
    reserve(8 * out.width),
  );
  takeBytes(small, out.data);
}

/** The same for a plane. */
export function averagePlane(from: Plane, out: Plane): void {
  const across = spansOf(from.width, out.width);
  const down = spansOf(from.height, out.height);
  const line = new Float32Array(out.width);
  const sums = new Float32Array(out.width);
  let lineOf = -1;
  for (let y = 0; y < out.height; y++) {
    sums.fill(0);
    for (let k = 0; k < down.count; k++) {
      const weight = down.weights[y * down.count + k]!;
      if (weight === 0) continue;
      const row = down.first[y]! + k;
      // a row on the border of two targets serves twice
      if (row !== lineOf) averageLine(from.data, row * from.width, across, line);
      lineOf = row;
      for (let x = 0; x < sums.length; x++) sums[x]! += weight * line[x]!;
    }
    out.data.set(sums, y * out.width);
  }
}

function averageLine(from: Float32Array, start: number, { count, first, weights }: Spans, line: Float32Array): void {
  for (let x = 0, w = 0; x < line.length; x++) {
    let sum = 0;
    for (let k = 0, i = start + first[x]!; k < count; k++, i++, w++) if (weights[w]! > 0) sum += weights[w]! * from[i]!;
    line[x] = sum;
  }
}
