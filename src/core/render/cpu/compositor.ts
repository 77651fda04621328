import { apply, chain, compose, invert, isAffine, isFlat, lengthScale, scaling, translation, type Matrix } from '../../geometry/matrix';
import type { Combining } from '../../film/composition';
import { effectNamed } from '../../effects/registry';
import { valuesAt } from '../../effects/effect';
import { createImage, type Image } from '../../image/pixels';
import { shrinkImage, unmultiply } from '../../image/image';
import { cleanEdge } from '../../matte/edge/clean-edge';
import { CoverageRaster } from '../../geometry/polygon-raster';
import { keyCoverage, takeSpill } from '../../matte/key/key';
import { flattenOutline, transformPoint } from '../../matte/outline/outline';
import { refineCoverage } from '../../matte/edge/refine-coverage';
import { placeCoverage, type StoredCoverage } from '../../matte/coverage/stored-coverage';
import { isUntidied, tidyCoverage, type Tidying } from '../../matte/coverage/tidy';
import { broughtTogether } from '../../morph/feature-warp';
import { Melter, type MeltStepToMake } from '../../morph/melt';
import { picturesOf } from '../../plan/plan-needs';
import { blend } from './blend';
import { between, layOver, overColour } from './modes';
import { drawThrough } from './open-shutter';
import {
  pictureOf,
  type FramePlan,
  type MeltStep,
  type PictureRef,
  type PlannedCoverage,
  type PlannedEffect,
  type PlannedKey,
  type PlannedLayer,
  type PlannedMatte,
} from '../../plan/frame-plan';

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

/** Where a drawing gets its pictures and its coverage. */
interface Sources {
  readonly pictures: PictureSource;
  readonly coverages: CoverageSource;
}

/**
 * The reference compositor: executes frame plans at one output size. It keeps scratch memory, so one instance
 * serves a run of frames. Colours blend in display light; what moves while the shutter is open adds up in linear light.
 */
export class Compositor {
  readonly width: number;
  readonly height: number;
  private readonly raster: CoverageRaster;
  private readonly coverage: Uint8Array;
  private readonly matte: Uint8Array;
  /** Draws mattes in the plane of a layer. */
  private ofPlane: Compositor | null = null;
  /** Draws the two pictures that are melted. */
  private ofMelt: Compositor | null = null;
  private surface: Image | null = null;
  private spare: Image | null = null;

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
    const sources = { pictures, coverages };
    out.data.fill(0);
    for (let i = plan.layers.length - 1; i >= 0; i--) this.drawLayer(plan, plan.layers[i]!, sources, out);
    if (plan.finish.length > 0) out.data.set(this.withEffects(plan, plan.finish, out).data);
    if (plan.background !== null) overColour(out, plan.background);
  }

  private drawLayer(plan: FramePlan, layer: PlannedLayer, sources: Sources, out: Image): void {
    const opacity = Math.round(255 * layer.opacity);
    if (opacity === 0 || isFlat(layer.matrix)) return;
    const { content } = layer;
    if (content.kind === 'beneath') return this.drawBeneath(plan, layer, opacity, sources, out);
    const shown = this.shownBy(plan, content, sources);
    if (shown === null) return;
    const cured = this.withCleanEdge(layer, withoutSpill(layer, shown), sources);
    const isDirect =
      layer.samples.length === 0 &&
      layer.effects.length === 0 &&
      layer.blend === 'normal' &&
      (layer.edges === 'none' || layer.edges === 'mirrored') &&
      [layer.matrix, ...layer.mattes.map((m) => m.matrix)].every(isAffine);
    if (isDirect) this.drawDirectly(plan, layer, cured, opacity, sources, out);
    else this.drawSurface(plan, layer, cured, opacity, sources, out);
  }

  /** The picture a layer shows, at whatever size it comes; null where it could not be had. */
  private shownBy(plan: FramePlan, content: Exclude<PlannedLayer['content'], { kind: 'beneath' }>, sources: Sources): Image | null {
    if (content.kind === 'colour') return plain(content.colour);
    if (content.kind === 'picture') return shownPicture(content, sources.pictures);
    const { anchors, quality, warped, mixed } = content;
    const isCut = [...content.from, ...content.to].some((l) => l.mattes.length > 0);
    const needed = picturesOf({ layers: [content, ...anchors].flatMap((step) => [...step.from, ...step.to]) });
    if (needed.some((ref) => sources.pictures(ref) === null)) return null;
    const background = isCut ? null : plan.background;
    const drawn = (layers: readonly PlannedLayer[]): Image => {
      const out = createImage(this.width, this.height);
      this.ofMelt ??= new Compositor(this.width, this.height);
      this.ofMelt.draw({ ...plan, layers, background, finish: [], missing: [] }, sources.pictures, out, sources.coverages);
      return out;
    };
    // what lines say is done before motion is looked for: both pictures are brought to where their lines meet
    const step = ({ from, to, lines, warped: share }: MeltStep): MeltStepToMake => ({
      key: JSON.stringify([this.width, this.height, from, to, background, lines === null ? null : [lines, share]]),
      make: () => {
        const pictures = [drawn(from), drawn(to)] as const;
        return lines === null ? pictures : broughtTogether(pictures, lines, share, plan);
      },
    });
    const made = melter.melt([...anchors, content].map(step), quality, warped, mixed);
    // cut out, it comes with its colours multiplied
    if (isCut) unmultiply(made.data);
    return made;
  }

  /** A layer whose effects work on what lies under it. */
  private drawBeneath(plan: FramePlan, layer: PlannedLayer, opacity: number, sources: Sources, out: Image): void {
    if (layer.effects.length === 0) return;
    const made = this.withEffects(plan, layer.effects, out);
    this.drawMattes(plan, layer.mattes, sources.pictures, this.coverage, sources.coverages);
    if (layer.blend === 'normal') replaceIn(made, this.coverage, opacity, out);
    else layOver(made, this.coverage, opacity, layer.blend, out);
  }

  /** A layer by way of a picture of its own: moved while the shutter is open, in perspective, with effects or another blend mode. */
  private drawSurface(plan: FramePlan, layer: PlannedLayer, picture: Image, opacity: number, sources: Sources, out: Image): void {
    const toOutput = this.filmToOutput(plan);
    const maps = layer.samples.length > 0 ? layer.samples : [layer.matrix];
    const baked = this.sizedFor(layer, picture, maps, toOutput);
    const riding = layer.mattes.filter((m) => m.rides);
    const alpha = this.mattesInPlane(layer, riding, baked.width, baked.height, sources);
    const surface = (this.surface ??= createImage(this.width, this.height));
    const through = maps.filter((m) => !isFlat(m)).map((m) => chain(fromPixels(baked, layer.width, layer.height), m, toOutput));
    if (through.length === 0) return;
    drawThrough(baked, alpha, layer.edges, through, surface);
    const made = layer.effects.length === 0 ? surface : this.withEffects(plan, layer.effects, surface);
    const standing = layer.mattes.filter((m) => !m.rides);
    if (standing.length > 0) this.drawMattes(plan, standing, sources.pictures, this.coverage, sources.coverages);
    layOver(made, standing.length > 0 ? this.coverage : null, opacity, layer.blend, out);
  }

  /** The picture at the size it is drawn through at: smaller where it shows much smaller, so that nothing is left out between two pixels. */
  private sizedFor(layer: PlannedLayer, picture: Image, maps: readonly Matrix[], toOutput: Matrix): Image {
    const scale = Math.max(
      ...maps.map((m) => lengthScale(chain(fromPixels(picture, layer.width, layer.height), m, toOutput), middleOf(picture))),
    );
    if (picture.width === 1 || layer.content.kind === 'colour') {
      const width = Math.max(1, Math.min(layer.width, this.width));
      return stretched(picture, width, Math.max(1, Math.round((width * layer.height) / layer.width)));
    }
    return shrunkFor(picture, scale);
  }

  /** What mattes that ride with a layer leave of its plane, at a size of it. */
  private mattesInPlane(layer: PlannedLayer, mattes: readonly PlannedMatte[], width: number, height: number, sources: Sources): Uint8Array {
    const alpha = new Uint8Array(width * height);
    if (mattes.length === 0) return alpha.fill(255);
    if (this.ofPlane?.width !== width || this.ofPlane.height !== height) this.ofPlane = new Compositor(width, height);
    const fromFilm = invert(layer.matrix);
    const inPlane = mattes.map((m) => ({ ...m, matrix: compose(m.matrix, fromFilm) }));
    const plan: FramePlan = { width: layer.width, height: layer.height, layers: [], finish: [], background: null, missing: [] };
    this.ofPlane.drawMattes(plan, inPlane, sources.pictures, alpha, sources.coverages);
    return alpha;
  }

  /** `image` with effects on it, in memory that the next drawing uses again. */
  private withEffects(plan: FramePlan, effects: readonly PlannedEffect[], image: Image): Image {
    const scale = this.width / plan.width;
    let [from, to] = [image, (this.spare ??= createImage(this.width, this.height))];
    let other: Image | null = null;
    for (const { kind, params } of effects) {
      effectNamed(kind).draw(from, to, valuesAt(effectNamed(kind), params, scale));
      const free: Image = from === image ? (other ??= createImage(this.width, this.height)) : from;
      [from, to] = [to, free];
    }
    return from;
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

  private drawDirectly(plan: FramePlan, layer: PlannedLayer, original: Image, opacity: number, sources: Sources, out: Image): void {
    const toOutput = this.filmToOutput(plan);
    const placed = compose(layer.matrix, toOutput);
    const { width, height } = layer;
    const picture =
      original.width === 1 ? original : shrunkFor(original, lengthScale(compose(fromPixels(original, width, height), placed)));
    const inverse = invert(compose(fromPixels(picture, width, height), placed));
    const covered = this.isCovered(placed, width, height);
    const unmoved = isUnmoved(inverse, picture, out);
    if (covered && unmoved && layer.mattes.length === 0 && opacity === 255 && isOpaque(picture)) {
      out.data.set(picture.data);
      return;
    }
    const isWhole = covered || layer.edges === 'mirrored';
    const isMasked = layer.mattes.length > 0;
    if (isWhole || isMasked) this.drawMattes(plan, layer.mattes, sources.pictures, this.coverage, sources.coverages);
    if (!isWhole) {
      this.raster.fill(quad(placed, width, height), HARD_EDGE, isMasked ? this.matte : this.coverage);
      if (isMasked) join('intersect', this.matte, this.coverage);
    }
    blend(picture, unmoved ? null : inverse, layer.edges === 'mirrored', this.coverage, opacity, out);
  }

  /** The layer's picture with the old background taken out of the soft edge of its mattes, which are drawn at the picture's own size. */
  private withCleanEdge(layer: PlannedLayer, picture: Image, sources: Sources): Image {
    const riding = layer.mattes.filter((m) => m.rides);
    if (layer.cleanEdge === 0 || riding.length === 0 || picture.width === 1) return picture;
    const alpha = this.mattesInPlane(layer, riding, picture.width, picture.height, sources);
    const out = createImage(picture.width, picture.height);
    cleanEdge(picture, alpha, layer.cleanEdge, out);
    return out;
  }

  private isCovered(placed: Matrix, width: number, height: number): boolean {
    const back = invert(placed);
    const slack = 1e-6 * Math.max(width, height);
    for (const x of [0, this.width]) {
      for (const y of [0, this.height]) {
        const { x: px, y: py } = apply(back, { x, y });
        if (Math.abs(px) > width / 2 + slack || Math.abs(py) > height / 2 + slack) return false;
      }
    }
    return true;
  }

  /** Draws what stays of one matte, its side taken, into `matte`. */
  private drawMatte(planned: PlannedMatte, toOutput: Matrix, pictures: PictureSource, coverages: CoverageSource, matte: Uint8Array): void {
    const placed = compose(planned.matrix, toOutput);
    if (isAffine(placed)) this.drawFlatMatte(planned, scaled(placed, 1 / placed[8]), pictures, coverages, matte);
    else this.drawTurnedMatte(planned, placed, pictures, coverages, matte);
    if (planned.side === 'outside') for (let i = 0; i < matte.length; i++) matte[i] = 255 - matte[i]!;
  }

  private drawFlatMatte(
    planned: PlannedMatte,
    placed: Matrix,
    pictures: PictureSource,
    coverages: CoverageSource,
    matte: Uint8Array,
  ): void {
    const scale = lengthScale(placed);
    if (planned.kind === 'outline') {
      const polygon = flattenOutline(planned.points.map((p) => transformPoint(p, placed)));
      this.raster.fill(polygon, { growPx: planned.growPx * scale, featherPx: planned.featherPx * scale }, matte);
      return;
    }
    const stored = planned.kind === 'key' ? keyed(planned, pictures(planned.picture)) : refined(planned, scale, pictures, coverages);
    const { width, height } = planned.kind === 'key' ? planned.picture : planned;
    const { growPx, featherPx } = planned;
    if (stored === null) matte.fill(0);
    else
      placeCoverage(tidied(stored, planned.tidying, width), { width, height, growPx, featherPx }, placed, this.width, this.height, matte);
  }

  /** A matte that is turned in space: drawn flat with its edge, at the size of the output, and seen through its map. */
  private drawTurnedMatte(
    planned: PlannedMatte,
    placed: Matrix,
    pictures: PictureSource,
    coverages: CoverageSource,
    matte: Uint8Array,
  ): void {
    const { width, height } = this;
    const flat = (this.ofPlane =
      this.ofPlane?.width === width && this.ofPlane.height === height ? this.ofPlane : new Compositor(width, height));
    const toFlat = chain(scaling(0.5), translation(width / 2, height / 2));
    const alpha = new Uint8Array(width * height);
    flat.drawFlatMatte(planned, toFlat, pictures, coverages, alpha);
    const seen = createImage(width, height);
    drawThrough(
      { width, height, data: new Uint8ClampedArray(4 * width * height).fill(255) },
      alpha,
      'none',
      [compose(invert(toFlat), placed)],
      seen,
    );
    for (let i = 0; i < matte.length; i++) matte[i] = seen.data[4 * i + 3]!;
  }
}

const scaled = (m: Matrix, by: number): Matrix => m.map((v) => v * by) as unknown as Matrix;

/** Pixels of a picture, from its top left corner, to those of its plane, from the middle. */
const fromPixels = (picture: Image, width: number, height: number): Matrix =>
  compose(translation(-picture.width / 2, -picture.height / 2), scaling(width / picture.width, height / picture.height));

const middleOf = ({ width, height }: Image): { x: number; y: number } => ({ x: width / 2, y: height / 2 });

const plain = ([r, g, b]: readonly [number, number, number]): Image => ({ width: 1, height: 1, data: Uint8ClampedArray.of(r, g, b, 255) });

/** A picture of one pixel, as large as is asked for. */
function stretched(picture: Image, width: number, height: number): Image {
  const out = createImage(width, height);
  new Uint32Array(out.data.buffer).fill(new Uint32Array(picture.data.slice(0, 4).buffer)[0]!);
  return out;
}

/** One for all compositors of a thread: what lies between two pictures is the same for each. */
const melter = new Melter();

const flowKey = ({ mediumId, frame }: PictureRef, { width, height }: Image): string => `${mediumId} ${frame} ${width} ${height}`;

function shownPicture(content: Extract<PlannedLayer['content'], { kind: 'picture' }>, pictures: PictureSource): Image | null {
  const first = pictures(content.picture);
  if (first === null || content.next === null) return first;
  const second = pictures(content.next.picture);
  if (second?.width !== first.width || second.height !== first.height) return first;
  const { share, by } = content.next;
  if (by === 'flow') return melter.follow(flowKey(content.picture, first), first, second, share);
  const out = createImage(first.width, first.height);
  between(first, second, share, out);
  return out;
}

/** Shown at less than this share of its size, a picture is averaged down first. */
const SHRINKS_BELOW = 0.6;
const shrunkOnes = new WeakMap<ArrayBufferView, Image>();

function shrunkFor(picture: Image, scale: number): Image {
  if (!(scale < SHRINKS_BELOW)) return picture;
  const width = Math.max(1, Math.ceil(picture.width * scale));
  const height = Math.max(1, Math.ceil(picture.height * scale));
  const known = shrunkOnes.get(picture.data);
  if (known?.width === width && known.height === height) return known;
  const made = createImage(width, height);
  shrinkImage(picture, made);
  shrunkOnes.set(picture.data, made);
  return made;
}

/** Puts `made` in the place of what `out` holds, as far as `coverage` and `opacity` say. */
function replaceIn(made: Image, coverage: Uint8Array, opacity: number, out: Image): void {
  const [from, to] = [made.data, out.data];
  for (let i = 0, p = 0; i < to.length; i += 4, p++) {
    const share = (coverage[p]! * opacity) / 65025;
    for (let c = i; c < i + 4; c++) to[c] = to[c]! + (from[c]! - to[c]!) * share;
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
  const shown = pictureOf(layer);
  if (shown === null) return picture;
  let cured = picture;
  for (const matte of layer.mattes) {
    if (matte.kind !== 'key' || matte.key.kind !== 'colour' || matte.key.spill === 0) continue;
    if (matte.picture.mediumId !== shown.mediumId || matte.picture.frame !== shown.frame) continue;
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

function quad([a, c, e, b, d, f]: Matrix, width: number, height: number): Float64Array {
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
const isUnmoved = ([a, c, e, b, d, f]: Matrix, picture: Image, out: Image): boolean =>
  picture.width === out.width &&
  picture.height === out.height &&
  [a - 1, d - 1, b, c].every((v) => Math.abs(v) < 1e-9) &&
  Math.abs(e) < 1e-6 &&
  Math.abs(f) < 1e-6;

function isOpaque({ data, width, height }: Image): boolean {
  const pixels = new Uint32Array(data.buffer, data.byteOffset, width * height);
  let all = 0xff000000;
  for (let i = 0; i < pixels.length; i++) all &= pixels[i]!;
  return all >>> 24 === 255;
}
