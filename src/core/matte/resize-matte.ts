import type { Image } from '../image/image';
import { createPlane, resizePlane, type Plane } from '../image/plane';

/** Longest side of the pictures that mattes are made on. */
export const ANALYSIS_WIDTH = 720;

/** The size at which a picture of `width` × `height` is analysed. */
export function analysisSize(width: number, height: number): { readonly width: number; readonly height: number } {
  const scale = Math.min(1, ANALYSIS_WIDTH / Math.max(width, height));
  return { width: Math.max(16, Math.round(width * scale)), height: Math.max(16, Math.round(height * scale)) };
}

/** Red of `image` as coverage 0..1 at another size; averaged where it shrinks. */
export function coverageOf(image: Image, width: number, height: number): Plane {
  const full = createPlane(image.width, image.height);
  for (let i = 0; i < full.data.length; i++) full.data[i] = image.data[4 * i]! / 255;
  return resized(full, width, height);
}

/** `src` at another size: bilinear where it grows, averaged where it shrinks. */
export function resized(src: Plane, width: number, height: number): Plane {
  if (src.width === width && src.height === height) return src;
  const out = createPlane(width, height);
  if (width >= src.width) resizePlane(src, out);
  else averagePlane(src, out);
  return out;
}

function averagePlane(src: Plane, out: Plane): void {
  for (let y = 0, o = 0; y < out.height; y++) {
    const top = Math.floor((y * src.height) / out.height);
    const bottom = Math.max(top + 1, Math.floor(((y + 1) * src.height) / out.height));
    for (let x = 0; x < out.width; x++, o++) {
      const left = Math.floor((x * src.width) / out.width);
      const right = Math.max(left + 1, Math.floor(((x + 1) * src.width) / out.width));
      let sum = 0;
      for (let v = top; v < bottom; v++) for (let u = left; u < right; u++) sum += src.data[v * src.width + u]!;
      out.data[o] = sum / ((bottom - top) * (right - left));
    }
  }
}

/** Coverage 0..1 as bytes. */
export function bytesOf(alpha: Plane): Uint8Array<ArrayBuffer> {
  const out = new Uint8Array(alpha.data.length);
  for (let i = 0; i < out.length; i++) out[i] = Math.max(0, Math.min(255, 255 * alpha.data[i]! + 0.5));
  return out;
}
