import type { BlendMode, Colour } from '../../film/composition';
import type { Matrix } from '../../geometry/matrix';
import type { Image } from '../../image/pixels';
import { beginCall, kernels, NOTHING, putBytes, takeBytes, type Arena } from '../../kernels/kernels';
import type { Band } from '../compositor';
import type { Blocks, Region } from './open-shutter';

/** Pixels of a row that are looked at together. */
const BLOCK = 16;
/** Of a block that no layer hides. */
const NOBODY = 255;

const MODES: Readonly<Record<BlendMode, number>> = { normal: 0, add: 1, multiply: 2, screen: 3, lighten: 4, darken: 5 };

const coverPlace = (coverage: Uint8Array | null): number => (coverage === null ? NOTHING : putBytes(coverage));

export function isOpaque({ data, width, height }: Image): boolean {
  beginCall();
  return kernels.isOpaque(putBytes(data), width * height) !== 0;
}

/**
 * Which blocks of 16 pixels of a band are hidden by an opaque layer, and by which: front to back layers close blocks, then back to front each
 * is laid only where none before it hides it. Layers are numbered from the front.
 */
export class Hidden implements Blocks {
  private readonly width: number;
  readonly across: number;
  private readonly band: Band;
  readonly closedBy: Uint8Array;
  /** Blocks that are not hidden yet. */
  private open: number;

  constructor(width: number, height: number, band: Band, arena: Arena) {
    this.width = width;
    this.across = Math.ceil(width / BLOCK);
    this.band = band;
    this.closedBy = arena.bytes(this.across * height).fill(NOBODY);
    this.open = this.across * (band.bottom - band.top);
  }

  get isAll(): boolean {
    return this.open === 0;
  }

  /** True when nothing behind the layers so far can be seen in a region. */
  covers({ left, top, right, bottom }: Region): boolean {
    if (this.open === this.across * (this.band.bottom - this.band.top)) return false;
    const [first, end] = [Math.floor(left / BLOCK), Math.ceil(right / BLOCK)];
    for (let y = top; y < bottom; y++)
      for (let block = first; block < end; block++) if (this.closedBy[y * this.across + block] === NOBODY) return false;
    return true;
  }

  /** An opaque layer covers this much of the plane, all of it with null. */
  closeCovered(coverage: Uint8Array | null, index: number): void {
    if (index >= NOBODY) return;
    const { top, bottom } = this.band;
    beginCall();
    const marks = putBytes(this.closedBy);
    this.open -= kernels.closeCovered(coverPlace(coverage), this.width, top, bottom, index, marks);
    takeBytes(marks, this.closedBy);
  }

  /** A plainly blended surface lies there with its own alpha. */
  closeBySurface(surface: Image, { left, top, right, bottom }: Region, index: number): void {
    if (index >= NOBODY) return;
    beginCall();
    const marks = putBytes(this.closedBy);
    this.open -= kernels.closeBySurface(putBytes(surface.data), this.width, left, top, right, bottom, index, marks);
    takeBytes(marks, this.closedBy);
  }

  /** Lays a picture over `out` in the band; see `layAligned` and `laySampled` of the kernels. Null for a map that changes nothing. */
  layPicture(
    picture: Image,
    opaque: boolean,
    inverse: Matrix | null,
    mirrored: boolean,
    coverage: Uint8Array | null,
    opacity: number,
    index: number,
    out: Image,
  ): void {
    const { top, bottom } = this.band;
    beginCall();
    const [from, cover, marks, to] = [putBytes(picture.data), coverPlace(coverage), putBytes(this.closedBy), putBytes(out.data)];
    const number = Math.min(NOBODY, index);
    if (inverse === null) kernels.layAligned(from, opaque, cover, opacity, out.width, top, bottom, marks, number, to);
    else {
      const [a, c, e, b, d, f] = inverse;
      const { width, height } = picture;
      const map = [a, b, c, d, e, f] as const;
      kernels.laySampled(from, width, height, opaque, ...map, mirrored, cover, opacity, out.width, top, bottom, marks, number, to);
    }
    takeBytes(to, out.data);
  }

  /** Lays a premultiplied surface, which holds `region` of the plane, over `out`. */
  laySurface(
    surface: Image,
    region: Region,
    coverage: Uint8Array | null,
    opacity: number,
    mode: BlendMode,
    index: number,
    out: Image,
  ): void {
    const { left, top, right, bottom } = region;
    beginCall();
    const [from, cover, marks, to] = [putBytes(surface.data), coverPlace(coverage), putBytes(this.closedBy), putBytes(out.data)];
    const number = Math.min(NOBODY, index);
    kernels.laySurface(from, cover, opacity, MODES[mode], out.width, left, top, right, bottom, marks, number, to);
    takeBytes(to, out.data);
  }
}

/** Puts `made` in the place of what `out` holds in a band, as far as `coverage` and `opacity` say. */
export function replaceIn(made: Image, coverage: Uint8Array | null, opacity: number, { top, bottom }: Band, out: Image): void {
  beginCall();
  const [from, cover, to] = [putBytes(made.data), coverPlace(coverage), putBytes(out.data)];
  kernels.replaceIn(from, cover, opacity, out.width, top, bottom, to);
  takeBytes(to, out.data);
}

/** Lays `out` over one colour. */
export function overColour(out: Image, [r, g, b]: Colour): void {
  beginCall();
  const to = putBytes(out.data);
  kernels.layOverColour(to, out.width * out.height, (r | (g << 8) | (b << 16) | (255 << 24)) >>> 0);
  takeBytes(to, out.data);
}
