import { describe, expect, it } from 'vitest';
import { hasPaint, markOf, nextTurn, placeStrokes, turnsOf, type Stroke, type Strokes } from './strokes';

const at = (x: number, turn?: number): Stroke => ({ radius: 2, points: [[x, 0]], ...(turn === undefined ? {} : { turn }) });

describe('turns of strokes', () => {
  it('come in their order, each with the strokes of both kinds', () => {
    expect(turnsOf({ keep: [at(1, 4), at(2, 1)], drop: [at(3, 4), at(4, 2)] })).toEqual([
      { keep: [at(2, 1)], drop: [] },
      { keep: [], drop: [at(4, 2)] },
      { keep: [at(1, 4)], drop: [at(3, 4)] },
    ]);
  });

  it('begin with the strokes that name none', () => {
    expect(turnsOf({ keep: [at(1), at(2, 1)], drop: [at(3)] })).toEqual([
      { keep: [at(1)], drop: [at(3)] },
      { keep: [at(2, 1)], drop: [] },
    ]);
  });

  it('are none without strokes', () => {
    expect(turnsOf({ keep: [], drop: [], touches: [{ ...at(1), covers: true }] })).toEqual([]);
  });

  it('go on after the last one, whatever was erased in between', () => {
    expect(nextTurn({ keep: [], drop: [] })).toBe(1);
    expect(nextTurn({ keep: [at(1)], drop: [] })).toBe(1);
    expect(nextTurn({ keep: [at(1, 2)], drop: [at(1, 7)] })).toBe(8);
  });
});

describe('strokes', () => {
  it('are placed with what they say about themselves', () => {
    const strokes: Strokes = { keep: [at(3, 5)], drop: [], hair: [at(2)], touches: [{ ...at(1), covers: false }] };
    expect(placeStrokes(strokes, 2, 10, 20)).toEqual({
      keep: [{ radius: 4, points: [[16, 20]], turn: 5 }],
      drop: [],
      hair: [{ radius: 4, points: [[14, 20]] }],
      touches: [{ radius: 4, points: [[12, 20]], covers: false }],
    });
  });

  it('are told apart by their mark, by kind, place and turn', () => {
    const marks = [
      { keep: [at(1)], drop: [] },
      { keep: [], drop: [at(1)] },
      { keep: [at(2)], drop: [] },
      { keep: [at(1, 1)], drop: [] },
      { keep: [at(1)], drop: [], touches: [{ ...at(1), covers: true }] },
      { keep: [at(1)], drop: [], hair: [at(1)] },
      { keep: [at(1)], drop: [], hair: [at(1)], touches: [{ ...at(1), covers: true }] },
    ].map(markOf);
    expect(new Set(marks).size).toBe(marks.length);
    expect(markOf({ keep: [at(1)], drop: [] })).toBe(marks[0]);
  });

  it('are no paint only when there are none of any kind', () => {
    expect(hasPaint({ keep: [], drop: [] })).toBe(false);
    expect(hasPaint({ keep: [], drop: [], hair: [at(1)] })).toBe(true);
    expect(hasPaint({ keep: [], drop: [], touches: [{ ...at(1), covers: true }] })).toBe(true);
  });
});
