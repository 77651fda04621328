import { describe, expect, it } from 'vitest';
import { addInterest } from '../film/edits/interest';
import { setOverlap } from '../film/edits';
import { setEffects } from '../film/edits/layers';
import { addMatteUse } from '../film/edits/mattes';
import type { Film, Media } from '../film/film';
import { changed, countingIds, sampleFilm, sampleMedium } from '../film/sample-film';
import { placedJoins } from '../film/timing';
import { rational } from '../geometry/rational';
import { createImage, type Image } from '../image/pixels';
import { joinAt, MEDIA, REEL } from '../recipes/test-joins';
import type { PictureRef } from '../plan/frame-plan';
import { findLeak } from './leak';
import { FrameLooker, lookPlans, type FrameLook } from './look';
import { checkLooks, checkTiming, framesToLook } from './looks';
import { applyRepair } from './repairs';

const { id } = joinAt(REEL).join;
const film = changed(REEL, (d) => setOverlap(d, id, 6, 6));
const QUIET: FrameLook = { light: 100, shots: { leaving: [10, 20, 30], entering: [40, 50, 60] }, mattes: [] };
const looks = (change: (i: number) => Partial<FrameLook> = () => ({})): FrameLook[] =>
  framesToLook(film, joinAt(film)).map((_, i) => ({ ...QUIET, ...change(i) }));
const found = (of: Film, seen: readonly (FrameLook | null)[], media: Media = MEDIA) => checkLooks(of, media, joinAt(of), seen);

describe('what the pictures tell', () => {
  it('is nothing where all is quiet, and nothing of a plain cut', () => {
    expect(found(film, looks())).toEqual([]);
    expect(framesToLook(REEL, joinAt(REEL))).toEqual([]);
    expect(framesToLook(film, joinAt(film))).toHaveLength(14);
  });

  it('is a jump of light, unless it is meant', () => {
    const bright = looks((i) => ({ light: i < 8 ? 60 : 140 }));
    expect(found(film, bright)).toMatchObject([{ kind: 'light jump', from: joinAt(film).from + 7 }]);
    const meant = changed(film, (d) =>
      setEffects(d, { kind: 'join', joinId: id }, [{ id: 'f', kind: 'flash', visible: true, params: {} }]),
    );
    expect(found(meant, bright)).toEqual([]);
    // what changes all the time is no jump
    expect(
      found(
        film,
        looks((i) => ({ light: 20 * 1.5 ** i })),
      ),
    ).toEqual([]);
  });

  it('is a matte that jumps on a frame, with its place', () => {
    const at = (i: number): Partial<FrameLook> => ({
      mattes: [{ matteId: 'box-a', side: 'inside', shot: 'leaving', area: i === 5 ? 0.2 : 0.1 + 0.001 * i, x: 3 * i, y: 0, leak: null }],
    });
    const [one, ...more] = found(film, looks(at));
    expect(more).toEqual([]);
    expect(one).toMatchObject({ kind: 'matte jump', from: joinAt(film).from + 4, place: { x: 15, y: 0 } });
    const moved = (i: number): Partial<FrameLook> => ({
      mattes: [{ matteId: 'box-a', side: 'inside', shot: 'leaving', area: 0.1, x: 3 * i + (i === 5 ? 30 : 0), y: 0, leak: null }],
    });
    expect(found(film, looks(moved))[0]!.text).toContain('30 px off');
  });

  it('is a leak along a hole, and its mend grows the hole where it is used', () => {
    const cut = changed(film, (d) => {
      const [over, under] = d.joins[0]!.layers;
      addMatteUse(d, id, over!.id, 'box-a', 'outside');
      addMatteUse(d, id, under!.id, 'box-a', 'inside');
    });
    const at = (i: number): Partial<FrameLook> => ({
      mattes: [
        {
          matteId: 'box-a',
          side: 'outside',
          shot: 'leaving',
          area: 0.1,
          x: 0,
          y: 0,
          leak: i < 3 ? null : { share: 0.3 + 0.01 * i, at: { x: 9, y: 8 }, widthPx: 2.4 },
        },
      ],
    });
    const [leak] = found(cut, looks(at));
    expect(leak).toMatchObject({ kind: 'leak', place: { x: 9, y: 8 }, repair: { kind: 'grow matte', matteId: 'box-a', byPx: 3 } });
    const mended = changed(cut, (d) => applyRepair(d, MEDIA, id, leak!.repair!, countingIds()));
    expect(joinAt(mended).join.layers.map((l) => l.mattes[0]!.growPx)).toEqual([3, 3]);
  });

  it('is a change of scene within a shot, with an overlap that ends before', () => {
    const scene = looks((i) => ({ shots: { leaving: i < 10 ? [10, 20, 30] : [120, 10, 200], entering: QUIET.shots.entering } }));
    const { from, cut } = joinAt(film);
    expect(found(film, scene)).toMatchObject([
      { kind: 'scene change', from: from + 9, repair: { kind: 'overlap', before: 6, after: from + 9 - cut } },
    ]);
    // a shot that moves a lot changes all the time
    const lively = looks((i) => ({ shots: { leaving: [50 * (i % 2), 20, 30], entering: null } }));
    expect(found(film, lively)).toEqual([]);
  });
});

describe('a picture that comes twice', () => {
  it('is told in a shot that moves, and in none that stands', () => {
    const moving = (by: number) => looks((i) => ({ shots: { leaving: [10 + by * (i >= 7 ? i - 1 : i), 20, 30], entering: null } }));
    expect(found(film, moving(3))).toMatchObject([{ kind: 'repeated', from: joinAt(film).from + 6 }]);
    expect(found(film, moving(0))).toEqual([]);
  });
});

describe('what timing tells', () => {
  it('is a shot whose rate is another: pictures between are made by motion', () => {
    const slow = sampleMedium('s', 60, rational(18, 1));
    const media = new Map([MEDIA.get('a')!, slow].map((m) => [m.id, m]));
    const odd = changed(sampleFilm([...media.values()]), (d) => {
      d.shots[0]!.length = 60;
      d.shots[1]!.inFrame = 20;
      d.shots[1]!.length = 40;
      setOverlap(d, d.joins[0]!.id, 8, 8);
    });
    const placed = placedJoins(odd)[0]!;
    const [uneven] = checkTiming(odd, media, placed);
    expect(uneven).toMatchObject({ kind: 'uneven', repair: { kind: 'between', side: 'entering' } });
    expect(uneven!.text).toContain('18 pictures a second');
    const mended = changed(odd, (d) => applyRepair(d, media, placed.join.id, uneven!.repair!, countingIds()));
    expect(mended.shots[1]!.time?.between).toBe('flow');
    expect(checkTiming(mended, media, placedJoins(mended)[0]!)).toEqual([]);
    expect(checkTiming(film, MEDIA, joinAt(film))).toEqual([]);
  });

  it('is an eye that has to go far at a cut; it is brought together', () => {
    const marked = changed(REEL, (d) => {
      addInterest(d, id, 'leaving', 79, -60, 0, countingIds('l'));
      addInterest(d, id, 'entering', 20, 50, 10, countingIds('e'));
    });
    const [jump] = checkTiming(marked, MEDIA, joinAt(marked));
    expect(jump).toMatchObject({ kind: 'eye jump', place: { x: 50, y: 10 }, repair: { kind: 'bring together' } });
    const mended = changed(marked, (d) => applyRepair(d, MEDIA, id, jump!.repair!, countingIds()));
    expect(checkTiming(mended, MEDIA, joinAt(mended))).toEqual([]);
  });
});

/** A disc of one colour on another, and a matte of it that is too small by `short` pixels on one side. */
function disc(short: number, inner: readonly [number, number, number] = [200, 60, 40]): { image: Image; coverage: Uint8Array } {
  const image = createImage(160, 90);
  const coverage = new Uint8Array(160 * 90);
  for (let y = 0; y < 90; y++)
    for (let x = 0; x < 160; x++) {
      const i = y * 160 + x;
      const away = Math.hypot(x + 0.5 - 80, y + 0.5 - 45);
      image.data.set(away < 28 ? [...inner, 255] : [50, 70, 90, 255], 4 * i);
      const edge = 28 - (x > 80 ? short : 0);
      coverage[i] = Math.round(255 * Math.max(0, Math.min(1, edge - away + 0.5)));
    }
  return { image, coverage };
}

describe('findLeak', () => {
  it('finds nothing along a true edge, and the side on which a hole is too small', () => {
    const exact = disc(0);
    expect(findLeak(exact.image, exact.coverage)?.share ?? 0).toBeLessThan(0.05);
    const short = disc(3);
    const leak = findLeak(short.image, short.coverage)!;
    expect(leak.share).toBeGreaterThan(0.25);
    expect(leak.at.x).toBeGreaterThan(90);
    expect(leak.widthPx).toBeGreaterThan(1.5);
  });

  it('says nothing where both sides are alike', () => {
    const alike = disc(3, [54, 70, 92]);
    expect(findLeak(alike.image, alike.coverage)).toBeNull();
  });
});

describe('FrameLooker', () => {
  it('sees light, shots and mattes of a frame', () => {
    const cut = changed(film, (d) => addMatteUse(d, id, d.joins[0]!.layers[0]!.id, 'box-a', 'outside'));
    const plans = lookPlans(cut, MEDIA, joinAt(cut), joinAt(cut).cut);
    const flat = ({ mediumId }: PictureRef): Image => ({
      width: 1,
      height: 1,
      data: new Uint8ClampedArray(mediumId === 'a' ? [200, 200, 200, 255] : [20, 20, 20, 255]),
    });
    const look = new FrameLooker(cut).look(plans, flat, () => null);
    expect(look.light).toBeGreaterThan(150);
    expect([look.shots.leaving![0], look.shots.entering![0]].map((v) => Math.round(v!))).toEqual([200, 20]);
    const [matte] = look.mattes;
    expect(matte!.area).toBeCloseTo(1600 / 14_400, 2);
    expect([matte!.x, matte!.y].map(Math.round)).toEqual([0, 0]);
  });
});
