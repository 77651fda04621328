import { signedDistance } from '../../image/distance';
import type { StoredCoverage } from './stored-coverage';

/** How a matte is tidied before its edge is styled. Medium pixels; 0 leaves that part alone. */
export interface Tidying {
  /** Rounds corners and ripples smaller than this. */
  readonly smoothPx: number;
  /** Holes smaller across than this are filled. */
  readonly holesPx: number;
  /** Specks smaller across than this are dropped. */
  readonly specksPx: number;
}

export const UNTIDIED: Tidying = { smoothPx: 0, holesPx: 0, specksPx: 0 };

export const isUntidied = (t: Tidying): boolean => t.smoothPx === 0 && t.holesPx === 0 && t.specksPx === 0;

/** How far the soft edge of a speck or hole is taken along with it, pixels. */
const RIM = 2;

/** Pixels of one side in connected patches (4 neighbours) of at most `most` pixels, 1 in the result. */
function smallPatches(side: Uint8Array, width: number, height: number, most: number): Uint8Array {
  const small = new Uint8Array(side.length);
  const seen = new Uint8Array(side.length);
  const patch = new Int32Array(side.length);
  for (let start = 0; start < side.length; start++) {
    if (side[start] === 0 || seen[start] === 1) continue;
    let count = 0;
    patch[count++] = start;
    seen[start] = 1;
    for (let k = 0; k < count; k++) {
      const i = patch[k]!;
      const x = i % width;
      if (x > 0 && side[i - 1] === 1 && seen[i - 1] === 0) seen[(patch[count++] = i - 1)] = 1;
      if (x < width - 1 && side[i + 1] === 1 && seen[i + 1] === 0) seen[(patch[count++] = i + 1)] = 1;
      if (i >= width && side[i - width] === 1 && seen[i - width] === 0) seen[(patch[count++] = i - width)] = 1;
      if (i < width * (height - 1) && side[i + width] === 1 && seen[i + width] === 0) seen[(patch[count++] = i + width)] = 1;
    }
    if (count <= most) for (let k = 0; k < count; k++) small[patch[k]!] = 1;
  }
  return small;
}

/** Sets coverage to `value` in the marked patches and their soft rims, where those do not touch what stays. */
function setPatches(data: Uint8Array, marked: Uint8Array, side: Uint8Array, width: number, height: number, value: 0 | 255): void {
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) {
      if (marked[i] === 0) continue;
      data[i] = value;
      for (let v = Math.max(0, y - RIM); v <= Math.min(height - 1, y + RIM); v++)
        for (let u = Math.max(0, x - RIM); u <= Math.min(width - 1, x + RIM); u++) {
          const j = v * width + u;
          if (side[j] === 0) data[j] = value;
        }
    }
}

/**
 * Coverage with specks dropped, holes filled and its edge smoothed, in that order; `tidying` in pixels of the coverage.
 * Smoothing averages the signed distance to the edge (three box filters) and draws the edge anew one pixel soft.
 */
export function tidyCoverage(stored: StoredCoverage, { smoothPx, holesPx, specksPx }: Tidying): StoredCoverage {
  const { width, height } = stored;
  const data = Uint8Array.from(stored.data);
  const areaOf = (across: number): number => (Math.PI / 4) * across * across;
  const sideOf = (covered: boolean): Uint8Array => Uint8Array.from(data, (v) => (v >= 128 === covered ? 1 : 0));
  if (specksPx > 0) {
    const covered = sideOf(true);
    setPatches(data, smallPatches(covered, width, height, areaOf(specksPx)), covered, width, height, 0);
  }
  if (holesPx > 0) {
    const open = sideOf(false);
    setPatches(data, smallPatches(open, width, height, areaOf(holesPx)), open, width, height, 255);
  }
  if (smoothPx > 0) {
    const signed = new Float32Array(data.length);
    signedDistance(sideOf(true), width, height, signed);
    // next to the edge the coverage itself says where within the pixel it runs
    for (let i = 0; i < signed.length; i++) if (Math.abs(signed[i]!) <= 0.5) signed[i] = data[i]! / 255 - 0.5;
    const radius = Math.max(1, Math.round(smoothPx / 2));
    for (let pass = 0; pass < 3; pass++) boxAlong(signed, width, height, radius);
    for (let i = 0; i < data.length; i++) data[i] = Math.max(0, Math.min(255, 255 * (0.5 + signed[i]!) + 0.5));
  }
  return { width, height, data };
}

/** Means over 2·radius+1 pixels, across and then down; edges repeat. */
function boxAlong(data: Float32Array, width: number, height: number, radius: number): void {
  const line = new Float32Array(Math.max(width, height));
  const filter = (start: number, stride: number, length: number): void => {
    for (let k = 0; k < length; k++) line[k] = data[start + k * stride]!;
    let sum = 0;
    for (let k = -radius; k <= radius; k++) sum += line[Math.max(0, Math.min(length - 1, k))]!;
    for (let k = 0; k < length; k++) {
      data[start + k * stride] = sum / (2 * radius + 1);
      sum += line[Math.min(length - 1, k + radius + 1)]! - line[Math.max(0, k - radius)]!;
    }
  };
  for (let y = 0; y < height; y++) filter(y * width, 1, width);
  for (let x = 0; x < width; x++) filter(x, width, height);
}
