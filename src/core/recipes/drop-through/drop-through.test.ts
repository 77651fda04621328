import { describe, expect, it } from 'vitest';
import type { Film } from '../../film/film';
import type { DropSettings, Pin } from '../../film/recipe-settings';
import { changed } from '../../film/sample-film';
import { apply } from '../../geometry/matrix';
import { EASES_OF_MOVES } from '../../motion/eases';
import { planFrame } from '../../plan/plan-film';
import { layJoin, makeKind, setSettings } from '../making';
import { isChangedByHand } from '../../film/made-mark';
import { dropThrough, stackOf } from './drop-through';
import { casesOf, chances, drawn, joinAt, leastCovered, MEDIA, pixel, REEL } from '../test-joins';

const { id } = joinAt(REEL).join;
const made = (settings: Partial<DropSettings>, length = 14): Film =>
  changed(REEL, (d) => makeKind(d, MEDIA, id, 'drop through', { seamPx: 10, ...settings }, { length: length }));
/** Where both pictures lie on a frame: a place of each in the film's frame. */
const placeOf = (film: Film, frame: number, medium: number, at: { x: number; y: number }) =>
  apply(planFrame(film, MEDIA, frame).layers[medium]!.matrix, at);

describe('a drop through', () => {
  it('stacks both shots and goes down from the one to the other', () => {
    const film = made({});
    const { from, to, cut, join } = joinAt(film);
    expect(to - from).toBe(14);
    expect(join.carriers.map((c) => c.name)).toEqual(['Fall']);
    const middle = drawn(film, cut);
    expect(pixel(middle, 0, -40)).toEqual([255, 0, 0, 255]);
    expect(pixel(middle, 0, 40)).toEqual([0, 255, 0, 255]);
    expect(planFrame(film, MEDIA, to).layers[0]!.matrix).toEqual([1, 0, 0, 0, 1, 0, 0, 0, 1]);
  });

  it('lays what falls in both over each other, by place and by size', () => {
    for (const pin of [
      { x: 12, y: 80, scale: 1, turn: 0 },
      { x: -20, y: 75, scale: 1.5, turn: 0 },
      { x: 5, y: 60, scale: 0.7, turn: 0 },
    ]) {
      const film = made({ pin }, 30);
      const { cut } = joinAt(film);
      const own = { x: 10, y: -30 };
      const inLeaving = { x: pin.x + pin.scale * own.x, y: pin.y + pin.scale * own.y };
      const [a, b] = [placeOf(film, cut, 0, inLeaving), placeOf(film, cut, 1, own)];
      expect(Math.hypot(a.x - b.x, a.y - b.y)).toBeLessThan(1e-6);
    }
  });

  it('makes neither shot smaller, and says what lies too far apart', () => {
    expect(stackOf({ x: 0, y: 60, scale: 0.5, turn: 0 }, 90)).toMatchObject({ leavingScale: 2, enteringScale: 1 });
    const notes = (pin: Pin): boolean[] =>
      dropThrough.notes!(REEL, MEDIA, joinAt(REEL), { ...dropThrough.defaults, pin }, undefined).map((n) => n.isFault);
    expect(notes({ x: 0, y: 80, scale: 1, turn: 0 })).toEqual([false]);
    expect(notes({ x: 0, y: 200, scale: 1, turn: 0 })).toEqual([false, true]);
    expect(notes({ x: 0, y: 10, scale: 1, turn: 0 })).toEqual([false, true]);
  });

  it('keeps its seam as an outline of the leaving shot, made once', () => {
    const film = made({});
    const again = changed(film, (d) => makeKind(d, MEDIA, id, 'drop through', { seamPx: 30 }));
    expect(again.mattes.filter((m) => m.name.startsWith('Seam'))).toHaveLength(1);
    expect(joinAt(again).join.layers[0]!.mattes[0]!.featherPx).toBe(10);
  });

  it('takes an overlap of its own where the kind before needed no pictures of the next shot', () => {
    const tiled = changed(REEL, (d) => makeKind(d, MEDIA, id, 'tiles in space', {}));
    expect(joinAt(tiled).to - joinAt(tiled).from).toBe(38);
    const dropped = changed(tiled, (d) => makeKind(d, MEDIA, id, 'drop through', {}));
    expect([joinAt(dropped).join.before, joinAt(dropped).join.after]).toEqual([7, 7]);
  });

  it('keeps a seam that a hand has moved, until it is made anew', () => {
    const film = made({});
    const moved = changed(film, (d) => void (d.mattes.find((m) => m.name.startsWith('Seam'))!.outline.keys[0]!.points[2]!.y += 9));
    expect([isChangedByHand(film, joinAt(film).join), isChangedByHand(moved, joinAt(moved).join)]).toEqual([false, true]);
    const eased = changed(moved, (d) => setSettings(d, MEDIA, id, 'drop through', { ease: 'straight' }));
    expect(eased.mattes).toEqual(moved.mattes);
    const anew = changed(eased, (d) => layJoin(d, MEDIA, id));
    expect(isChangedByHand(anew, joinAt(anew).join)).toBe(false);
    expect(anew.mattes).toEqual(film.mattes);
  });

  it('leaves nothing empty over many random pins and settings, and begins and ends on the shots’ own framing', () => {
    const chance = chances(5);
    for (let n = 0; n < casesOf(200); n++) {
      const pin =
        chance(5) === 0
          ? null
          : { x: chance(160) - 80, y: chance(160) - 20, scale: 0.3 + chance(30) / 10, turn: chance(3) === 0 ? chance(40) - 20 : 0 };
      const film = made(
        { pin, seamPx: chance(60), ease: EASES_OF_MOVES[chance(EASES_OF_MOVES.length)]!, motionBlur: chance(2) === 0 },
        4 + chance(30),
      );
      const { from, to } = joinAt(film);
      for (const frame of [from, from + chance(to - from), to - 1]) expect(leastCovered(drawn(film, frame))).toBeGreaterThan(250);
      const { layers } = joinAt(film).join;
      expect(layers[0]!.motion.x).toBe(0);
      for (const { into } of [layers[1]!.motion.x, layers[1]!.motion.scale].flatMap((c) => (typeof c === 'number' ? [] : c.slice(-1))))
        expect(into).toBeDefined();
      const after = changed(film, (d) => void (d.joins[0]!.after += 1));
      expect(
        planFrame(after, MEDIA, to)
          .layers.at(-1)!
          .matrix.map((v) => Math.round(1e6 * v) / 1e6 + 0),
      ).toEqual([1, 0, 0, 0, 1, 0, 0, 0, 1]);
    }
  });
});
