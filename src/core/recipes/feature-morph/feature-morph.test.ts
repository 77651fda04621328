import { describe, expect, it } from 'vitest';
import { removeMatte } from '../../film/edits/mattes';
import type { Film } from '../../film/film';
import { changed, sampleFilm, sampleMedium } from '../../film/sample-film';
import { placedJoins } from '../../film/timing';
import { corner } from '../../matte/outline/outline';
import { planFrame } from '../../plan/plan-film';
import { layJoin, makeKind, setSettings } from '../making';
import { addLinePair, undrawnLine, unlikePairs } from './feature-morph';
import { isChangedByHand } from '../../film/made-mark';
import { rollCutAndRefit, setOverlapAndRefit } from '../refit';

const [a, b] = [sampleMedium('a', 60), sampleMedium('b', 60)];
const media = new Map([a, b].map((m) => [m.id, m]));
const cutShort: Film = changed(sampleFilm([a, b]), (d) => {
  d.shots[0]!.length = 40;
  d.shots[1]!.inFrame = 20;
  d.shots[1]!.length = 40;
});
const joinId = cutShort.joins[0]!.id;
let ids = 0;
const made = changed(cutShort, (d) => {
  makeKind(d, media, joinId, 'feature morph');
  addLinePair(d, joinId, () => `line-${ids++}`);
  layJoin(d, media, joinId);
});
const pair = { leaving: 'line-0', entering: 'line-1' };
const drawn = changed(made, (d) => {
  const line = (x: number): { x: number; y: number; inX: number; inY: number; outX: number; outY: number }[] => [
    corner(x, -20),
    corner(x, 20),
  ];
  d.mattes[0]!.outline = {
    closed: false,
    keys: [
      { frame: 30, ease: 'straight', points: line(-20) },
      { frame: 50, ease: 'straight', points: line(-40) },
    ],
  };
  d.mattes[1]!.outline = { closed: false, keys: [{ frame: 20, ease: 'straight', points: line(30) }] };
});
const placed = (film: Film) => placedJoins(film)[0]!;
const meltAt = (film: Film, frame: number) => {
  const { content } = planFrame(film, media, frame).layers[0]!;
  if (content.kind !== 'melt') throw new Error('no melt');
  return content;
};

describe('a feature morph', () => {
  it('is one layer over an overlap, with a pair of lines to be drawn', () => {
    const { join, from, to } = placed(made);
    expect(to - from).toBe(12);
    expect(join.layers.map((l) => l.source.kind)).toEqual(['melt']);
    expect(undrawnLine(made, placed(made))).toEqual({ matteId: pair.leaving, side: 'leaving' });
    expect(meltAt(made, from).lines).toBeNull();
    expect(undrawnLine(drawn, placed(drawn))).toBeNull();
  });

  it('takes lines as they are keyed on their own shots', () => {
    const { from, to } = placed(drawn);
    for (const frame of [from, to - 1]) {
      const { lines } = meltAt(drawn, frame);
      // the leaving line moves a pixel a frame
      expect(lines!.places[0]!.from[0]!.x).toBeCloseTo(-20 - (frame - 30), 6);
      expect(lines!.places[0]!.to[0]!.x).toBeCloseTo(30, 6);
    }
  });

  it('follows its overlap, and tells a change by hand', () => {
    const longer = changed(drawn, (d) => setOverlapAndRefit(d, media, joinId, 3, 3));
    const source = placed(longer).join.layers[0]!.source as { readonly warp: readonly { readonly frame: number }[] };
    expect(source.warp.map((k) => k.frame)).toEqual([-4, 3]);
    expect(isChangedByHand(longer, placed(longer).join)).toBe(false);
    const touched = changed(longer, (d) => void (d.joins[0]!.layers[0]!.opacity = 0.5));
    expect(isChangedByHand(touched, placed(touched).join)).toBe(true);
  });

  it('goes along when the cut is rolled, which stops where the entering shot has no pictures', () => {
    const rolled = changed(drawn, (d) => rollCutAndRefit(d, media, joinId, 4));
    expect([placed(rolled).leaving.length, placed(rolled).entering.inFrame]).toEqual([44, 24]);
    expect(isChangedByHand(rolled, placed(rolled).join)).toBe(false);
    const farthest = changed(drawn, (d) => rollCutAndRefit(d, media, joinId, -30));
    expect([placed(farthest).leaving.length, placed(farthest).entering.inFrame]).toEqual([20, 0]);
  });

  it('melts subjects alone before a ground once both are chosen', () => {
    const subjects = changed(drawn, (d) => {
      for (const m of d.mattes) m.outline.closed = true;
      setSettings(d, media, joinId, 'feature morph', { subjects: pair, ground: 'entering' });
    });
    expect(placed(subjects).join.layers.map((l) => l.source.kind)).toEqual(['melt', 'entering']);
    const { from, to } = meltAt(subjects, placed(subjects).cut);
    expect([from[0]!.mattes.length, to[0]!.mattes.length]).toEqual([1, 1]);
  });

  it('says which pairs do not go together, and loses pairs whose line is deleted', () => {
    const unlike = changed(drawn, (d) => void (d.mattes[0]!.outline.closed = true));
    expect(unlikePairs(unlike, [pair])).toEqual([pair]);
    const less = changed(drawn, (d) => removeMatte(d, pair.entering));
    expect(placed(less).join.recipe).toMatchObject({ settings: { pairs: [] } });
    expect(meltAt(less, placed(less).cut).lines).toBeNull();
  });
});
