import { describe, expect, it } from 'vitest';
import { setOverlap } from '../film/edits/joins';
import { setOutline } from '../film/edits/mattes';
import { trimEnd, trimStart } from '../film/edits/trims';
import { addMatte, addTrack } from '../film/edits/mattes';
import type { Film } from '../film/film';
import { changed, countingIds, edgeKey, sampleFilm, sampleMedium, sampleWipe } from '../film/sample-film';
import { placedJoins, type PlacedJoin } from '../film/timing';
import { planFrame } from '../plan/plan-film';
import { pictureOf } from '../plan/frame-plan';
import type { HoleShape } from './hole-shape';
import { previewOf } from './preview';
import { makeKind } from './making';
import { isThere } from './offers';
import { offersFor } from './offers';
import { KIND_NAMES, kindNamed } from './kinds';
import { nextThing } from './lacks';
import { reportWipe } from './wipe-past/wipe-past-report';

const [a, b] = [sampleMedium('a', 60), sampleMedium('b', 60)];
const media = new Map([a, b].map((m) => [m.id, m]));
const film = changed(sampleFilm([a, b]), (d) => {
  trimEnd(d, a, d.shots[0]!.id, -12, countingIds());
  trimStart(d, b, d.shots[1]!.id, 24, countingIds());
});
const first = (f: Film): PlacedJoin => placedJoins(f)[0]!;
const { id } = film.joins[0]!;
const hole: HoleShape = {
  left: -9,
  top: -9,
  right: 9,
  bottom: 9,
  area: 250,
  x: 0,
  y: 0,
  long: { turn: 0, ratio: 1 },
  inner: { x: 0, y: 0, scale: 0.1 },
};

describe('what is offered', () => {
  it('is what the leaving shot has: closed outlines, painted mattes, keys, and tracks of regions', () => {
    const rich = changed(film, (d) => {
      addMatte(d, 'a', 'outline', 'not closed', () => 'open');
      setOutline(
        d,
        addMatte(d, 'a', 'outline', 'Ring', () => 'ring'),
        { closed: true, keys: [edgeKey(0, 0)] },
      );
      addMatte(d, 'a', 'strokes', 'nothing painted', () => 'bare');
      addMatte(d, 'a', 'colour key', 'Cloth', () => 'cloth');
      addMatte(d, 'b', 'colour key', 'of the other shot', () => 'other');
      addTrack(
        d,
        'a',
        'Glass',
        'affine',
        3,
        [
          [0, 0],
          [5, 0],
          [5, 5],
        ],
        () => 'glass',
      );
    });
    const offers = (kind: 'zoom through' | 'wipe past'): string[] => offersFor(rich, first(rich), kindNamed(kind).need).map((o) => o.name);
    expect(offers('zoom through')).toEqual(['Ring', 'Cloth', 'Glass']);
    expect(offers('wipe past')).toEqual(['Ring']);
    const lacking = (f: Film): string[] => KIND_NAMES.filter((kind) => !isThere(f, first(f), kindNamed(kind).need));
    expect(lacking(rich)).toEqual(['feature morph']);
    expect(lacking(film)).toEqual(['wipe past', 'zoom through', 'arrive', 'held cut-out', 'feature morph']);
  });
});

describe('the way through a zoom', () => {
  const next = (f: Film, holes?: readonly (HoleShape | null)[]) => nextThing(f, media, first(f), { measured: holes, report: null });
  const zoom = (kind: 'strokes' | 'outline'): Film =>
    changed(film, (d) => makeKind(d, media, id, 'zoom through', { matteId: addMatte(d, 'a', kind, 'Hole', () => 'm') }));

  it('leads to painting, then to carrying, then nowhere', () => {
    const begun = zoom('strokes');
    expect(next(begun)).toMatchObject({
      step: 'mask',
      matteId: 'm',
      text: expect.stringContaining('Paint over the hole') as string,
    });
    const painted = changed(begun, (d) => void (d.mattes[0]!.painted = [{ frame: 47, keep: [{ radius: 2, points: [[0, 0]] }], drop: [] }]));
    const length = first(painted).to - first(painted).from;
    const last = Array.from({ length }, (_, i) => (i === length - 1 ? hole : null));
    expect(next(painted, last)).toMatchObject({
      step: 'mask',
      text: expect.stringContaining(`carry it back from ${first(painted).to - 1}`) as string,
    });
    expect(
      next(
        painted,
        last.map(() => null),
      )!.text,
    ).toContain('on no frame of the overlap');
    expect(
      next(
        painted,
        last.map(() => hole),
      ),
    ).toBeNull();
    expect(next(painted, undefined)).toBeNull();
  });

  it('asks to close an outline, for an overlap, and for the choice of what is there', () => {
    expect(next(zoom('outline'))!.text).toContain('close the outline');
    expect(next(changed(zoom('outline'), (d) => setOverlap(d, id, 0, 0)))).toMatchObject({ step: 'pair' });
    const lost = changed(zoom('strokes'), (d) => {
      d.mattes = [];
      setOutline(
        d,
        addMatte(d, 'a', 'outline', 'Ring', () => 'ring'),
        { closed: true, keys: [edgeKey(0, 0)] },
      );
    });
    expect(next(lost)).toMatchObject({ step: 'move', text: 'Choose the hole on the right: Ring is there.' });
    expect(nextThing(film, media, first(film), { measured: undefined, report: null })).toBeNull();
  });
});

describe('the way through a wipe', () => {
  const next = (f: Film) => nextThing(f, media, first(f), { measured: undefined, report: reportWipe(f, media, first(f)) });
  it('leads to the outline, and says when it never covers the frame', () => {
    expect(next(changed(film, (d) => makeKind(d, media, id, 'wipe past', {}, { newId: countingIds('w') })))).toMatchObject({
      step: 'mask',
    });
    expect(next(sampleWipe(a, b, [edgeKey(30, 80), edgeKey(50, -60)]))!.text).toContain('never covers the whole frame');
    expect(next(sampleWipe(a, b, [edgeKey(30, 80), edgeKey(50, -81)]))).toBeNull();
  });
});

describe('a preview of a kind', () => {
  it('is made on a copy from both shots, whatever handles they have', () => {
    const bare = sampleFilm([a, b]);
    for (const kind of ['cut', 'wipe past', 'zoom through'] as const) {
      const made = previewOf(bare, media, bare.joins[0]!.id, kind)!;
      const { from, to } = made.placed;
      const shown = (frame: number): string[] => planFrame(made.film, media, frame).layers.map((l) => pictureOf(l)!.mediumId);
      expect(new Set(shown(Math.floor((from + to) / 2)))).toEqual(new Set(kind === 'cut' ? ['a', 'b'] : ['a', 'b']));
      expect(made.film.shots.length).toBe(2);
    }
    expect(bare.joins[0]!.recipe).toBeUndefined();
    expect(previewOf(bare, new Map(), bare.joins[0]!.id, 'cut')).toBeNull();
  });
});
