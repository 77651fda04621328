import { beforeAll, describe, expect, it } from 'vitest';
import { photoLike } from '../../../../bench/known-pictures';
import { renderShot, type KnownShot } from '../../../../bench/synthetic-shots';
import { createPlane, type Plane } from '../../image/pixels';
import { sampleBilinear } from '../../image/plane';
import { edgeFlicker, regionAndContour } from '../../../../bench/measures';
import { bytesOf } from '../coverage/resize';
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

const smoothAll = (pictures: KnownShot['frames'], mattes: readonly Plane[], strength: number): Uint8Array[] => {
  const smoother = new TimeSmoother(strength);
  const out = pictures.map((p, i) => smoother.next(p, mattes[i]!)).filter((m) => m !== null);
  return [...out, smoother.end()!].map((m) => m.data);
};

/** Mean flicker of the edge over all frames. */
const flicker = (mattes: readonly Uint8Array[], truth: readonly Uint8Array[]): number =>
  mattes.slice(1).reduce((sum, found, k) => {
    const before = { found: mattes[k]!, truth: truth[k]! };
    return sum + edgeFlicker(before, { found, truth: truth[k + 1]! }, W, H);
  }, 0) /
  (mattes.length - 1);

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
    const given = rough.map(bytesOf);
    expect(flicker(smooth, shot.mattes)).toBeLessThan(0.7 * flicker(given, shot.mattes));
    const mean = (mattes: readonly Uint8Array[]): number =>
      mattes.reduce((sum, m, k) => sum + regionAndContour(m, shot.mattes[k]!, W, H).j, 0) / FRAMES;
    expect(mean(smooth)).toBeGreaterThan(mean(given));
  });

  it('hardly changes an edge that does not jitter, however far it moves', () => {
    const truth = shot.mattes.map(planeOf);
    smoothAll(shot.frames, truth, 1).forEach((m, k) => {
      expect(regionAndContour(m, shot.mattes[k]!, W, H).j).toBeGreaterThan(0.985);
    });
  });

  it('changes nothing at strength 0, and leaves a single frame and an empty matte as they are', () => {
    smoothAll(shot.frames, rough, 0).forEach((m, k) => expect(m).toEqual(bytesOf(rough[k]!)));
    expect(smoothAll(shot.frames.slice(0, 1), rough, 1)[0]).toEqual(bytesOf(rough[0]!));
    const empty = createPlane(W, H);
    for (const m of smoothAll(
      shot.frames,
      shot.frames.map(() => empty),
      1,
    ))
      expect(m.every((v) => v === 0)).toBe(true);
  });

  it('does not mix what is cut off on one frame into the next', () => {
    const cut = rough.map((m, k) => (k === 4 ? createPlane(W, H) : m));
    const smooth = smoothAll(shot.frames, cut, 1);
    expect(smooth[4]!.every((v) => v === 0)).toBe(true);
    expect(regionAndContour(smooth[3]!, shot.mattes[3]!, W, H).j).toBeGreaterThan(0.9);
  });

  it('refuses another size and a strength beyond 1', () => {
    expect(() => new TimeSmoother(1.5)).toThrow(RangeError);
    expect(() => new TimeSmoother(1).next(shot.frames[0]!, createPlane(W, H + 1))).toThrow('must be 200×120');
  });
});
