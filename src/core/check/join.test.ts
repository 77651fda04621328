import { describe, expect, it } from 'vitest';
import { setOverlap } from '../film/edits/joins';
import { slideEntering, trimEnd } from '../film/edits/trims';
import { setLayer } from '../film/edits/layers';
import { addMatte, addMatteUse, addTrack, setSteadying } from '../film/edits/mattes';
import { changed, edgeKey, sampleFilm, sampleMedium, sampleWipe } from '../film/sample-film';
import { placedJoins, type PlacedJoin } from '../film/timing';
import type { Film } from '../film/film';
import { coveragePlan, EmptinessMeter } from './coverage';
import { runsOf } from './join';
import { applyRepair } from './repairs';
import { checkOutlined, outlinedShares } from './sample-shares';

const a = sampleMedium('a', 60);
const b = sampleMedium('b', 60);
const media = new Map([a, b].map((m) => [m.id, m]));
const checkJoin = (film: Film, placed: PlacedJoin) => checkOutlined(film, media, placed);
const first = (film: Film) => placedJoins(film)[0]!;
const kindsOf = (film: Film): string[] => checkJoin(film, first(film)).map((f) => f.kind);
/** From 30 to 50 the edge goes across, from beyond one side to beyond the other. */
const wipe = sampleWipe(a, b, [edgeKey(30, 81), edgeKey(50, -81)]);

describe('runsOf', () => {
  it('puts consecutive frames together', () => {
    expect(runsOf([3, 4, 5, 9, 11, 12])).toEqual([
      [3, 5],
      [9, 9],
      [11, 12],
    ]);
    expect(runsOf([])).toEqual([]);
  });
});

describe('checkJoin', () => {
  it('finds nothing at a plain cut, nor at a wipe that fits', () => {
    expect(checkJoin(sampleFilm([a, b]), first(sampleFilm([a, b])))).toEqual([]);
    expect(kindsOf(wipe)).toEqual([]);
  });

  it('tells which shot has no picture, on how many frames, and what to do', () => {
    const film = sampleFilm([a, b]);
    const wide = changed(film, (d) => setOverlap(d, film.joins[0]!.id, 3, 2));
    const found = checkJoin(wide, first(wide));
    expect(found.filter((f) => f.kind === 'no picture').map(({ from, to, text }) => ({ from, to, text }))).toEqual([
      { from: 60, to: 61, text: 'shot a has no picture on the last 2 frames of the overlap.' },
      { from: 57, to: 59, text: 'shot b has no picture on the first 3 frames of the overlap.' },
    ]);
    // both shots are there whole: there is nothing to slide into
    expect(found.find((f) => f.text.startsWith('shot b'))).toMatchObject({
      advice: 'Slid 3 frames earlier, shot b would run out 3 frames before its end: start the overlap 3 frames later instead.',
      repair: { kind: 'overlap', before: 0, after: 2 },
    });
  });

  it('tells that an entering shot slid past its medium lacks pictures at either end, wherever the overlap is', () => {
    const film = sampleFilm([a, b]);
    const { id } = film.joins[0]!;
    const slid = (by: number): { from: number; to: number; text: string }[] => {
      const moved = changed(film, (d) => slideEntering(d, b, id, by));
      return checkJoin(moved, first(moved)).map(({ from, to, text }) => ({ from, to, text }));
    };
    const end = film.shots[0]!.length + film.shots[1]!.length;
    expect(slid(-5)).toEqual([{ from: end - 5, to: end - 1, text: 'shot b has no picture on its last 5 frames.' }]);
    const cut = film.shots[0]!.length;
    expect(slid(4)).toEqual([{ from: cut, to: cut + 3, text: 'shot b has no picture on the first 4 frames.' }]);
  });

  it('proposes what mends a lack without tearing the other end open, and the button does it', () => {
    const trimmed = changed(sampleFilm([a, b]), (d) => trimEnd(d, b, d.shots[1]!.id, -10, () => 'new'));
    const wide = changed(trimmed, (d) => setOverlap(d, d.joins[0]!.id, 4, 0));
    const [early] = checkJoin(wide, first(wide));
    expect(early).toMatchObject({ advice: 'Slide it 4 frames earlier, or start the overlap later.', repair: { kind: 'slide', later: -4 } });
    const cases: Film[] = [
      wide,
      changed(trimmed, (d) => setOverlap(d, d.joins[0]!.id, 20, 0)),
      changed(trimmed, (d) => slideEntering(d, b, d.joins[0]!.id, 30)),
      changed(trimmed, (d) => slideEntering(d, b, d.joins[0]!.id, -25)),
      changed(wide, (d) => slideEntering(d, b, d.joins[0]!.id, -12)),
      changed(sampleFilm([a, b]), (d) => setOverlap(d, d.joins[0]!.id, 0, 7)),
    ];
    for (const film of cases) {
      const [found] = checkJoin(film, first(film));
      const mended = changed(film, (d) => applyRepair(d, media, first(film).join.id, found!.repair!, () => 'new'));
      expect(checkJoin(mended, first(mended))).toEqual([]);
    }
  });

  it('finds the holes of painted and keyed mattes, by their coverage and colours', () => {
    const { join } = first(wipe);
    const entering = join.layers.find((l) => l.source.kind === 'entering')!;
    const masked = (kind: 'strokes' | 'brightness key'): Film =>
      changed(wipe, (d) =>
        addMatteUse(
          d,
          join.id,
          entering.id,
          addMatte(d, 'b', kind, 'Subject', () => 'm'),
          'inside',
        ),
      );
    const shareOf = (film: Film, covers: boolean): number => {
      const byte = covers ? 255 : 0;
      const picture = { width: 1, height: 1, data: new Uint8ClampedArray([byte, byte, byte, 255]) };
      const stored = { width: 1, height: 1, data: Uint8Array.of(byte) };
      return new EmptinessMeter(film).measure(
        coveragePlan(film, media, 40),
        () => picture,
        () => stored,
      );
    };
    for (const kind of ['strokes', 'brightness key'] as const) {
      expect(shareOf(masked(kind), true)).toBeCloseTo(0, 2);
      expect(shareOf(masked(kind), false)).toBeCloseTo(0.5, 1);
    }
  });

  it('finds pixels that no layer covers, and how many', () => {
    const { join } = first(wipe);
    const entering = join.layers.find((l) => l.source.kind === 'entering')!;
    const hidden = changed(wipe, (d) => setLayer(d, join.id, entering.id, { visible: false }));
    const empty = checkJoin(hidden, first(hidden)).find((f) => f.kind === 'empty pixels')!;
    const { from, to } = first(hidden);
    expect(empty.to).toBe(to - 1);
    expect(empty.from).toBeGreaterThanOrEqual(from);
    const shares = outlinedShares(hidden, media, first(hidden));
    expect(shares).toHaveLength(to - from);
    // half way the edge stands in the middle
    expect(shares[40 - from]).toBeCloseTo(0.5, 1);
    expect(empty.text).toContain(`${Math.round(100 * Math.max(...shares))} %`);
  });

  it('finds no border where a shot is held still, mirrored or enlarged', () => {
    const held = (edges: 'mirror' | 'enlarge'): Film =>
      changed(wipe, (d) => {
        const box = (x: number): [number, number][] => [
          [x - 5, -5],
          [x + 5, -5],
          [x + 5, 5],
          [x - 5, 5],
        ];
        const trackId = addTrack(d, 'b', 'Sign', 'similarity', 20, box(0), () => 'track');
        d.tracks![0]!.frames = Array.from({ length: 39 }, (_, i) => ({ frame: 21 + i, corners: box(-i), confidence: 1 }));
        setSteadying(d, d.shots[1]!.id, { trackId, position: 1, turn: 0, size: 0, centred: false, edges });
      });
    expect(kindsOf(held('mirror'))).toEqual([]);
    expect(kindsOf(held('enlarge'))).toEqual([]);
  });

  it('asks for an outline where there is none', () => {
    const none = changed(wipe, (d) => void (d.mattes[0]!.outline.closed = false));
    expect(kindsOf(none)).toContain('no outline');
  });

  it('says that an outline never covers the frame, or shrinks again', () => {
    expect(kindsOf(sampleWipe(a, b, [edgeKey(30, 81), edgeKey(50, -40)]))).toContain('never covers');
    expect(kindsOf(sampleWipe(a, b, [edgeKey(30, 81), edgeKey(40, -60), edgeKey(44, 10), edgeKey(50, -81)]))).toContain('shrinks');
  });

  it('says that the overlap starts too late or ends too early for the hole', () => {
    const { join } = first(wipe);
    const late = changed(wipe, (d) => setOverlap(d, join.id, 2, join.after));
    expect(kindsOf(late)).toContain('open too early');
    const early = changed(wipe, (d) => setOverlap(d, join.id, join.before, 2));
    expect(kindsOf(early)).toContain('leaves too early');
  });
});
