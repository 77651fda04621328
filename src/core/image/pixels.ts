/** Colour picture, RGBA8, row-major, top-left first, straight alpha, no row padding. Owns its buffer. */
export interface Image {
  readonly width: number;
  readonly height: number;
  readonly data: Uint8ClampedArray<ArrayBufferLike>;
}

/** One channel, row-major, no row padding. Owns its buffer, so it can be transferred. */
export interface Plane {
  readonly width: number;
  readonly height: number;
  readonly data: Float32Array<ArrayBuffer>;
}

/** @throws RangeError unless both sides are positive whole numbers. */
export function createImage(width: number, height: number): Image {
  if (!(Number.isInteger(width) && Number.isInteger(height) && width > 0 && height > 0))
    throw new RangeError(`createImage: ${width}×${height} is no picture size`);
  return { width, height, data: new Uint8ClampedArray(4 * width * height) };
}

/** @throws RangeError unless both sides are positive whole numbers. */
export function createPlane(width: number, height: number): Plane {
  if (!(Number.isInteger(width) && Number.isInteger(height) && width > 0 && height > 0))
    throw new RangeError('createPlane: sides must be positive whole numbers');
  return { width, height, data: new Float32Array(width * height) };
}

/** @throws RangeError when `plane` has another size. */
export function requireSize(plane: { readonly width: number; readonly height: number }, width: number, height: number, what: string): void {
  if (plane.width !== width || plane.height !== height)
    throw new RangeError(`${what} must be ${width}×${height}, not ${plane.width}×${plane.height}`);
}
