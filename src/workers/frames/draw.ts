import { unmultiply } from '../../core/image/image';
import { createImage, type Image } from '../../core/image/pixels';
import { draftOf } from '../../core/plan/draft';
import type { FramePlan } from '../../core/plan/frame-plan';
import { picturesOf } from '../../core/plan/plan-needs';
import { plansOf } from '../../core/plan/plan-views';
import type { Band, Compositor, CoverageSource, PictureSource } from '../../core/render/compositor';
import type { FramesRequest } from './protocol';
import { isSmallEnough, type Sources } from './sources';

/** A compositor of a size, made once. */
export type Compositors = (width: number, height: number) => Compositor;

type DrawRequest = Extract<FramesRequest, { readonly kind: 'draw' }>;

/** Draws what is shown of a frame, as the stage or a small picture shows it: opaque but for a cut-out. */
export async function drawView(
  sources: Sources,
  compositorOf: Compositors,
  { drawing: asked, width, height, isSmall, isDraft, band }: DrawRequest,
): Promise<Image> {
  const drawing = isDraft ? draftOf(asked) : asked;
  const compositor = compositorOf(width, height);
  const plans = plansOf(drawing);
  const pictures = await sources.pictures(picturesOf(...plans), isSmall && isSmallEnough(width));
  const mattes = await sources.coverage(...plans);
  const out = createImage(width, height);
  if (drawing.kind === 'matte' || drawing.kind === 'edge')
    paintMatte(compositor, drawing.plan, pictures, mattes, drawing.kind === 'edge', out);
  else compositor.draw(drawing.plan, pictures, out, mattes, band);
  if (drawing.kind === 'difference') {
    const other = createImage(width, height);
    compositor.draw(drawing.other, pictures, other, mattes);
    for (let i = 0; i < out.data.length; i++) out.data[i] = Math.abs(out.data[i]! - other.data[i]!);
  }
  if (drawing.kind === 'cut-out') unmultiply(out.data);
  else for (let i = 3; i < out.data.length; i += 4) out.data[i] = 255;
  return band === undefined ? out : rowsOf(out, band);
}

const rowsOf = ({ width, data }: Image, { top, bottom }: Band): Image => ({
  width,
  height: bottom - top,
  data: data.subarray(4 * width * top, 4 * width * bottom),
});

/** White where the layer stays, or where it half does. Without any matte there is nothing to show but white. */
function paintMatte(
  compositor: Compositor,
  plan: FramePlan,
  pictures: PictureSource,
  mattes: CoverageSource,
  onlyEdge: boolean,
  out: Image,
): void {
  const coverage = new Uint8Array(out.width * out.height);
  compositor.drawMattes(plan, plan.layers[0]?.mattes ?? [], pictures, coverage, mattes);
  for (let i = 0, o = 0; i < coverage.length; i++, o += 4) {
    const cover = coverage[i]!;
    out.data[o] = out.data[o + 1] = out.data[o + 2] = onlyEdge ? 255 - Math.abs(2 * cover - 255) : cover;
    out.data[o + 3] = 255;
  }
}
