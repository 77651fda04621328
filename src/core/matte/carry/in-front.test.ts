import { describe, expect, it } from 'vitest';
import { createImage, createPlane, type Image, type Plane } from '../../image/pixels';
import { MatteCarrier } from './carry';
import { InFront } from './in-front';

const [WIDTH, HEIGHT] = [240, 160];
const RADIUS = 46;
/** Half the width of the bar. */
const BAR = 8;

const texture = (x: number, y: number, seed: number): number =>
  30 * Math.sin(x / 5 + Math.sin(y / 7 + seed)) + 24 * Math.cos(y / 4.3 + x / 11 + seed) + 14 * Math.sin((x + y) / 2.6 + 3 * seed);

interface Scene {
  readonly picture: Image;
  readonly alpha: Plane;
}

/** A disc that drifts to the right before a still ground; a bar comes over it the other way. */
function scene(frame: number, hasBar = true): Scene {
  const picture = createImage(WIDTH, HEIGHT);
  const alpha = createPlane(WIDTH, HEIGHT);
  const [cx, cy, bx] = [110 + frame, 80, 130 - 4 * frame];
  for (let y = 0, i = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++, i++) {
      const isBar = hasBar && Math.abs(x - bx) < BAR;
      const isIn = Math.hypot(x - cx, y - cy) < RADIUS;
      const level = isBar ? 60 + texture(x - bx + 900, y, 5) : isIn ? 150 + texture(x - cx + 500, y - cy, 1) : 110 + texture(x, y, 2);
      const [r, g, b] = isBar ? [1, 1, 0.9] : isIn ? [1.1, 0.9, 0.8] : [0.85, 1, 1.1];
      picture.data.set([level * r, level * g, level * b, 255], 4 * i);
      alpha.data[i] = isIn && !isBar ? 1 : 0;
    }
  return { picture, alpha };
}

describe('a narrow thing in front', () => {
  it('is a slit in the matte, and nothing where that is whole', () => {
    expect(InFront.of(scene(0).alpha)).not.toBeNull();
    expect(InFront.of(scene(0, false).alpha)).toBeNull();
  });

  it('stays out of what is carried, and what it gives free is taken in', () => {
    const carrier = new MatteCarrier(scene(0).picture, scene(0).alpha);
    for (let frame = 1; frame <= 6; frame++) {
      const { picture, alpha } = scene(frame);
      const { coverage } = carrier.step(picture);
      let [both, either, inBar] = [0, 0, 0];
      for (let i = 0; i < alpha.data.length; i++) {
        const [found, truth] = [coverage.data[i]! >= 128, alpha.data[i]! >= 0.5];
        if (found && truth) both++;
        if (found || truth) either++;
        if (found && Math.abs((i % WIDTH) - (130 - 4 * frame)) < BAR - 2) inBar++;
      }
      expect(both / either).toBeGreaterThan(0.93);
      expect(inBar).toBeLessThan(40);
    }
  });
});
