import { beforeAll, describe, expect, it } from 'vitest';
import { readBeats, readSpeech, readTruth, type Truth } from '../../../demo/truth';
import { checkOutlined } from '../../core/check/sample-shares';
import { wipeMatte } from '../../core/recipes/wipe-past/wipe-past-report';
import type { Film, Media } from '../../core/film/film';
import { placedJoins } from '../../core/film/timing';
import { compose, scaling, translation } from '../../core/geometry/matrix';
import { rational } from '../../core/geometry/rational';
import { fillPolygon, HARD_EDGE } from '../../core/geometry/polygon-raster';
import { flattenOutline, pointsAt, transformPoint } from '../../core/matte/outline/outline';
import { sampleMedium } from '../../core/film/sample-film';
import { composeDemoFilm, REEL } from './demo-joins';

const files = [...new Set(REEL.map((p) => p.file))];
const media: Media = new Map(files.map((id) => [id, sampleMedium(id, readTruth(id).frames, rational(24, 1), 1280, 720)]));
let film: Film;
let truth: Truth;
beforeAll(() => {
  film = composeDemoFilm(media);
  truth = readTruth('street-tram');
});

describe('the reel', () => {
  it('names every join, and none shows a hole or runs out of picture', () => {
    const placed = placedJoins(film);
    expect(placed.map((p) => p.join.name)).toEqual(REEL.slice(0, -1).map((p) => p.join));
    for (const join of placed) expect([join.join.name, checkOutlined(film, media, join)]).toEqual([join.join.name, []]);
  });

  it('cuts the two takes of the mender inside the word they share', () => {
    const placed = placedJoins(film).find((p) => p.join.name === 'Two takes, one word')!;
    const last = (placed.leaving.inFrame + placed.leaving.length) / 24;
    const first = placed.entering.inFrame / 24;
    for (const [take, at] of [
      ['mender-take-1', last],
      ['mender-take-2', first],
    ] as const) {
      const { words, sharedWord } = readSpeech(take);
      const word = words.find((w) => w.word === sharedWord)!;
      expect(at).toBeGreaterThan(word.start);
      expect(at).toBeLessThan(word.end);
    }
  });
});

describe('the made tram wipe', () => {
  it('follows the tram: hardly any tram is hidden, hardly any street behind it still shows', () => {
    const placed = placedJoins(film)[0]!;
    const { outline } = wipeMatte(film, placed)!.matte;
    const { matteWidth: width, matteHeight: height } = truth;
    const hidden = new Uint8Array(width * height);
    const toMatte = compose(scaling(width / 1280), translation(width / 2, height / 2));
    for (let frame = placed.from; frame < placed.to; frame++) {
      fillPolygon(flattenOutline(pointsAt(outline, frame).map((p) => transformPoint(p, toMatte))), HARD_EDGE, width, height, hidden);
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

describe('the truth of the film', () => {
  it('holds mattes, points and cameras of every frame of a shot', () => {
    for (const file of files) {
      const known = readTruth(file);
      expect(known.pointNames.length).toBeGreaterThan(0);
      const { rotation } = known.camera(known.frames - 1);
      expect(rotation.reduce((sum, v) => sum + v * v, 0)).toBeCloseTo(1, 4);
    }
  });

  it('has the loupe’s glass in the middle of its rim', () => {
    const loupe = readTruth('bench-loupe');
    for (const frame of [0, 40, 119]) {
      const rim = Array.from({ length: 12 }, (_, i) => loupe.point(`glass rim ${i}`, frame));
      const [x, y] = loupe.point('glass centre', frame);
      expect(Math.abs(rim.reduce((sum, p) => sum + p[0], 0) / 12 - x)).toBeLessThan(6);
      expect(Math.abs(rim.reduce((sum, p) => sum + p[1], 0) / 12 - y)).toBeLessThan(6);
    }
  });

  it('knows every beat, at 112 a minute', () => {
    const { beats, beatsPerMinute } = readBeats();
    expect(beatsPerMinute).toBe(112);
    expect(beats.length).toBeGreaterThan(60);
    for (let i = 1; i < beats.length; i++) expect(beats[i]! - beats[i - 1]!).toBeCloseTo(60 / 112, 3);
  });

  it('knows what is said when, one word after the other', () => {
    for (const take of ['mender-take-1', 'mender-take-2']) {
      const { words } = readSpeech(take);
      for (let i = 1; i < words.length; i++) expect(words[i]!.start).toBeGreaterThan(words[i - 1]!.end - 0.001);
    }
    expect(readSpeech('mender-take-1').slip).not.toBeNull();
    expect(readSpeech('mender-take-2').slip).toBeNull();
  });
});
