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

type Samples = Float32Array | Uint8ClampedArray<ArrayBufferLike>;

/**
 * Scales a picture of one channel, or of four interleaved ones, by averaging for every target sample the area of the
 * source that it covers, parts of samples included: even at any ratio, and free of aliasing where it shrinks. `out` must
 * be other memory.
 */
export function averageArea(
  from: Samples,
  channels: 1 | 4,
  width: number,
  height: number,
  out: Samples,
  outWidth: number,
  outHeight: number,
): void {
  const across = spansOf(width, outWidth);
  const down = spansOf(height, outHeight);
  const length = outWidth * channels;
  const line = new Float32Array(length);
  const sums = new Float32Array(length);
  const averageLine = channels === 4 ? averageFour : averageOne;
  let lineOf = -1;
  for (let y = 0; y < outHeight; y++) {
    sums.fill(0);
    for (let k = 0; k < down.count; k++) {
      const weight = down.weights[y * down.count + k]!;
      if (weight === 0) continue;
      const row = down.first[y]! + k;
      // a row on the border of two targets serves twice
      if (row !== lineOf) averageLine(from, row * width * channels, across, line);
      lineOf = row;
      for (let i = 0; i < length; i++) sums[i]! += weight * line[i]!;
    }
    for (let i = 0, o = y * length; i < length; i++, o++) out[o] = sums[i]!;
  }
}

function averageOne(from: Samples, start: number, { count, first, weights }: Spans, line: Float32Array): void {
  for (let x = 0, w = 0; x < line.length; x++) {
    let sum = 0;
    for (let k = 0, i = start + first[x]!; k < count; k++, i++, w++) if (weights[w]! > 0) sum += weights[w]! * from[i]!;
    line[x] = sum;
  }
}

function averageFour(from: Samples, start: number, { count, first, weights }: Spans, line: Float32Array): void {
  for (let o = 0, x = 0, w = 0; o < line.length; o += 4, x++) {
    let r = 0;
    let g = 0;
    let b = 0;
    let a = 0;
    for (let k = 0, i = start + 4 * first[x]!; k < count; k++, i += 4, w++) {
      const weight = weights[w]!;
      if (weight === 0) continue;
      r += weight * from[i]!;
      g += weight * from[i + 1]!;
      b += weight * from[i + 2]!;
      a += weight * from[i + 3]!;
    }
    line[o] = r;
    line[o + 1] = g;
    line[o + 2] = b;
    line[o + 3] = a;
  }
}
