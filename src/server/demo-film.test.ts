import { beforeAll, describe, expect, it } from 'vitest';
import { readTruth, type Truth } from '../../demo/truth';
import { checkJoin } from '../core/check/join';
import { wipeMatte } from '../core/check/wipe';
import type { Film, Media } from '../core/film/film';
import { placedJoins } from '../core/film/timing';
import { compose, scaling, translation } from '../core/geometry/matrix';
import { rational } from '../core/geometry/rational';
import { CoverageRaster } from '../core/matte/coverage';
import { flattenOutline, pointsAt, transformPoint } from '../core/matte/outline';
import { composeDemoFilm } from './demo-film';

const medium = (id: string) => ({ id, name: id, width: 1280, height: 720, rate: rational(24, 1), frames: 120 });
const media: Media = new Map(['street-tram', 'shop-pan'].map((id) => [id, medium(id)]));
let film: Film;
let truth: Truth;
beforeAll(() => {
  film = composeDemoFilm(media);
  truth = readTruth('street-tram');
});

describe('the made tram wipe', () => {
  it('has nothing an attentive viewer would notice', () => {
    for (const placed of placedJoins(film)) expect(checkJoin(film, media, placed)).toEqual([]);
  });

  it('follows the tram: hardly any tram is hidden, hardly any street behind it still shows', () => {
    const placed = placedJoins(film)[0]!;
    const { outline } = wipeMatte(film, placed)!.matte;
    const { matteWidth: width, matteHeight: height } = truth;
    const raster = new CoverageRaster(width, height);
    const hidden = new Uint8Array(width * height);
    const toMatte = compose(scaling(width / 1280), translation(width / 2, height / 2));
    for (let frame = placed.from; frame < placed.to; frame++) {
      raster.fill(flattenOutline(pointsAt(outline, frame).map((p) => transformPoint(p, toMatte))), { growPx: 0, featherPx: 0 }, hidden);
      const tram = truth.matte(frame);
      let lostTram = 0;
      let leftStreet = 0;
      for (let i = 0; i < tram.length; i++) {
        lostTram += (tram[i]! * hidden[i]!) / 255 ** 2;
        leftStreet += ((255 - tram[i]!) * (255 - hidden[i]!)) / 255 ** 2;
      }
      // a column of the matte is 1/640 of the frame; motion blur alone spreads the edge over twenty of them
      expect(lostTram / tram.length).toBeLessThan(0.016);
      expect(leftStreet / tram.length).toBeLessThan(0.016);
    }
  });

  it('begins on the first frame on which the street shows behind the tram', () => {
    const covers = (frame: number): boolean => truth.matte(frame).every((v) => v > 250);
    const { from } = placedJoins(film)[0]!;
    expect(covers(from - 2)).toBe(true);
    expect(covers(from)).toBe(false);
  });
});

it('knows where the renderer put things', () => {
  const [x, y] = truth.point('tram rear corner', 78);
  expect(Math.abs(y - 360)).toBeLessThan(80);
  const row = truth.matte(78).subarray(640 * Math.round(y / 2), 640 * (Math.round(y / 2) + 1));
  expect(Math.abs(row.findLastIndex((v) => v > 127) - x / 2)).toBeLessThan(6);
  expect(() => truth.point('nothing', 0)).toThrow(RangeError);
  expect(() => readTruth('shop-pan').matte(0)).toThrow(RangeError);
});
