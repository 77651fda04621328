import { describe, expect, it } from 'vitest';
import { addInterest } from '../film/edits/interest';
import { setOverlap } from '../film/edits/joins';
import { setFraming } from '../film/edits/shots';
import { setEffects } from '../film/edits/layers';
import { addMatteUse } from '../film/edits/mattes';
import type { Film, Media } from '../film/film';
import { changed, countingIds, sampleFilm, sampleMedium } from '../film/sample-film';
import { placedJoins } from '../film/timing';
import { rational } from '../geometry/rational';
import { createImage, type Image } from '../image/pixels';
import { joinAt, MEDIA, REEL } from '../recipes/test-joins';
import type { PictureRef } from '../plan/frame-plan';
import { makeKind } from '../recipes/making';
import { findLeak } from './leak';
import { FrameLooker, lookPlans, type FrameLook } from './look';
import { framesToCover, framesToLook } from './frames';
import { checkEffectEnds, checkNeeds } from './lacks';
import { checkLooks, checkTiming } from './looks';
import { applyRepair } from './repairs';
import { checkOutlined } from './sample-shares';

const { id } = joinAt(REEL).join;
const film = changed(REEL, (d) => setOverlap(d, id, 6, 6));
/** A matte that covers the same squares on every frame. */
const SQUARES = [0, 1, 1, 0.5];
const QUIET: FrameLook = { light: 100, result: [10, 60, 30, 90], shots: { leaving: [10, 20, 30], entering: [40, 50, 60] }, mattes: [] };
const looks = (change: (i: number) => Partial<FrameLook> = () => ({})): FrameLook[] =>
  framesToLook(film, joinAt(film)).map((_, i) => ({ ...QUIET, ...change(i) }));
const found = (of: Film, seen: readonly (FrameLook | null)[], media: Media = MEDIA) => checkLooks(of, media, joinAt(of), seen);

describe('what the pictures tell', () => {
  it('is nothing where all is quiet; of a plain cut the two frames beside it are looked at', () => {
    expect(found(film, looks())).toEqual([]);
    const { cut } = joinAt(REEL);
    expect(framesToLook(REEL, joinAt(REEL))).toEqual([cut - 1, cut]);
    expect(found(REEL, [QUIET, QUIET])).toEqual([]);
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

  it('is a jump of the whole picture, named as that and not as one of light', () => {
    const jumps = looks((i) => (i < 8 ? {} : { light: 40, result: [90, 10, 80, 20] }));
    expect(found(film, jumps)).toMatchObject([{ kind: 'picture jump', from: joinAt(film).from + 7 }]);
    // one that changes as much on every frame does not jump
    expect(
      found(
        film,
        looks((i) => ({ result: i % 2 ? [90, 10, 80, 20] : [10, 60, 30, 90] })),
      ),
    ).toEqual([]);
  });

  it('is a change of light across a cut of like pictures, and none across unlike ones', () => {
    const brighter: FrameLook = { ...QUIET, light: 110, result: [12, 66, 33, 98] };
    expect(found(REEL, [QUIET, brighter])).toMatchObject([
      { kind: 'light jump', from: joinAt(REEL).cut, text: expect.stringContaining('10 % brighter') as string },
    ]);
    expect(found(REEL, [QUIET, { ...brighter, light: 103 }])).toEqual([]);
    expect(found(REEL, [QUIET, { ...brighter, result: [90, 10, 80, 20] }])).toEqual([]);
  });

  it('is a hole in a matte on one frame, though its size hardly differs', () => {
    const holed = (i: number): Partial<FrameLook> => ({
      mattes: [
        {
          matteId: 'box-a',
          side: 'inside',
          shot: 'leaving',
          area: 0.1,
          squares: i === 6 ? [0, 1, 0.7, 0.5] : [0, 1, 1 - 0.002 * (i % 2), 0.5],
          x: 0,
          y: 0,
          leak: null,
        },
      ],
    });
    expect(found(film, looks(holed))).toMatchObject([
      { kind: 'matte jump', from: joinAt(film).from + 5, text: expect.stringContaining('another outline, or a hole') as string },
    ]);
  });

  it('is a matte that jumps on a frame, with its place', () => {
    const at = (i: number): Partial<FrameLook> => ({
      mattes: [
        {
          matteId: 'box-a',
          side: 'inside',
          shot: 'leaving',
          area: i === 5 ? 0.2 : 0.1 + 0.001 * i,
          squares: SQUARES,
          x: 3 * i,
          y: 0,
          leak: null,
        },
      ],
    });
    const [one, ...more] = found(film, looks(at));
    expect(more).toEqual([]);
    expect(one).toMatchObject({ kind: 'matte jump', from: joinAt(film).from + 4, place: { x: 15, y: 0 } });
    const moved = (i: number): Partial<FrameLook> => ({
      mattes: [
        { matteId: 'box-a', side: 'inside', shot: 'leaving', area: 0.1, squares: SQUARES, x: 3 * i + (i === 5 ? 30 : 0), y: 0, leak: null },
      ],
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
          squares: SQUARES,
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

describe('what a join needs', () => {
  it('is told of where it is lacking: no subject, or one that is not on every frame', () => {
    const bare = changed(REEL, (d) => makeKind(d, MEDIA, id, 'arrive', { matteId: null }));
    expect(checkNeeds(bare, MEDIA, joinAt(bare))).toMatchObject([
      { kind: 'nothing arrives', text: 'Arrive lacks something that it needs.' },
    ]);
    const whole = changed(REEL, (d) => makeKind(d, MEDIA, id, 'arrive', { matteId: 'box-b' }));
    expect(checkNeeds(whole, MEDIA, joinAt(whole))).toEqual([]);
    const placed = joinAt(whole);
    const on = (frames: readonly number[]): FrameLook[] =>
      framesToLook(whole, placed).map((f) => ({
        ...QUIET,
        mattes: [
          {
            matteId: 'box-b',
            side: 'inside',
            shot: 'entering',
            area: frames.includes(f!) ? 0.1 : 0,
            squares: SQUARES,
            x: 0,
            y: 0,
            leak: null,
          },
        ],
      }));
    const all = Array.from({ length: placed.to - placed.from + 2 }, (_, i) => placed.from - 1 + i);
    expect(found(whole, on(all))).toEqual([]);
    expect(found(whole, on([placed.from + 2]))).toMatchObject([
      { kind: 'nothing arrives', from: placed.from, text: expect.stringMatching(/^Box b covers nothing on \d+ frames of/) as string },
    ]);
  });

  it('is no effect that is cut off at its end', () => {
    const shaken = (strengthPx: number, span?: { first: number; last: number }): Film =>
      changed(film, (d) =>
        setEffects(d, { kind: 'join', joinId: id }, [
          { id: 's', kind: 'shake', visible: true, params: { strengthPx }, ...(span === undefined ? {} : { span }) },
        ]),
      );
    expect(checkEffectEnds(joinAt(shaken(2)))).toMatchObject([
      { kind: 'cut off', text: expect.stringContaining('it is still 2 px') as string },
    ]);
    expect(checkEffectEnds(joinAt(shaken(0.2)))).toEqual([]);
    expect(checkEffectEnds(joinAt(shaken(2, { first: 0, last: 20 })))).toEqual([]);
  });
});

describe('the frames a join has to cover', () => {
  it('go on past the overlap as far as a shot may show a border by itself', () => {
    const { cut, from, to, entering } = joinAt(film);
    expect(framesToCover(film, MEDIA, joinAt(film))).toEqual(Array.from({ length: to - from }, (_, i) => from + i));
    const framed = changed(film, (d) => setFraming(d, d.shots[1]!.id, { x: 20, y: 0, scale: 1, turn: 0 }));
    const frames = framesToCover(framed, MEDIA, joinAt(framed));
    const next = placedJoins(framed)[1]!;
    expect([frames[0], frames.at(-1)]).toEqual([from, Math.min(cut + entering.length, next.from) - 1]);
    expect(
      checkOutlined(framed, MEDIA, joinAt(framed))
        .filter((f) => f.kind === 'empty pixels')
        .at(-1)!.to,
    ).toBe(frames.at(-1));
  });
});
