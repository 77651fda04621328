import { describe, expect, it } from 'vitest';
import { setOverlap } from '../../film/edits/joins';
import { addShot } from '../../film/edits/reel';
import { trimEnd, trimStart } from '../../film/edits/trims';
import { setLayer, setMotion } from '../../film/edits/layers';
import { addMatte } from '../../film/edits/mattes';
import { createFilm, type Film, type Media } from '../../film/film';
import { changed, countingIds, sampleMedium } from '../../film/sample-film';
import { placedJoins, type PlacedJoin } from '../../film/timing';
import { rational } from '../../geometry/rational';
import { createImage } from '../../image/pixels';
import { channelAt } from '../../motion/curve';
import { planFrame } from '../../plan/plan-film';
import { pictureOf } from '../../plan/frame-plan';
import { CpuCompositor } from '../../render/cpu/compositor';
import { corner } from '../../matte/outline/outline';
import { measureHole, type HoleShape } from '../hole-shape';
import { isChangedByHand } from '../../film/made-mark';
import type { ZoomSettings } from '../../film/recipe-settings';
import { plansToMeasure } from '../keep';
import type { Measured } from '../kind';
import { layJoin, makeKind, setSettings } from '../making';
import { zoomThrough } from './zoom-through';

const [W, H] = [160, 90];
const media: Media = new Map(['a', 'b', 'c'].map((id) => [id, sampleMedium(id, 90, rational(24, 1), W, H)]));
const round = (radius: number, x: number, y: number) => {
  const k = 0.5523 * radius;
  return [
    { ...corner(x + radius, y), inY: -k, outY: k },
    { ...corner(x, y + radius), inX: k, outX: -k },
    { ...corner(x - radius, y), inY: k, outY: -k },
    { ...corner(x, y - radius), inX: -k, outX: k },
  ];
};

/** a, b and c in a row with room at every cut; a hole in a and one in b, which drift and grow. */
function filmWithHoles(): Film {
  const newId = countingIds();
  return changed(createFilm('zooms', W, H, rational(24, 1)), (d) => {
    [...media.values()].forEach((m, i) => {
      addShot(d, m, i, newId);
      trimStart(d, m, d.shots[i]!.id, [20, 20, 50][i]!, newId);
      trimEnd(d, m, d.shots[i]!.id, [-10, -45, 0][i]!, newId);
    });
    for (const id of ['a', 'b']) {
      const matte = addMatte(d, id, 'outline', `hole in ${id}`, () => `hole-${id}`);
      d.mattes.find((m) => m.id === matte)!.outline = {
        closed: true,
        keys: [
          { frame: 0, ease: 'straight', points: round(12, -40, 10) },
          { frame: 89, ease: 'straight', points: round(24, 25, -8) },
        ],
      };
    }
  });
}

const settingsOf = ({ join }: PlacedJoin): ZoomSettings => (join.recipe as { readonly settings: ZoomSettings }).settings;
const at = (film: Film, i: number): PlacedJoin => placedJoins(film)[i]!;

function measure(film: Film, placed: PlacedJoin, shown: Media = media): (HoleShape | null)[] {
  const compositor = new CpuCompositor(2 * W, 2 * H);
  return plansToMeasure(film, shown, placed).map((measured) => {
    const plan = measured!;
    const coverage = new Uint8Array(4 * W * H);
    compositor.drawMattes(plan, plan.layers[0]!.mattes, () => null, coverage);
    return measureHole(coverage, 2 * W, 2 * H, W, H);
  });
}

/** Lays the zooms of some joins until nothing changes any more, as the page does. */
function solved(film: Film, ...joins: number[]): Film {
  let now = film;
  for (let round = 0; round < 3; round++) {
    const holes = new Map(joins.map((i) => [at(now, i).join.id, measure(now, at(now, i))]));
    now = changed(now, (d) => joins.forEach((i) => layJoin(d, media, at(now, i).join.id, holes)));
  }
  return now;
}

const white = { width: W, height: H, data: new Uint8ClampedArray(4 * W * H).fill(255) };

/** The share of a frame that is not covered, drawn. */
function bare(film: Film, frame: number, shown: Media = media): number {
  const out = createImage(W, H);
  new CpuCompositor(W, H).draw(planFrame(film, shown, frame, { samples: 1 }), () => white, out);
  let empty = 0;
  for (let i = 3; i < out.data.length; i += 4) if (out.data[i]! < 253) empty++;
  return empty;
}

const zoomed = (film = filmWithHoles()): Film =>
  solved(
    changed(film, (d) => makeKind(d, media, film.joins[0]!.id, 'zoom through', { matteId: 'hole-a' })),
    0,
  );

describe('zoom through', () => {
  it('flies through the hole with every pixel covered, and ends on the entering shot alone', () => {
    for (const entering of ['grows', 'waits', 'pushes on'] as const) {
      const film = solved(
        changed(zoomed(), (d) => setSettings(d, media, d.joins[0]!.id, 'zoom through', { entering })),
        0,
      );
      const { from, to } = at(film, 0);
      expect(to - from).toBe(20);
      for (let frame = from - 1; frame <= to; frame++) expect(bare(film, frame)).toBe(0);
      const last = planFrame(film, media, to - 1).layers;
      const shown = last.at(-1)!;
      expect(pictureOf(shown)!.mediumId).toBe('b');
      expect(shown.matrix.map((v) => Math.round(v * 1e6) / 1e6)).toEqual([1, 0, 0, 0, 1, 0, 0, 0, 1]);
    }
  });

  it('is made of a carrier with two keys and three ordinary layers', () => {
    const { join } = at(zoomed(), 0);
    expect(join.carriers.map((c) => c.name)).toEqual(['Zoom']);
    expect(join.carriers[0]!.motion.scale).toHaveLength(2);
    expect(join.layers.map((l) => [l.source.kind, l.mattes[0]?.side, l.ridesOn !== undefined])).toEqual([
      ['leaving', 'inside', true],
      ['leaving', 'outside', true],
      ['entering', undefined, false],
    ]);
  });

  it('says how far the shot is enlarged and from where on the hole holds the frame', () => {
    const film = zoomed();
    const notes = (holes: Measured | undefined) => zoomThrough.notes!(film, media, at(film, 0), settingsOf(at(film, 0)), holes);
    const [note] = notes(measure(film, at(film, 0)));
    expect(note!.text).toMatch(
      /^The hole holds the whole frame from 59 on, at \d\.\d ×\. The entering shot is enlarged 1\.00 × at most\.$/,
    );
    expect(notes(undefined)).toEqual([]);
  });

  it('lets its piece fade, slide or stay', () => {
    const way = (piece: 'fades' | 'slides' | 'stays') =>
      at(
        solved(
          changed(zoomed(), (d) => setSettings(d, media, d.joins[0]!.id, 'zoom through', { piece })),
          0,
        ),
        0,
      ).join.layers[0]!;
    expect(channelAt(way('fades').opacity, -12)).toBe(0);
    expect(channelAt(way('stays').opacity, -12)).toBe(1);
    expect(channelAt(way('stays').opacity, -1)).toBe(0);
    expect(channelAt(way('slides').motion.y, -10)).toBeLessThan(-500);
  });

  it('lets its piece slide off its place first, and then goes through what it leaves open', () => {
    const film = solved(
      changed(zoomed(), (d) =>
        setSettings(d, media, d.joins[0]!.id, 'zoom through', { piece: 'slides', slidesBefore: 8, slideDegrees: 0, slidePx: 60 }),
      ),
      0,
    );
    const { join, from } = at(film, 0);
    const first = -join.before;
    const [piece] = join.layers;
    expect([first, first + 8].map((t) => channelAt(piece!.motion.x, t))).toEqual([0, 60]);
    expect(piece!.opacity).toBe(1);
    const scale = (frame: number): number => planFrame(film, media, frame).layers[1]!.matrix[0];
    expect([scale(from), scale(from + 8)]).toEqual([1, 1]);
    expect(scale(from + 14)).toBeGreaterThan(1.05);
  });

  it('knows what was changed by hand, and keeps how edges are drawn', () => {
    const film = zoomed();
    const { join } = at(film, 0);
    expect(isChangedByHand(film, join)).toBe(false);
    const soft = changed(film, (d) => {
      d.joins[0]!.layers[1]!.mattes[0]!.featherPx = 9;
      setLayer(d, join.id, join.layers[1]!.id, { name: 'Ring' });
    });
    expect(isChangedByHand(soft, at(soft, 0).join)).toBe(false);
    const [, around] = at(solved(soft, 0), 0).join.layers;
    expect(around).toMatchObject({ name: 'Ring', mattes: [{ featherPx: 9 }] });
    const bent = changed(film, (d) => setMotion(d, join.id, { kind: 'carrier', id: join.carriers[0]!.id }, { turn: 5 }));
    expect(isChangedByHand(bent, at(bent, 0).join)).toBe(true);
  });

  it('may wait, with the entering shot held until the move starts', () => {
    const film = solved(
      changed(zoomed(), (d) => setSettings(d, media, d.joins[0]!.id, 'zoom through', { startsAfter: 10, holdsEntering: true })),
      0,
    );
    const { from, cut } = at(film, 0);
    const frameOf = (f: number): number => pictureOf(planFrame(film, media, f).layers.at(-1)!)!.frame;
    expect([0, 5, 10].map((i) => frameOf(from + i))).toEqual([10, 10, 10]);
    expect(frameOf(from + 11)).toBe(11);
    expect(frameOf(cut - 1)).toBe(19);
    expect(planFrame(film, media, from + 9).layers[1]!.samples).toEqual([]);
  });
});

describe('a chain of two zooms', () => {
  const chain = (): Film =>
    solved(
      changed(filmWithHoles(), (d) => {
        makeKind(d, media, d.joins[0]!.id, 'zoom through', { matteId: 'hole-a' });
        makeKind(d, media, d.joins[1]!.id, 'zoom through', { matteId: 'hole-b' });
        setOverlap(d, d.joins[0]!.id, 20, 10);
        setOverlap(d, d.joins[1]!.id, 20, 8);
        setSettings(d, media, d.joins[1]!.id, 'zoom through', { goesOn: true });
      }),
      0,
      1,
    );

  it('begins inside the first one, leaves no pixel bare, and the rate of zoom goes on without a stop', () => {
    const film = chain();
    const [first, second] = [at(film, 0), at(film, 1)];
    expect(second.from).toBeGreaterThan(first.from);
    expect(second.from).toBeLessThan(first.to);
    for (let frame = first.from; frame < second.to; frame++) expect(bare(film, frame)).toBe(0);
    /** How much the shot in the middle grows from a frame to the next. */
    const size = (frame: number): number =>
      Math.log(planFrame(film, media, frame, { samples: 1 }).layers.find((l) => pictureOf(l)?.mediumId === 'b')!.matrix[0]);
    const rates = Array.from({ length: second.to - first.from - 4 }, (_, i) => size(first.from + i + 1) - size(first.from + i));
    const at1 = second.from - first.from;
    // a few frames around the hand-over it never comes near a stop, nor jumps
    const near = rates.slice(at1 - 3, at1 + 4);
    expect(Math.min(...near)).toBeGreaterThan(0.2 * Math.max(...near));
  });

  it('is solved anew as a whole when the first one changes', () => {
    const film = chain();
    const longer = solved(
      changed(film, (d) => setOverlap(d, d.joins[0]!.id, 16, 10)),
      0,
      1,
    );
    expect(at(longer, 1).from).not.toBe(at(film, 1).from);
    for (let frame = at(longer, 0).from; frame < at(longer, 1).to; frame++) expect(bare(longer, frame)).toBe(0);
  });
});

it('goes through three holes in a row', () => {
  const newId = countingIds('three');
  const d4 = sampleMedium('d', 90, rational(24, 1), W, H);
  const all: Media = new Map([...media, ['d', d4]]);
  const begun = changed(filmWithHoles(), (d) => {
    trimEnd(d, all.get('c')!, d.shots[2]!.id, -15, newId);
    addShot(d, d4, 3, newId);
    trimStart(d, d4, d.shots[3]!.id, 50, newId);
    const id = addMatte(d, 'c', 'outline', 'hole in c', () => 'hole-c');
    d.mattes.find((m) => m.id === id)!.outline = { closed: true, keys: [{ frame: 0, ease: 'straight', points: round(16, 20, 5) }] };
    ['a', 'b', 'c'].forEach((hole, i) => {
      makeKind(d, all, d.joins[i]!.id, 'zoom through', { matteId: `hole-${hole}` });
      setOverlap(d, d.joins[i]!.id, 20, i === 0 ? 10 : 0);
      if (i > 0) setSettings(d, media, d.joins[i]!.id, 'zoom through', { goesOn: true });
    });
  });
  let now = begun;
  for (let turn = 0; turn < 4; turn++) {
    const holes = new Map([0, 1, 2].map((i) => [at(now, i).join.id, measure(now, at(now, i), all)]));
    now = changed(now, (d) => layJoin(d, media, at(now, 0).join.id, holes));
  }
  const [first, second, third] = placedJoins(now);
  expect(second!.from).toBeLessThan(first!.to);
  expect(third!.from).toBeLessThanOrEqual(second!.to);
  for (let frame = first!.from; frame < third!.to; frame++) expect(bare(now, frame, all), `frame ${frame}`).toBe(0);
});

it('covers every pixel through the open shutter too, however fast the hole opens', () => {
  const film = solved(
    changed(filmWithHoles(), (d) => {
      makeKind(d, media, d.joins[0]!.id, 'zoom through', { matteId: 'hole-a' });
      setOverlap(d, d.joins[0]!.id, 7, 0);
    }),
    0,
  );
  const { from, to } = at(film, 0);
  const large = { width: 4 * W, height: 4 * H, data: new Uint8ClampedArray(64 * W * H).fill(255) };
  for (let frame = from; frame < to; frame++) {
    const out = createImage(2 * W, 2 * H);
    new CpuCompositor(2 * W, 2 * H).draw(planFrame(film, media, frame), () => large, out);
    let empty = 0;
    for (let i = 3; i < out.data.length; i += 4) if (out.data[i]! < 253) empty++;
    expect(empty, `frame ${frame}`).toBe(0);
  }
});
