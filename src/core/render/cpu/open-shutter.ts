import type { EdgeFill } from '../../film/composition';
import { apply, cornersOf, depthAt, invert, type Matrix } from '../../geometry/matrix';
import { BYTE_OF_ROOT, LINEAR_OF_BYTE } from '../../image/light';
import type { Image } from '../../image/pixels';
import { beginCall, kernels, layDoubles, NOTHING, placeFor, putBytes, reserve, takeBytes } from '../../kernels/kernels';

const EDGES: Readonly<Record<EdgeFill, number>> = { none: 0, mirrored: 1, repeated: 2, stretched: 3 };

/** Light of each byte in the 15 bits that the kernels add up. */
const LIGHT_OF_BYTE = new Uint8Array(LINEAR_OF_BYTE.map((v) => v >> 1).buffer);

/** Blocks of 16 pixels of the rows of an output: 255 for one that is seen, `across` of them a row. */
export interface Blocks {
  readonly across: number;
  readonly closedBy: Uint8Array;
}

/** All of a plane is seen. */
export function allSeen({ width, height }: Size): Blocks {
  const across = Math.ceil(width / 16);
  return { across, closedBy: new Uint8Array(across * height).fill(255) };
}

/** Pixels of an output, ends not included. */
export interface Region {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

export const isEmpty = ({ left, top, right, bottom }: Region): boolean => left >= right || top >= bottom;

/** The pixels of both. */
export const overlapOf = (a: Region, b: Region): Region => ({
  left: Math.max(a.left, b.left),
  top: Math.max(a.top, b.top),
  right: Math.min(a.right, b.right),
  bottom: Math.min(a.bottom, b.bottom),
});

/** The least region that holds all of these. */
const hullOf = (regions: readonly Region[]): Region => ({
  left: Math.min(...regions.map((r) => r.left)),
  top: Math.min(...regions.map((r) => r.top)),
  right: Math.max(...regions.map((r) => r.right)),
  bottom: Math.max(...regions.map((r) => r.bottom)),
});

type Size = Pick<Image, 'width' | 'height'>;

/** Where the part `of` a plane, in its pixels, lies once `map` has moved it; null where some of it is behind the eye. */
function movedRegion(map: Matrix, of: Region): Region | null {
  const corners = cornersOf(of.right - of.left, of.bottom - of.top).map(({ x, y }) => ({
    x: x + (of.left + of.right) / 2,
    y: y + (of.top + of.bottom) / 2,
  }));
  if (corners.some((c) => depthAt(map, c) < 1e-6)) return null;
  const at = corners.map((c) => apply(map, c));
  return {
    left: Math.floor(Math.min(...at.map((p) => p.x))),
    top: Math.floor(Math.min(...at.map((p) => p.y))),
    right: Math.ceil(Math.max(...at.map((p) => p.x))),
    bottom: Math.ceil(Math.max(...at.map((p) => p.y))),
  };
}

/** All of a picture. */
export const wholeOf = ({ width, height }: Size): Region => ({ left: 0, top: 0, right: width, bottom: height });

/** The pixels of `whole` on which `part` of a picture may show through `map`. */
function shownThrough(map: Matrix, part: Region, edges: EdgeFill, whole: Region): Region {
  if (edges !== 'none') return whole;
  // half a pixel more: the border fades over it
  const moved = movedRegion(map, { left: part.left - 1, top: part.top - 1, right: part.right + 1, bottom: part.bottom + 1 });
  return moved === null ? whole : overlapOf(moved, whole);
}

/** The pixels of `whole` on which `part` of a picture may show through any of `maps`. */
export const shownRegion = (maps: readonly Matrix[], part: Region, edges: EdgeFill, whole: Region): Region =>
  hullOf(maps.map((m) => shownThrough(m, part, edges, whole)));

/** The rows of a picture of which anything in `region` can be seen, the first and past the last. */
function seenRows(inverses: readonly Matrix[], { height }: Size, edges: EdgeFill, region: Region): readonly [number, number] {
  const seen = inverses.map((m) => movedRegion(m, region));
  const { top, bottom } = hullOf(seen.map((r) => r ?? { left: 0, top: 0, right: 0, bottom: height }));
  const isOver = edges === 'mirrored' || edges === 'repeated';
  if (isOver && (top < 1 || bottom > height - 1)) return [0, height];
  const clip = (v: number): number => Math.max(0, Math.min(height, v));
  // what lies beyond its border looks like its last row
  return [Math.min(height - 1, clip(top - 2)), Math.max(1, clip(bottom + 2))];
}

/**
 * Draws `picture` (straight alpha), as far as `coverage` of its own size leaves it, through each of `maps` from its pixels to those of an output, and
 * shows their mean: the moments of an open shutter, added up in linear light with 15 bits. `out` holds the output's `region`, premultiplied, and
 * nothing else. Outside of `part` of the picture nothing is covered; blocks that others hide may be left out where `seen` says which.
 */
export function drawThrough(
  picture: Image,
  coverage: Uint8Array | null,
  part: Region,
  edges: EdgeFill,
  maps: readonly Matrix[],
  region: Region,
  seen: Blocks,
  out: Image,
): void {
  const { left, top, right, bottom } = region;
  const { width, height } = picture;
  const inverses = maps.map(invert);
  const [first, end] = seenRows(inverses, picture, edges, region);
  beginCall();
  const [bytes, cover, linear] = [putBytes(picture.data), coverage === null ? NOTHING : putBytes(coverage), putBytes(LIGHT_OF_BYTE)];
  // a pair of pixels is read together, also at the very end
  const light = reserve(width * height + 2, 8);
  kernels.toLight(bytes, cover, first * width, end * width, linear, light);
  const numbers = maps.flatMap((m, i) => {
    const bounds = shownThrough(m, part, edges, region);
    return [...inverses[i]!, bounds.left, bounds.top, bounds.right, bounds.bottom];
  });
  const placed = layDoubles(Float64Array.from(numbers), reserve(numbers.length, 8));
  const [display, marks, drawn] = [putBytes(BYTE_OF_ROOT), putBytes(seen.closedBy), placeFor(out.data)];
  const scratch = reserve(2 * (right - left) + width + 4, 8);
  const what = [light, width, height, EDGES[edges], placed, maps.length, display] as const;
  kernels.drawLight(...what, marks, seen.across, scratch, left, top, right, bottom, drawn);
  takeBytes(drawn, out.data);
}

/** What `drawThrough` gives for one map that changes nothing, exactly. `out` has the picture's size. */
export function drawUnmoved(picture: Image, coverage: Uint8Array | null, out: Image): void {
  beginCall();
  const [bytes, cover] = [putBytes(picture.data), coverage === null ? NOTHING : putBytes(coverage)];
  const drawn = placeFor(out.data);
  kernels.premultiply(bytes, cover, picture.width * picture.height, drawn);
  takeBytes(drawn, out.data);
}
