import { describe, expect, it } from 'vitest';
import { createImage, type Image } from '../image/pixels';
import { findCrossing } from './crossing';
import type { Direction } from './turned-frame';

const WIDTH = 96;
const HEIGHT = 54;

/** Smooth texture from a few waves, 0..255. */
const texture = (x: number, y: number, seed: number): number =>
  128 + 50 * Math.sin(x * 0.21 + seed) + 40 * Math.sin(y * 0.27 + 2 * seed) + 30 * Math.sin(0.11 * x - 0.19 * y + 3 * seed);
const grain = (x: number, y: number, t: number): number => (((x * 7919 + y * 104729 + t * 15485863) % 1009) / 1009 - 0.5) * 10;

/** x of the trailing edge at `frame` on line `y` for a thing that moves left: it leans, and is as long as two frames. */
const edgeAt = (frame: number, y: number): number => WIDTH * 1.15 - 6 * (frame - 14) + 0.12 * (y - HEIGHT / 2);

/** A drifting background; from frame 6 on something of the same kind of texture fills the frame, and leaves to the left, the shutter open for a share of a frame. */
function shot(frame: number, length = 1e9, edgeOn = edgeAt, shutter = 0.5): Image {
  const image = createImage(WIDTH, HEIGHT);
  const drift = 0.35 * frame;
  for (let y = 0, i = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++, i += 4) {
      let cover = 0;
      for (let s = 0; s < 6; s++) {
        const edge = edgeOn(frame + shutter * ((s + 0.5) / 6 - 0.5), y);
        if (x + 0.5 < edge && x + 0.5 > edge - length) cover += 1 / 6;
      }
      for (let c = 0; c < 3; c++) {
        const thing = texture(x + 9 * frame, y, 5 + c) * 0.8;
        const back = texture(x + drift, y, 1 + c * 0.3);
        image.data[i + c] = back + cover * (thing - back) + grain(x, y, frame + c);
      }
      image.data[i + 3] = 255;
    }
  return image;
}

const FRAMES = 44;
const leftwards = Array.from({ length: FRAMES }, (_, t) => shot(t));

function mirrored(image: Image): Image {
  const out = createImage(image.width, image.height);
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++)
      out.data.set(image.data.subarray(4 * (y * WIDTH + x), 4 * (y * WIDTH + x) + 4), 4 * (y * WIDTH + WIDTH - 1 - x));
  return out;
}

function transposed(image: Image): Image {
  const out = createImage(image.height, image.width);
  for (let y = 0; y < image.height; y++)
    for (let x = 0; x < image.width; x++)
      out.data.set(image.data.subarray(4 * (y * image.width + x), 4 * (y * image.width + x) + 4), 4 * (x * image.height + y));
  return out;
}

describe('something that crosses the picture', () => {
  it('shows its trailing edge within a pixel, and the frames it covers whole', () => {
    const found = findCrossing(leftwards)!;
    expect(found.direction).toBe('left');
    let error = 0;
    let count = 0;
    for (const { frame, at } of found.edges)
      for (let y = 0; y < HEIGHT; y += 5) {
        const truth = edgeAt(frame, y);
        if (truth < 4 || truth > WIDTH - 4) continue;
        error += Math.abs(at[y]! - truth);
        count++;
      }
    expect(count).toBeGreaterThan(120);
    expect(error / count).toBeLessThan(1.6);
    const frames = found.edges.map((e) => e.frame);
    expect(frames).toEqual(Array.from({ length: frames.length }, (_, i) => frames[0]! + i));
  });

  it('is found whichever way it goes', () => {
    const ways: [Direction, (i: Image) => Image][] = [
      ['right', mirrored],
      ['up', transposed],
      ['down', (i) => transposed(mirrored(i))],
    ];
    for (const [direction, change] of ways) {
      const found = findCrossing(leftwards.map(change))!;
      expect(found.direction).toBe(direction);
      const middle = found.edges.find((e) => e.frame === 24)!;
      const truth = edgeAt(24, HEIGHT / 2);
      const at = middle.at[HEIGHT / 2]!;
      expect(Math.abs(at - (direction === 'right' || direction === 'down' ? WIDTH - truth : truth))).toBeLessThan(3);
    }
  });

  it('covers everything from when its front has passed until its end comes in', () => {
    const long = Array.from({ length: 68 }, (_, t) => shot(t - 28, 1.5 * WIDTH));
    const found = findCrossing(long)!;
    expect(found.covered).not.toBeNull();
    const whole = (t: number): boolean => [0, HEIGHT].every((y) => edgeAt(t - 28, y) > WIDTH && edgeAt(t - 28, y) - 1.5 * WIDTH < 0);
    const truth = long.map((_, t) => t).filter(whole);
    expect(Math.abs(found.covered!.from - truth[0]!)).toBeLessThanOrEqual(1);
    expect(Math.abs(found.covered!.to - truth.at(-1)!)).toBeLessThanOrEqual(1);
  });

  it('is found in the middle of its blur where it is gone in a few frames, the shutter open all the time', () => {
    const fast = (frame: number, y: number): number => WIDTH * 1.3 - 20 * (frame - 14) + 0.12 * (y - HEIGHT / 2);
    const found = findCrossing(Array.from({ length: 40 }, (_, t) => shot(t, 1e9, fast, 1)))!;
    const off = found.edges.flatMap(({ frame, at }) =>
      [10, 20, 30, 40].flatMap((y) => (fast(frame, y) > 4 && fast(frame, y) < WIDTH - 4 ? [at[y]! - fast(frame, y)] : [])),
    );
    expect(off.length).toBeGreaterThan(8);
    // without the blur taken out it would lie 8 pixels off
    expect(Math.abs(off.reduce((a, b) => a + b, 0) / off.length)).toBeLessThan(2);
  });

  it('is told from what stirs at the side where it left, long after it has', () => {
    const stirred = Array.from({ length: 60 }, (_, t) => {
      const image = shot(t);
      if (t < 36 || t > 50) return image;
      for (let y = 0; y < HEIGHT; y++)
        for (let x = 0; x < 4; x++) image.data.fill(30 + 10 * (t % 3), 4 * (y * WIDTH + x), 4 * (y * WIDTH + x) + 3);
      return image;
    });
    const found = findCrossing(stirred)!;
    expect(found.direction).toBe('left');
    expect(found.edges[0]!.frame).toBeLessThanOrEqual(18);
    expect(found.edges.at(-1)!.frame).toBeLessThan(36);
  });

  it('that is too short never covers everything', () => {
    const short = Array.from({ length: 50 }, (_, t) => shot(t - 4, 0.5 * WIDTH));
    expect(findCrossing(short)?.covered ?? null).toBeNull();
  });
});

it('is told from what stands at one side and slowly goes out of the picture', () => {
  const aside = (frame: number): Image => {
    const image = createImage(WIDTH, HEIGHT);
    for (let y = 0, i = 0; y < HEIGHT; y++)
      for (let x = 0; x < WIDTH; x++, i += 4) {
        const isThing = x < WIDTH * (0.33 - 0.006 * frame);
        for (let c = 0; c < 3; c++)
          image.data[i + c] =
            (isThing ? texture(x + 2 * frame, y, 5 + c) * 0.8 : texture(x + 0.35 * frame, y, 1 + c * 0.3)) + grain(x, y, frame + c);
        image.data[i + 3] = 255;
      }
    return image;
  };
  expect(findCrossing(Array.from({ length: FRAMES }, (_, t) => aside(t)))).toBeNull();
});

it('finds nothing where nothing crosses', () => {
  expect(findCrossing(Array.from({ length: 12 }, (_, t) => shot(t + 60)))).toBeNull();
});

it('refuses too few frames and frames of several sizes', () => {
  expect(() => findCrossing(leftwards.slice(0, 2))).toThrow(RangeError);
  expect(() => findCrossing([...leftwards.slice(0, 3), createImage(4, 4)])).toThrow(RangeError);
});
