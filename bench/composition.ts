import { createCanvas, ImageData as CanvasImageData } from '@napi-rs/canvas';
import { chain, IDENTITY, rotation, scaling, translation, type Matrix } from '../src/core/geometry/matrix';
import { createImage } from '../src/core/image/pixels';
import { channelAt, type ValueKey } from '../src/core/motion/curve';
import { EASE_SHAPES } from '../src/core/motion/eases';
import { moveKeys } from '../src/core/motion/key-edits';
import type { FramePlan, PlannedLayer } from '../src/core/plan/frame-plan';
import { plainPlanned } from '../src/core/plan/plan-shot';
import { solveZoom } from '../src/core/recipes/zoom-through/cover-solver';
import { measureHole } from '../src/core/recipes/hole-shape';
import { CpuCompositor } from '../src/core/render/cpu/compositor';
import { ribbonPath, valuePath, valueScale } from '../src/ui/lanes/lane-geometry';
import { medianMs, type Line } from './line';
import { busyPicture, roundOutline } from './synthetic';

const [WIDTH, HEIGHT] = [640, 360];
const SAMPLES = 8;

/** The maps of a zoom while the shutter is open. */
const zooming = (scale: number): Matrix[] =>
  Array.from({ length: SAMPLES }, (_, i) => chain(scaling(scale * (1 + 0.004 * i)), rotation(0.05 * i), translation(0.4 * i, 0)));

/** A frame as a zoom makes it: five layers, two of them moving while the shutter is open, one of those with a hole. */
function zoomFrame(): FramePlan {
  const layer = (rest: Partial<PlannedLayer>): PlannedLayer => ({
    ...plainPlanned(
      { kind: 'picture', picture: { mediumId: 'a', frame: 0, width: WIDTH, height: HEIGHT }, next: null },
      WIDTH,
      HEIGHT,
      IDENTITY,
    ),
    ...rest,
  });
  const matte = (side: 'inside' | 'outside', matrix: Matrix): PlannedLayer['mattes'][number] => ({
    ...{ kind: 'outline', points: roundOutline(0.3 * HEIGHT), side, combine: 'intersect', growPx: 0, featherPx: 2 },
    matrix,
    rides: true,
  });
  const [piece, around] = [zooming(1.6), zooming(1.6)];
  return {
    ...{ width: WIDTH, height: HEIGHT, finish: [], background: null, missing: [] },
    layers: [
      layer({ matrix: piece[0]!, samples: piece, opacity: 0.4, mattes: [matte('inside', piece[0]!)] }),
      layer({ matrix: around[0]!, samples: around, mattes: [matte('outside', around[0]!)] }),
      layer({ matrix: chain(scaling(0.6), rotation(3)), opacity: 0.8 }),
      layer({ matrix: scaling(0.9), opacity: 0.9 }),
      layer({}),
    ],
  };
}

async function frameLine(): Promise<Line> {
  const plan = zoomFrame();
  const picture = busyPicture(WIDTH, HEIGHT, 1);
  const compositor = new CpuCompositor(WIDTH, HEIGHT);
  const out = createImage(WIDTH, HEIGHT);
  const ours = await medianMs(15, () => compositor.draw(plan, () => picture, out));
  const canvas = createCanvas(WIDTH, HEIGHT);
  const context = canvas.getContext('2d');
  const source = createCanvas(WIDTH, HEIGHT);
  source.getContext('2d').putImageData(new CanvasImageData(new Uint8ClampedArray(picture.data), WIDTH, HEIGHT), 0, 0);
  const native = await medianMs(15, () => {
    context.setTransform(1, 0, 0, 1, 0, 0);
    for (const layer of [...plan.layers].reverse())
      for (const [a, b, c, d, e, f] of layer.samples.length > 0 ? layer.samples : [layer.matrix]) {
        context.globalAlpha = layer.opacity / Math.max(1, layer.samples.length);
        context.setTransform(a, d, b, e, c + WIDTH / 2, f + HEIGHT / 2);
        context.drawImage(source, -WIDTH / 2, -HEIGHT / 2);
      }
    context.getImageData(0, 0, WIDTH, HEIGHT);
  });
  return {
    what: `zoom frame, 5 layers, ${SAMPLES} samples on two, ${WIDTH}×${HEIGHT}, one thread`,
    value: `${ours.toFixed(1)} ms`,
    against: `native 2D library, without mattes and in display light, ${native.toFixed(1)} ms, ratio ${(ours / native).toFixed(2)}`,
  };
}

async function solverLine(): Promise<Line> {
  const frames = 48;
  const mask = new Uint8Array(WIDTH * HEIGHT);
  const holes = Array.from({ length: frames }, (_, f) => {
    const [x, y, r] = [240 + 2 * f, 160 + f / 2, 40 + f];
    for (let py = 0, i = 0; py < HEIGHT; py++)
      for (let px = 0; px < WIDTH; px++, i++) mask[i] = (px - x) ** 2 + (py - y) ** 2 < r * r ? 255 : 0;
    return mask.slice();
  });
  const measured = await medianMs(3, () => holes.map((m) => measureHole(m, WIDTH, HEIGHT, WIDTH, HEIGHT)));
  const shapes = holes.map((m) => measureHole(m, WIDTH, HEIGHT, WIDTH, HEIGHT));
  const settings = {
    room: 0.06,
    entering: 'grows',
    ease: EASE_SHAPES['soft both'],
    start: 0,
    startRate: 0,
    startPivot: null,
    mirrored: false,
    blurred: true,
  } as const;
  const solved = await medianMs(15, () => solveZoom(WIDTH, HEIGHT, shapes, settings));
  return {
    what: `zoom of ${frames} frames solved; its holes measured at ${WIDTH}×${HEIGHT}`,
    value: `${solved.toFixed(2)} ms`,
    against: `measuring ${measured.toFixed(0)} ms, once a matte`,
  };
}

/** Twenty lanes of 500 keys while half of the keys are dragged: what one frame of the page computes. */
async function lanesLine(): Promise<Line> {
  const lanes = Array.from({ length: 20 }, (_, lane): readonly ValueKey[] =>
    Array.from({ length: 500 }, (_, i) => ({ frame: 3 * i, value: 100 * Math.sin(i / 7 + lane), into: [1 / 3, 0], out: [1 / 3, 0] })),
  );
  const chosen = new Set(Array.from({ length: 250 }, (_, i) => 6 * i));
  let by = 0;
  const [from, to, cell] = [400, 426, 48];
  const drag = await medianMs(15, () => {
    by = (by + 1) % 2;
    for (const keys of lanes) {
      const moved = moveKeys(keys, chosen, (f) => f + by);
      const scale = valueScale(moved, 'steps');
      valuePath(moved, 'steps', scale, (t) => t * cell, from, to, cell);
      ribbonPath(moved, 'steps', (t) => t * cell, from, to, cell);
      channelAt(moved, from);
    }
  });
  return {
    what: '20 open lanes of 500 keys, half of them dragged: a frame’s curves',
    value: `${drag.toFixed(1)} ms`,
    against: '16.7 ms are a frame at 60 a second',
  };
}

export const benchComposition = async (): Promise<Line[]> => [await frameLine(), await solverLine(), await lanesLine()];
