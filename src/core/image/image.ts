import { averagePicture } from './area';
import { createImage, type Image } from './pixels';

/**
 * Shrinks `from` into `out`, which is at most as large on both sides, by averaging areas.
 * @throws RangeError when `out` is larger.
 */
export function shrinkImage(from: Image, out: Image): void {
  if (out.width > from.width || out.height > from.height) throw new RangeError('shrinkImage: out is larger than the picture');
  averagePicture(from, out);
}

/** The same picture in memory of its own, which may be given away. */
export function copyImage({ width, height, data }: Image): Image {
  const out = createImage(width, height);
  out.data.set(data);
  return out;
}

/** `picture` averaged down to `width` × `height`; itself when it has that size. @throws RangeError when it is smaller. */
export function shrunkTo(picture: Image, width: number, height: number): Image {
  if (picture.width === width && picture.height === height) return picture;
  const small = createImage(width, height);
  shrinkImage(picture, small);
  return small;
}

/** True when any pixel lets something through. */
export function isTransparent({ data }: Image): boolean {
  for (let p = 3; p < data.length; p += 4) if (data[p]! < 255) return true;
  return false;
}

/** Makes RGBA8 colours that are multiplied by alpha straight. */
export function unmultiply(data: Uint8ClampedArray<ArrayBufferLike>): void {
  for (let i = 0; i < data.length; i += 4) {
    const alpha = data[i + 3]!;
    if (alpha === 0 || alpha === 255) continue;
    for (let c = i; c < i + 3; c++) data[c] = (255 * data[c]!) / alpha;
  }
}
