import { describe, expect, it } from 'vitest';
import { isChangedByHand } from '../film/made-mark';
import { faultInFilm } from '../film/rules';
import { changed } from '../film/sample-film';
import { filmLength, mediumFrameAt, placedJoins, startOfShot } from '../film/timing';
import { rational, toNumber, type Rational } from '../geometry/rational';
import { planFrame } from '../plan/plan-film';
import { EVERY, EVERY_MEDIA } from '../recipes/every-kind';
import { mostOff, setFilmRate, setFilmSize } from './film-format';

describe('another size', () => {
  it.each([2, 0.5, 4.75])('draws the same %s times as large: places and lengths go along', (k) => {
    const large = changed(EVERY, (d) => setFilmSize(d, 160 * k, 90 * k));
    expect(faultInFilm(large)).toBeNull();
    expect(large.joins.filter((j) => isChangedByHand(large, j)).map((j) => j.name)).toEqual([]);
    for (let frame = 0; frame < filmLength(EVERY); frame += 7) {
      const [small, now] = [EVERY, large].map((film) => planFrame(film, EVERY_MEDIA, frame));
      expect(now!.layers.length).toBe(small!.layers.length);
      small!.layers.forEach((layer, i) => {
        // a picture's point comes to lie k times as far from the film's corner
        const at = ({ matrix: [a, b, c, d, e, f, g, h, w] }: typeof layer, x: number, y: number): number[] => {
          const depth = g * x + h * y + w;
          return [(a * x + b * y + c) / depth, (d * x + e * y + f) / depth];
        };
        const other = now!.layers[i]!;
        for (const [x, y] of [
          [10, 20],
          [150, 70],
        ] as const) {
          // prettier-ignore
          const [from, to] = [at(layer, x, y), at(other, ...(layer.content.kind === 'picture' ? ([x, y] as const) : ([k * x, k * y] as const)))];
          expect(Math.abs(to[0]! - k * from[0]!) + Math.abs(to[1]! - k * from[1]!)).toBeLessThan(0.02 * k * 160);
        }
      });
    }
  });
});

describe('another rate', () => {
  it.each<[string, Rational]>([
    ['25', rational(25, 1)],
    ['29.97', rational(30000, 1001)],
    ['60', rational(60, 1)],
    ['12', rational(12, 1)],
  ])('keeps every cut at its time, to the nearest frame of %s', (_, rate) => {
    const other = changed(EVERY, (d) => setFilmRate(d, rate));
    expect(faultInFilm(other)).toBeNull();
    expect(other.joins.filter((j) => isChangedByHand(other, j)).map((j) => j.name)).toEqual([]);
    const seconds = (film: typeof EVERY, frame: number): number => frame / toNumber(film.rate);
    for (const shot of EVERY.shots) {
      const [was, is] = [EVERY, other].map((film) => seconds(film, startOfShot(film, shot.id)));
      expect(Math.abs(was! - is!)).toBeLessThanOrEqual(0.5 / toNumber(rate) + 1e-9);
      // it begins on the same picture
      const medium = EVERY_MEDIA.get(shot.mediumId)!;
      expect(
        mediumFrameAt(
          other,
          other.shots.find((s) => s.id === shot.id)!,
          medium,
          0,
        ),
      ).toBe(mediumFrameAt(EVERY, shot, medium, 0));
    }
    const was = placedJoins(EVERY);
    placedJoins(other).forEach((p, i) => {
      expect(Math.abs(seconds(other, p.from) - seconds(EVERY, was[i]!.from))).toBeLessThan(1.1 / toNumber(rate));
      expect(Math.abs(seconds(other, p.to) - seconds(EVERY, was[i]!.to))).toBeLessThan(1.1 / toNumber(rate));
    });
    expect(mostOff(EVERY, rate)).toBeLessThanOrEqual(0.5 / toNumber(rate) + 1e-9);
  });

  it('goes to twice as many frames and back without any change', () => {
    const twice = changed(EVERY, (d) => setFilmRate(d, rational(48, 1)));
    const back = changed(twice, (d) => setFilmRate(d, EVERY.rate));
    expect(back.shots).toEqual(EVERY.shots);
    expect(back.joins.map((j) => [j.before, j.after])).toEqual(EVERY.joins.map((j) => [j.before, j.after]));
  });
});
