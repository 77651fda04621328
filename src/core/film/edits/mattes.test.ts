import { produce } from 'immer';
import { describe, expect, it } from 'vitest';
import type { MotionModel } from '../../geometry/fit-map';
import type { Film } from '../film';
import { drawnPoints, storedPoints } from '../mattes';
import {
  addMatte,
  addMatteUse,
  addOutlineOnTrack,
  addTrack,
  duplicateMatte,
  moveMatteUse,
  removeMatte,
  removeTrack,
  removeTrackKey,
  rideOnTrack,
  setKey,
  setStrokes,
  setTrackKey,
  stopUsingMatte,
  strokesAt,
} from './mattes';
import { BRIGHTNESS_KEY, COLOUR_KEY } from '../../matte/key/key';
import { countingIds, edgeKey, sampleMedium, sampleWipe } from '../sample-film';

const [a, b] = [sampleMedium('a', 120), sampleMedium('b', 120)];
const film = sampleWipe(a, b, [edgeKey(30, 80), edgeKey(50, -80)]);
const ids = countingIds('new');
const stroke = { radius: 4, points: [[1, 2]] as [number, number][] };
const box = (x: number): [number, number][] => [
  [x - 10, -10],
  [x + 10, -10],
  [x + 10, 10],
  [x - 10, 10],
];

function withTrack(model: MotionModel = 'similarity'): { film: Film; trackId: string } {
  let trackId = '';
  return {
    film: produce(film, (d) => {
      trackId = addTrack(d, a.id, 'Sign', model, 30, box(0), ids);
      d.tracks![0]!.frames = [
        { frame: 31, corners: box(4), confidence: 0.9 },
        { frame: 32, corners: box(8), confidence: 0.3 },
      ];
    }),
    trackId,
  };
}

describe('painted mattes', () => {
  it('hold strokes frame by frame and forget empty frames', () => {
    const painted = produce(film, (d) => {
      const id = addMatte(d, a.id, 'strokes', 'Cart', ids);
      setStrokes(d, id, { frame: 7, keep: [stroke], drop: [] });
      setStrokes(d, id, { frame: 3, keep: [], drop: [stroke] });
    });
    const matte = painted.mattes.at(-1)!;
    expect(matte.painted!.map((p) => p.frame)).toEqual([3, 7]);
    expect(strokesAt(matte, 7).keep).toEqual([stroke]);
    const cleared = produce(painted, (d) => setStrokes(d, matte.id, { frame: 3, keep: [], drop: [] }));
    expect(cleared.mattes.at(-1)!.painted!.map((p) => p.frame)).toEqual([7]);
    expect(() => produce(film, (d) => setStrokes(d, film.mattes[0]!.id, { frame: 1, keep: [stroke], drop: [] }))).toThrow('is not painted');
  });

  it('get names of their own, and copies that go their own way', () => {
    const twice = produce(film, (d) => {
      addMatte(d, a.id, 'strokes', 'Cart', ids);
      const id = addMatte(d, a.id, 'strokes', 'Cart', ids);
      setStrokes(d, duplicateMatte(d, id, ids), { frame: 1, keep: [stroke], drop: [] });
    });
    expect(twice.mattes.slice(1).map((m) => [m.name, m.painted!.length])).toEqual([
      ['Cart', 0],
      ['Cart 2', 0],
      ['Cart 2, copy', 1],
    ]);
  });

  it('are copied whole, of whatever kind', () => {
    const made = produce(film, (d) => {
      setStrokes(d, addMatte(d, a.id, 'strokes', 'Cart', ids), { frame: 7, keep: [{ ...stroke, turn: 3 }], drop: [stroke] });
      addMatte(d, a.id, 'colour key', 'Green', ids);
    });
    const copied = produce(made, (d) => {
      for (const { id } of made.mattes) duplicateMatte(d, id, ids);
    });
    const count = made.mattes.length;
    expect(copied.mattes).toHaveLength(2 * count);
    made.mattes.forEach((matte, i) => {
      const copy = copied.mattes[count + i]!;
      expect(copy).toEqual({ ...matte, id: copy.id, name: `${matte.name}, copy` });
      expect(copy.id).not.toBe(matte.id);
    });
  });

  it('are used by a layer once, and leave no trace when they go', () => {
    const join = film.joins[0]!;
    const used = produce(film, (d) => {
      const id = addMatte(d, b.id, 'strokes', 'Clock', ids);
      addMatteUse(d, join.id, join.layers[1]!.id, id, 'inside');
      addMatteUse(d, join.id, join.layers[1]!.id, id, 'outside');
    });
    const matteId = used.mattes.at(-1)!.id;
    expect(used.joins[0]!.layers[1]!.mattes).toEqual([{ matteId, side: 'inside', growPx: 0, featherPx: 0 }]);
    expect(produce(used, (d) => stopUsingMatte(d, join.id, join.layers[1]!.id, matteId)).joins[0]!.layers[1]!.mattes).toEqual([]);
    const gone = produce(used, (d) => removeMatte(d, matteId));
    expect(JSON.stringify(gone)).not.toContain(matteId);
  });
});

describe('keys', () => {
  it('are kept by the kind of key they are', () => {
    let id = '';
    const keyed = produce(film, (d) => void (id = addMatte(d, b.id, 'colour key', 'Figure', ids)));
    const next = produce(keyed, (d) => setKey(d, id, { ...COLOUR_KEY, colour: [1, 2, 3], spill: 0 }));
    expect(next.mattes.at(-1)!.key).toMatchObject({ kind: 'colour', colour: [1, 2, 3], spill: 0 });
    expect(() => produce(next, (d) => setKey(d, id, BRIGHTNESS_KEY))).toThrow(RangeError);
    expect(() => produce(next, (d) => setKey(d, film.mattes[0]!.id, COLOUR_KEY))).toThrow(RangeError);
  });
});

describe('the order of a layer’s mattes', () => {
  it('changes one place at a time and stops at its ends', () => {
    const join = film.joins[0]!;
    const layerId = join.layers[1]!.id;
    const added: string[] = [];
    const both = produce(film, (d) => {
      ['One', 'Two'].forEach((name, i) => {
        added[i] = addMatte(d, b.id, 'strokes', name, ids);
        addMatteUse(d, join.id, layerId, added[i], 'inside');
      });
    });
    const order = (f: Film): string[] => f.joins[0]!.layers[1]!.mattes.map((u) => u.matteId);
    const turned = produce(both, (d) => moveMatteUse(d, join.id, layerId, added[0]!, 1));
    expect(order(turned)).toEqual([added[1], added[0]]);
    expect(order(produce(turned, (d) => moveMatteUse(d, join.id, layerId, added[0]!, 1)))).toEqual([added[1], added[0]]);
    expect(order(produce(turned, (d) => moveMatteUse(d, join.id, layerId, added[0]!, -1)))).toEqual(added);
  });
});

describe('tracks', () => {
  it('carry the outlines that ride on them, and take edits back to where they are stored', () => {
    const { film: tracked, trackId } = withTrack();
    const riding = produce(tracked, (d) => rideOnTrack(d, film.mattes[0]!.id, trackId));
    const matte = riding.mattes[0]!;
    const still = drawnPoints(film, film.mattes[0]!, 31);
    const moved = drawnPoints(riding, matte, 31);
    moved.forEach((p, i) => {
      expect(p.x).toBeCloseTo(still[i]!.x + 4, 6);
      expect(p.y).toBeCloseTo(still[i]!.y, 6);
      expect(storedPoints(riding, matte, 31, moved)[i]!.x).toBeCloseTo(still[i]!.x, 6);
    });
    // beyond the frames followed the last motion holds
    expect(drawnPoints(riding, matte, 99)[0]!.x).toBeCloseTo(drawnPoints(film, film.mattes[0]!, 99)[0]!.x + 8, 6);
    const standing = produce(riding, (d) => removeTrack(d, trackId));
    expect(standing.mattes[0]!.trackId).toBeUndefined();
  });

  it('become outlines of their region', () => {
    const { film: tracked, trackId } = withTrack('perspective');
    const made = produce(tracked, (d) => void addOutlineOnTrack(d, trackId, ids));
    expect(drawnPoints(made, made.mattes.at(-1)!, 32).map((p) => [Math.round(p.x), Math.round(p.y)])).toEqual(box(8));
  });

  it('take a hand-placed region in place of the one that was found', () => {
    const { film: tracked, trackId } = withTrack();
    const placed = produce(tracked, (d) => setTrackKey(d, trackId, 32, box(20)));
    expect(placed.tracks![0]!.keys.map((k) => k.frame)).toEqual([30, 32]);
    expect(placed.tracks![0]!.frames.map((f) => f.frame)).toEqual([31]);
    const removed = produce(placed, (d) => {
      removeTrackKey(d, trackId, 30);
      removeTrackKey(d, trackId, 32);
    });
    expect(removed.tracks![0]!.keys.map((k) => k.frame)).toEqual([32]);
  });
});
