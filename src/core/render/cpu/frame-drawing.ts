import { apply, chain, compose, invert, isAffine, isFlat, lengthScale, scaling, translation, type Matrix } from '../../geometry/matrix';
import { fillPolygon, HARD_EDGE } from '../../geometry/polygon-raster';
import { effectNamed } from '../../effects/registry';
import { valuesAt } from '../../effects/effect';
import { createImage, type Image } from '../../image/pixels';
import { Arena } from '../../kernels/kernels';
import type { FramePlan, PlannedEffect, PlannedLayer } from '../../plan/frame-plan';
import type { Band, Sources } from '../compositor';
import { ridingMattes, type Drawing, type LayerPreparation } from '../prepare-layer';
import { Hidden, isOpaque, overColour, replaceIn } from './lay';
import { coveredPart, join, type MatteDrawing } from './matte-drawing';
import { allSeen, drawThrough, drawUnmoved, isEmpty, shownRegion, wholeOf, type Region } from './open-shutter';

/** Lays a layer that is ready over what lies behind it. */
type Laying = (out: Image) => void;

/** What compositors of one thread share, and how they draw on the way. */
export interface DrawingTools {
  readonly preparation: LayerPreparation;
  readonly mattes: MatteDrawing;
  readonly drawing: Drawing;
}

/** Film pixels, from the middle, to those of a plane of this size that shows all of the film. */
export const toPixels = (film: Size, { width, height }: Size): Matrix =>
  compose(scaling(width / film.width, height / film.height), translation(width / 2, height / 2));

type Size = Pick<Image, 'width' | 'height'>;

/**
 * One frame as it is drawn: layers up to one that changes what lies under it are a run. In a run they are made ready front to back, so that what an opaque
 * one hides is neither made nor drawn, and laid back to front.
 */
export class FrameDrawing {
  private readonly plan: FramePlan;
  private readonly sources: Sources;
  private readonly tools: DrawingTools;
  private readonly band: Band;
  private readonly out: Image;
  private readonly toOutput: Matrix;
  /** Memory of one run, and of all. */
  private readonly arena = new Arena();
  private readonly whileDrawn = new Arena();

  /** Only rows of `band` are drawn. */
  constructor(plan: FramePlan, sources: Sources, tools: DrawingTools, band: Band, { width, height }: Size) {
    this.plan = plan;
    this.sources = sources;
    this.tools = tools;
    this.band = band;
    this.out = { width, height, data: this.whileDrawn.pixels(width * height) };
    this.toOutput = toPixels(plan, this.out);
  }

  /** Draws into `out`, of the size that was said. */
  drawInto(out: Image): void {
    try {
      const unchanged = this.unchangedPicture();
      if (unchanged === null) this.draw();
      out.data.set((unchanged ?? this.out).data);
    } finally {
      this.arena.release();
      this.whileDrawn.release();
    }
  }

  /** The picture that is the frame as it comes; null where anything is to be drawn. */
  private unchangedPicture(): Image | null {
    const layer = this.plan.layers.find((l) => l.opacity > 0);
    if (layer?.content.kind !== 'picture' || layer.content.next !== null || layer.opacity !== 1) return null;
    if (this.plan.finish.length + layer.mattes.length + layer.effects.length + layer.samples.length > 0) return null;
    if (layer.blend !== 'normal' || !isAffine(layer.matrix) || isFlat(layer.matrix)) return null;
    const picture = this.sources.pictures(layer.content.picture);
    if (picture === null) return null;
    const map = chain(fromPixels(picture, layer.width, layer.height), layer.matrix, this.toOutput);
    return isUnmoved(invert(map), picture, this.out) && isOpaque(picture) ? picture : null;
  }

  private draw(): void {
    const { layers, finish, background } = this.plan;
    this.out.data.fill(0);
    let end = layers.length;
    while (end > 0) {
      let first = end;
      while (first > 0 && layers[first - 1]!.content.kind !== 'beneath') first--;
      this.drawRun(layers.slice(first, end));
      this.arena.release();
      if (first > 0) this.drawBeneath(layers[first - 1]!);
      this.arena.release();
      end = first - 1;
    }
    if (finish.length > 0) this.out.data.set(this.withEffects(finish, this.out).data);
    if (background !== null) overColour(this.out, background);
  }

  private drawRun(layers: readonly PlannedLayer[]): void {
    const hidden = new Hidden(this.out.width, this.out.height, this.band, this.arena);
    const ready: Laying[] = [];
    for (const [index, layer] of layers.entries()) {
      if (hidden.isAll) break;
      const laying = this.madeReady(layer, index, hidden);
      if (laying !== null) ready.push(laying);
    }
    for (const lay of ready.reverse()) lay(this.out);
  }

  /** Makes a layer ready and notes what it hides; null where nothing of it shows. */
  private madeReady(layer: PlannedLayer, index: number, hidden: Hidden): Laying | null {
    const opacity = Math.round(255 * layer.opacity);
    if (opacity === 0 || isFlat(layer.matrix)) return null;
    if (hidden.covers(this.reachOf(layer))) return null;
    const picture = this.tools.preparation.pictureOf(this.plan, layer, this.out, this.sources, this.tools.drawing);
    if (picture === null) return null;
    const isDirect =
      layer.samples.length === 0 &&
      layer.effects.length === 0 &&
      layer.blend === 'normal' &&
      (layer.edges === 'none' || layer.edges === 'mirrored') &&
      [layer.matrix, ...layer.mattes.map((m) => m.matrix)].every(isAffine);
    return isDirect ? this.direct(layer, picture, opacity, index, hidden) : this.surface(layer, picture, opacity, index, hidden);
  }

  private get whole(): Region {
    return { left: 0, top: this.band.top, right: this.out.width, bottom: this.band.bottom };
  }

  /** Where anything of a layer may show. */
  private reachOf(layer: PlannedLayer): Region {
    if (layer.effects.length > 0) return this.whole;
    const maps = layer.samples.length > 0 ? layer.samples : [layer.matrix];
    const through = maps.map((m) => chain(translation(-layer.width / 2, -layer.height / 2), m, this.toOutput));
    return shownRegion(through, wholeOf(layer), layer.edges, this.whole);
  }

  /** A layer that only lies somewhere: its picture is sampled as it is laid. */
  private direct(layer: PlannedLayer, original: Image, opacity: number, index: number, hidden: Hidden): Laying {
    const { width, height } = layer;
    const placed = compose(layer.matrix, this.toOutput);
    const picture =
      original.width === 1
        ? original
        : this.tools.preparation.sized(original, lengthScale(compose(fromPixels(original, width, height), placed)));
    const inverse = invert(compose(fromPixels(picture, width, height), placed));
    const isMirrored = layer.edges === 'mirrored';
    const coverage = this.coverageOf(layer, isMirrored || this.isCovered(placed, width, height), placed);
    const opaque = isOpaque(picture);
    if (opaque && opacity === 255) hidden.closeCovered(coverage, index);
    const map = isUnmoved(inverse, picture, this.out) ? null : inverse;
    return (out) => hidden.layPicture(picture, opaque, map, isMirrored, coverage, opacity, index, out);
  }

  /** What a layer's mattes and its own border leave of the output; null where that is all of it. */
  private coverageOf(layer: PlannedLayer, isWhole: boolean, placed: Matrix): Uint8Array | null {
    const { width, height } = this.out;
    const isMasked = layer.mattes.length > 0;
    if (isWhole && !isMasked) return null;
    const coverage = this.arena.bytes(width * height);
    if (isMasked) this.tools.mattes.draw(layer.mattes, this.toOutput, width, height, this.sources, coverage);
    if (isWhole) return coverage;
    const border = isMasked ? this.arena.bytes(width * height) : coverage;
    fillPolygon(quad(placed, layer.width, layer.height), HARD_EDGE, width, height, border);
    if (isMasked) join('intersect', border, coverage);
    return coverage;
  }

  /** A layer by way of a picture of its own: moved while the shutter is open, in perspective, with effects or another blend mode. */
  private surface(layer: PlannedLayer, original: Image, opacity: number, index: number, hidden: Hidden): Laying | null {
    const maps = (layer.samples.length > 0 ? layer.samples : [layer.matrix]).filter((m) => !isFlat(m));
    if (maps.length === 0) return null;
    const picture = this.sizedFor(layer, original, maps);
    const through = maps.map((m) => chain(fromPixels(picture, layer.width, layer.height), m, this.toOutput));
    const riding = ridingMattes(layer);
    const alpha = riding.length === 0 ? null : this.arena.bytes(picture.width * picture.height);
    if (alpha !== null) this.tools.drawing.inPlane(layer, riding, picture, this.sources, alpha);
    const part = alpha === null ? wholeOf(picture) : coveredPart(alpha, picture.width, picture.height);
    if (isEmpty(part)) return null;
    const hasEffects = layer.effects.length > 0;
    const region = hasEffects ? this.whole : shownRegion(through, part, layer.edges, this.whole);
    if (isEmpty(region)) return null;
    const [across, down] = [region.right - region.left, region.bottom - region.top];
    const drawn = { width: across, height: down, data: this.arena.pixels(across * down) };
    const isStill = through.length === 1 && isUnmoved(invert(through[0]!), picture, this.out);
    if (isStill && across === picture.width && down === picture.height) drawUnmoved(picture, alpha, drawn);
    else drawThrough(picture, alpha, part, layer.edges, through, region, hasEffects ? allSeen(this.out) : hidden, drawn);
    const made = hasEffects ? this.withEffects(layer.effects, drawn) : drawn;
    const standing = layer.mattes.filter((m) => !m.rides);
    const { width, height } = this.out;
    const coverage = standing.length === 0 ? null : this.arena.bytes(width * height);
    if (coverage !== null) this.tools.mattes.draw(standing, this.toOutput, width, height, this.sources, coverage);
    else if (opacity === 255 && layer.blend === 'normal') hidden.closeBySurface(made, region, index);
    return (out) => hidden.laySurface(made, region, coverage, opacity, layer.blend, index, out);
  }

  /** The picture at the size it is drawn through at: smaller where it shows much smaller, so that nothing is left out between two pixels. */
  private sizedFor(layer: PlannedLayer, picture: Image, maps: readonly Matrix[]): Image {
    if (picture.width === 1 || layer.content.kind === 'colour') {
      const width = Math.max(1, Math.min(layer.width, this.out.width));
      return stretched(picture, width, Math.max(1, Math.round((width * layer.height) / layer.width)));
    }
    const middle = { x: picture.width / 2, y: picture.height / 2 };
    const scales = maps.map((m) => lengthScale(chain(fromPixels(picture, layer.width, layer.height), m, this.toOutput), middle));
    return this.tools.preparation.sized(picture, Math.max(...scales));
  }

  /** A layer whose effects work on what lies under it. */
  private drawBeneath(layer: PlannedLayer): void {
    const opacity = Math.round(255 * layer.opacity);
    if (layer.effects.length === 0 || opacity === 0 || isFlat(layer.matrix)) return;
    const made = this.withEffects(layer.effects, this.out);
    const coverage = this.coverageOf(layer, true, this.toOutput);
    if (layer.blend === 'normal') replaceIn(made, coverage, opacity, this.band, this.out);
    else
      new Hidden(this.out.width, this.out.height, this.band, this.arena).laySurface(
        made,
        this.whole,
        coverage,
        opacity,
        layer.blend,
        0,
        this.out,
      );
  }

  /** `image` with effects on it. */
  private withEffects(effects: readonly PlannedEffect[], image: Image): Image {
    const { width, height } = image;
    const scale = this.out.width / this.plan.width;
    const fresh = (): Image => ({ width, height, data: this.arena.pixels(width * height) });
    let [from, to] = [image, fresh()];
    let spare: Image | null = null;
    for (const { kind, params } of effects) {
      effectNamed(kind).draw(from, to, valuesAt(effectNamed(kind), params, scale));
      const free: Image = from === image ? (spare ??= fresh()) : from;
      [from, to] = [to, free];
    }
    return from;
  }

  private isCovered(placed: Matrix, width: number, height: number): boolean {
    const back = invert(placed);
    const slack = 1e-6 * Math.max(width, height);
    for (const x of [0, this.out.width]) {
      for (const y of [0, this.out.height]) {
        const { x: px, y: py } = apply(back, { x, y });
        if (Math.abs(px) > width / 2 + slack || Math.abs(py) > height / 2 + slack) return false;
      }
    }
    return true;
  }
}

/** Pixels of a picture, from its top left corner, to those of its plane, from the middle. */
const fromPixels = (picture: Image, width: number, height: number): Matrix =>
  compose(translation(-picture.width / 2, -picture.height / 2), scaling(width / picture.width, height / picture.height));

/** A picture of one pixel, as large as is asked for. */
function stretched(picture: Image, width: number, height: number): Image {
  const out = createImage(width, height);
  new Uint32Array(out.data.buffer).fill(new Uint32Array(picture.data.slice(0, 4).buffer)[0]!);
  return out;
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
const isUnmoved = ([a, c, e, b, d, f, g, h]: Matrix, picture: Size, out: Size): boolean =>
  picture.width === out.width &&
  picture.height === out.height &&
  [a - 1, d - 1, b, c, g, h].every((v) => Math.abs(v) < 1e-9) &&
  Math.abs(e) < 1e-6 &&
  Math.abs(f) < 1e-6;
