import { IDENTITY, compose, rotation, scaling, translation } from '../src/core/geometry/matrix';
import { createImage, type Image } from '../src/core/image/pixels';
import type { OutlinePoint } from '../src/core/matte/outline/outline';
import type { FramePlan, PlannedLayer } from '../src/core/plan/frame-plan';
import { plainPlanned } from '../src/core/plan/plan-shot';

/** A picture with detail everywhere, so that no kernel meets an easy case. */
export function busyPicture(width: number, height: number, seed: number): Image {
  const image = createImage(width, height);
  let state = seed;
  for (let i = 0; i < image.data.length; i += 4) {
    state = (Math.imul(state, 1664525) + 1013904223) | 0;
    image.data[i] = state >>> 24;
    image.data[i + 1] = state >>> 16;
    image.data[i + 2] = state >>> 8;
    image.data[i + 3] = 255;
  }
  return image;
}

/** A round outline of eight curves, in pixels from the centre. */
export function roundOutline(radius: number): OutlinePoint[] {
  const k = 0.265216 * radius;
  return Array.from({ length: 8 }, (_, i) => {
    const [cos, sin] = [Math.cos((i * Math.PI) / 4), Math.sin((i * Math.PI) / 4)];
    return { x: radius * cos, y: radius * sin, inX: k * sin, inY: -k * cos, outX: -k * sin, outY: k * cos };
  });
}

/** Three layers: a whole one below, a masked one, a turned and see-through masked one in front. */
export function threeLayers(width: number, height: number): FramePlan {
  const layer = (mediumId: string, rest: Partial<PlannedLayer>): PlannedLayer => ({
    ...plainPlanned({ kind: 'picture', picture: { mediumId, frame: 0, width, height }, next: null }, width, height, IDENTITY),
    ...rest,
  });
  const matte = (radius: number, featherPx: number): PlannedLayer['mattes'][number] => ({
    kind: 'outline',
    points: roundOutline(radius),
    side: 'inside',
    combine: 'intersect',
    growPx: 0,
    featherPx,
    matrix: IDENTITY,
    rides: true,
  });
  return {
    width,
    height,
    layers: [
      layer('a', {
        matrix: compose(compose(scaling(1.2), rotation(7)), translation(40, -20)),
        opacity: 0.7,
        mattes: [matte(0.42 * height, 12)],
      }),
      layer('b', { mattes: [matte(0.7 * height, 0)] }),
      layer('c', {}),
    ],
    finish: [],
    background: null,
    missing: [],
  };
}
