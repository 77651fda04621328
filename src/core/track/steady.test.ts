import { describe, expect, it } from 'vitest';
import { compose, IDENTITY, rotation, scaling, translation, apply, type Matrix } from '../geometry/matrix';
import { coveringScale, steadyMatrix } from './steady';
import type { Track } from './track';

const box: [number, number][] = [
  [90, 30],
  [130, 30],
  [130, 70],
  [90, 70],
];
const transformXY = (m: Matrix, x: number, y: number): [number, number] => {
  const p = apply(m, { x, y });
  return [p.x, p.y];
};
/** The region turns, grows and travels; frames 1 to 20. */
const motion = (frame: number) =>
  compose(
    compose(translation(-110, -50), compose(rotation(1.5 * frame), scaling(1 + 0.01 * frame))),
    translation(110 + 6 * frame, 50 - 2 * frame),
  );
const track: Track = {
  id: 't',
  mediumId: 'm',
  name: 'Sign',
  model: 'similarity',
  keys: [{ frame: 0, corners: box }],
  frames: Array.from({ length: 20 }, (_, i) => ({
    frame: i + 1,
    confidence: 1,
    corners: box.map(([x, y]): [number, number] => transformXY(motion(i + 1), x, y)),
  })),
};
const all = { position: 1, turn: 1, size: 1 };

describe('holding a track still', () => {
  it('holds the middle of a region that tilts, where its sides cross, not the mean of its corners', () => {
    const tilted: Track = {
      ...track,
      model: 'perspective',
      frames: [
        {
          frame: 1,
          confidence: 1,
          corners: [
            [90, 30],
            [130, 40],
            [130, 60],
            [90, 70],
          ],
        },
      ],
    };
    // the diagonals of the tilted region cross two thirds of the way to its short side
    const [x, y] = transformXY(steadyMatrix(tilted, 1, { position: 1, turn: 0, size: 0 }, false), 90 + (40 * 2) / 3, 50);
    expect(x).toBeCloseTo(110, 3);
    expect(y).toBeCloseTo(50, 3);
  });

  it('puts every corner back where it was on the first key', () => {
    for (const frame of [0, 7, 20]) {
      const m = steadyMatrix(track, frame, all, false);
      const { corners } = frame === 0 ? track.keys[0]! : track.frames[frame - 1]!;
      corners.forEach(([x, y], i) => {
        const [px, py] = transformXY(m, x, y);
        expect(px).toBeCloseTo(box[i]![0], 6);
        expect(py).toBeCloseTo(box[i]![1], 6);
      });
    }
  });

  it('takes out only the share that is asked for', () => {
    const middle = transformXY(motion(10), 110, 50);
    const [x, y] = transformXY(steadyMatrix(track, 10, { position: 0.5, turn: 0, size: 0 }, false), ...middle);
    expect(x).toBeCloseTo((110 + middle[0]) / 2, 6);
    expect(y).toBeCloseTo((50 + middle[1]) / 2, 6);
    expect(steadyMatrix(track, 10, { position: 0, turn: 0, size: 0 }, false)).toEqual(IDENTITY.map((v) => expect.closeTo(v, 9) as number));
  });

  it('brings the region to the middle of the frame', () => {
    const [x, y] = transformXY(steadyMatrix(track, 13, all, true), ...transformXY(motion(13), 110, 50));
    expect(x).toBeCloseTo(0, 6);
    expect(y).toBeCloseTo(0, 6);
  });

  it('holds the last movement beyond the frames that were followed', () => {
    expect(steadyMatrix(track, 60, all, false)).toEqual(steadyMatrix(track, 20, all, false));
  });
});

describe('the least enlargement', () => {
  it('is 1 where the frame is covered already', () => {
    expect(coveringScale(IDENTITY, 160, 90, 160, 90)).toBe(1);
    expect(coveringScale(scaling(2), 160, 90, 160, 90)).toBe(1);
  });

  it('just covers the frame after a shift and a turn', () => {
    for (const m of [translation(12, -5), compose(rotation(7), translation(3, 4)), scaling(0.9)]) {
      const scale = coveringScale(m, 160, 90, 160, 90);
      const covers = (k: number): boolean => coveringScale(compose(m, scaling(k)), 160, 90, 160, 90) <= 1 + 1e-9;
      expect(covers(scale)).toBe(true);
      expect(covers(scale * 0.995)).toBe(false);
    }
    expect(coveringScale(translation(12, 0), 160, 90, 160, 90)).toBeCloseTo(80 / 68, 9);
  });

  it('does not exist where the picture has left the middle of the frame', () => {
    expect(coveringScale(translation(100, 0), 160, 90, 160, 90)).toBe(Infinity);
  });
});
