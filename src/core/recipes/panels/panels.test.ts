import { describe, expect, it } from 'vitest';
import { effectNamed } from '../../effects/registry';
import { valuesAt } from '../../effects/effect';
import { addMarker } from '../../film/edits/marks';
import { slideEntering } from '../../film/edits/trims';
import type { Film } from '../../film/film';
import { PANEL_LAYOUTS, PANEL_ORDERS, type PanelsSettings } from '../../film/recipe-settings';
import { changed } from '../../film/sample-film';
import { createImage } from '../../image/pixels';
import { makeKind, setSettings } from '../making';
import { landingsOf, orderOf, panels, slicesOf } from './panels';
import { freeOverlap, setOverlapAndRefit } from '../refit';
import { casesOf, chances, drawn, joinAt, leastCovered, MEDIA, pixel, REEL } from '../test-joins';

const { id } = joinAt(REEL).join;
const withBeats = changed(REEL, (d) => {
  d.beats = [
    {
      mediumId: 'a',
      seconds: Array.from({ length: 9 }, (_, i) => (20 + 8 * i) / 24),
      downbeat: 0,
      perBar: 4,
      beatsPerMinute: 180,
      confidence: 1,
    },
  ];
});
const made = (settings: Partial<PanelsSettings>, film = withBeats): Film =>
  changed(film, (d) => makeKind(d, MEDIA, id, 'panels on the beat', settings));

/** How far slices cover a frame together, least of all pixels, when all have landed. */
function leastOf(settings: Pick<PanelsSettings, 'count' | 'layout' | 'order' | 'slant'>, width: number, height: number, scale = 1): number {
  const src = createImage(width, height);
  src.data.fill(255);
  const open = new Float32Array(width * height).fill(1);
  for (const slice of slicesOf(settings, width / scale, height / scale)) {
    const out = createImage(width, height);
    effectNamed('crop').draw(src, out, valuesAt(effectNamed('crop'), { ...slice }, scale));
    for (let i = 0; i < open.length; i++) open[i]! *= 1 - out.data[4 * i + 3]! / 255;
  }
  return 1 - Math.max(...open);
}

describe('slices', () => {
  it('fill the frame without a gap, in every layout and order, at any size', () => {
    const chance = chances(3);
    for (let n = 0; n < 200; n++) {
      const settings = {
        count: 2 + chance(14),
        layout: PANEL_LAYOUTS[chance(4)]!,
        order: PANEL_ORDERS[chance(4)]!,
        slant: chance(161) - 80,
      };
      const scale = [1, 0.5, 0.37][chance(3)]!;
      expect([settings, leastOf(settings, 96 + chance(40), 54 + chance(20), scale) > 0.98]).toEqual([settings, true]);
    }
  });

  it('are equal, and reach no further than a little under those that come later', () => {
    const slices = slicesOf({ count: 4, layout: 'upright', order: 'forwards', slant: 0 }, 400, 200);
    expect(slices.map((s) => [s.left, s.right].map((v) => Math.round(v)))).toEqual([
      [0, 75],
      [25, 50],
      [50, 25],
      [75, 0],
    ]);
    expect(slices[0]!.right).toBeCloseTo(75 - 0.5, 6);
    expect(slices[3]!.left).toBe(75);
  });

  it('come in the order that is asked for, each place once', () => {
    expect(orderOf(5, 'backwards')).toEqual([4, 3, 2, 1, 0]);
    expect(orderOf(5, 'from the middle')).toEqual([2, 1, 3, 0, 4]);
    for (let count = 2; count < 25; count++)
      expect([...orderOf(count, 'shuffled')].sort((a, b) => a - b)).toEqual(orderOf(count, 'forwards'));
  });
});

describe('panels on the beat', () => {
  it('land one a beat, the last before the cut, and the shot runs with the cut', () => {
    const film = made({ count: 4, shakePx: 0, blurPx: 0, kickStops: 0 });
    const { cut, from, to, join } = joinAt(film);
    expect(landingsOf(film, MEDIA, joinAt(film), panels.defaults).length).toBe(5);
    const landings = join.layers
      .slice(0, 4)
      .map((l) => l.span!.first + cut)
      .reverse();
    expect(landings).toEqual([32, 40, 48, 56]);
    expect([from, to]).toEqual([32, cut]);
    expect(pixel(drawn(film, 33), -70, 0)).toEqual([0, 255, 0, 255]);
    expect(pixel(drawn(film, 33), 70, 0)).toEqual([255, 0, 0, 255]);
    expect(pixel(drawn(film, 56), 70, 0)).toEqual([0, 255, 0, 255]);
    expect(drawn(film, cut - 1).data).toEqual(drawn(film, cut).data);
  });

  it('keep to frames where there are no beats, and say so', () => {
    const film = made({ count: 3, every: 5 }, REEL);
    expect(landingsOf(film, MEDIA, joinAt(film), { ...panels.defaults, count: 3, every: 5 })).toEqual([45, 50, 55]);
    const notes = panels.notes!(film, MEDIA, joinAt(film), { ...panels.defaults, count: 3 }, undefined);
    expect(notes.map((n) => n.isFault)).toEqual([false, true]);
    // a marker is no beat
    expect(
      landingsOf(
        changed(film, (d) => void addMarker(d, 51, () => 'm')),
        MEDIA,
        joinAt(film),
        { ...panels.defaults, count: 2, every: 5 },
      ),
    ).toEqual([50, 55]);
    // more of them than the leaving shot has room for
    const many = panels.notes!(film, MEDIA, joinAt(film), { ...panels.defaults, on: 'frames', every: 60, count: 8 }, undefined);
    expect(many.at(-1)!.text).toMatch(/too short for all of them: the first \d+ come with its first frame/);
  });

  it('may let the last ones come early, and keeps the first picture when the shot is slid', () => {
    const settings = { ...panels.defaults, count: 4, early: 2, earlyBy: 3 };
    expect(landingsOf(withBeats, MEDIA, joinAt(withBeats), settings)).toEqual([32, 40, 45, 53]);
    const slid = changed(made({}), (d) => {
      slideEntering(d, MEDIA.get('b')!, id, -4);
      setSettings(d, MEDIA, id, 'panels on the beat', {});
    });
    expect(joinAt(slid).join.layers[0]!.source).toMatchObject({ kind: 'held', frame: 24 });
  });

  it('keeps an overlap that a hand has set: nothing lands before it, and none of it lies past the cut', () => {
    const film = changed(made({}), (d) => {
      setOverlapAndRefit(d, MEDIA, id, 20, 3);
      setSettings(d, MEDIA, id, 'panels on the beat', { shakePx: 4 });
    });
    const { join, cut } = joinAt(film);
    expect(join).toMatchObject({ before: 20, after: 0 });
    expect(Math.min(...landingsOf(film, MEDIA, joinAt(film), { ...panels.defaults, on: 'beats' }))).toBe(cut - 20);
    const longer = changed(made({}), (d) => setOverlapAndRefit(d, MEDIA, id, 40, 0));
    expect(joinAt(longer).join.before).toBe(40);
    expect(pixel(drawn(longer, cut - 38), 0, 0)).toEqual([255, 0, 0, 255]);
    const freed = changed(film, (d) => freeOverlap(d, MEDIA, id));
    expect(joinAt(freed).join).toMatchObject({ before: 36, after: 0 });
  });

  it('leaves nothing empty over many random settings, and is the whole first picture before it runs', () => {
    const chance = chances(9);
    for (let n = 0; n < casesOf(200); n++) {
      const film = made({
        count: 2 + chance(7),
        layout: PANEL_LAYOUTS[chance(4)]!,
        order: PANEL_ORDERS[chance(4)]!,
        slant: chance(161) - 80,
        on: chance(2) === 0 ? 'beats' : 'frames',
        every: 1 + chance(9),
        early: chance(4),
        earlyBy: 1 + chance(5),
        shakePx: chance(20),
        kickStops: chance(3),
        blurPx: chance(30),
        diesIn: 1 + chance(8),
      });
      const { from, cut } = joinAt(film);
      for (const frame of [from, from + chance(cut - from), cut - 1]) expect(leastCovered(drawn(film, frame))).toBe(255);
      expect(joinAt(film).to).toBe(cut);
    }
  });
});
