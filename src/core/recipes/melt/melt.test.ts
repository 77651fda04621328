import { describe, expect, it } from 'vitest';
import { coveragePlan, EmptinessMeter } from '../../check/coverage';
import { spreadOverlap } from '../../film/edits/joins';
import { setFraming } from '../../film/edits/shots';
import { kindOf, type Film } from '../../film/film';
import { keyedLanes, laneChannel } from '../../lanes/lanes';
import { changed, sampleFilm, sampleMedium } from '../../film/sample-film';
import { placedJoins, type PlacedJoin } from '../../film/timing';
import { createImage, type Image } from '../../image/pixels';
import { channelAt } from '../../motion/curve';
import { planFrame } from '../../plan/plan-film';
import type { PictureRef } from '../../plan/frame-plan';
import { picturesOf } from '../../plan/plan-needs';
import { CpuCompositor } from '../../render/cpu/compositor';
import { makeKind, setSettings } from '../making';
import { cutsOfTake } from './melt';
import { isChangedByHand } from '../../film/made-mark';
import { setOverlapAndRefit } from '../refit';
import { setLayer } from '../../film/edits/layers';

const [A, B] = [sampleMedium('a', 50), sampleMedium('b', 60)];
const media = new Map([A, B].map((m) => [m.id, m]));
const joinOf = (film: Film): PlacedJoin => placedJoins(film)[0]!;
const base = changed(sampleFilm([A, B]), (d) => {
  d.shots[0]!.length = 40;
  d.shots[1]!.inFrame = 10;
  d.shots[1]!.length = 50;
});
const JOIN = joinOf(base).join.id;

/** A soft spot on grey that stands further right on later frames, and lower in b. */
function picture({ mediumId, frame }: PictureRef): Image {
  const out = createImage(160, 90);
  // both stand at the same place across on the same film frame
  const [cx, cy] = mediumId === 'a' ? [50 + frame, 40] : [80 + frame, 46];
  for (let y = 0, i = 0; y < 90; y++)
    for (let x = 0; x < 160; x++, i += 4) {
      const value = 60 + 150 * Math.exp(-((x - cx) ** 2 + (y - cy) ** 2) / 120) + 12 * Math.sin(0.4 * x) * Math.sin(0.5 * y);
      out.data.set([value, value, value, 255], i);
    }
  return out;
}

function drawn(film: Film, frame: number): Image {
  const out = createImage(160, 90);
  new CpuCompositor(160, 90).draw(planFrame(film, media, frame), picture, out);
  return out;
}

/** The middle of what is bright. */
function spotOf({ data }: Image): { x: number; y: number; peak: number } {
  let [sum, sx, sy, peak] = [0, 0, 0, 0];
  for (let y = 0, i = 0; y < 90; y++)
    for (let x = 0; x < 160; x++, i += 4) {
      const value = Math.max(0, data[i]! - 110);
      peak = Math.max(peak, data[i]!);
      sum += value;
      sx += value * x;
      sy += value * y;
    }
  return { x: sx / sum, y: sy / sum, peak };
}

describe('a melt', () => {
  const film = changed(base, (d) => makeKind(d, media, JOIN, 'melt'));

  it('lays one layer over frames about the cut, whose curves end just outside', () => {
    const { join } = joinOf(film);
    expect([join.before, join.after, kindOf(join)]).toEqual([4, 4, 'melt']);
    expect(isChangedByHand(film, join)).toBe(false);
    const [lane] = keyedLanes(join, { kind: 'layer', id: join.layers[0]!.id });
    expect(laneChannel(film, JOIN, lane!)).toMatchObject([
      { frame: -5, value: 0 },
      { frame: 4, value: 1 },
    ]);
  });

  it('has its thing on the way from one place to the other, whole, not twice', () => {
    const at = (frame: number): ReturnType<typeof spotOf> => spotOf(drawn(film, frame));
    const heights = Array.from({ length: 8 }, (_, i) => at(36 + i).y);
    for (let i = 1; i < 8; i++) expect(heights[i]!).toBeGreaterThan(heights[i - 1]! - 0.4);
    expect(heights[0]!).toBeGreaterThan(39.5);
    expect(heights[7]!).toBeLessThan(46.5);
    const middle = at(40);
    const { source } = joinOf(film).join.layers[0]!;
    const share = source.kind === 'melt' ? channelAt(source.warp, 0) : 0;
    expect(Math.abs(middle.y - (40 + 6 * share))).toBeLessThan(1.5);
    expect(middle.peak).toBeGreaterThan(190);
  });

  it('is planned from both shots’ pictures, held where a medium ends', () => {
    const plan = planFrame(film, media, 38);
    expect(new Set(picturesOf(plan).map((p) => p.mediumId))).toEqual(new Set(['a', 'b']));
    const long = changed(film, (d) => setOverlapAndRefit(d, media, JOIN, 4, 14));
    const late = planFrame(long, media, 53);
    expect(late.missing).toEqual([]);
    expect(Math.max(...picturesOf(late).flatMap((p) => (p.mediumId === 'a' ? [p.frame] : [])))).toBe(49);
    const alone = planFrame(film, new Map([[A.id, A]]), 38);
    expect(alone.missing).toMatchObject([{ where: 'not ready' }]);
  });

  it('covers what both of its shots cover, which is told without looking for motion', () => {
    const empty = (of: Film): number =>
      new EmptinessMeter(of).measure(
        coveragePlan(of, media, 39),
        () => null,
        () => null,
      );
    expect(empty(film)).toBe(0);
    const barred = changed(film, (d) => setFraming(d, d.shots[1]!.id, { x: 0, y: 0, scale: 0.5, turn: 0 }));
    expect(empty(barred)).toBeCloseTo(0.75, 2);
  });

  it('draws the same picture whatever was drawn before', () => {
    const once = drawn(film, 39);
    drawn(film, 42);
    drawn(film, 37);
    expect(drawn(film, 39).data).toEqual(once.data);
  });

  it('follows its overlap until a hand has changed it', () => {
    const wider = changed(film, (d) => setOverlapAndRefit(d, media, JOIN, 6, 2));
    expect(joinOf(wider).join.layers[0]!.source).toMatchObject({ warp: [{ frame: -7 }, { frame: 2 }] });
    const byHand = changed(film, (d) => setLayer(d, JOIN, joinOf(film).join.layers[0]!.id, { opacity: 0.5 }));
    const left = changed(byHand, (d) => setOverlapAndRefit(d, media, JOIN, 6, 2));
    expect(joinOf(left).join.layers[0]!.source).toMatchObject({ warp: [{ frame: -5 }, { frame: 4 }] });
  });

  it('takes as many frames as both shots have pictures for', () => {
    const bare = changed(base, (d) => {
      d.shots[1]!.inFrame = 0;
      spreadOverlap(d, media, JOIN, 12);
    });
    expect([joinOf(bare).join.before, joinOf(bare).join.after]).toEqual([0, 10]);
  });

  it('can melt a subject alone, around which both shots dissolve', () => {
    const matteId = 'm';
    const subject = changed(film, (d) => {
      d.mattes.push({ id: matteId, mediumId: 'a', name: 'm', outline: { closed: false, keys: [] } });
      setSettings(d, media, JOIN, 'melt', { matteId });
    });
    const { layers } = joinOf(subject).join;
    expect(layers.map((l) => l.source.kind)).toEqual(['melt', 'leaving', 'entering']);
    expect(layers[0]!.mattes).toMatchObject([{ matteId, side: 'inside' }]);
  });

  it('finds the other cuts of a take', () => {
    const take = sampleFilm([A, A, A]);
    const [first, second] = placedJoins(take);
    expect(cutsOfTake(take, first!).map((p) => p.join.id)).toEqual([first!.join.id, second!.join.id]);
    const media1 = new Map([[A.id, A]]);
    const melted = changed(take, (d) => makeKind(d, media1, first!.join.id, 'melt', {}, { length: 4 }));
    expect(cutsOfTake(melted, placedJoins(melted)[0]!).map((p) => p.join.id)).toEqual([second!.join.id]);
  });
});
