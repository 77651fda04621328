import { describe, expect, it } from 'vitest';
import { emptyField } from '../../flow/flow-field';
import { createPlane, type Plane } from '../../image/pixels';
import { edgeShift, layGivenEdge } from './given-edge';
import { edgeError } from '../../../../bench/measures';
import { bytesOf } from '../coverage/resize';

/** A disc whose edge is `soft` pixels wide. */
function disc(width: number, height: number, x: number, y: number, radius: number, soft = 1): Plane {
  const plane = createPlane(width, height);
  for (let i = 0; i < plane.data.length; i++) {
    const d = radius - Math.hypot((i % width) + 0.5 - x, Math.floor(i / width) + 0.5 - y);
    plane.data[i] = Math.max(0, Math.min(1, 0.5 + d / soft));
  }
  return plane;
}

const [W, H] = [80, 60];
const all = { left: 0, top: 0, right: W, bottom: H };
const trusted: Plane = { width: W, height: H, data: new Float32Array(W * H).fill(1) };
const still = emptyField(all, 4);
const worst = (a: Uint8Array, b: Uint8Array): number => a.reduce((most, v, i) => Math.max(most, Math.abs(v - b[i]!)), 0);

describe('the edge of a given matte', () => {
  it('is shifted by the parts of a pixel that a found edge lies elsewhere', () => {
    const shift = edgeShift(disc(W, H, 40.6, 30, 18), disc(W, H, 40, 30, 18), trusted);
    const at = (x: number, y: number): [number, number] => [shift.dx.data[y * W + x]!, shift.dy.data[y * W + x]!];
    // on the right the disc has grown by 0.6, on the left it has shrunk; at the top nothing has changed
    expect(at(58, 30)[0]).toBeCloseTo(-0.6, 1);
    expect(at(21, 30)[0]).toBeCloseTo(-0.6, 1);
    expect(Math.hypot(...at(40, 12))).toBeLessThan(0.1);
    expect(shift.keep.data[30 * W + 58]).toBe(1);
    expect(shift.keep.data[30 * W + 40]).toBe(0);
  });

  it('keeps its form where the found one is ragged', () => {
    const given = disc(W, H, 40, 30, 18);
    const ragged = disc(W, H, 40, 30, 18);
    for (let i = 0; i < ragged.data.length; i++)
      if (ragged.data[i]! > 0.02 && ragged.data[i]! < 0.98) ragged.data[i] = (Math.imul(i, 2654435761) >>> 13) & 1;
    const coverage = { width: W, height: H, data: bytesOf(ragged) };
    const before = edgeError(coverage.data, bytesOf(given), W, H, 2);
    layGivenEdge(given, { ...edgeShift(ragged, given, trusted), region: all, back: still }, W, H, coverage);
    expect(edgeError(coverage.data, bytesOf(given), W, H, 2)).toBeLessThan(0.5 * before);
  });

  it('keeps the sharpness that it has at a larger size', () => {
    const given = disc(3 * W, 3 * H, 120, 90, 54);
    const found = disc(W, H, 40, 30, 18, 1.5);
    const blurred = { width: 3 * W, height: 3 * H, data: bytesOf(disc(3 * W, 3 * H, 120, 90, 54, 4)) };
    layGivenEdge(given, { ...edgeShift(found, disc(W, H, 40, 30, 18), trusted), region: all, back: still }, W, H, blurred);
    expect(worst(blurred.data, bytesOf(given))).toBeLessThan(40);
  });

  it('does not count where the found edge lies far away, or where it is not trusted', () => {
    const given = disc(W, H, 40, 30, 18);
    const found = disc(W, H, 46, 30, 18);
    const coverage = { width: W, height: H, data: bytesOf(found) };
    layGivenEdge(given, { ...edgeShift(found, given, trusted), region: all, back: still }, W, H, coverage);
    // at the right end, six pixels off, the found edge stays
    expect(coverage.data[30 * W + 61]).toBe(255);
    const doubted = edgeShift(disc(W, H, 40.6, 30, 18), given, createPlane(W, H));
    expect(doubted.keep.data.every((v) => v === 0)).toBe(true);
  });
});
