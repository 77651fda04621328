import { describe, expect, it } from 'vitest';
import type { Crossing } from '../../track/crossing';
import type { Direction } from '../../track/turned-frame';
import { fillPolygon, HARD_EDGE } from '../../geometry/polygon-raster';
import { crossingOutline } from './crossing-outline';
import { flattenOutline, pointsAt, type Outline } from './outline';

const WIDTH = 640;
const HEIGHT = 360;

/** Share of the frame that an outline covers. */
function covered(outline: Outline, frame: number, width = WIDTH, height = HEIGHT): number {
  const out = new Uint8Array(width * height);
  const points = pointsAt(outline, frame).map((p) => ({ ...p, x: p.x + width / 2, y: p.y + height / 2 }));
  fillPolygon(flattenOutline(points), HARD_EDGE, width, height, out);
  return out.reduce((sum, v) => sum + v, 0) / (255 * out.length);
}

/** An edge that runs from one end to the other in 16 frames, leaning by 10 of 160 pixels, frame 5 to 19 of it seen. */
function crossing(direction: Direction, length: number, lines: number): Crossing {
  const back = direction === 'left' || direction === 'up';
  const edges = Array.from({ length: 15 }, (_, i) => {
    const way = (i + 0.5) / 15;
    return {
      frame: 5 + i,
      at: Float32Array.from({ length: lines }, (_, y) => length * (back ? 1 - way : way) + 10 * ((y + 0.5) / lines - 0.5)),
    };
  });
  return { direction, edges, covered: null };
}

describe('the hole behind a crossing thing', () => {
  it.each(['left', 'right', 'up', 'down'] as const)('opens from outside the frame and ends covering all of it, going %s', (direction) => {
    const upright = direction === 'left' || direction === 'right';
    const length = upright ? 160 : 90;
    const outline = crossingOutline(crossing(direction, length, upright ? 90 : 160), length, 100, WIDTH, HEIGHT);
    const [first, last] = [outline.keys[0]!.frame, outline.keys.at(-1)!.frame];
    expect(covered(outline, first)).toBe(0);
    expect(covered(outline, last)).toBe(1);
    for (let frame = first; frame < last; frame++)
      expect(covered(outline, frame + 1)).toBeGreaterThanOrEqual(covered(outline, frame) - 1e-6);
    expect(covered(outline, 112)).toBeCloseTo(0.5, 1.5);
  });

  it('needs no more keyframes than a steady edge has', () => {
    const outline = crossingOutline(crossing('left', 160, 90), 160, 0, WIDTH, HEIGHT);
    expect(outline.keys.length).toBeLessThanOrEqual(3);
  });

  it('keeps a change of speed', () => {
    const steady = crossing('left', 160, 90);
    const edges = steady.edges.map((e, i) => ({ ...e, at: e.at.map((v) => (i < 8 ? v : v - 3 * (i - 7))) }));
    const outline = crossingOutline({ ...steady, edges }, 160, 0, WIDTH, HEIGHT);
    expect(outline.keys.length).toBeGreaterThan(2);
    expect(covered(outline, 17)).toBeCloseTo(1 - (160 * (1 - 12.5 / 15) - 15) / 160, 1.3);
  });
});
