import { describe, expect, it } from 'vitest';
import { apply, cornersOf, invert } from '../geometry/matrix';
import { setOverlap } from '../film/edits/joins';
import { setShotMove } from '../film/edits/shots';
import { trimStart } from '../film/edits/trims';
import type { Film } from '../film/film';
import { channelAt } from '../motion/curve';
import { moveOf } from '../pair/borrowed-move';
import { setLayer, setMotion } from '../film/edits/layers';
import { easedKeys } from '../motion/eases';
import { addTrack, removeTrack, setSteadying } from '../film/edits/mattes';
import { changed, edgeKey, sampleFilm, sampleMedium, sampleWipe } from '../film/sample-film';
import { placedJoins } from '../film/timing';
import { FULL_QUALITY } from './planner';
import { matteSpace } from './stage-plans';
import { planFrame } from './plan-film';
import { planShot } from './plan-shot';
import { enlargementOf } from './shot-framing';
import { pictureOf, type FramePlan, type PlannedOutline } from './frame-plan';
import { drawingOf, STAGE_VIEWS } from './plan-views';

const a = sampleMedium('a', 60);
const b = sampleMedium('b', 60);
const media = new Map([a, b].map((m) => [m.id, m]));
const pictures = (plan: FramePlan): string[] => plan.layers.map((l) => `${pictureOf(l)!.mediumId}${pictureOf(l)!.frame}`);

describe('planFrame', () => {
  const film = sampleFilm([a, b]);

  it('shows the shot alone away from joins', () => {
    expect(pictures(planFrame(film, media, 0))).toEqual(['a0']);
    expect(pictures(planFrame(film, media, 59))).toEqual(['a59']);
    expect(pictures(planFrame(film, media, 60))).toEqual(['b0']);
  });

  it('stacks the layers in the overlap and says which pictures are missing', () => {
    const wide = changed(film, (d) => setOverlap(d, film.joins[0]!.id, 2, 2));
    const plan = planFrame(wide, media, 61);
    expect(pictures(plan)).toEqual(['b1']);
    expect(plan.missing).toEqual([{ shotId: film.shots[0]!.id, shotName: 'shot a', where: 'after' }]);
    expect(planFrame(wide, media, 58).missing).toMatchObject([{ shotName: 'shot b', where: 'before' }]);
  });

  it('says when a medium is not there', () => {
    expect(planFrame(film, new Map(), 3)).toMatchObject({ layers: [], missing: [{ where: 'not ready' }] });
  });

  it('refuses frames the film does not have', () => {
    expect(() => planFrame(film, media, 120)).toThrow(RangeError);
    expect(() => planFrame(film, media, -1)).toThrow(RangeError);
  });

  it('fills the frame with a medium of other proportions', () => {
    const tall = sampleMedium('t', 5, a.rate, 90, 160);
    const plan = planFrame(sampleFilm([tall]), new Map([['t', tall]]), 0);
    const corner = apply(plan.layers[0]!.matrix, { x: 45, y: 80 });
    expect(corner.x).toBeCloseTo(80, 9);
    expect(corner.y).toBeGreaterThan(45);
  });
});

describe('layers', () => {
  const film = sampleWipe(a, b, [edgeKey(30, 80), edgeKey(50, -80)]);
  const { join, cut } = placedJoins(film)[0]!;

  it('carry the outline of their frame', () => {
    const [leaving, entering] = planFrame(film, media, 40).layers;
    expect(leaving!.mattes[0]).toMatchObject({ side: 'outside' });
    expect((leaving!.mattes[0] as PlannedOutline).points[0]!.x).toBe(0);
    expect(entering!.mattes).toEqual([]);
    expect(pictures(planFrame(film, media, 40))).toEqual(['a40', 'b20']);
  });

  it('move with their channels, counted from the cut, and take their mattes along', () => {
    const moved = changed(film, (d) => {
      setLayer(d, join.id, join.layers[0]!.id, { opacity: 0.25, visible: true });
      setMotion(d, join.id, { kind: 'layer', id: join.layers[0]!.id }, { x: easedKeys('straight', [-5, 0], [5, 20]) });
    });
    const layer = planFrame(moved, media, cut).layers[0]!;
    expect(layer.matrix[2]).toBe(10);
    expect(layer.mattes[0]!.matrix[2]).toBe(10);
    expect(layer.opacity).toBe(0.25);
  });

  it('are left out when hidden', () => {
    const hidden = changed(film, (d) => setLayer(d, join.id, join.layers[0]!.id, { visible: false }));
    expect(pictures(planFrame(hidden, media, 40))).toEqual(['b20']);
  });

  it('do not use an outline that is not closed', () => {
    const open = changed(film, (d) => void (d.mattes[0]!.outline.closed = false));
    expect(planFrame(open, media, 40).layers[0]!.mattes).toEqual([]);
  });
});

describe('stage views', () => {
  const film = sampleWipe(a, b, [edgeKey(30, 80), edgeKey(50, -80)]);
  const placed = placedJoins(film)[0]!;

  it.each(STAGE_VIEWS)('%s can be drawn on every frame of both shots', (view) => {
    for (let frame = 0; frame < 80; frame++) expect(drawingOf(film, media, placed, view, frame, 0.5).plan.width).toBe(160);
  });

  it('show one shot past its end on the reel, as far as its medium goes', () => {
    expect(pictures(planShot(film, media, placed, 'leaving', 55))).toEqual(['a55']);
    expect(pictures(planShot(film, media, placed, 'entering', 25))).toEqual(['b5']);
    expect(planShot(film, media, placed, 'entering', 10).missing).toMatchObject([{ where: 'before' }]);
  });

  it('show the matte outside the overlap too', () => {
    const drawing = drawingOf(film, media, placed, 'matte', 25, 0.5);
    expect(drawing.plan.layers[0]!.mattes).toHaveLength(1);
  });

  it('shows a matte in black and white before any layer uses it', () => {
    const unused = changed(film, (d) => {
      d.joins[0]!.layers.forEach((l) => (l.mattes = []));
    });
    const { plan } = drawingOf(unused, media, placedJoins(unused)[0]!, 'matte', 40, 0.5, 'leaving', unused.mattes[0]!.id);
    expect(plan.layers.map((l) => l.mattes.map((m) => m.side))).toEqual([['inside']]);
  });

  it('lay a cut-out over the other shot when asked to', () => {
    const shown = (ground: 'colour' | 'other shot', frame: number): string[] =>
      pictures(drawingOf(film, media, placed, 'cut-out', frame, 0.5, 'leaving', null, ground).plan);
    expect(shown('colour', 40)).toEqual(['a40']);
    expect(shown('other shot', 40)).toEqual(['a40', 'b20']);
    // it has not begun there yet: its first frame holds
    expect(shown('other shot', 10)).toEqual(['a10', 'b0']);
  });

  it('mix the shots in the overlay', () => {
    expect(drawingOf(film, media, placed, 'overlay', 40, 0.3).plan.layers.map((l) => l.opacity)).toEqual([0.3, 1]);
  });
});

describe('a shot held still', () => {
  const { width, height } = a;
  const box = (x: number, y: number): [number, number][] => [
    [x - 8, y - 8],
    [x + 8, y - 8],
    [x + 8, y + 8],
    [x - 8, y + 8],
  ];
  /** A region that drifts to the right and back over the whole medium. */
  const drift = (frame: number): number => 12 * Math.sin(frame / 9);
  const held = (edges: 'mirror' | 'enlarge', film = sampleWipe(a, b, [edgeKey(30, 80), edgeKey(50, -80)])) =>
    changed(film, (d) => {
      let id = 0;
      const trackId = addTrack(d, 'a', 'Sign', 'similarity', 0, box(0, 0), () => `track-${id++}`);
      d.tracks![0]!.frames = Array.from({ length: 59 }, (_, i) => ({ frame: i + 1, corners: box(drift(i + 1), 0), confidence: 1 }));
      setSteadying(d, d.shots[0]!.id, { trackId, position: 1, turn: 0, size: 0, centred: false, edges });
    });
  const whereTheSignIs = (plan: FramePlan, frame: number): number => apply(plan.layers[0]!.matrix, { x: drift(frame), y: 0 }).x;

  it('stays so on every frame of it, in the overlap and away from it, so that nothing jumps where the overlap begins', () => {
    const film = held('mirror');
    const { from } = placedJoins(film)[0]!;
    expect(from).toBeGreaterThan(5);
    for (const frame of [0, 5, from - 1, from, from + 3]) {
      const plan = planFrame(film, media, frame);
      expect(whereTheSignIs(plan, frame)).toBeCloseTo(0, 6);
      expect(plan.layers[0]!.edges).toBe('mirrored');
    }
    const placed = placedJoins(film)[0]!;
    expect(whereTheSignIs(planShot(film, media, placed, 'leaving', 20), 20)).toBeCloseTo(0, 6);
    // what is drawn on it lies where the picture lies
    expect(apply(matteSpace(film, media, placed, 'leaving', 20).matrix, { x: drift(20), y: 0 }).x).toBeCloseTo(0, 6);
  });

  it('is enlarged alike on all frames, just until no border shows', () => {
    const film = held('enlarge');
    const reach: number[] = [];
    for (let frame = 0; frame < placedJoins(film)[0]!.from; frame++) {
      const { matrix, edges } = planFrame(film, media, frame).layers[0]!;
      expect(edges).toBe('none');
      const left = apply(matrix, { x: -width / 2, y: -height / 2 });
      const right = apply(matrix, { x: width / 2, y: height / 2 });
      reach.push(Math.min(-film.width / 2 - left.x, right.x - film.width / 2));
      expect(matrix[0]).toBeCloseTo(planFrame(film, media, 0).layers[0]!.matrix[0], 9);
    }
    expect(Math.min(...reach)).toBeGreaterThanOrEqual(-1e-6);
    expect(Math.min(...reach)).toBeLessThan(1);
    const said = enlargementOf(film, a, film.shots[0]!)!;
    expect(said.bareFrame).toBeNull();
    expect(said.scale).toBeCloseTo(planFrame(film, media, 0).layers[0]!.matrix[0], 9);
    expect(enlargementOf(held('mirror'), a, held('mirror').shots[0]!)).toBeNull();
  });

  it('says on which frame no enlargement hides its border', () => {
    const film = changed(held('enlarge'), (d) => {
      // gone so far that, held still, the middle of the frame lies beyond the picture
      d.tracks![0]!.frames[24]!.corners = box(width, 0);
    });
    expect(enlargementOf(film, a, film.shots[0]!)!.bareFrame).toBe(25);
  });

  it('moves again when its track is removed', () => {
    const film = changed(held('mirror'), (d) => removeTrack(d, d.tracks![0]!.id));
    expect(film.shots[0]!.steadying).toBeUndefined();
    expect(whereTheSignIs(planFrame(film, media, 14), 14)).toBeCloseTo(drift(14), 6);
  });
});

describe('a shot with a movement of its own', () => {
  const film = sampleFilm([a, b]);
  const second = film.shots[1]!.id;
  const span = { first: 0, last: 59, ease: 'straight' } as const;
  const given = changed(film, (d) => setShotMove(d, second, moveOf({ pan: 40, tilt: -12, push: 1.2, turn: 4 }, span)));
  const cornersIn = (plan: FramePlan): { x: number; y: number }[] =>
    cornersOf(film.width, film.height).map((p) => apply(invert(plan.layers[0]!.matrix), p));

  it('is enlarged just so that no border shows, and moves by what was asked', () => {
    let nearest = Infinity;
    for (let frame = 60; frame < 120; frame++)
      for (const { x, y } of cornersIn(planFrame(given, media, frame))) {
        nearest = Math.min(nearest, b.width / 2 - Math.abs(x), b.height / 2 - Math.abs(y));
      }
    expect(nearest).toBeCloseTo(0, 6);
    const middle = (frame: number): { x: number; y: number } => apply(planFrame(given, media, frame).layers[0]!.matrix, { x: 0, y: 0 });
    expect(middle(60)).toMatchObject({ x: 0, y: 0 });
    expect(middle(119).x).toBeCloseTo(-40, 9);
    expect(middle(119).y).toBeCloseTo(12, 9);
    expect(planFrame(given, media, 90, FULL_QUALITY).layers[0]!.samples.length).toBeGreaterThan(1);
  });

  it('moves where it holds one picture as well, and on in the overlap as away from it', () => {
    const held = changed(given, (d) => {
      d.shots[1]!.time = { speed: 0, anchor: 0, between: 'nearest' };
      setOverlap(d, film.joins[0]!.id, 0, 4);
    });
    const matrixAt = (frame: number): readonly number[] =>
      planFrame(held, media, frame).layers.find((l) => pictureOf(l)?.mediumId === 'b')!.matrix;
    const apart = (p: readonly number[], q: readonly number[]): number => Math.hypot(p[2]! - q[2]!, p[5]! - q[5]!);
    const [inside, across] = [apart(matrixAt(62), matrixAt(63)), apart(matrixAt(63), matrixAt(64))];
    expect(inside).toBeGreaterThan(0.5);
    expect(across).toBeCloseTo(inside, 1);
  });

  it('keeps its movement with its pictures when its start is trimmed', () => {
    const trimmed = changed(given, (d) => trimStart(d, b, second, 10, () => 'new'));
    const at = (f: Film, frame: number): number => channelAt(f.shots[1]!.move!.x, frame);
    expect(at(trimmed, 5)).toBeCloseTo(at(given, 15), 9);
  });
});
