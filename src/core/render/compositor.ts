import { compose, invert, lengthScale, scaling, translation, type Matrix } from '../geometry/matrix';
import type { Image } from '../image/image';
import { CoverageRaster } from '../matte/coverage';
import { flattenOutline, transformPoint } from '../matte/outline';
import type { FramePlan, PictureRef, PlannedLayer, PlannedMatte } from './plan';

/** Hands out decoded pictures; null where one could not be had. The size is the decoder's choice. */
export type PictureSource = (picture: PictureRef) => Image | null;

const HARD_EDGE = { growPx: 0, featherPx: 0 };

/** Two numbers of 8 bits multiplied as shares of 255, rounded. */
const times = (a: number, b: number): number => {
  const t = a * b + 128;
  return (t + (t >> 8)) >> 8;
};

/**
 * The reference compositor: executes frame plans at one output size. It keeps scratch memory, so one instance
 * serves a run of frames. Colours blend in display light.
 */
export class Compositor {
  readonly width: number;
  readonly height: number;
  private readonly raster: CoverageRaster;
  private readonly coverage: Uint8Array;
  private readonly matte: Uint8Array;

  /** @throws RangeError unless both sides are positive whole numbers. */
  constructor(width: number, height: number) {
    this.raster = new CoverageRaster(width, height);
    this.width = width;
    this.height = height;
    this.coverage = new Uint8Array(width * height);
    this.matte = new Uint8Array(width * height);
  }

  /**
   * Draws `plan` into `out`: colour over black, alpha how much of each pixel the layers cover together.
   * @throws RangeError when `out` has another size.
   */
  draw(plan: FramePlan, pictures: PictureSource, out: Image): void {
    if (out.width !== this.width || out.height !== this.height) throw new RangeError('Compositor.draw: out has another size');
    out.data.fill(0);
    for (let i = plan.layers.length - 1; i >= 0; i--) {
      const layer = plan.layers[i]!;
      const picture = pictures(layer.picture);
      if (picture !== null) this.drawLayer(plan, layer, picture, out);
    }
  }

  /** Writes what the mattes of `layer` leave of the whole plane, 0..255, into `out` (one byte a pixel). */
  drawMattes(plan: FramePlan, mattes: readonly PlannedMatte[], out: Uint8Array): void {
    out.fill(255);
    const toOutput = this.filmToOutput(plan);
    for (const matte of mattes) this.multiplyMatte(matte, toOutput, out);
  }

  private filmToOutput(plan: FramePlan): Matrix {
    return compose(scaling(this.width / plan.width, this.height / plan.height), translation(this.width / 2, this.height / 2));
  }

  private drawLayer(plan: FramePlan, layer: PlannedLayer, picture: Image, out: Image): void {
    const opacity = Math.round(255 * layer.opacity);
    if (opacity === 0) return;
    const toOutput = this.filmToOutput(plan);
    const placed = compose(layer.matrix, toOutput);
    if (Math.abs(placed.a * placed.d - placed.b * placed.c) < 1e-12) return; // scaled to nothing
    const { width, height } = layer.picture;
    const fromPixels = compose(
      compose(translation(-picture.width / 2, -picture.height / 2), scaling(width / picture.width, height / picture.height)),
      placed,
    );
    const inverse = invert(fromPixels);
    const full = layer.mattes.length === 0 && this.isCovered(placed, width, height);
    if (full && opacity === 255 && isUnmoved(inverse, picture, out) && isOpaque(picture)) {
      out.data.set(picture.data);
      return;
    }
    if (full) this.coverage.fill(255);
    else {
      this.raster.fill(quad(placed, width, height), HARD_EDGE, this.coverage);
      for (const matte of layer.mattes) this.multiplyMatte(matte, toOutput, this.coverage);
    }
    if (opacity < 255) for (let i = 0; i < this.coverage.length; i++) this.coverage[i] = times(this.coverage[i]!, opacity);
    if (isUnmoved(inverse, picture, out)) blendAligned(picture, this.coverage, out);
    else blendSampled(picture, inverse, this.coverage, out);
  }

  private isCovered(placed: Matrix, width: number, height: number): boolean {
    const back = invert(placed);
    const slack = 1e-6 * Math.max(width, height);
    for (const x of [0, this.width]) {
      for (const y of [0, this.height]) {
        const px = back.a * x + back.c * y + back.e;
        const py = back.b * x + back.d * y + back.f;
        if (Math.abs(px) > width / 2 + slack || Math.abs(py) > height / 2 + slack) return false;
      }
    }
    return true;
  }

  private multiplyMatte({ points, side, growPx, featherPx, matrix }: PlannedMatte, toOutput: Matrix, into: Uint8Array): void {
    const placed = compose(matrix, toOutput);
    const scale = lengthScale(placed);
    const polygon = flattenOutline(points.map((p) => transformPoint(p, placed)));
    this.raster.fill(polygon, { growPx: growPx * scale, featherPx: featherPx * scale }, this.matte);
    const { matte } = this;
    if (side === 'inside') for (let i = 0; i < into.length; i++) into[i] = times(into[i]!, matte[i]!);
    else for (let i = 0; i < into.length; i++) into[i] = times(into[i]!, 255 - matte[i]!);
  }
}

function quad({ a, b, c, d, e, f }: Matrix, width: number, height: number): Float64Array {
  const x = width / 2;
  const y = height / 2;
  return Float64Array.of(
    -a * x - c * y + e,
    -b * x - d * y + f,
    a * x - c * y + e,
    b * x - d * y + f,
    a * x + c * y + e,
    b * x + d * y + f,
    -a * x + c * y + e,
    -b * x + d * y + f,
  );
}

/** True where output pixels are picture pixels, so that nothing needs sampling. */
const isUnmoved = (inverse: Matrix, picture: Image, out: Image): boolean =>
  picture.width === out.width &&
  picture.height === out.height &&
  [inverse.a - 1, inverse.d - 1, inverse.b, inverse.c].every((v) => Math.abs(v) < 1e-9) &&
  Math.abs(inverse.e) < 1e-6 &&
  Math.abs(inverse.f) < 1e-6;

function isOpaque({ data, width, height }: Image): boolean {
  const pixels = new Uint32Array(data.buffer, data.byteOffset, width * height);
  let all = 0xff000000;
  for (let i = 0; i < pixels.length; i++) all &= pixels[i]!;
  return all >>> 24 === 255;
}

/** Lays `picture` over `out` pixel by pixel. Colours in `out` are premultiplied by its alpha. */
function blendAligned(picture: Image, coverage: Uint8Array, out: Image): void {
  const from = picture.data;
  const to = out.data;
  for (let i = 0, o = 0; i < coverage.length; i++, o += 4) {
    const cover = coverage[i]!;
    if (cover === 0) continue;
    const alpha = from[o + 3] === 255 ? cover : times(cover, from[o + 3]!);
    if (alpha === 255) {
      to[o] = from[o]!;
      to[o + 1] = from[o + 1]!;
      to[o + 2] = from[o + 2]!;
      to[o + 3] = 255;
    } else {
      const rest = 255 - alpha;
      // both products are rounded together, so that a colour over itself stays itself
      let t = from[o]! * alpha + to[o]! * rest + 128;
      to[o] = (t + (t >> 8)) >> 8;
      t = from[o + 1]! * alpha + to[o + 1]! * rest + 128;
      to[o + 1] = (t + (t >> 8)) >> 8;
      t = from[o + 2]! * alpha + to[o + 2]! * rest + 128;
      to[o + 2] = (t + (t >> 8)) >> 8;
      t = 255 * alpha + to[o + 3]! * rest + 128;
      to[o + 3] = (t + (t >> 8)) >> 8;
    }
  }
}

/** Lays `picture`, seen through `inverse` (output to picture pixels), over `out`; bilinear, the picture's edge pixels repeat. */
function blendSampled(picture: Image, inverse: Matrix, coverage: Uint8Array, out: Image): void {
  const { width, height } = picture;
  const from = new Uint32Array(picture.data.buffer, picture.data.byteOffset, width * height);
  const to = out.data;
  const lastX = width - 1;
  const lastY = height - 1;
  for (let y = 0, i = 0, o = 0; y < out.height; y++) {
    let px = inverse.a * 0.5 + inverse.c * (y + 0.5) + inverse.e - 0.5;
    let py = inverse.b * 0.5 + inverse.d * (y + 0.5) + inverse.f - 0.5;
    for (let x = 0; x < out.width; x++, i++, o += 4, px += inverse.a, py += inverse.b) {
      const cover = coverage[i]!;
      if (cover === 0) continue;
      const sx = px < 0 ? 0 : px > lastX ? lastX : px;
      const sy = py < 0 ? 0 : py > lastY ? lastY : py;
      const left = sx | 0;
      const top = sy | 0;
      const fx = ((sx - left) * 256 + 0.5) | 0;
      const fy = ((sy - top) * 256 + 0.5) | 0;
      const at = top * width + left;
      const right = left < lastX ? 1 : 0;
      const below = top < lastY ? width : 0;
      const p = from[at]!;
      const q = from[at + right]!;
      const r = from[at + below]!;
      const s = from[at + below + right]!;
      const gx = 256 - fx;
      const gy = 256 - fy;
      // weights of the four pixels sum to 65536
      const wp = gx * gy;
      const wq = fx * gy;
      const wr = gx * fy;
      const ws = fx * fy;
      const red = ((p & 255) * wp + (q & 255) * wq + (r & 255) * wr + (s & 255) * ws + 32768) >>> 16;
      const green = (((p >>> 8) & 255) * wp + ((q >>> 8) & 255) * wq + ((r >>> 8) & 255) * wr + ((s >>> 8) & 255) * ws + 32768) >>> 16;
      const blue = (((p >>> 16) & 255) * wp + ((q >>> 16) & 255) * wq + ((r >>> 16) & 255) * wr + ((s >>> 16) & 255) * ws + 32768) >>> 16;
      const opaque = (p & q & r & s) >>> 24 === 255;
      const own = opaque ? 255 : ((p >>> 24) * wp + (q >>> 24) * wq + (r >>> 24) * wr + (s >>> 24) * ws + 32768) >>> 16;
      const alpha = own === 255 ? cover : times(cover, own);
      if (alpha === 255) {
        to[o] = red;
        to[o + 1] = green;
        to[o + 2] = blue;
        to[o + 3] = 255;
      } else {
        const rest = 255 - alpha;
        let t = red * alpha + to[o]! * rest + 128;
        to[o] = (t + (t >> 8)) >> 8;
        t = green * alpha + to[o + 1]! * rest + 128;
        to[o + 1] = (t + (t >> 8)) >> 8;
        t = blue * alpha + to[o + 2]! * rest + 128;
        to[o + 2] = (t + (t >> 8)) >> 8;
        t = 255 * alpha + to[o + 3]! * rest + 128;
        to[o + 3] = (t + (t >> 8)) >> 8;
      }
    }
  }
}
