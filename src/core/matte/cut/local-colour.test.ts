import { describe, expect, it } from 'vitest';
import { LocalColours } from './local-colour';

const [W, H] = [90, 150];
/** The edge is a vertical line here; inside lies left of it. */
const EDGE = 45;
const signed = Float32Array.from({ length: W * H }, (_, i) => EDGE - (i % W));
const at = (x: number, y: number): number => y * W + x;
const everywhere = new Uint8Array(W * H).fill(1);
const stay = (x: number, y: number): [number, number] => [x, y];

/** Colours by place, each with a little noise that is the same every time. */
function features(colour: (x: number, y: number) => readonly [number, number, number]): Float32Array {
  const out = new Float32Array(3 * W * H);
  for (let i = 0; i < W * H; i++) {
    const [a, b, c] = colour(i % W, Math.floor(i / W));
    out.set([a + ((i * 7) % 5), b + ((i * 5) % 3), c + ((i * 3) % 4)], 3 * i);
  }
  return out;
}

const red = [90, 60, 20] as const;
const green = [110, -50, 10] as const;
const grey = [100, 0, 0] as const;
const twoSided = features((x) => (x < EDGE ? red : green));

describe('colours along an edge', () => {
  it('speak for the side whose colours a pixel has, near the edge only', () => {
    const votes = LocalColours.learn(twoSided, signed, W, H).vote(twoSided, everywhere, W, H, stay);
    expect(votes[at(30, 35)]!).toBeGreaterThan(1);
    expect(votes[at(60, 35)]!).toBeLessThan(-1);
    expect(votes[at(2, 35)]).toBe(0);
    expect(votes[at(88, 35)]).toBe(0);
  });

  it('are asked only where the band is', () => {
    const band = new Uint8Array(W * H);
    band[at(40, 20)] = 1;
    const votes = LocalColours.learn(twoSided, signed, W, H).vote(twoSided, band, W, H, stay);
    expect(votes[at(40, 20)]!).toBeGreaterThan(1);
    expect(votes.filter((v) => v !== 0)).toHaveLength(1);
  });

  it('say nothing where both sides look alike', () => {
    const alike = features(() => grey);
    const votes = LocalColours.learn(alike, signed, W, H).vote(alike, everywhere, W, H, stay);
    expect(Math.max(...votes.map(Math.abs))).toBeLessThan(0.2);
  });

  it('tell sides apart from place to place: the same colour may be inside here and outside there', () => {
    const swapped = features((x, y) => (x < EDGE === y < H / 2 ? red : green));
    const votes = LocalColours.learn(swapped, signed, W, H).vote(swapped, everywhere, W, H, stay);
    expect(votes[at(40, 4)]!).toBeGreaterThan(0.5); // red, above
    expect(votes[at(50, 140)]!).toBeLessThan(-0.5); // red, below
  });

  it('move along with the edge, and say little of colours that nobody has shown', () => {
    const colours = LocalColours.learn(twoSided, signed, W, H);
    const blue = features(() => [40, -20, -90]);
    const known = colours.vote(twoSided, everywhere, W, H, stay);
    const unknown = colours.vote(blue, everywhere, W, H, stay);
    expect(Math.abs(unknown[at(40, 35)]!)).toBeLessThan(0.3 * Math.abs(known[at(40, 35)]!));
    const shifted = colours.vote(twoSided, everywhere, W, H, (x, y) => [x - 30, y]);
    expect(shifted[at(2, 35)]!).toBeGreaterThan(1);
    expect(shifted[at(60, 35)]).toBe(0);
  });
});
