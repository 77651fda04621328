import { createImage } from '../src/core/image/pixels';
import { fillPolygon, HARD_EDGE } from '../src/core/geometry/polygon-raster';
import { flattenOutline, transformPoint } from '../src/core/matte/outline/outline';
import { translation } from '../src/core/geometry/matrix';
import { CpuCompositor } from '../src/core/render/cpu/compositor';
import { createCanvas, ImageData as CanvasImageData, type SKRSContext2D } from '@napi-rs/canvas';
import { medianMs, type Line } from './line';
import { busyPicture, roundOutline, threeLayers } from './synthetic';

const [WIDTH, HEIGHT] = [1280, 720];

function tracePath(context: SKRSContext2D, radius: number): void {
  const points = roundOutline(radius);
  context.beginPath();
  context.moveTo(points[0]!.x, points[0]!.y);
  points.forEach((a, i) => {
    const b = points[(i + 1) % points.length]!;
    context.bezierCurveTo(a.x + a.outX, a.y + a.outY, b.x + b.inX, b.y + b.inY, b.x, b.y);
  });
  context.closePath();
}

/** One frame of three layers, against the same three drawn by a native 2D graphics library (without the feather, which it lacks). */
export async function benchCompositor(): Promise<Line[]> {
  const plan = threeLayers(WIDTH, HEIGHT);
  const pictures = { a: busyPicture(WIDTH, HEIGHT, 1), b: busyPicture(WIDTH, HEIGHT, 2), c: busyPicture(WIDTH, HEIGHT, 3) };
  const compositor = new CpuCompositor(WIDTH, HEIGHT);
  const out = createImage(WIDTH, HEIGHT);
  const ours = await medianMs(15, () => compositor.draw(plan, (ref) => pictures[ref.mediumId as 'a'], out));

  const canvas = createCanvas(WIDTH, HEIGHT);
  const context = canvas.getContext('2d');
  const sources = Object.values(pictures).map((p) => {
    const source = createCanvas(WIDTH, HEIGHT);
    source.getContext('2d').putImageData(new CanvasImageData(new Uint8ClampedArray(p.data), WIDTH, HEIGHT), 0, 0);
    return source;
  });
  const native = await medianMs(15, () => {
    context.setTransform(1, 0, 0, 1, 0, 0);
    context.globalAlpha = 1;
    context.drawImage(sources[2]!, 0, 0);
    context.save();
    context.translate(WIDTH / 2, HEIGHT / 2);
    tracePath(context, 0.7 * HEIGHT);
    context.clip();
    context.drawImage(sources[1]!, -WIDTH / 2, -HEIGHT / 2);
    context.restore();
    context.save();
    context.translate(WIDTH / 2, HEIGHT / 2);
    tracePath(context, 0.42 * HEIGHT);
    context.clip();
    context.translate(40, -20);
    context.rotate((7 * Math.PI) / 180);
    context.scale(1.2, 1.2);
    context.globalAlpha = 0.7;
    context.drawImage(sources[0]!, -WIDTH / 2, -HEIGHT / 2);
    context.restore();
    context.getImageData(0, 0, WIDTH, HEIGHT); // the pixels are what is wanted, here as there
  });

  const coverage = new Uint8Array(WIDTH * HEIGHT);
  const polygon = flattenOutline(roundOutline(0.42 * HEIGHT).map((p) => transformPoint(p, translation(WIDTH / 2, HEIGHT / 2))));
  const hard = await medianMs(15, () => fillPolygon(polygon, HARD_EDGE, WIDTH, HEIGHT, coverage));
  const soft = await medianMs(15, () => fillPolygon(polygon, { growPx: 4, featherPx: 24 }, WIDTH, HEIGHT, coverage));
  const nativeFill = await medianMs(15, () => {
    context.setTransform(1, 0, 0, 1, WIDTH / 2, HEIGHT / 2);
    context.clearRect(-WIDTH / 2, -HEIGHT / 2, WIDTH, HEIGHT);
    tracePath(context, 0.42 * HEIGHT);
    context.fill();
    context.getImageData(0, 0, WIDTH, HEIGHT);
  });

  // exact area of the outline by Green's theorem on its finest flattening
  const fine = flattenOutline(roundOutline(0.42 * HEIGHT), 1e-5);
  let area = 0;
  for (let i = 0; i < fine.length; i += 2)
    area += (fine[i]! * fine[(i + 3) % fine.length]! - fine[(i + 2) % fine.length]! * fine[i + 1]!) / 2;
  fillPolygon(polygon, HARD_EDGE, WIDTH, HEIGHT, coverage);
  const ourArea = coverage.reduce((sum, v) => sum + v / 255, 0);
  const theirs = context.getImageData(0, 0, WIDTH, HEIGHT).data;
  let theirArea = 0;
  for (let i = 3; i < theirs.length; i += 4) theirArea += theirs[i]! / 255;

  const perPixel = (ms: number): string => `${((ms * 1e6) / (3 * WIDTH * HEIGHT)).toFixed(1)} ns`;
  return [
    {
      what: 'frame of 3 layers, 1280×720, a pixel a layer',
      value: perPixel(ours),
      against: `native 2D library ${perPixel(native)}, ratio ${(ours / native).toFixed(2)}`,
    },
    {
      what: 'coverage of a round outline, hard edge',
      value: `${hard.toFixed(2)} ms`,
      against: `native 2D library ${nativeFill.toFixed(2)} ms, ratio ${(hard / nativeFill).toFixed(2)}`,
    },
    {
      what: 'coverage of a round outline, grown and feathered',
      value: `${soft.toFixed(2)} ms`,
      against: 'the hard edge takes ' + hard.toFixed(2) + ' ms',
    },
    {
      what: 'error of its area, pixels of ' + Math.round(area),
      value: Math.abs(ourArea - area).toFixed(2),
      against: `native 2D library ${Math.abs(theirArea - area).toFixed(2)}`,
    },
  ];
}
