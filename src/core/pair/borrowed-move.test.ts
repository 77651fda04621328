import { describe, expect, it } from 'vitest';
import { createImage, type Image } from '../image/pixels';
import { lumaOf } from '../image/plane';
import { easedKeys } from '../motion/eases';
import { channelAt } from '../motion/curve';
import {
  amountsOf,
  cameraStep,
  framesOf,
  isPlainMove,
  movedAlong,
  movedBy,
  moveOf,
  pathOfSteps,
  STANDING,
  withAmount,
} from './borrowed-move';
import { placed, type Placement } from './placement';

const SPAN = { first: 0, last: 24, ease: 'soft both' } as const;

describe('a movement by amounts', () => {
  it('takes the picture the other way, and tells its amounts again', () => {
    const move = moveOf({ pan: 200, tilt: -40, push: 1.5, turn: 3 }, SPAN);
    expect(channelAt(move.x, 24)).toBe(-200);
    expect(channelAt(move.y, 24)).toBe(40);
    expect(channelAt(move.turn, 24)).toBe(-3);
    expect(amountsOf(move)).toEqual({ pan: 200, tilt: -40, push: 1.5, turn: 3 });
    expect(framesOf(move)).toEqual({ first: 0, last: 24 });
    expect(isPlainMove(move)).toBe(true);
  });

  it('stands still without any', () => {
    const move = moveOf(STANDING, SPAN);
    expect(move).toEqual({ x: 0, y: 0, scale: 1, turn: 0 });
    expect(framesOf(move)).toBeNull();
  });

  it('changes one amount and keeps the curve', () => {
    const taken = {
      ...moveOf(STANDING, SPAN),
      x: easedKeys('straight', [0, 0], [8, -10], [24, -100]),
      scale: easedKeys('straight', [0, 1], [12, 2], [24, 4]),
    };
    expect(isPlainMove(taken)).toBe(false);
    expect(withAmount(taken, 'x', 50, SPAN).x).toMatchObject([{ value: 0 }, { value: -5 }, { value: -50 }]);
    const scale = withAmount(taken, 'scale', 2, SPAN).scale as readonly { readonly value: number }[];
    expect(scale[1]!.value).toBeCloseTo(Math.SQRT2, 9);
    expect(scale[2]!.value).toBeCloseTo(2, 9);
    expect(withAmount(taken, 'y', 30, SPAN).y).toMatchObject([
      { frame: 0, value: 0 },
      { frame: 24, value: -30 },
    ]);
  });
});

/** A picture of soft blobs of many sizes, as it looks under a placement. */
function scene(view: Placement): Image {
  const image = createImage(320, 180);
  const back = { ...view };
  for (let y = 0; y < 180; y++)
    for (let x = 0; x < 320; x++) {
      // where this pixel is on the scene
      const [px, py] = [x + 0.5 - 160 - back.dx, y + 0.5 - 90 - back.dy];
      const [c, s] = [Math.cos(back.turn) / back.scale, Math.sin(back.turn) / back.scale];
      const [u, v] = [c * px + s * py, -s * px + c * py];
      const wave = Math.sin(u / 7 + Math.sin(v / 11)) + Math.sin(v / 9 + Math.cos(u / 17)) + Math.sin((u + 2 * v) / 23);
      const level = 128 + 35 * wave;
      image.data.set([level, level, level, 255], 4 * (y * 320 + x));
    }
  return image;
}

describe('a movement taken from a shot', () => {
  it('is that of its camera', () => {
    const truth = Array.from({ length: 20 }, (_, i): Placement => ({
      scale: 1.01 ** i,
      turn: 0.004 * i,
      dx: -1.5 * i,
      dy: 0.4 * i,
      flip: false,
    }));
    const lumas = truth.map((view) => lumaOf(scene(view)));
    const path = pathOfSteps(lumas.slice(1).map((luma, i) => cameraStep(lumas[i]!, luma)));
    for (const at of [5, 12, 19]) {
      const [told, is] = [path[at]!, truth[at]!];
      for (const corner of [
        { x: -160, y: -90 },
        { x: 160, y: 90 },
      ]) {
        const [p, q] = [placed(told, corner), placed(is, corner)];
        expect(Math.hypot(p.x - q.x, p.y - q.y)).toBeLessThan(0.6);
      }
    }
    const move = movedAlong(path, 320, 1280, 10, 0);
    expect(channelAt(move.x, 29)).toBeCloseTo(4 * -1.5 * 19, -0.7);
    expect(channelAt(move.scale, 29)).toBeCloseTo(1.01 ** 19, 2);
    // as it stands on a frame of choice
    const later = movedAlong(path, 320, 1280, 10, 19);
    expect(channelAt(later.x, 29)).toBeCloseTo(0, 6);
    expect(channelAt(later.scale, 10)).toBeCloseTo(1.01 ** -19, 2);
  });
});

describe('a movement along a drawn way', () => {
  /** Three quarters of a circle: its ends alone would say another move. */
  const arc = Array.from({ length: 61 }, (_, i) => ({
    x: 120 - 120 * Math.cos((i / 60) * 1.5 * Math.PI),
    y: 120 * Math.sin((i / 60) * 1.5 * Math.PI),
  }));

  it('follows all of it, within two pixels or so', () => {
    const move = movedBy(moveOf({ ...STANDING, push: 1.2 }, SPAN), arc, { ...SPAN, ease: 'straight' });
    for (const frame of [0, 6, 12, 18, 24]) {
      const p = arc[Math.round((60 * frame) / 24)]!;
      const [x, y] = [channelAt(move.x, frame), channelAt(move.y, frame)];
      expect(Math.hypot(x + p.x, y + p.y)).toBeLessThan(14);
    }
    expect(channelAt(move.scale, 24)).toBeCloseTo(1.2, 6);
  });

  it('is two keys where it is straight', () => {
    const move = movedBy(
      moveOf(STANDING, SPAN),
      [
        { x: 0, y: 0 },
        { x: 50, y: 1 },
        { x: 100, y: 0 },
      ],
      SPAN,
    );
    expect(move.x).toHaveLength(2);
    expect(channelAt(move.x, 24)).toBe(-100);
    expect(channelAt(move.y, 24)).toBeCloseTo(0, 9);
  });
});
