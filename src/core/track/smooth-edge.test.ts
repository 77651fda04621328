import { describe, expect, it } from 'vitest';
import { straightened } from './smooth-edge';

const LINES = 90;
const ACROSS = 160;
const edge = (at: (y: number) => number): Float32Array => Float32Array.from({ length: LINES }, (_, y) => at(y));

describe('straightened', () => {
  it('puts the lines that see nothing of a smooth edge on it', () => {
    const smooth = (y: number): number => 60 + 0.2 * y - 0.001 * y * y;
    const found = straightened(
      edge((y) => (y % 6 === 0 ? 130 : smooth(y))),
      ACROSS,
    );
    found.forEach((e, y) => expect(Math.abs(e - smooth(y))).toBeLessThan(0.7));
  });

  it('leaves lines that are near the curve where they are', () => {
    const wavy = edge((y) => 70 + 2 * Math.sin(y));
    expect([...straightened(wavy, ACROSS)]).toEqual([...wavy]);
  });

  it('leaves a ragged edge as it is', () => {
    const ragged = edge((y) => 40 + ((y * 37) % 60));
    expect([...straightened(ragged, ACROSS)]).toEqual([...ragged]);
  });

  it('leaves an edge of which too few lines are in the picture', () => {
    const going = edge((y) => (y < 20 ? 10 : 0));
    expect([...straightened(going, ACROSS)]).toEqual([...going]);
  });

  it('lets an edge that leans go on beyond the picture', () => {
    const leaning = (y: number): number => 2 * y - 40;
    const found = straightened(
      edge((y) => Math.max(0, leaning(y))),
      ACROSS,
    );
    expect(found[2]).toBeLessThan(-25);
    expect(found[60]).toBeCloseTo(80, 0);
  });
});
