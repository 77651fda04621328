import type { Image } from '../../core/image/pixels';

/** A picture in memory that other workers read as it is, where the page may share memory; else they get a copy of it. */
export function sharedImage(width: number, height: number): Image {
  const bytes = 4 * width * height;
  return {
    width,
    height,
    data: new Uint8ClampedArray(globalThis.crossOriginIsolated ? new SharedArrayBuffer(bytes) : new ArrayBuffer(bytes)),
  };
}
