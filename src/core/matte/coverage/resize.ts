import { averagePlane } from '../../image/area';
import { createPlane, type Image, type Plane } from '../../image/pixels';
import { boundsOf, resizePlane } from '../../image/plane';
import type { StoredCoverage } from './stored-coverage';

/** Longest side of the pictures that mattes are made on. */
export const ANALYSIS_WIDTH = 720;

/** Longest side of the pictures on which mattes are carried; the detail of their edge comes from a larger one afterwards. */
const CARRY_SIDE = 400;
/** A small subject is carried on larger pictures, so that it is this long there. */
const SUBJECT_SIDE = 110;

/** Longest side of the pictures that strokes cut on the command line; larger ones give the edge its detail afterwards. */
const CUT_SIDE = 1920;

/** Longest side of the pictures that strokes are tried on while they are painted. */
const PAINTING_SIDE = 480;

/** The size at which a picture of `width` × `height` is analysed. */
export const analysisSize = (width: number, height: number): Size => sizeWithin(ANALYSIS_WIDTH, width, height);

/** The size at which the matte `alpha` is carried: at most that at which it is analysed. */
export function carrySize(alpha: Plane): Size {
  const { width, height } = alpha;
  const bounds = boundsOf(alpha, 0.5, 0);
  const subject = bounds === null ? Infinity : Math.max(bounds.right - bounds.left, bounds.bottom - bounds.top);
  const wanted = Math.max(CARRY_SIDE, Math.round((SUBJECT_SIDE / subject) * Math.max(width, height)));
  return sizeWithin(Math.min(ANALYSIS_WIDTH, wanted), width, height);
}

/** The size at which a picture of `width` × `height` is cut while the pointer is down. */
export const paintingSize = (width: number, height: number): Size => sizeWithin(PAINTING_SIDE, width, height);

/** The size at which a picture of `width` × `height` is cut on the command line. */
export const cutSize = (width: number, height: number): Size => sizeWithin(CUT_SIDE, width, height);

interface Size {
  readonly width: number;
  readonly height: number;
}

function sizeWithin(longest: number, width: number, height: number): Size {
  const scale = Math.min(1, longest / Math.max(width, height));
  return { width: Math.max(16, Math.round(width * scale)), height: Math.max(16, Math.round(height * scale)) };
}

/** Red of `image`, or its alpha, as coverage 0..1 at another size; averaged where it shrinks. */
export function coverageOf(image: Image, width: number, height: number, from: 'red' | 'alpha' = 'red'): Plane {
  const full = createPlane(image.width, image.height);
  for (let i = 0, p = from === 'red' ? 0 : 3; i < full.data.length; i++, p += 4) full.data[i] = image.data[p]! / 255;
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

/** Coverage 0..1 as bytes. */
export function bytesOf(alpha: Plane): Uint8Array<ArrayBuffer> {
  const out = new Uint8Array(alpha.data.length);
  for (let i = 0; i < out.length; i++) out[i] = Math.max(0, Math.min(255, 255 * alpha.data[i]! + 0.5));
  return out;
}

/** Stored coverage as numbers 0..1. */
export function planeOf({ width, height, data }: StoredCoverage): Plane {
  const out = createPlane(width, height);
  for (let i = 0; i < data.length; i++) out.data[i] = data[i]! / 255;
  return out;
}
