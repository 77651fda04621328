import { describe, expect, it } from 'vitest';
import { setOverlap } from '../film/edits/joins';
import { setFraming, setShotTime, stretchShot } from '../film/edits/shots';
import { trimEnd, trimStart } from '../film/edits/trims';
import {
  addCarrier,
  addLayer,
  duplicateLayer,
  removeCarrier,
  setByDepth,
  setCamera,
  setCarrier,
  setEffects,
  setLayer,
  setMotion,
  setRidesOn,
  wouldCircle,
} from '../film/edits/layers';
import { newLayer } from '../film/composition';
import type { Film, Join, Media, Shot } from '../film/film';
import { changed, countingIds, sampleFilm, sampleMedium } from '../film/sample-film';
import { handlesOf, mediumFrameAt, offsetOfMediumFrame, placedJoins } from '../film/timing';
import { apply } from '../geometry/matrix';
import { easedKeys } from '../motion/eases';
import { rampTiming } from '../motion/ramps';
import { pictureOf } from './frame-plan';
import { jumpsOf, onSide } from './layer-place';
import { planFrame } from './plan-film';

const [a, b] = [sampleMedium('a', 60), sampleMedium('b', 60)];
const media: Media = new Map([a, b].map((m) => [m.id, m]));
const film = changed(sampleFilm([a, b]), (d) => {
  trimEnd(d, a, d.shots[0]!.id, -12, countingIds());
  trimStart(d, b, d.shots[1]!.id, 12, countingIds());
  setOverlap(d, d.joins[0]!.id, 10, 10);
});
const { join, cut } = placedJoins(film)[0]!;
const [leaving, entering] = join.layers;
const layersAt = (f: Film, frame: number) => planFrame(f, media, frame).layers;
const middle = (f: Film, frame: number, i = 0) => apply(layersAt(f, frame)[i]!.matrix, { x: 0, y: 0 });
const carried = (change: Parameters<typeof changed>[1] = () => undefined): Film =>
  changed(film, (d) => {
    const id = addCarrier(d, join.id, 'Slide', () => 'slide');
    setCarrier(d, join.id, id, { motion: { ...d.joins[0]!.layers[0]!.motion, x: easedKeys('straight', [0, 0], [8, 40]) } });
    setRidesOn(d, join.id, { kind: 'layer', id: leaving!.id }, id);
    change(d);
  });

describe('carriers', () => {
  it('move what rides on them, and two moves add up without touching each other', () => {
    const both = carried((d) =>
      setMotion(d, join.id, { kind: 'layer', id: leaving!.id }, { x: easedKeys('straight', [0, 0], [8, 80]), scale: 2 }),
    );
    expect(middle(carried(), cut + 4).x).toBeCloseTo(20, 9);
    expect(middle(both, cut + 4).x).toBeCloseTo(60, 9);
    expect(middle(both, cut + 4, 1).x).toBeCloseTo(0, 9);
  });

  it('ride on each other, never in a circle, and leave their riders to what they rode on', () => {
    const chained = carried((d) => {
      addCarrier(d, join.id, 'Zoom', () => 'zoom');
      setCarrier(d, join.id, 'zoom', { motion: { ...d.joins[0]!.layers[0]!.motion, scale: 3 } });
      setRidesOn(d, join.id, { kind: 'carrier', id: 'slide' }, 'zoom');
    });
    expect(middle(chained, cut + 4).x).toBeCloseTo(60, 9);
    expect(wouldCircle(chained.joins[0]!, 'zoom', 'slide')).toBe(true);
    expect(() => changed(chained, (d) => setRidesOn(d, join.id, { kind: 'carrier', id: 'zoom' }, 'slide'))).toThrow(RangeError);
    const left = changed(chained, (d) => removeCarrier(d, join.id, 'slide'));
    expect(left.joins[0]!.layers[0]!.ridesOn).toBe('zoom');
  });
});

describe('depth and camera', () => {
  it('show what lies further off smaller, and the camera moves against what it sees', () => {
    const deep = changed(film, (d) => {
      setMotion(d, join.id, { kind: 'layer', id: leaving!.id }, { depth: (160 * 50) / 36 });
      setCamera(d, join.id, { x: 10 });
    });
    const [front, back] = layersAt(deep, cut);
    expect(apply(front!.matrix, { x: 80, y: 0 }).x).toBeCloseTo(35, 6);
    expect(apply(back!.matrix, { x: 0, y: 0 }).x).toBeCloseTo(-10, 9);
  });

  it('say the order when a join draws by depth', () => {
    const order = (byDepth: boolean): string[] =>
      layersAt(
        changed(film, (d) => {
          setMotion(d, join.id, { kind: 'layer', id: leaving!.id }, { depth: 300 });
          setByDepth(d, join.id, byDepth);
        }),
        cut,
      ).map((l) => pictureOf(l)!.mediumId);
    expect(order(false)).toEqual(['a', 'b']);
    expect(order(true)).toEqual(['b', 'a']);
  });
});

describe('layers', () => {
  it('of a held frame, a colour, a medium and all beneath show what they say', () => {
    const made = changed(film, (d) => {
      addLayer(d, join.id, 'Grade', { kind: 'all beneath' }, () => 'grade');
      addLayer(d, join.id, 'Ink', { kind: 'colour', colour: [1, 2, 3] }, () => 'ink');
      addLayer(d, join.id, 'Still', { kind: 'held', side: 'leaving', frame: 7 }, () => 'still');
      addLayer(d, join.id, 'Extra', { kind: 'medium', mediumId: 'b', frame: 30 }, () => 'extra');
    });
    const [extra, still, ink, grade] = layersAt(made, cut + 2);
    expect(pictureOf(extra!)).toMatchObject({ mediumId: 'b', frame: 32 });
    expect(pictureOf(still!)).toMatchObject({ mediumId: 'a', frame: 7 });
    expect([ink!.content.kind, grade!.content.kind]).toEqual(['colour', 'beneath']);
  });

  it('are there for their span, also beyond the overlap, over the shot', () => {
    const long = changed(film, (d) => {
      addLayer(d, join.id, 'Ink', { kind: 'colour', colour: [1, 2, 3] }, () => 'ink');
      setLayer(d, join.id, 'ink', { span: { first: 5, last: 20 } });
    });
    const kinds = (frame: number): string[] => layersAt(long, frame).map((l) => l.content.kind);
    expect(kinds(cut + 4)).toEqual(['picture', 'picture']);
    expect(kinds(cut + 6)).toEqual(['colour', 'picture', 'picture']);
    expect(kinds(cut + 15)).toEqual(['colour', 'picture']);
    expect(kinds(cut + 21)).toEqual(['picture']);
  });

  it('have late copies behind them that do the same some frames later, fainter each', () => {
    const late = carried((d) => setLayer(d, join.id, leaving!.id, { copies: { count: 2, delay: 2, fall: 0.5 } }));
    const xs = layersAt(late, cut + 6).map((l) => Math.round(apply(l.matrix, { x: 0, y: 0 }).x));
    expect(xs).toEqual([30, 20, 10, 0]);
    expect(layersAt(late, cut + 6).map((l) => l.opacity)).toEqual([1, 0.5, 0.25, 1]);
  });

  it('are duplicated under a name and an id of their own', () => {
    const twice = changed(film, (d) => void duplicateLayer(d, join.id, leaving!.id, () => 'copy'));
    expect(twice.joins[0]!.layers.map((l) => l.name)).toEqual(['shot a, copy', 'shot a', 'shot b']);
  });

  it('are blurred by the open shutter as far as they move, and only if they are to be', () => {
    const moving = carried();
    expect(layersAt(moving, cut + 4)[0]!.samples.length).toBe(2);
    const fast = carried((d) =>
      setCarrier(d, join.id, 'slide', { motion: { ...d.joins[0]!.layers[0]!.motion, x: easedKeys('straight', [0, 0], [8, 800]) } }),
    );
    const { samples } = layersAt(fast, cut + 4)[0]!;
    // 50 px in half a frame, at most 1.5 px apart, about the frame's own time
    expect(samples.length).toBe(34);
    expect(samples.reduce((sum, m) => sum + m[2], 0) / samples.length).toBeCloseTo(400, 6);
    expect(planFrame(fast, media, cut + 4, { samples: 5 }).layers[0]!.samples).toHaveLength(5);
    expect(
      layersAt(
        changed(fast, (d) => setLayer(d, join.id, leaving!.id, { blur: false })),
        cut + 4,
      )[0]!.samples,
    ).toEqual([]);
    expect(
      layersAt(
        changed(fast, (d) => void (d.shutter = { angle: 0, phase: 0 })),
        cut + 4,
      )[0]!.samples,
    ).toEqual([]);
  });

  it('take effects for their span, and the film its finish outside joins too', () => {
    const effect = {
      id: 'e',
      kind: 'exposure',
      visible: true,
      span: { first: 2, last: 4 },
      params: { stops: easedKeys('straight', [2, 0], [4, 2]) },
    } as const;
    const lit = changed(film, (d) => {
      setEffects(d, { kind: 'layer', joinId: join.id, layerId: entering!.id }, [effect]);
      setEffects(d, { kind: 'film' }, [{ ...effect, id: 'f', span: { first: 0, last: 0 }, params: { stops: 1 } }]);
    });
    expect(layersAt(lit, cut + 1)[1]!.effects).toEqual([]);
    expect(layersAt(lit, cut + 3)[1]!.effects).toEqual([{ kind: 'exposure', params: { stops: 1, frame: 3 } }]);
    expect(planFrame(lit, media, 0).finish).toEqual([{ kind: 'exposure', params: { stops: 1, frame: 0 } }]);
    expect(planFrame(lit, media, 1).finish).toEqual([]);
  });
});

describe('two joins whose overlaps meet', () => {
  const c = sampleMedium('c', 60);
  const three = new Map([a, b, c].map((m) => [m.id, m]));
  it('are drawn one within the other: the later works within what the earlier shows of its entering shot', () => {
    const newId = countingIds('three');
    const row = changed(sampleFilm([a, b, c]), (d) => {
      trimEnd(d, a, d.shots[0]!.id, -20, newId);
      trimStart(d, b, d.shots[1]!.id, 20, newId);
      trimEnd(d, b, d.shots[1]!.id, -30, newId);
      trimStart(d, c, d.shots[2]!.id, 30, newId);
      setOverlap(d, d.joins[0]!.id, 5, 8);
      setOverlap(d, d.joins[1]!.id, 8, 0);
      setMotion(d, d.joins[0]!.id, { kind: 'layer', id: d.joins[0]!.layers[1]!.id }, { x: 100 });
    });
    const [first, second] = placedJoins(row);
    const frame = second!.from + 1;
    expect(frame).toBeLessThan(first!.to);
    const { layers } = planFrame(row, three, frame);
    expect(layers.map((l) => pictureOf(l)!.mediumId)).toEqual(['a', 'b', 'c']);
    expect(layers.map((l) => l.matrix[2])).toEqual([0, 100, 100]);
    // one open shutter for both moves
    const moving = changed(row, (d) =>
      setMotion(d, d.joins[0]!.id, { kind: 'layer', id: d.joins[0]!.layers[1]!.id }, { x: easedKeys('straight', [0, 0], [8, 80]) }),
    );
    const counts = planFrame(moving, three, frame).layers.map((l) => l.samples.length);
    expect(counts[0]).toBe(0);
    expect(counts[1]).toBeGreaterThan(1);
    expect(counts[2]).toBe(counts[1]);
  });
});

describe('the framing of a shot', () => {
  const tall = sampleMedium('t', 20, a.rate, 90, 160);
  const corner = (framing: Shot['framing']): { x: number; y: number } => {
    const one = changed(sampleFilm([tall]), (d) => setFraming(d, d.shots[0]!.id, framing!));
    const p = apply(planFrame(one, new Map([['t', tall]]), 0).layers[0]!.matrix, { x: 45, y: 80 });
    return { x: Math.round(p.x * 100) / 100, y: Math.round(p.y * 100) / 100 };
  };
  it('fills the frame, fits in it, or is the hand’s own', () => {
    expect(corner('fill')).toEqual({ x: 80, y: 142.22 });
    expect(corner('fit')).toEqual({ x: 25.31, y: 45 });
    expect(corner({ x: 10, y: -5, scale: 0.5, turn: 90, flip: 'across' })).toEqual({ x: 10 - 71.11, y: -45 });
  });
});

describe('the speed of a shot', () => {
  const shotWith = (change: Parameters<typeof changed>[1]): { film: Film; shot: Shot } => {
    const now = changed(film, change);
    return { film: now, shot: now.shots[1]! };
  };
  const id = film.shots[1]!.id;
  const frames = ({ film: f, shot }: { film: Film; shot: Shot }, ...offsets: number[]): number[] =>
    offsets.map((o) => mediumFrameAt(f, shot, b, o));

  it('of a constant goes so many pictures a frame, from the anchor that stays put', () => {
    const twice = shotWith((d) => setShotTime(d, b, id, { speed: 2, anchor: 0, between: 'nearest' }, false, countingIds()));
    expect(frames(twice, 0, 5, -3)).toEqual([12, 22, 6]);
    expect(twice.shot.length).toBe(48);
    expect(handlesOf(twice.film, twice.shot, b)).toEqual({ before: 6, after: -24 });
    const back = shotWith((d) => setShotTime(d, b, id, { speed: -1, anchor: 10, between: 'nearest' }, false, countingIds()));
    expect(frames(back, 10, 12, 0)).toEqual([22, 20, 32]);
    expect(offsetOfMediumFrame(back.film, back.shot, b, 20)).toBe(12);
  });

  it('lets the length follow, so that the same pictures are shown', () => {
    const twice = shotWith((d) => setShotTime(d, b, id, { speed: 2, anchor: 0, between: 'nearest' }, true, countingIds()));
    expect(twice.shot.length).toBe(24);
    const half = shotWith((d) => stretchShot(d, b, id, 96, countingIds()));
    expect(half.shot).toMatchObject({ length: 96, time: { speed: 0.5 } });
    expect(frames(half, 95)).toEqual([59]);
    expect(shotWith((d) => stretchShot(d, b, id, 48, countingIds())).shot.time).toBeUndefined();
  });

  it('of a ramp is the area under its curve, and the pictures of an overlap follow it', () => {
    const ramp = rampTiming('ramp up', 0, 20, 3, 0)!;
    const fast = shotWith((d) => setShotTime(d, b, id, ramp, false, countingIds()));
    expect(frames(fast, 0, 20)).toEqual([12, 52]);
    expect(pictureOf(planFrame(fast.film, media, cut + 9).layers[1]!)!.frame).toBe(frames(fast, 9)[0]);
    // before the first key it runs as filmed
    expect(frames(fast, -4)).toEqual([8]);
  });

  it('blends two pictures where it is asked to', () => {
    const half = shotWith((d) => setShotTime(d, b, id, { speed: 0.5, anchor: 0, between: 'blended' }, false, countingIds()));
    const { content } = planFrame(half.film, media, cut + 21).layers[0]!;
    expect(content).toMatchObject({ kind: 'picture', picture: { frame: 22 }, next: { picture: { frame: 23 }, share: 0.5 } });
  });

  it('stays with its pictures when the start is trimmed', () => {
    const ramp = rampTiming('ramp up', 0, 20, 3, 0)!;
    const fast = shotWith((d) => setShotTime(d, b, id, ramp, false, countingIds()));
    const cutOff = changed(fast.film, (d) => trimStart(d, b, id, 6, countingIds()));
    expect(mediumFrameAt(cutOff, cutOff.shots[1]!, b, 4)).toBe(frames(fast, 10)[0]);
  });

  it('of one layer leaves the shot as it is', () => {
    const held = changed(film, (d) => setLayer(d, join.id, entering!.id, { time: { speed: 0, anchor: 3, between: 'nearest' } }));
    const shown = (f: number): number => pictureOf(planFrame(held, media, f).layers.at(-1)!)!.frame;
    expect([cut - 5, cut, cut + 9].map(shown)).toEqual([15, 15, 15]);
    expect(shown(cut + 12)).toBe(24);
  });
});

describe('the shutter', () => {
  it('is not open over a jump that a held key makes', () => {
    const hold = (frame: number, value: number) => ({ frame, value, into: 'straight' as const, out: 'hold' as const });
    expect(onSide(4.7, 5, [5])).toBe(5);
    expect(onSide(5.4, 5, [5])).toBe(5.4);
    expect(onSide(4.4, 4, [4.25])).toBeLessThan(4.25);
    const layer = newLayer('l', 'L', { kind: 'leaving' });
    const jumping = { ...layer, motion: { ...layer.motion, scale: [hold(0, 1), hold(5, 2)] } };
    expect(jumpsOf({ carriers: [] } as unknown as Join, jumping)).toEqual([5]);
  });
});
