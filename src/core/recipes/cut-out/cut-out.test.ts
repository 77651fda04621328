import { plansToMeasure } from '../keep';
import { describe, expect, it } from 'vitest';
import type { Film } from '../../film/film';
import type { CutOutSettings } from '../../film/recipe-settings';
import { removeMatte } from '../../film/edits/mattes';
import { changed } from '../../film/sample-film';
import { EASES_OF_MOVES } from '../../motion/eases';
import { channelAt } from '../../motion/curve';
import { planFrame } from '../../plan/plan-film';
import { kindNamed } from '../kinds';
import { makeKind, setSettings, setLength } from '../making';
import { behindHole } from './cut-out-pull';
import type { HoleShape } from '../hole-shape';
import { nextThing } from '../lacks';
import { casesOf, chances, drawn, joinAt, leastCovered, measuredBox, MEDIA, pixel, REEL } from '../test-joins';

const { id } = joinAt(REEL).join;
const box = measuredBox(-20, -20, 20, 20);
const measured = (...shapes: (HoleShape | null)[]): ReadonlyMap<string, readonly (HoleShape | null)[]> => new Map([[id, shapes]]);
const made = (settings: Partial<CutOutSettings>, length = 24, shape = box): Film =>
  changed(REEL, (d) => {
    makeKind(d, MEDIA, id, 'held cut-out', { on: 'frames', every: 6, roughPx: 0, shadowPx: 0, ...settings }, { length: length });
    setSettings(d, MEDIA, id, 'held cut-out', {}, measured(shape));
  });
const red = [255, 0, 0, 255];
const green = [0, 255, 0, 255];

describe('a cut-out that lands', () => {
  const film = made({ matteId: 'box-b', punches: 3, flash: 0 });

  it('is frozen over the leaving shot ahead of the cut, at its true place', () => {
    const { cut, from, to, join } = joinAt(film);
    expect([from, to]).toEqual([cut - 18, cut]);
    expect(join.layers.map((l) => l.name)).toEqual(['Cut-out', 'shot a']);
    expect(join.layers[0]!.source).toEqual({ kind: 'held', side: 'entering', frame: 20 });
    expect([pixel(drawn(film, cut - 1), 0, 0), pixel(drawn(film, cut - 1), -60, 0)]).toEqual([green, red]);
    expect(pixel(drawn(film, from - 1), 0, 0)).toEqual(red);
    expect(nextThing(film, MEDIA, joinAt(film), { measured: undefined, report: null })).toBeNull();
  });

  it('comes down on every moment, larger about its own middle, and is at rest before the next', () => {
    const off = changed(film, (d) => setSettings(d, MEDIA, id, 'held cut-out', {}, measured(measuredBox(30, -20, 50, 0))));
    const { motion } = joinAt(off).join.layers[0]!;
    expect([motion.pivotX, motion.pivotY]).toEqual([40, -10]);
    const sizes = [-18, -13, -12, -7, -6, -1].map((t) => channelAt(motion.scale, t));
    expect(sizes.map((v) => Math.round(100 * v) / 100)).toEqual([1.18, 1, 1.18, 1, 1.18, 1]);
  });

  it('may bring a bright copy that fades', () => {
    const flashed = made({ matteId: 'box-b', flash: 5 });
    const [flash] = joinAt(flashed).join.layers;
    expect(flash).toMatchObject({ name: 'Flash', blend: 'add', span: { first: -18, last: -14 } });
    expect([channelAt(flash!.opacity, -18), channelAt(flash!.opacity, -13)]).toEqual([1, 0]);
  });

  it('asks for a matte that is gone, and measures nothing then', () => {
    const gone = changed(film, (d) => removeMatte(d, 'box-b'));
    expect(nextThing(gone, MEDIA, joinAt(gone), { measured: undefined, report: null })).toMatchObject({ step: 'move' });
    expect(plansToMeasure(gone, MEDIA, joinAt(gone))).toEqual([null]);
  });
});

describe('a hole that pulls back', () => {
  it('begins as the moving shot and ends as the frozen one, which then runs', () => {
    const film = made({ way: 'pulls back', matteId: 'box-b', closes: 6, motionBlur: false });
    const { from, cut, join } = joinAt(film);
    expect(cut - from).toBe(24);
    expect(drawn(film, from).data).toEqual(drawn(film, from - 1).data);
    const middle = drawn(film, cut - 10);
    expect([pixel(middle, 0, 0), pixel(middle, -75, -40)]).toEqual([red, green]);
    expect(pixel(drawn(film, cut - 1), 0, 0)[1]).toBeGreaterThan(200);
    expect(join.layers.map((l) => l.source.kind)).toEqual(['held', 'held', 'leaving']);
  });

  it('goes in where the leaving shot is frozen', () => {
    const film = made({ way: 'pulls back', side: 'leaving', matteId: 'box-a', closes: 4 });
    const { from, cut } = joinAt(film);
    expect(joinAt(film).join.layers[0]!.source).toMatchObject({ kind: 'held', side: 'leaving', frame: 20 + 60 - 24 });
    expect(pixel(drawn(film, from), 0, 0)[0]).toBeGreaterThan(250);
    expect([pixel(drawn(film, cut - 8), 0, 0), pixel(drawn(film, cut - 1), -79, -44)]).toEqual([green, green]);
  });

  it('keeps the moving subject in the middle of the hole, as far as the picture reaches', () => {
    const [width, height] = [160, 90];
    const hole = [
      { x: 20, y: -10 },
      { x: 60, y: 30 },
    ] as const;
    const free = behindHole(hole, { x: -10, y: 5 }, 0, 0.5, width, height);
    expect([free.x + free.scale * -10, free.y + free.scale * 5].map(Math.round)).toEqual([40, 10]);
    // a subject at the very border cannot be: the picture has to cover the hole
    const bound = behindHole(hole, { x: 75, y: 0 }, 0, 0.05, width, height);
    expect(bound.x + (bound.scale * width) / 2).toBeGreaterThanOrEqual(60 - 1e-9);
  });

  it('measures the frozen matte once and the subject on every frame', () => {
    const film = made({ way: 'pulls back', matteId: 'box-b', subjectId: 'box-a' });
    expect(plansToMeasure(film, MEDIA, joinAt(film))).toHaveLength(25);
    expect(
      plansToMeasure(
        changed(film, (d) => setSettings(d, MEDIA, id, 'held cut-out', { way: 'lands' })),
        MEDIA,
        joinAt(film),
      ),
    ).toHaveLength(25);
  });

  it('says when the matte covers nothing on the frozen frame', () => {
    const film = made({ way: 'pulls back', matteId: 'box-b' });
    const { settings } = joinAt(film).join.recipe!;
    const notes = (shape: HoleShape | null) => kindNamed('held cut-out').notes!(film, MEDIA, joinAt(film), settings as never, [shape]);
    expect([notes(box)[0]!.isFault, notes(null)[0]!.isFault]).toEqual([false, true]);
    expect(notes(measuredBox(-2, -1, 2, 1))[0]!.isFault).toBe(true);
  });

  it('leaves nothing empty over many random holes, places and settings, and ends on its own framing', () => {
    const chance = chances(21);
    for (let n = 0; n < casesOf(200); n++) {
      const [x, y, w, h] = [chance(100) - 50, chance(50) - 25, 6 + chance(24), 6 + chance(18)];
      const side = chance(2) === 0 ? 'entering' : 'leaving';
      const film = changed(REEL, (d) => {
        const corners = [
          [x - w, y - h],
          [x + w, y - h],
          [x + w, y + h],
          [x - w, y + h],
        ] as const;
        for (const mediumId of ['a', 'b'])
          d.mattes.find((m) => m.id === `box-${mediumId}`)!.outline.keys[0]!.points = corners.map(([px, py]) => ({
            x: px,
            y: py,
            inX: 0,
            inY: 0,
            outX: 0,
            outY: 0,
          }));
        const settings: Partial<CutOutSettings> = {
          way: 'pulls back',
          side,
          matteId: side === 'entering' ? 'box-b' : 'box-a',
          closes: 1 + chance(8),
          room: chance(40) / 100,
          ease: EASES_OF_MOVES[chance(EASES_OF_MOVES.length)]!,
          motionBlur: chance(2) === 0,
        };
        makeKind(d, MEDIA, id, 'held cut-out', settings);
        setLength(d, MEDIA, id, 'held cut-out', 6 + chance(14));
        const subject = measuredBox(chance(60) - 60, chance(40) - 40, chance(60) + 5, chance(40) + 5);
        const own = measuredBox(Math.max(-80, x - w - 1), Math.max(-45, y - h - 1), Math.min(80, x + w + 1), Math.min(45, y + h + 1));
        setSettings(d, MEDIA, id, 'held cut-out', {}, measured(own, ...Array.from({ length: 40 }, () => subject)));
      });
      const { from, cut } = joinAt(film);
      for (const frame of [from, from + chance(cut - from), cut - 1]) expect(leastCovered(drawn(film, frame))).toBeGreaterThan(250);
      const standing = planFrame(film, MEDIA, side === 'entering' ? cut - 1 : from).layers[1]!;
      if (side === 'leaving') expect(standing.matrix[0]).toBeCloseTo(1, 9);
    }
  });
});
