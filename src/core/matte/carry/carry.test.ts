import { beforeAll, describe, expect, it } from 'vitest';
import { carryAll } from '../../../../bench/carry-all';
import { photoLike } from '../../../../bench/known-pictures';
import { renderShot, type KnownShot, type ShotRecipe } from '../../../../bench/synthetic-shots';
import { copyImage, shrunkTo } from '../../image/image';
import { createImage, createPlane, type Image, type Plane } from '../../image/pixels';
import { blendMattes } from './meet';
import { softnessOf } from './softness';
import { MatteCarrier } from './carry';
import { edgeError, regionAndContour } from '../../../../bench/measures';

const [W, H] = [224, 126];
const recipe: ShotRecipe = {
  name: 'test',
  width: W,
  height: H,
  frames: 9,
  seed: 3,
  background: photoLike(300, 200, 11, 0.1),
  subject: photoLike(200, 200, 40, 0.55),
  radius: 0.28,
  travel: 0.18,
  turn: 0.35,
  growth: 0.08,
  bend: 0.03,
  arm: 0,
  camera: 0.04,
  noise: 2,
  shutter: 0.3,
  occluder: false,
};

const planeOf = (bytes: Uint8Array): Plane => {
  const plane = createPlane(W, H);
  bytes.forEach((v, i) => (plane.data[i] = v / 255));
  return plane;
};

/** Frame `n` of a body with a limb of other colours that slides out from behind it; `limb` are the pixels that show it. */
function limbShown(n: number, bodySpeed: number, limbSpeed: number): { picture: Image; matte: Uint8Array; limb: number[] } {
  const [behind, body, arm] = [photoLike(W, H, 11, 0.1), photoLike(W, H, 40, 0.55), photoLike(W, H, 70, 0.8)];
  const picture = createImage(W, H);
  const matte = new Uint8Array(W * H);
  const limb: number[] = [];
  const bodyLeft = 90 + bodySpeed * n;
  const limbLeft = 92 + limbSpeed * n;
  for (let y = 0, i = 0; y < H; y++) {
    for (let x = 0; x < W; x++, i++) {
      const onBody = x >= bodyLeft && x < bodyLeft + 40 && y >= 30 && y < 100;
      const onLimb = !onBody && x >= limbLeft && x < limbLeft + 36 && y >= 50 && y < 64;
      const [from, u, v] = onBody ? [body, x - bodyLeft + 20, y - 20] : onLimb ? [arm, x - limbLeft + 60, y - 10] : [behind, x, y];
      for (let c = 0; c < 4; c++)
        picture.data[4 * i + c] = c === 3 ? 255 : from.data[4 * (v * W + u) + c]! + 2 * Math.sin(1.7 * i + 5 * n + c);
      if (onBody || onLimb) matte[i] = 255;
      if (onLimb) limb.push(i);
    }
  }
  return { picture, matte, limb };
}

function carried(shot: KnownShot): { js: number[]; confidences: number[] } {
  const mattes = carryAll(shot.frames, planeOf(shot.mattes[0]!));
  return {
    js: mattes.map((m, i) => regionAndContour(m.coverage.data, shot.mattes[i + 1]!, W, H).j),
    confidences: mattes.map((m) => m.confidence),
  };
}

describe('MatteCarrier', () => {
  let shot: KnownShot;
  beforeAll(() => {
    shot = renderShot(recipe);
  });

  it('keeps to a subject that moves, turns, grows and bends before a moving background', () => {
    const { js, confidences } = carried(shot);
    expect(Math.min(...js)).toBeGreaterThan(0.93);
    expect(Math.min(...confidences)).toBeGreaterThan(0.5);
  });

  it.each([
    [0, 4],
    [2, -2],
    [-1, 2],
  ])('takes in a limb that comes out from behind: the body goes %d pixels a frame, the limb %d', (bodySpeed, limbSpeed) => {
    const frames = [0, 1, 2, 3, 4, 5, 6, 7, 8].map((n) => limbShown(n, bodySpeed, limbSpeed));
    const mattes = carryAll(
      frames.map((f) => f.picture),
      planeOf(frames[0]!.matte),
    );
    const last = frames.at(-1)!;
    const [found, lost] = last.limb.reduce(([f, l], i) => (mattes.at(-1)!.coverage.data[i]! >= 128 ? [f + 1, l] : [f, l + 1]), [0, 0]);
    expect(found).toBeGreaterThan(200);
    expect(lost).toBeLessThan(0.2 * found);
    expect(regionAndContour(mattes.at(-1)!.coverage.data, last.matte, W, H).j).toBeGreaterThan(0.95);
  });

  it('changes nothing when nothing moves', () => {
    const carrier = new MatteCarrier(shot.frames[0]!, planeOf(shot.mattes[0]!));
    const { coverage, confidence } = carrier.step(shot.frames[0]!);
    expect(regionAndContour(coverage.data, shot.mattes[0]!, W, H).j).toBeGreaterThan(0.985);
    expect(confidence).toBeGreaterThan(0.85);
  });

  it('says that it is lost when the picture changes altogether', () => {
    const carrier = new MatteCarrier(shot.frames[0]!, planeOf(shot.mattes[0]!));
    carrier.step(shot.frames[1]!);
    expect(carrier.step(photoLike(W, H, 90, 0.8)).confidence).toBeLessThan(0.4);
  });

  it('has the whole subject again after something has passed in front, and says when it was hidden', () => {
    const hidden = renderShot({ ...recipe, frames: 26, travel: 0.1, turn: 0.1, occluder: true, noise: 1 });
    const { js, confidences } = carried(hidden);
    expect(Math.min(...js.slice(15))).toBeGreaterThan(0.94);
    // it covers most of the subject on frames 10 to 13
    expect(Math.max(...confidences.slice(9, 13))).toBeLessThan(0.7);
    expect(Math.min(...confidences.slice(0, 9), ...confidences.slice(15))).toBeGreaterThan(0.8);
  });

  it('keeps to a subject in changing light', () => {
    const plain = renderShot({ ...recipe, frames: 13 });
    const lit = plain.frames.map((frame, k) => {
      const out = copyImage(frame);
      const gain = 1 - 0.4 * Math.sin((Math.PI * k) / 12);
      for (let p = 0; p < out.data.length; p++) if (p % 4 !== 3) out.data[p]! *= gain;
      return out;
    });
    expect(Math.min(...carried({ ...plain, frames: lit }).js)).toBeGreaterThan(0.95);
  });

  it('gives a matte that is larger than the pictures its edge at its own size', () => {
    const large = renderShot({ ...recipe, width: 2 * W, height: 2 * H, frames: 7, noise: 1 });
    const given = { width: 2 * W, height: 2 * H, data: Float32Array.from(large.mattes[0]!, (v) => v / 255) };
    const carrier = new MatteCarrier(shrunkTo(large.frames[0]!, W, H), given);
    let last = carrier.step(shrunkTo(large.frames[1]!, W, H), large.frames[1]);
    for (let i = 2; i < 7; i++) last = carrier.step(shrunkTo(large.frames[i]!, W, H), large.frames[i]);
    expect(regionAndContour(last.coverage.data, large.mattes[6]!, 2 * W, 2 * H).j).toBeGreaterThan(0.98);
    expect(softnessOf(last.coverage)).toBeLessThan(1.1 * softnessOf({ width: 2 * W, height: 2 * H, data: large.mattes[0]! }));
    expect(edgeError(last.coverage.data, large.mattes[6]!, 2 * W, 2 * H)).toBeLessThan(0.03);
    expect(() => carrier.step(shrunkTo(large.frames[6]!, W, H))).toThrow('MatteCarrier.step: detail');
  });

  it('keeps an arm that swings further in a frame than the edge is looked for', () => {
    const waving = renderShot({
      ...recipe,
      subject: photoLike(200, 200, 80, 0.8),
      travel: 0.05,
      turn: 0.1,
      growth: 0,
      bend: 0.02,
      arm: 0.9,
    });
    const { js } = carried(waving);
    expect(Math.min(...js)).toBeGreaterThan(0.93);
  });

  it('completes a subject that comes in over the border, and takes no background along', () => {
    const entering = renderShot({ ...recipe, seed: 8, frames: 15, travel: 0.86, turn: 0.1 });
    const area = (m: Uint8Array): number => m.reduce((sum, v) => sum + v / 255, 0);
    expect(area(entering.mattes[0]!)).toBeLessThan(0.8 * area(entering.mattes[7]!));
    const { js } = carried(entering);
    expect(Math.min(...js)).toBeGreaterThan(0.85);
    expect(js[7]).toBeGreaterThan(0.93);
  });

  it('carries an empty matte as an empty matte', () => {
    const { coverage, confidence } = new MatteCarrier(shot.frames[0]!, createPlane(W, H)).step(shot.frames[1]!);
    expect(coverage.data.every((v) => v === 0)).toBe(true);
    expect(confidence).toBe(0);
  });

  it('refuses a matte of another size', () => {
    expect(() => new MatteCarrier(shot.frames[0]!, createPlane(W, H + 1))).toThrow('a matte of 224×127 for a picture of 224×126');
  });
});

describe('blendMattes', () => {
  const disc = (x: number): Plane => {
    const plane = createPlane(60, 40);
    for (let i = 0; i < plane.data.length; i++) plane.data[i] = ((i % 60) - x) ** 2 + (Math.floor(i / 60) - 20) ** 2 < 100 ? 1 : 0;
    return plane;
  };

  it('is the first at 0 and the second at 1', () => {
    const [a, b] = [disc(20), disc(26)];
    expect([...blendMattes(a, b, 0).data].filter((v, i) => v >= 0.5 !== a.data[i]! >= 0.5)).toEqual([]);
    expect([...blendMattes(a, b, 1).data].filter((v, i) => v >= 0.5 !== b.data[i]! >= 0.5)).toEqual([]);
  });

  it('moves the edge half way instead of showing both', () => {
    const { data } = blendMattes(disc(20), disc(26), 0.5);
    const row = [...data.subarray(20 * 60, 21 * 60)];
    const edge = row.findIndex((v) => v >= 0.5);
    expect(Math.abs(edge - 13.5)).toBeLessThanOrEqual(1);
    expect(row.filter((v) => v > 0.2 && v < 0.8).length).toBeLessThanOrEqual(2);
  });

  it('takes in a side that turns into view, as the frame after shows', () => {
    const turning = renderShot({ ...recipe, bend: 0, turn: 0.1, side: 0.9 });
    const alpha = planeOf(turning.mattes[0]!);
    const { js } = carried(turning);
    expect(js.at(-1)).toBeGreaterThan(0.9);
    // the subject as it was first seen is by then no more than this of it
    const still = regionAndContour(renderShot({ ...recipe, bend: 0, turn: 0.1 }).mattes.at(-1)!, turning.mattes.at(-1)!, W, H).j;
    expect(still).toBeLessThan(0.75);
    const carrier = new MatteCarrier(turning.frames[0]!, alpha);
    const looks = turning.frames.slice(1).map((frame) => carrier.step(frame).before);
    expect(looks[0]).toBeNull();
    expect(looks.filter((b) => b !== null).length).toBeGreaterThan(0);
    // a carry that ends just before a frame that tells something can still ask it
    const last = looks.findIndex((b) => b !== null);
    const ending = new MatteCarrier(turning.frames[0]!, alpha);
    for (const frame of turning.frames.slice(1, last + 1)) ending.step(frame);
    expect(ending.confirm(turning.frames[last + 1]!)!.data).toEqual(looks[last]!.data);
    expect(new MatteCarrier(turning.frames[0]!, alpha).confirm(turning.frames[1]!)).toBeNull();
  });
});
