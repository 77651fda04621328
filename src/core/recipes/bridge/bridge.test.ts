import { describe, expect, it } from 'vitest';
import type { Film } from '../../film/film';
import type { BridgeSettings, Pin } from '../../film/recipe-settings';
import { removeMatte } from '../../film/edits/mattes';
import { changed } from '../../film/sample-film';
import { apply, lengthScale, type Matrix } from '../../geometry/matrix';
import { EASES_OF_MOVES } from '../../motion/eases';
import { pictureOf } from '../../plan/frame-plan';
import { planFrame } from '../../plan/plan-film';
import { bridge, stillPlace } from './bridge';
import { makeKind, setSettings } from '../making';
import { overlapName, setOverlapAndRefit } from '../refit';
import { nextThing } from '../lacks';
import { casesOf, chances, drawn, joinAt, leastCovered, MEDIA, pixel, REEL } from '../test-joins';

const { id } = joinAt(REEL).join;
const PIN: Pin = { x: 20, y: -8, scale: 0.25, turn: 0 };
const made = (settings: Partial<BridgeSettings>, film = REEL, join = id, length = 30): Film =>
  changed(film, (d) => makeKind(d, MEDIA, join, 'bridge', { pin: PIN, ...settings }, { length: length }));
const matrixOf = (film: Film, frame: number, mediumId: string): Matrix =>
  planFrame(film, MEDIA, frame).layers.find((l) => pictureOf(l)?.mediumId === mediumId)!.matrix;
const rounded = (m: Matrix): number[] => m.map((v) => Math.round(1e6 * v) / 1e6 + 0);
const AS_IT_IS = [1, 0, 0, 0, 1, 0, 0, 0, 1];

describe('the place that stays', () => {
  it('is mapped to itself by the pin, turned or not', () => {
    for (const pin of [PIN, { x: -30, y: 12, scale: 3, turn: 25 }]) {
      const { x, y } = stillPlace(pin)!;
      const [c, s] = [pin.scale * Math.cos((pin.turn * Math.PI) / 180), pin.scale * Math.sin((pin.turn * Math.PI) / 180)];
      expect(Math.hypot(c * x - s * y + pin.x - x, s * x + c * y + pin.y - y)).toBeLessThan(1e-9);
    }
    expect(stillPlace({ x: 5, y: 5, scale: 1, turn: 0 })).toBeNull();
  });
});

describe('a bridge', () => {
  it('asks where one shot lies in the other, and shows both as they are until then', () => {
    const film = made({ pin: null });
    expect(nextThing(film, MEDIA, joinAt(film), { measured: undefined, report: null })).toMatchObject({ step: 'move' });
    expect(joinAt(film).join.layers.map((l) => l.name)).toEqual(['shot a', 'shot b']);
  });

  it('goes from the wider shot as it is to the nearer one as it is, with one place of both lying over each other all the way', () => {
    const film = made({});
    const { from, to } = joinAt(film);
    expect(rounded(matrixOf(film, from, 'a'))).toEqual(AS_IT_IS);
    const longer = changed(film, (d) => void (d.joins[0]!.after += 1));
    expect(rounded(matrixOf(longer, to, 'b'))).toEqual(AS_IT_IS);
    for (let frame = from; frame < to; frame++) {
      const [wide, near] = [matrixOf(film, frame, 'a'), matrixOf(film, frame, 'b')];
      const own = { x: 30, y: 10 };
      const [p, q] = [apply(near, own), apply(wide, { x: PIN.x + PIN.scale * own.x, y: PIN.y + PIN.scale * own.y })];
      expect(Math.hypot(p.x - q.x, p.y - q.y)).toBeLessThan(1e-6);
    }
  });

  it('lets the nearer shot come softly within the wider one, and all of it before the end', () => {
    const film = made({ comesAfter: 4, comesOver: 8 });
    const { from, to } = joinAt(film);
    expect(pixel(drawn(film, from), 20, -8)).toEqual([255, 0, 0, 255]);
    const [middle, last] = [drawn(film, from + 14), drawn(film, to - 1)];
    const { x, y } = apply(matrixOf(film, from + 14, 'b'), { x: 0, y: 0 });
    expect(pixel(middle, Math.round(x), Math.round(y))).toEqual([0, 255, 0, 255]);
    expect(pixel(middle, -70, 40)[0]).toBeGreaterThan(200);
    expect(pixel(last, -79, -44)[1]).toBeGreaterThan(240);
  });

  it('goes from near by to afar as well: the nearer shot stays in front', () => {
    const film = made({ pin: { x: -60, y: 10, scale: 4, turn: 0 } });
    const { from, to, join } = joinAt(film);
    expect(join.layers.map((l) => l.source.kind)).toEqual(['leaving', 'leaving', 'entering']);
    expect(pixel(drawn(film, from), 0, 0)[0]).toBeGreaterThan(240);
    expect(pixel(drawn(film, to - 1), -75, 0)[1]).toBeGreaterThan(240);
    for (let frame = from; frame < to; frame += 3) expect(leastCovered(drawn(film, frame))).toBeGreaterThan(246);
  });

  it('fades what is around, before a colour, and lets things pass near the camera', () => {
    const film = made({ fadesId: 'box-a', behind: [10, 20, 30], occluderIds: ['box-c', 'box-a'] });
    const { from, to, cut, join } = joinAt(film);
    expect(join.layers.map((l) => l.name)).toEqual(['Box c', 'Box a', 'shot b', 'shot b, first', 'shot a', 'shot a, what fades', 'Behind']);
    expect(join.carriers.map((c) => c.name)).toEqual(['Camera', 'Near the camera']);
    const scaleOf = (frame: number, at: number): number => lengthScale(planFrame(film, MEDIA, frame).layers[at]!.matrix);
    expect(scaleOf(cut, 1)).toBeGreaterThan(1.5 * scaleOf(cut, 4));
    for (const frame of [from, cut, to - 1]) expect(leastCovered(drawn(film, frame))).toBeGreaterThan(246);
    const gone = changed(film, (d) => removeMatte(d, 'box-c'));
    const { recipe } = joinAt(gone).join;
    expect(recipe).toMatchObject({ settings: { occluderIds: ['box-a'], fadesId: 'box-a' } });
  });

  it('goes on from the bridge before without a stop, through more than two views', () => {
    const second = joinAt(REEL, 1).join.id;
    const chain = made(
      { goesOn: true, pin: { x: 10, y: 5, scale: 0.4, turn: 0 }, ease: 'soft stop' },
      made({ ease: 'soft start' }),
      second,
    );
    const anew = changed(chain, (d) => setSettings(d, MEDIA, id, 'bridge', {}));
    const [one, two] = [joinAt(anew), joinAt(anew, 1)];
    expect(two.from).toBe(one.to);
    // how fast the shot between them grows
    const rate = (frame: number): number => {
      const at = (f: number): number => Math.log(lengthScale(matrixOf(anew, f, 'b')));
      return at(frame + 1) - at(frame);
    };
    const [before, after] = [rate(one.to - 2), rate(one.to)];
    expect(before).toBeGreaterThan(0.02);
    expect(Math.abs(after - before)).toBeLessThan(0.25 * before);
    expect(bridge.run!(anew, second)).toEqual([id, second]);
    // set by hand to begin elsewhere, it begins there, and no longer goes on
    const { before: reached, after: past } = two.join;
    expect(overlapName(anew, second, reached)).toBe('Changed the overlap');
    expect(overlapName(anew, second, reached - 5)).toMatch(/no longer continues/);
    const own = joinAt(
      changed(anew, (d) => setOverlapAndRefit(d, MEDIA, second, reached - 5, past)),
      1,
    ).join;
    expect(own).toMatchObject({ before: reached - 5, recipe: { settings: { goesOn: false } } });
  });

  it('says when it cannot go well', () => {
    const faults = (settings: Partial<BridgeSettings>): number =>
      bridge.notes!(REEL, MEDIA, joinAt(REEL), { ...bridge.defaults, ...settings }, undefined).filter((n) => n.isFault).length;
    expect(faults({ pin: PIN })).toBe(0);
    expect(faults({ pin: { ...PIN, scale: 0.05 } })).toBe(1);
    expect(faults({ pin: { ...PIN, x: 500 } })).toBe(1);
    expect(faults({ pin: PIN, goesOn: true })).toBe(1);
  });

  it('leaves nothing empty over many random pins that lie within the wider shot, and ends on its own framing', () => {
    const chance = chances(11);
    for (let n = 0; n < casesOf(200); n++) {
      const scale = 0.12 + chance(60) / 100;
      const [roomX, roomY] = [80 * (1 - scale), 45 * (1 - scale)];
      const near: Pin = { x: (chance(201) / 100 - 1) * roomX, y: (chance(201) / 100 - 1) * roomY, scale, turn: 0 };
      const pin = chance(2) === 0 ? near : { x: -near.x / scale, y: -near.y / scale, scale: 1 / scale, turn: 0 };
      const film = made(
        {
          pin,
          subjectId: chance(2) === 0 ? null : pin.scale < 1 ? 'box-b' : 'box-a',
          fadesId: chance(3) === 0 ? (pin.scale < 1 ? 'box-a' : 'box-b') : null,
          occluderIds: chance(3) === 0 ? ['box-c'] : [],
          comesAfter: chance(20),
          comesOver: 1 + chance(20),
          ease: EASES_OF_MOVES[chance(EASES_OF_MOVES.length)]!,
          motionBlur: chance(2) === 0,
        },
        REEL,
        id,
        5 + chance(34),
      );
      const { from, to } = joinAt(film);
      for (const frame of [from, from + chance(to - from), to - 1]) expect(leastCovered(drawn(film, frame))).toBeGreaterThan(246);
      const longer = changed(film, (d) => void (d.joins[0]!.after += 1));
      expect(rounded(matrixOf(longer, to, 'b'))).toEqual(AS_IT_IS);
    }
  });
});
