import { compose, invert, lengthScale, scaling, translation, type Matrix } from '../../geometry/matrix';
import type { Combining } from '../../film/film';
import { createImage, type Image } from '../../image/pixels';
import { cleanEdge } from '../../matte/edge/clean-edge';
import { CoverageRaster } from '../../geometry/polygon-raster';
import { keyCoverage, takeSpill } from '../../matte/key/key';
import { flattenOutline, transformPoint } from '../../matte/outline/outline';
import { refineCoverage } from '../../matte/edge/refine-coverage';
import { placeCoverage, type StoredCoverage } from '../../matte/coverage/stored-coverage';
import { isUntidied, tidyCoverage, type Tidying } from '../../matte/coverage/tidy';
import { blend } from './blend';
import type { FramePlan, PictureRef, PlannedCoverage, PlannedKey, PlannedLayer, PlannedMatte } from '../../plan/plan-frame';

/** Hands out decoded pictures; null where one could not be had. The size is the decoder's choice. */
export type PictureSource = (picture: PictureRef) => Image | null;

/** Hands out stored coverage; null where a matte has none on that frame, which counts as covering nothing. */
export type CoverageSource = (matte: PlannedCoverage) => StoredCoverage | null;

const NO_COVERAGE: CoverageSource = () => null;

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
  /** Draws mattes at the size of a layer's picture. */
  private ofPicture: Compositor | null = null;

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
  draw(plan: FramePlan, pictures: PictureSource, out: Image, coverages: CoverageSource = NO_COVERAGE): void {
    if (out.width !== this.width || out.height !== this.height) throw new RangeError('Compositor.draw: out has another size');
    out.data.fill(0);
    for (let i = plan.layers.length - 1; i >= 0; i--) {
      const layer = plan.layers[i]!;
      const picture = pictures(layer.picture);
      if (picture === null) continue;
      const cured = this.withCleanEdge(layer, withoutSpill(layer, picture), pictures, coverages);
      this.drawLayer(plan, layer, cured, pictures, coverages, out);
    }
  }

  /** Writes what `mattes` together leave of the whole plane, 0..255, into `out` (one byte a pixel). */
  drawMattes(
    plan: FramePlan,
    mattes: readonly PlannedMatte[],
    pictures: PictureSource,
    out: Uint8Array,
    coverages: CoverageSource = NO_COVERAGE,
  ): void {
    const toOutput = this.filmToOutput(plan);
    const [first, ...others] = mattes;
    if (first === undefined) out.fill(255);
    else this.drawMatte(first, toOutput, pictures, coverages, out);
    for (const matte of others) {
      this.drawMatte(matte, toOutput, pictures, coverages, this.matte);
      join(matte.combine, this.matte, out);
    }
  }

  private filmToOutput(plan: FramePlan): Matrix {
    return compose(scaling(this.width / plan.width, this.height / plan.height), translation(this.width / 2, this.height / 2));
  }

  private drawLayer(
    plan: FramePlan,
    layer: PlannedLayer,
    picture: Image,
    pictures: PictureSource,
    coverages: CoverageSource,
    out: Image,
  ): void {
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
    const covered = this.isCovered(placed, width, height);
    const unmoved = isUnmoved(inverse, picture, out);
    if (covered && unmoved && layer.mattes.length === 0 && opacity === 255 && isOpaque(picture)) {
      out.data.set(picture.data);
      return;
    }
    const isWhole = covered || layer.edges === 'mirror';
    const isMasked = layer.mattes.length > 0;
    if (isWhole || isMasked) this.drawMattes(plan, layer.mattes, pictures, this.coverage, coverages);
    if (!isWhole) {
      this.raster.fill(quad(placed, width, height), HARD_EDGE, isMasked ? this.matte : this.coverage);
      if (isMasked) join('intersect', this.matte, this.coverage);
    }
    blend(picture, unmoved ? null : inverse, layer.edges === 'mirror', this.coverage, opacity, out);
  }

  /** The layer's picture with the old background taken out of the soft edge of its mattes, which are drawn at the picture's own size. */
  private withCleanEdge(layer: PlannedLayer, picture: Image, pictures: PictureSource, coverages: CoverageSource): Image {
    if (layer.cleanEdge === 0 || layer.mattes.length === 0) return picture;
    const { width, height } = picture;
    if (this.ofPicture?.width !== width || this.ofPicture.height !== height) this.ofPicture = new Compositor(width, height);
    const fromFilm = invert(layer.matrix);
    const mattes = layer.mattes.map((m) => ({ ...m, matrix: compose(m.matrix, fromFilm) }));
    const alpha = new Uint8Array(width * height);
    const plan: FramePlan = { width: layer.picture.width, height: layer.picture.height, layers: [], missing: [] };
    this.ofPicture.drawMattes(plan, mattes, pictures, alpha, coverages);
    const out = createImage(width, height);
    cleanEdge(picture, alpha, layer.cleanEdge, out);
    return out;
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

  /** Draws what stays of one matte, its side taken, into `matte`. */
  private drawMatte(planned: PlannedMatte, toOutput: Matrix, pictures: PictureSource, coverages: CoverageSource, matte: Uint8Array): void {
    const placed = compose(planned.matrix, toOutput);
    const scale = lengthScale(placed);
    if (planned.kind === 'outline') {
      const polygon = flattenOutline(planned.points.map((p) => transformPoint(p, placed)));
      this.raster.fill(polygon, { growPx: planned.growPx * scale, featherPx: planned.featherPx * scale }, matte);
    } else {
      const stored = planned.kind === 'key' ? keyed(planned, pictures(planned.picture)) : refined(planned, scale, pictures, coverages);
      const { width, height } = planned.kind === 'key' ? planned.picture : planned;
      const { growPx, featherPx } = planned;
      if (stored === null) matte.fill(0);
      else
        placeCoverage(tidied(stored, planned.tidying, width), { width, height, growPx, featherPx }, placed, this.width, this.height, matte);
    }
    if (planned.side === 'outside') for (let i = 0; i < matte.length; i++) matte[i] = 255 - matte[i]!;
  }
}

/** Drawn this much larger than it is stored, coverage takes its edge's detail from the picture. */
const WORTH_REFINING = 1.1;
const refinedOnes = new WeakMap<Uint8Array, StoredCoverage>();

/** The matte's coverage; with the picture's own detail along the edge where it is drawn larger than stored. */
function refined(planned: PlannedCoverage, scale: number, pictures: PictureSource, coverages: CoverageSource): StoredCoverage | null {
  const stored = coverages(planned);
  if (stored === null || scale * planned.width < WORTH_REFINING * stored.width) return stored;
  const picture = pictures(planned.picture);
  if (picture === null) return stored;
  const known = refinedOnes.get(stored.data);
  if (known?.width === picture.width && known.height === picture.height) return known;
  const made = refineCoverage(stored, picture);
  refinedOnes.set(stored.data, made);
  return made;
}

function keyed({ key }: PlannedKey, picture: Image | null): StoredCoverage | null {
  if (picture === null) return null;
  const data = new Uint8Array(picture.width * picture.height);
  keyCoverage(picture, key, data);
  return { width: picture.width, height: picture.height, data };
}

/** What was tidied last of each coverage that is still held; the stage draws the same ones over and over. */
const tidyOnes = new WeakMap<Uint8Array, { readonly how: string; readonly made: StoredCoverage }>();

function tidied(stored: StoredCoverage, tidying: Tidying, mediumWidth: number): StoredCoverage {
  if (isUntidied(tidying)) return stored;
  const how = JSON.stringify(tidying);
  const known = tidyOnes.get(stored.data);
  if (known?.how === how) return known.made;
  const scale = stored.width / mediumWidth;
  const made = tidyCoverage(stored, {
    smoothPx: tidying.smoothPx * scale,
    holesPx: tidying.holesPx * scale,
    specksPx: tidying.specksPx * scale,
  });
  tidyOnes.set(stored.data, { how, made });
  return made;
}

/** The layer's picture without the cast of the colour keys that look at it. */
function withoutSpill(layer: PlannedLayer, picture: Image): Image {
  let cured = picture;
  for (const matte of layer.mattes) {
    if (matte.kind !== 'key' || matte.key.kind !== 'colour' || matte.key.spill === 0) continue;
    if (matte.picture.mediumId !== layer.picture.mediumId || matte.picture.frame !== layer.picture.frame) continue;
    const out = createImage(picture.width, picture.height);
    takeSpill(cured, matte.key, out);
    cured = out;
  }
  return cured;
}

/** Joins `matte` to what `into` covers already. */
function join(how: Combining, matte: Uint8Array, into: Uint8Array): void {
  if (how === 'intersect') for (let i = 0; i < into.length; i++) into[i] = times(into[i]!, matte[i]!);
  else if (how === 'subtract') for (let i = 0; i < into.length; i++) into[i] = times(into[i]!, 255 - matte[i]!);
  else for (let i = 0; i < into.length; i++) into[i] = 255 - times(255 - into[i]!, 255 - matte[i]!);
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
