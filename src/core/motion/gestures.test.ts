import { describe, expect, it } from 'vitest';
import { apply, chain, rotation, scaling, translation } from '../geometry/matrix';
import { draggedPose } from './gestures';
import { poseAt, STILL } from './motion';
import { placementOf, seen } from './transform';

const still = poseAt(STILL, 0);
const carrier = chain(scaling(2), rotation(90), translation(30, 0));

describe('a drag on the stage', () => {
  it('moves what rides on a carrier so that it stays under the pointer', () => {
    const moved = { ...still, ...draggedPose(still, 'move', { x: 0, y: 0 }, { x: 10, y: 40 }, carrier, carrier) };
    expect([moved.x, moved.y].map((v) => Math.round(v * 1e6) / 1e6)).toEqual([20, -5]);
    expect(apply(carrier, moved)).toEqual({ x: expect.closeTo(40, 9) as number, y: expect.closeTo(40, 9) as number });
  });

  it('scales and turns about the pivot', () => {
    const id = scaling(1);
    expect(draggedPose({ ...still, pivotX: 10 }, 'scale', { x: 20, y: 0 }, { x: 40, y: 0 }, id, id).scale).toBeCloseTo(3, 9);
    expect(draggedPose(still, 'turn', { x: 10, y: 0 }, { x: 0, y: 10 }, id, id).turn).toBeCloseTo(90, 9);
    expect(draggedPose(still, 'turn', { x: -10, y: 1 }, { x: -10, y: -1 }, id, id).turn).toBeLessThan(20);
    expect(draggedPose(still, 'scale', { x: 0, y: 0 }, { x: 5, y: 5 }, id, id)).toEqual({});
  });

  it('moves the pivot without moving what is seen', () => {
    const pose = { ...still, scale: 2, turn: 30, x: 5, pivotX: 3 };
    const map = seen(placementOf(pose), 1000);
    const next = { ...pose, ...draggedPose(pose, 'pivot', { x: 0, y: 0 }, { x: 12, y: -9 }, scaling(1), map) };
    const after = seen(placementOf(next), 1000);
    for (const p of [
      { x: 0, y: 0 },
      { x: 50, y: -20 },
    ]) {
      expect(apply(after, p).x).toBeCloseTo(apply(map, p).x, 6);
      expect(apply(after, p).y).toBeCloseTo(apply(map, p).y, 6);
    }
    expect(next.pivotX).not.toBe(pose.pivotX);
  });
});
