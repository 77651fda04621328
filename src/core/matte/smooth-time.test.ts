import { beforeAll, describe, expect, it } from 'vitest';
import { photoLike } from '../../../bench/known-pictures';
import { renderShot, type KnownShot } from '../../../bench/synthetic-shots';
import { createPlane, sampleBilinear, type Plane } from '../image/plane';
import { regionAndContour } from './measures';
import { bytesOf } from './resize-matte';
import { TimeSmoother } from './smooth-time';

const [W, H] = [200, 120];
const FRAMES = 8;

const planeOf = (bytes: Uint8Array): Plane => {
  const plane = createPlane(W, H);
  bytes.forEach((v, i) => (plane.data[i] = v / 255));
  return plane;
};

/** The matte moved by a different part of a pixel up to two on every frame, each part of it to another side. */
function jittered(matte: Uint8Array, frame: number): Plane {
  const plane = planeOf(matte);
  const out = createPlane(W, H);
  for (let y = 0, i = 0; y < H; y++) {
    for (let x = 0; x < W; x++, i++) {
      const dx = 1.6 * Math.sin(2.1 * frame + x / 9 + y / 7);
      const dy = 1.6 * Math.cos(2.7 * frame + x / 8 - y / 11);
      out.data[i] = sampleBilinear(plane, x + 0.5 + dx, y + 0.5 + dy);
    }
  }
  return out;
}

const smoothAll = (pictures: KnownShot['frames'], mattes: readonly Plane[], strength: number): Plane[] => {
  const smoother = new TimeSmoother(strength);
  const out = pictures.map((p, i) => smoother.next(p, mattes[i]!)).filter((m) => m !== null);
  return [...out, smoother.end()!];
};

/** Mean change of the error from one frame to the next, over the pixels near the edge. */
function flicker(mattes: readonly Plane[], truth: readonly Uint8Array[]): number {
  let sum = 0;
  let count = 0;
  for (let k = 1; k < mattes.length; k++) {
    for (let i = 0; i < W * H; i++) {
      const now = mattes[k]!.data[i]! - truth[k]![i]! / 255;
      const before = mattes[k - 1]!.data[i]! - truth[k - 1]![i]! / 255;
      if (Math.abs(now) + Math.abs(before) < 0.02) continue;
      sum += Math.abs(now - before);
      count++;
    }
  }
  return sum / count;
}

describe('TimeSmoother', () => {
  let shot: KnownShot;
  let rough: Plane[];
  beforeAll(() => {
    shot = renderShot({
      name: 'smooth',
      width: W,
      height: H,
      frames: FRAMES,
      seed: 2,
      background: photoLike(280, 180, 11, 0.1),
      subject: photoLike(180, 180, 40, 0.55),
      radius: 0.3,
      travel: 0.25,
      turn: 0.3,
      growth: 0.05,
      bend: 0.02,
      arm: 0,
      camera: 0.05,
      noise: 1,
      shutter: 0,
      occluder: false,
    });
    rough = shot.mattes.map(jittered);
  });

  it('takes jitter out of an edge that moves, and brings it closer to the truth', () => {
    const smooth = smoothAll(shot.frames, rough, 1);
    expect(smooth).toHaveLength(FRAMES);
    expect(flicker(smooth, shot.mattes)).toBeLessThan(0.7 * flicker(rough, shot.mattes));
    const mean = (mattes: readonly Plane[]): number =>
      mattes.reduce((sum, m, k) => sum + regionAndContour(bytesOf(m), shot.mattes[k]!, W, H).j, 0) / FRAMES;
    expect(mean(smooth)).toBeGreaterThan(mean(rough));
  });

  it('hardly changes an edge that does not jitter, however far it moves', () => {
    const truth = shot.mattes.map(planeOf);
    smoothAll(shot.frames, truth, 1).forEach((m, k) => {
      expect(regionAndContour(bytesOf(m), shot.mattes[k]!, W, H).j).toBeGreaterThan(0.985);
    });
  });

  it('changes nothing at strength 0, and leaves a single frame and an empty matte as they are', () => {
    smoothAll(shot.frames, rough, 0).forEach((m, k) => expect(bytesOf(m)).toEqual(bytesOf(rough[k]!)));
    expect(bytesOf(smoothAll(shot.frames.slice(0, 1), rough, 1)[0]!)).toEqual(bytesOf(rough[0]!));
    const empty = createPlane(W, H);
    for (const m of smoothAll(
      shot.frames,
      shot.frames.map(() => empty),
      1,
    ))
      expect(m.data.every((v) => v === 0)).toBe(true);
  });

  it('does not mix what is cut off on one frame into the next', () => {
    const cut = rough.map((m, k) => (k === 4 ? createPlane(W, H) : m));
    const smooth = smoothAll(shot.frames, cut, 1);
    expect(smooth[4]!.data.every((v) => v === 0)).toBe(true);
    expect(regionAndContour(bytesOf(smooth[3]!), shot.mattes[3]!, W, H).j).toBeGreaterThan(0.9);
  });

  it('refuses another size and a strength beyond 1', () => {
    expect(() => new TimeSmoother(1.5)).toThrow(RangeError);
    expect(() => new TimeSmoother(1).next(shot.frames[0]!, createPlane(W, H + 1))).toThrow('must be 200×120');
  });
});
