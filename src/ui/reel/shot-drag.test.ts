import { describe, expect, it } from 'vitest';
import type { Film } from '../../core/film/film';
import { changed, countingIds, sampleFilm, sampleMedium } from '../../core/film/sample-film';
import { changeOf, dragKind, indexAt, insertionFrame, snappedBy, type Drag, type DragKind } from './shot-drag';

const MEDIA = new Map(['a', 'b', 'c'].map((id) => [id, sampleMedium(id, 100)]));
/** Three shots of 50 frames, with handles of 20 before and 30 after. */
const FILM: Film = changed(sampleFilm([...MEDIA.values()]), (d) => {
  for (const shot of d.shots) Object.assign(shot, { inFrame: 20, length: 50 });
});
const [A, B, C] = FILM.shots.map((s) => s.id) as [string, string, string];
const drag = (kind: DragKind, id: string, by: number, part: Partial<Drag> = {}): Drag => ({ kind, id, ids: new Set([id]), from: 0, dx: 20, by, index: 0, ...part }); // prettier-ignore
const after = (held: Drag): readonly (readonly [string, number, number])[] => {
  const made = changeOf(FILM, MEDIA, held, countingIds('n'));
  return (made === null ? FILM : changed(FILM, made.change)).shots.map((s) => [s.mediumId, s.inFrame, s.length] as const);
};

it('does with keys what they say', () => {
  const held = (shiftKey: boolean, altKey: boolean) => ({ shiftKey, altKey });
  expect(dragKind('body', held(false, false))).toBe('move');
  expect(dragKind('body', held(false, true))).toBe('slip');
  expect(dragKind('body', held(true, true))).toBe('slide');
  expect(dragKind('end', held(true, false))).toBe('stretch');
  expect(dragKind('start', held(true, false))).toBe('start');
  expect(dragKind('end', held(false, true))).toBe('roll');
});

describe('a drag comes to', () => {
  it('shots elsewhere, all that are chosen together, and nothing where they stand already', () => {
    expect(after(drag('move', A, 0, { index: 2 })).map(([m]) => m)).toEqual(['b', 'c', 'a']);
    expect(after(drag('move', A, 0, { ids: new Set([A, C]), index: 1 })).map(([m]) => m)).toEqual(['b', 'a', 'c']);
    expect(changeOf(FILM, MEDIA, drag('move', B, 0, { index: 1 }), countingIds())).toBeNull();
    expect(changeOf(FILM, MEDIA, drag('move', B, 0, { index: 0, dx: 2 }), countingIds())).toBeNull();
  });

  it('ends that move with all that follows, a cut that rolls, pictures that slip, a shot that slides', () => {
    expect(after(drag('start', B, 5))).toEqual([['a', 20, 50], ['b', 25, 45], ['c', 20, 50]]); // prettier-ignore
    expect(after(drag('end', B, -5))).toEqual([['a', 20, 50], ['b', 20, 45], ['c', 20, 50]]); // prettier-ignore
    expect(after(drag('roll', B, 7))).toEqual([['a', 20, 57], ['b', 27, 43], ['c', 20, 50]]); // prettier-ignore
    expect(after(drag('slip', B, 6))[1]).toEqual(['b', 14, 50]);
    expect(after(drag('slip', B, 400))[1]).toEqual(['b', 0, 50]);
    expect(after(drag('slide', B, 8))).toEqual([['a', 20, 58], ['b', 20, 50], ['c', 28, 42]]); // prettier-ignore
    expect(after(drag('slide', B, -200))[0]![2] + after(drag('slide', B, -200))[2]![2]).toBe(100);
  });
});

it('says where what is dropped would stand', () => {
  expect([0, 30, 80, 130, 200].map((at) => indexAt(FILM, at, new Set()))).toEqual([0, 1, 2, 3, 3]);
  expect(indexAt(FILM, 80, new Set([A]))).toBe(1);
  expect([0, 1, 3].map((i) => insertionFrame(FILM, i, new Set()))).toEqual([0, 50, 150]);
});

it('draws an end to a marker that is near, and not where nothing is to be drawn to', () => {
  const marked: Film = { ...FILM, markers: [{ id: 'm', name: 'here', frame: 106 }] };
  expect(snappedBy(marked, MEDIA, drag('end', B, 0), 4.4, 3)).toBe(6);
  expect(snappedBy(marked, MEDIA, drag('end', B, 0), 4.4, 0)).toBe(4);
  expect(snappedBy(marked, MEDIA, drag('end', B, 0), -20.2, 3)).toBe(-20);
});
