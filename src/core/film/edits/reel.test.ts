import { describe, expect, it } from 'vitest';
import { rational } from '../../geometry/rational';
import { makePlainCut, setOverlap } from './joins';
import { addShot, moveShots, removeShots } from './reel';
import { makeRoom, rollCut, roomMissing, slideEntering, trimEnd, trimStart } from './trims';
import { kindOf, type Film, type Media, type Medium } from '../film';
import { setLayer } from './layers';
import { closeLoop } from './loop';
import { fitOverlapToHole } from '../../recipes/wipe-past/wipe-past';
import { changed, countingIds, edgeKey, sampleFilm, sampleMedium, sampleWipe } from '../sample-film';
import { filmLength, placedJoins, shotFrameAt, startOfShot } from '../timing';

const [a, b, c] = [sampleMedium('a', 60), sampleMedium('b', 60), sampleMedium('c', 60)];
const media: Media = new Map([a, b, c].map((m) => [m.id, m]));
const film = sampleFilm([a, b, c]);
const order = (f: Film): string => f.shots.map((s) => s.mediumId).join('');
const newId = countingIds('new');
/** Medium frame each shot shows at a film frame. */
const shown = (f: Film, medium: Medium, at: number): number | null => {
  const shot = f.shots.find((s) => s.mediumId === medium.id)!;
  return shotFrameAt(f, media, shot, startOfShot(f, shot.id), at);
};

describe('the reel', () => {
  it('gives every pair of neighbours a join', () => {
    expect(placedJoins(film)).toHaveLength(2);
    expect(film.joins[0]!.layers.map((l) => l.source.kind)).toEqual(['leaving', 'entering']);
  });

  it('keeps the join of a pair that is parted and comes back', () => {
    const kept = film.joins[0]!.id;
    const named = changed(film, (d) => setOverlap(d, kept, 5, 6));
    const parted = changed(named, (d) => moveShots(d, new Set([film.shots[0]!.id]), 2, newId));
    expect(order(parted)).toBe('bca');
    expect(placedJoins(parted).some((p) => p.join.id === kept)).toBe(false);
    const back = changed(parted, (d) => moveShots(d, new Set([film.shots[0]!.id]), 0, newId));
    expect(placedJoins(back)[0]!.join).toMatchObject({ id: kept, before: 5, after: 6 });
  });

  it('forgets the joins of a shot that is taken off', () => {
    const less = changed(film, (d) => removeShots(d, new Set([film.shots[1]!.id]), newId));
    expect(order(less)).toBe('ac');
    expect(less.joins).toHaveLength(1);
  });

  it('lays a medium of another rate at its own speed', () => {
    const fast = sampleMedium('f', 300, rational(60, 1));
    expect(changed(film, (d) => addShot(d, fast, 0, newId)).shots[0]!.length).toBe(120);
  });

  it('trims within the medium and never to nothing', () => {
    const id = film.shots[0]!.id;
    expect(changed(film, (d) => trimStart(d, a, id, 10, newId)).shots[0]).toMatchObject({ inFrame: 10, length: 50 });
    expect(changed(film, (d) => trimStart(d, a, id, 999, newId)).shots[0]).toMatchObject({ inFrame: 59, length: 1 });
    expect(changed(film, (d) => trimStart(d, a, id, -10, newId))).toBe(film);
    expect(changed(film, (d) => trimEnd(d, a, id, -25, newId)).shots[0]).toMatchObject({ inFrame: 0, length: 35 });
    expect(changed(film, (d) => trimEnd(d, a, id, 25, newId))).toBe(film);
  });

  it('makes an overlap shorter when a trim leaves no room for it', () => {
    const wide = changed(film, (d) => setOverlap(d, film.joins[0]!.id, 50, 20));
    expect(changed(wide, (d) => trimEnd(d, a, film.shots[0]!.id, -30, newId)).joins[0]!.before).toBe(30);
  });
});

describe('the overlap', () => {
  it('reaches through its own two shots at most, also where the neighbouring one already runs', () => {
    const [first, second] = film.joins;
    const one = changed(film, (d) => setOverlap(d, first!.id, 0, 45));
    const two = changed(one, (d) => setOverlap(d, second!.id, 90, 0));
    expect(two.joins[1]!.before).toBe(60);
  });

  it('stays where it is in time when the cut rolls, and so does every picture', () => {
    const id = film.joins[0]!.id;
    const before = changed(film, (d) => {
      trimEnd(d, a, d.shots[0]!.id, -20, newId);
      trimStart(d, b, d.shots[1]!.id, 20, newId);
      setLayer(d, id, d.joins[0]!.layers[0]!.id, { opacity: [{ frame: 3, value: 0.5, into: 'straight', out: 'hold' }] });
    });
    const rolled = changed(before, (d) => rollCut(d, media, id, 7));
    expect(filmLength(rolled)).toBe(filmLength(before));
    expect(placedJoins(rolled)[0]!.cut).toBe(47);
    for (const at of [30, 40, 47, 55]) {
      expect(shown(rolled, a, at)).toBe(shown(before, a, at));
      expect(shown(rolled, b, at)).toBe(shown(before, b, at));
    }
    expect(rolled.joins[0]!.layers[0]!.opacity).toEqual([{ frame: -4, value: 0.5, into: 'straight', out: 'hold' }]);
  });
});

it('slides the entering shot later, keeping its place on the reel', () => {
  const cut = changed(film, (d) => trimStart(d, b, film.shots[1]!.id, 20, newId));
  const slid = changed(cut, (d) => slideEntering(d, b, film.joins[0]!.id, 3));
  expect(slid.shots[1]).toMatchObject({ inFrame: 17, length: 40 });
  expect(changed(cut, (d) => slideEntering(d, b, film.joins[0]!.id, 500)).shots[1]!.inFrame).toBe(-59);
});

describe('wipe past', () => {
  // the edge enters the 160 px wide frame after 30 and has crossed it by 50
  const wipe = sampleWipe(a, b, [edgeKey(30, 80), edgeKey(50, -80)]);

  it('lets the overlap start at the first frame with a hole and end when all is hidden', () => {
    const { from, to } = placedJoins(wipe)[0]!;
    expect([from, to]).toEqual([31, 50]);
  });

  it('rolls the cut into the overlap when it lies outside', () => {
    const early = sampleWipe(a, b, [edgeKey(30, 80), edgeKey(50, -80)], 20, 20);
    const { from, to, cut } = placedJoins(early)[0]!;
    expect([from, to, cut]).toEqual([31, 50, 31]);
  });

  it('leaves the overlap alone without a hole', () => {
    const none = sampleWipe(a, b, [edgeKey(30, 90)]);
    expect(placedJoins(none)[0]!.join).toMatchObject({ before: 0, after: 0 });
    expect(changed(none, (d) => fitOverlapToHole(d, media, none.joins[0]!.id))).toBe(none);
  });

  it('no longer follows once an end is moved by hand', () => {
    const id = wipe.joins[0]!.id;
    expect(changed(wipe, (d) => setOverlap(d, id, 2, 2)).joins[0]).toMatchObject({
      before: 2,
      after: 2,
      recipe: { settings: { followsHole: false } },
    });
  });

  it('goes back to a plain cut but keeps its matte', () => {
    const cut = changed(wipe, (d) => makePlainCut(d, wipe.joins[0]!.id, newId));
    expect(cut.joins[0]).toMatchObject({ before: 0, after: 0 });
    expect(kindOf(cut.joins[0]!)).toBe('cut');
    expect(cut.mattes).toHaveLength(1);
  });
});

describe('effects of the film', () => {
  const flash = (first: number): Film['finish'] => [
    { id: 'f', kind: 'flash', visible: true, span: { first, last: first + 4 }, params: {} },
  ];
  const spanOf = (f: Film): number => f.finish![0]!.span!.first;
  // on the second shot, ten frames into it
  const lit = { ...film, finish: flash(70) };

  it('stay with the shot they begin on when shots before it are trimmed, moved, taken off or put in', () => {
    expect(spanOf(changed(lit, (d) => trimEnd(d, a, d.shots[0]!.id, -20, newId)))).toBe(50);
    expect(spanOf(changed(lit, (d) => moveShots(d, new Set([d.shots[1]!.id]), 0, newId)))).toBe(10);
    expect(spanOf(changed(lit, (d) => removeShots(d, new Set([d.shots[0]!.id]), newId)))).toBe(10);
    expect(spanOf(changed(lit, (d) => addShot(d, c, 0, newId)))).toBe(130);
    // with the pictures of a shot whose start is trimmed; and where they are when a later one is
    expect(spanOf(changed(lit, (d) => trimStart(d, b, d.shots[1]!.id, 6, newId)))).toBe(64);
    expect(spanOf(changed(lit, (d) => trimEnd(d, c, d.shots[2]!.id, -20, newId)))).toBe(70);
  });

  it('move with the film when its loop is closed', () => {
    const looped = changed(lit, (d) => closeLoop(d, media, newId));
    expect(spanOf(looped)).toBe(70 - 30);
  });
});

describe('room for an overlap', () => {
  it('is made by trimming both shots at the cut, as far as they are long enough', () => {
    const { id } = film.joins[0]!;
    expect(roomMissing(film, media, id, 12)).toEqual({ leaving: 12, entering: 12 });
    const roomy = changed(film, (d) => makeRoom(d, media, id, 12, newId));
    expect(roomy.shots.map((s) => [s.inFrame, s.length])).toEqual([
      [0, 48],
      [12, 48],
      [0, 60],
    ]);
    expect(roomMissing(roomy, media, id, 12)).toEqual({ leaving: 0, entering: 0 });
    // again it changes nothing, and no shot is trimmed away
    expect(changed(roomy, (d) => makeRoom(d, media, id, 12, newId))).toEqual(roomy);
    expect(changed(film, (d) => makeRoom(d, media, id, 500, newId)).shots.map((s) => s.length)).toEqual([2, 2, 60]);
  });
});
