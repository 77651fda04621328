import { createCanvas, ImageData as CanvasImageData, type Canvas, type SKRSContext2D } from '@napi-rs/canvas';
import { valuesAt, type ParamValues } from '../src/core/effects/effect';
import { effectNamed } from '../src/core/effects/registry';

import { chain, IDENTITY, scaling, translation } from '../src/core/geometry/matrix';
import { createImage, type Image } from '../src/core/image/pixels';
import type { FramePlan } from '../src/core/plan/frame-plan';
import { plainPlanned } from '../src/core/plan/plan-shot';
import { CpuCompositor } from '../src/core/render/cpu/compositor';
import { medianMs, type Line } from './line';
import { busyPicture } from './synthetic';

const [WIDTH, HEIGHT] = [640, 360];
const RUNS = 7;

/** What the native 2D library draws for an effect of the same kind, on a canvas of the picture or of a disc cut out of it. */
type Native = (context: SKRSContext2D, source: Canvas) => void;

const filtered =
  (filter: string): Native =>
  (context, source) => {
    context.filter = filter;
    context.drawImage(source, 0, 0);
    context.filter = 'none';
  };

/** Effects on a whole picture, and those that work on the edge of something cut out. */
const CASES: readonly {
  readonly kind: string;
  readonly values: ParamValues;
  readonly cutOut: boolean;
  readonly like: string;
  readonly native: Native | null;
}[] = [
  {
    kind: 'shake',
    values: { strengthPx: 12 },
    cutOut: false,
    like: 'picture drawn turned and moved',
    native: (c, s) => {
      c.setTransform(0.9998, 0.02, -0.02, 0.9998, 5, -4);
      c.drawImage(s, 0, 0);
      c.setTransform(1, 0, 0, 1, 0, 0);
    },
  },
  {
    kind: 'directional blur',
    values: { lengthPx: 40, angle: 20 },
    cutOut: false,
    like: 'its round blur of 12 px',
    native: filtered('blur(12px)'),
  },
  { kind: 'glow', values: {}, cutOut: false, like: 'its blur of 20 px', native: filtered('blur(20px)') },
  { kind: 'exposure', values: { stops: 1 }, cutOut: false, like: 'its brightness filter', native: filtered('brightness(1.6)') },
  {
    kind: 'flash',
    values: { amount: 0.5 },
    cutOut: false,
    like: 'a rectangle over it',
    native: (c, s) => {
      c.drawImage(s, 0, 0);
      c.globalAlpha = 0.5;
      c.fillRect(0, 0, WIDTH, HEIGHT);
      c.globalAlpha = 1;
    },
  },
  { kind: 'drop shadow', values: {}, cutOut: true, like: 'its drop shadow', native: filtered('drop-shadow(8px 14px 8px rgba(0,0,0,0.6))') },
  { kind: 'outline', values: {}, cutOut: true, like: 'nothing of the kind', native: null },
  { kind: 'outline copies', values: {}, cutOut: true, like: 'nothing of the kind', native: null },
  { kind: 'rough edge', values: {}, cutOut: true, like: 'nothing of the kind', native: null },
  { kind: 'drawn sketch', values: {}, cutOut: false, like: 'nothing of the kind', native: null },
  {
    kind: 'crop',
    values: { left: 20, right: 20, turn: 15 },
    cutOut: false,
    like: 'a clip by a turned rectangle',
    native: (c, s) => {
      c.save();
      c.beginPath();
      c.rect(120, -200, 380, 800);
      c.clip();
      c.drawImage(s, 0, 0);
      c.restore();
    },
  },
  {
    kind: 'flip',
    values: {},
    cutOut: false,
    like: 'picture drawn mirrored',
    native: (c, s) => {
      c.setTransform(-1, 0, 0, 1, WIDTH, 0);
      c.drawImage(s, 0, 0);
      c.setTransform(1, 0, 0, 1, 0, 0);
    },
  },
];

/** A picture with only a disc of it left. */
function discOf(picture: Image): Image {
  const out = createImage(WIDTH, HEIGHT);
  for (let i = 0; i < WIDTH * HEIGHT; i++)
    if (Math.hypot((i % WIDTH) - WIDTH / 2, Math.floor(i / WIDTH) - HEIGHT / 2) < 130)
      out.data.set(picture.data.subarray(4 * i, 4 * i + 4), 4 * i);
  return out;
}

const canvasOf = (image: Image): Canvas => {
  const canvas = createCanvas(WIDTH, HEIGHT);
  canvas.getContext('2d').putImageData(new CanvasImageData(new Uint8ClampedArray(image.data), WIDTH, HEIGHT), 0, 0);
  return canvas;
};

/** Twelve layers, each in its place, with four effects among them, as a join at its fullest plays. */
function fullFrame(): FramePlan {
  const layer = (i: number): FramePlan['layers'][number] => ({
    ...plainPlanned(
      { kind: 'picture', picture: { mediumId: 'a', frame: 0, width: WIDTH, height: HEIGHT }, next: null },
      WIDTH,
      HEIGHT,
      i === 11 ? IDENTITY : chain(scaling(0.5), translation(40 * (i % 5) - 80, 30 * (i % 4) - 45)),
    ),
    effects: ([['shake'], ['exposure'], ['crop'], ['drop shadow']][i] ?? []).map((kind) => ({
      kind: kind,
      params: { strengthPx: 8, stops: 0.5, left: 20, frame: 3 },
    })),
  });
  return {
    width: WIDTH,
    height: HEIGHT,
    finish: [],
    background: null,
    missing: [],
    layers: Array.from({ length: 12 }, (_, i) => layer(i)),
  };
}

/** Every effect at 640×360, against the native 2D library's of the same kind, and a full join as it plays. */
export async function benchEffects(): Promise<Line[]> {
  const picture = busyPicture(WIDTH, HEIGHT, 1);
  const disc = discOf(picture);
  const out = createImage(WIDTH, HEIGHT);
  const canvas = createCanvas(WIDTH, HEIGHT);
  const context = canvas.getContext('2d');
  const sources = { picture: canvasOf(picture), disc: canvasOf(disc) };
  const lines: Line[] = [];
  for (const { kind, values, cutOut, like, native } of CASES) {
    const effect = effectNamed(kind);
    const at = valuesAt(effect, { ...values, frame: 3 }, 1);
    const src = cutOut ? disc : picture;
    const ours = await medianMs(RUNS, () => effect.draw(src, out, at));
    const perPixel = (ms: number): string => `${((1e6 * ms) / (WIDTH * HEIGHT)).toFixed(1)} ns`;
    if (native === null) {
      lines.push({ what: `${effect.name}, a pixel`, value: perPixel(ours), against: like });
      continue;
    }
    const theirs = await medianMs(RUNS, () => {
      context.clearRect(0, 0, WIDTH, HEIGHT);
      native(context, cutOut ? sources.disc : sources.picture);
      context.getImageData(0, 0, WIDTH, HEIGHT);
    });
    lines.push({
      what: `${effect.name}, a pixel`,
      value: perPixel(ours),
      against: `native 2D library, ${like}: ${perPixel(theirs)}, ratio ${(ours / theirs).toFixed(1)}`,
    });
  }
  const plan = fullFrame();
  const compositor = new CpuCompositor(WIDTH, HEIGHT);
  const frame = await medianMs(RUNS, () => compositor.draw(plan, () => picture, out));
  lines.push({
    what: '12 layers with 4 effects, 640×360, one thread',
    value: `${frame.toFixed(0)} ms`,
    against: '12 frames a second leave 83 ms',
  });
  return lines;
}
