/** Colour picture, RGBA8, row-major, top-left first, straight alpha, no row padding. Owns its buffer. */
export interface Image {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8ClampedArray<ArrayBufferLike>;
}

/** @throws RangeError unless both sides are positive whole numbers. */
export function createImage(width: number, height: number): Image {
  if (!(Number.isInteger(width) && Number.isInteger(height) && width > 0 && height > 0))
    throw new RangeError(`createImage: ${width}×${height} is no picture size`);
  return { width, height, data: new Uint8ClampedArray(4 * width * height) };
}

/**
 * Shrinks `from` into `out` by averaging, for every pixel of `out`, the whole pixels of `from` it covers.
 * Meant for thumbnails: `out` is at most as large as `from` on both sides.
 * @throws RangeError when `out` is larger.
 */
export function shrinkImage(from: Image, out: Image): void {
  if (out.width > from.width || out.height > from.height) throw new RangeError('shrinkImage: out is larger than the picture');
  const source = from.data;
  const target = out.data;
  const columns = new Int32Array(out.width + 1);
  for (let x = 0; x <= out.width; x++) columns[x] = Math.floor((x * from.width) / out.width);
  for (let y = 0, o = 0; y < out.height; y++) {
    const top = Math.floor((y * from.height) / out.height);
    const bottom = Math.floor(((y + 1) * from.height) / out.height);
    for (let x = 0; x < out.width; x++, o += 4) {
      const left = columns[x]!;
      const right = columns[x + 1]!;
      let r = 0;
      let g = 0;
      let b = 0;
      let a = 0;
      for (let v = top; v < bottom; v++) {
        for (let i = 4 * (v * from.width + left), end = i + 4 * (right - left); i < end; i += 4) {
          r += source[i]!;
          g += source[i + 1]!;
          b += source[i + 2]!;
          a += source[i + 3]!;
        }
      }
      const count = (bottom - top) * (right - left);
      target[o] = r / count;
      target[o + 1] = g / count;
      target[o + 2] = b / count;
      target[o + 3] = a / count;
    }
  }
}

/** Makes RGBA8 colours that are multiplied by alpha straight. */
export function unmultiply(data: Uint8ClampedArray<ArrayBufferLike>): void {
  for (let i = 0; i < data.length; i += 4) {
    const alpha = data[i + 3]!;
    if (alpha === 0 || alpha === 255) continue;
    for (let c = i; c < i + 3; c++) data[c] = (255 * data[c]!) / alpha;
  }
}
