import { cleanEdge } from '../matte/edge/clean-edge';
import { takeSpill } from '../matte/key/key';
import { shrinkImage, unmultiply } from '../image/image';
import { createImage, type Image } from '../image/pixels';
import { broughtTogether } from '../morph/feature-warp';
import { Melter, type MeltStepToMake } from '../morph/melt';
import { picturesOf } from '../plan/plan-needs';
import { pictureOf, type FramePlan, type MeltStep, type PictureRef, type PlannedLayer, type PlannedMatte } from '../plan/frame-plan';
import type { PictureSource, Sources } from './compositor';
import { fade } from './fade';
import { PreparedCoverage } from './prepared-coverage';

type Size = Pick<Image, 'width' | 'height'>;
type Shown = Exclude<PlannedLayer['content'], { kind: 'beneath' }>;

/** What is drawn on the way to a layer's picture, by whatever draws. */
export interface Drawing {
  /** Layers over a background, at the output's size; premultiplied where there is none. */
  layers(plan: FramePlan, sources: Sources): Image;
  /** Writes what mattes that ride with a layer leave of its plane, at a size of it, into `out`. */
  inPlane(layer: PlannedLayer, mattes: readonly PlannedMatte[], plane: Size, sources: Sources, out: Uint8Array): void;
}

/** Shown at less than this share of its size, a picture is averaged down first. */
const SHRINKS_BELOW = 0.6;

/**
 * What any compositor needs ready before it draws a layer: its picture between its neighbours, melted, without spill, with a clean edge, at a size near
 * the one it shows at; coverage with detail, tidied and softened. It keeps what was found, and serves compositors of all sizes of one thread.
 */
export class LayerPreparation {
  readonly coverage = new PreparedCoverage();
  private readonly melter = new Melter();
  private readonly shrunk = new WeakMap<ArrayBufferView, Image>();

  /** The picture a layer shows, at whatever size it comes; null where it could not be had. `size` is the output's. */
  pictureOf(plan: FramePlan, layer: PlannedLayer, size: Size, sources: Sources, drawing: Drawing): Image | null {
    if (layer.content.kind === 'beneath') return null;
    const shown = this.shownBy(plan, layer.content, size, sources, drawing);
    return shown === null ? null : withCleanEdge(layer, withoutSpill(layer, shown), sources, drawing);
  }

  private shownBy(plan: FramePlan, content: Shown, { width, height }: Size, sources: Sources, drawing: Drawing): Image | null {
    if (content.kind === 'colour') return plain(content.colour);
    if (content.kind === 'picture') return this.betweenFrames(content, sources.pictures);
    const { anchors, quality, warped, mixed } = content;
    const isCut = [...content.from, ...content.to].some((l) => l.mattes.length > 0);
    const needed = picturesOf({ layers: [content, ...anchors].flatMap((step) => [...step.from, ...step.to]) });
    if (needed.some((ref) => sources.pictures(ref) === null)) return null;
    const background = isCut ? null : plan.background;
    const drawn = (layers: readonly PlannedLayer[]): Image =>
      drawing.layers({ ...plan, layers, background, finish: [], missing: [] }, sources);
    // what lines say is done before motion is looked for: both pictures are brought to where their lines meet
    const step = ({ from, to, lines, warped: share }: MeltStep): MeltStepToMake => ({
      key: JSON.stringify([width, height, from, to, background, lines === null ? null : [lines, share]]),
      make: () => {
        const pictures = [drawn(from), drawn(to)] as const;
        return lines === null ? pictures : broughtTogether(pictures, lines, share, plan);
      },
    });
    const made = this.melter.melt([...anchors, content].map(step), quality, warped, mixed);
    // cut out, it comes with its colours multiplied
    if (isCut) unmultiply(made.data);
    return made;
  }

  private betweenFrames(content: Extract<Shown, { kind: 'picture' }>, pictures: PictureSource): Image | null {
    const first = pictures(content.picture);
    if (first === null || content.next === null) return first;
    const second = pictures(content.next.picture);
    if (second?.width !== first.width || second.height !== first.height) return first;
    const { share, by } = content.next;
    return by === 'flow' ? this.melter.follow(flowKey(content.picture, first), first, second, share) : fade(first, second, share);
  }

  /** A picture averaged down where it shows much smaller, so that nothing is left out between two pixels; `scale` is pixels shown a pixel of it. */
  sized(picture: Image, scale: number): Image {
    if (!(scale < SHRINKS_BELOW)) return picture;
    const width = Math.max(1, Math.ceil(picture.width * scale));
    const height = Math.max(1, Math.ceil(picture.height * scale));
    const known = this.shrunk.get(picture.data);
    if (known?.width === width && known.height === height) return known;
    const made = createImage(width, height);
    shrinkImage(picture, made);
    this.shrunk.set(picture.data, made);
    return made;
  }
}

const flowKey = ({ mediumId, frame }: PictureRef, { width, height }: Image): string => `${mediumId} ${frame} ${width} ${height}`;

/** One pixel of a colour. */
const plain = ([r, g, b]: readonly [number, number, number]): Image => ({ width: 1, height: 1, data: Uint8ClampedArray.of(r, g, b, 255) });

/** Mattes that move with a layer, and so are drawn in its plane. */
export const ridingMattes = ({ mattes }: PlannedLayer): PlannedMatte[] => mattes.filter((m) => m.rides);

/** The layer's picture with the old background taken out of the soft edge of its mattes, which are drawn at the picture's own size. */
function withCleanEdge(layer: PlannedLayer, picture: Image, sources: Sources, drawing: Drawing): Image {
  const riding = ridingMattes(layer);
  if (layer.cleanEdge === 0 || riding.length === 0 || picture.width === 1) return picture;
  const alpha = new Uint8Array(picture.width * picture.height);
  drawing.inPlane(layer, riding, picture, sources, alpha);
  const out = createImage(picture.width, picture.height);
  cleanEdge(picture, alpha, layer.cleanEdge, out);
  return out;
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
