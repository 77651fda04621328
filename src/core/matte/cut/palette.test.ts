import { describe, expect, it } from 'vitest';
import { photoLike } from '../../../../bench/known-pictures';
import { featuresOf } from './features';
import { Palette } from './palette';
import { SideColours } from './side-colours';

describe('Palette', () => {
  it('has one colour for all pixels that look alike', () => {
    const { of, colours } = new Palette(Float32Array.of(100, 0, 0, 101, 1, 1, 100, 0, 0, 200, -60, 30));
    expect([...of]).toEqual([0, 0, 0, 1]);
    expect(colours[0]).toBeCloseTo(301 / 3, 3);
    expect([...colours.subarray(3)]).toEqual([200, -60, 30]);
  });

  it('is close to every pixel of a photograph, with far fewer colours than that has pixels', () => {
    const features = featuresOf(photoLike(160, 90, 4, 0.5));
    const { of, colours } = new Palette(features);
    expect(colours.length / 3).toBeLessThan(of.length / 3);
    for (let i = 0; i < of.length; i++)
      for (let c = 0; c < 3; c++) expect(Math.abs(colours[3 * of[i]! + c]! - features[3 * i + c]!)).toBeLessThan(4);
  });
});

describe('SideColours', () => {
  const features = Float32Array.from({ length: 300 }, (_, i) => (i < 150 ? 180 : 60) + ((i * 7) % 11));
  const places = (from: number): number[] => Array.from({ length: 50 }, (_, i) => from + i);

  it('speak for the inside on its colours and against it on the others, up to the most they may', () => {
    const sides = SideColours.learn(features, places(0), places(50))!;
    const asked = new Uint8Array(100).fill(1, 0, 80);
    const ratios = sides.ratios(features, asked, 5);
    expect([ratios[10], ratios[70], ratios[90]]).toEqual([5, -5, 0]);
  });

  it('are trusted as far as they tell known pixels apart', () => {
    const told = SideColours.learn(features, places(0), places(50))!;
    expect(told.trust(features, places(0), places(50))).toBeGreaterThan(0.95);
    expect(told.trust(features, places(50), places(0))).toBe(0);
    const [some, others] = [places(0).filter((i) => i % 2 === 0), places(0).filter((i) => i % 2 === 1)];
    const alike = SideColours.learn(features, some, others)!;
    expect(alike.trust(features, some, others)).toBeLessThan(0.4);
    // without the other side there is nothing to tell
    expect(alike.trust(features, some, [])).toBe(1);
  });

  it('are nothing where one side has no pixels', () => {
    expect(SideColours.learn(features, places(0), [])).toBeNull();
  });
});
