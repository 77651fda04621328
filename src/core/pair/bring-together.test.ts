import { describe, expect, it } from 'vitest';
import { setFraming } from '../film/edits/shots';
import { addInterest, interestAt, removeInterest, setInterest } from '../film/edits/interest';
import type { Film } from '../film/film';
import { changed, countingIds, sampleFilm, sampleMedium } from '../film/sample-film';
import { placedJoins, type PlacedJoin } from '../film/timing';
import { apply } from '../geometry/matrix';
import { shotFraming } from '../plan/shot-framing';
import { broughtTogether, interestInFilm, laidByPoints } from './bring-together';
import { cutAtPair, framingOver, layOver, pairOrderOf } from './cut-pair';
import { placed as lies, type Placement } from './placement';

const [A, B] = [sampleMedium('a', 50), sampleMedium('b', 60, undefined, 320, 180)];
const media = new Map([A, B].map((m) => [m.id, m]));
const newId = countingIds('p');
const joinOf = (film: Film): PlacedJoin => placedJoins(film)[0]!;
const base = changed(sampleFilm([A, B]), (d) => {
  d.shots[0]!.length = 40;
  d.shots[1]!.inFrame = 10;
  d.shots[1]!.length = 50;
});
const JOIN = joinOf(base).join.id;

/** Where a medium pixel of the entering shot lies in the film. */
const inFilm = (film: Film, x: number, y: number): { x: number; y: number } => apply(shotFraming(film, B, film.shots[1]!, 10), { x, y });

describe('where the eye is', () => {
  const marked = changed(base, (d) => {
    addInterest(d, JOIN, 'leaving', 39, 50, -20, newId);
    addInterest(d, JOIN, 'entering', 10, -60, 40, newId);
  });

  it('is four points a shot at most, which can be moved and taken away', () => {
    const more = changed(marked, (d) => {
      for (const x of [1, 2, 3, 4]) addInterest(d, JOIN, 'leaving', 39, x, x, newId);
    });
    const own = joinOf(more).join.interest!.filter((p) => p.side === 'leaving');
    expect(own.map((p) => p.x)).toEqual([50, 1, 2, 4]);
    const moved = changed(more, (d) => {
      setInterest(d, JOIN, own[0]!.id, { x: 7 });
      for (const { id } of own.slice(1)) removeInterest(d, JOIN, id);
    });
    expect(
      joinOf(moved)
        .join.interest!.filter((p) => p.side === 'leaving')
        .map((p) => [p.x, p.y]),
    ).toEqual([[7, -20]]);
  });

  it('is brought together with no border in sight, and no more enlarged than that takes', () => {
    const framing = broughtTogether(marked, media, joinOf(marked))!;
    const film = changed(marked, (d) => setFraming(d, marked.shots[1]!.id, framing));
    const at = inFilm(film, -60, 40);
    expect([at.x, at.y].map((v) => Math.round(1e6 * v) / 1e6)).toEqual([50, -20]);
    const corners = [inFilm(film, -160, -90), inFilm(film, 160, 90)] as const;
    const rooms = [-80 - corners[0].x, -45 - corners[0].y, corners[1].x - 80, corners[1].y - 45];
    expect(Math.min(...rooms)).toBeGreaterThan(-1e-9);
    // at least one border lies exactly on the frame's
    expect(Math.min(...rooms)).toBeLessThan(1e-6);
  });

  it('needs a point in both', () => {
    expect(broughtTogether(base, media, joinOf(base))).toBeNull();
    expect(laidByPoints(marked, media, joinOf(marked))).toBeNull();
  });

  it('of two points in each lays one shot over the other', () => {
    const truth: Placement = { scale: 1.2, turn: 0.1, dx: 6, dy: -3, flip: false };
    const two = changed(base, (d) => {
      for (const [x, y] of [
        [-40, 10],
        [50, -30],
      ] as const) {
        addInterest(d, JOIN, 'entering', 10, 2 * x, 2 * y, newId); // the medium fills the frame at half its size
        const at = lies(truth, { x, y });
        addInterest(d, JOIN, 'leaving', 39, at.x, at.y, newId);
      }
    });
    const framing = laidByPoints(two, media, joinOf(two))!;
    expect([framing.scale, framing.turn, framing.x, framing.y].map((v) => Math.round(1000 * v) / 1000)).toEqual([1.2, 5.73, 6, -3]);
  });

  it('rides on a track', () => {
    const square = (x: number): [number, number][] => [
      [x, 0],
      [x + 10, 0],
      [x + 10, 10],
      [x, 10],
    ];
    const tracks = [
      {
        id: 't',
        mediumId: 'a',
        name: 't',
        model: 'similarity',
        keys: [{ frame: 30, corners: square(0) }],
        frames: [{ frame: 39, corners: square(18), confidence: 1 }],
      },
    ] as unknown as NonNullable<Film['tracks']>;
    const point = { id: 'p', side: 'leaving', frame: 30, x: 5, y: 6, trackId: 't' } as const;
    expect(interestAt({ tracks }, point, 39)).toEqual({ x: 23, y: 6 });
    expect(interestAt({ tracks: [] }, point, 39)).toMatchObject({ x: 5, y: 6 });
    const film = changed(base, (d) => void Object.assign(d, { tracks }));
    const with_ = changed(film, (d) => {
      addInterest(d, JOIN, 'leaving', 30, 5, 6, newId);
      setInterest(d, JOIN, joinOf(d).join.interest![0]!.id, { trackId: 't' });
    });
    expect(interestInFilm(with_, media, joinOf(with_), 'leaving', 39)[0]).toMatchObject({ x: 23, y: 6 });
  });
});

describe('a pair', () => {
  it('is looked for where the cut may lie, and not beyond', () => {
    const { a, b } = pairOrderOf(base, media, joinOf(base), 1e6)!;
    expect([a.first, a.first + (a.count - 1) * a.step]).toEqual([4, 49]);
    expect([b.first, b.first + (b.count - 1) * b.step]).toEqual([0, 56]);
    const near = pairOrderOf(base, media, joinOf(base), 24)!;
    expect([near.a.count, near.b.count]).toEqual([24, 24]);
    expect(pairOrderOf(base, media, joinOf(base), 1e6, 20)!.b.step).toBe(3);
    expect(pairOrderOf(base, new Map([[A.id, A]]), joinOf(base), 24)).toBeNull();
  });

  it('is cut at: the one frame last, the other first', () => {
    const film = changed(base, (d) => cutAtPair(d, media, JOIN, 22, 31, newId));
    const [leaving, entering] = film.shots;
    expect(leaving!.inFrame + leaving!.length - 1).toBe(22);
    expect([entering!.inFrame, entering!.length]).toEqual([31, 29]);
  });

  it('lays the entering shot over the leaving one, whatever sizes both media have', () => {
    const placement: Placement = { scale: 0.9, turn: 0.2, dx: 16, dy: -8, flip: true };
    const film = changed(base, (d) => layOver(d, media, JOIN, placement));
    // signs are 320 wide for both: a film pixel of a is two of them, of b too
    const expected = lies(placement, { x: 30, y: 20 });
    const at = inFilm(film, 30, 20);
    expect(Math.hypot(at.x - expected.x / 2, at.y - expected.y / 2)).toBeLessThan(1e-9);
    expect(changed(film, (d) => layOver(d, media, JOIN, null)).shots[1]!.framing).toBeUndefined();
    // a leaving shot with a framing of its own takes the other along
    const framed = changed(base, (d) => setFraming(d, base.shots[0]!.id, { x: 10, y: 0, scale: 2, turn: 0 }));
    expect(framingOver(framed, media, joinOf(framed), { scale: 1, turn: 0, dx: 0, dy: 0, flip: false })).toMatchObject({
      x: 10,
      y: 0,
      scale: 2,
    });
  });
});
