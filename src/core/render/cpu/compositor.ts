import { compose, invert } from '../../geometry/matrix';
import { createImage, type Image } from '../../image/pixels';
import type { FramePlan, PlannedLayer, PlannedMatte } from '../../plan/frame-plan';
import { canBeBanded, NO_COVERAGE, type Band, type Compositor, type CoverageSource, type PictureSource, type Sources } from '../compositor';
import { LayerPreparation } from '../prepare-layer';
import { FrameDrawing, toPixels, type DrawingTools } from './frame-drawing';
import { MatteDrawing } from './matte-drawing';

/** The reference compositor. Colours blend in display light; what moves while the shutter is open adds up in linear light. */
export class CpuCompositor implements Compositor {
  readonly width: number;
  readonly height: number;
  private readonly tools: DrawingTools;

  /**
   * Compositors of one thread may share what they have ready.
   * @throws RangeError unless both sides are positive whole numbers.
   */
  constructor(width: number, height: number, preparation = new LayerPreparation()) {
    if (!(Number.isInteger(width) && Number.isInteger(height) && width > 0 && height > 0))
      throw new RangeError('CpuCompositor: sides must be positive whole numbers');
    this.width = width;
    this.height = height;
    this.tools = {
      preparation,
      mattes: new MatteDrawing(preparation.coverage),
      drawing: {
        layers: (plan, { pictures, coverages }) => {
          const out = createImage(width, height);
          this.draw(plan, pictures, out, coverages);
          return out;
        },
        inPlane: (layer, mattes, plane, sources, out) => this.drawInPlane(layer, mattes, plane, sources, out),
      },
    };
  }

  draw(plan: FramePlan, pictures: PictureSource, out: Image, coverages: CoverageSource = NO_COVERAGE, band?: Band): void {
    if (out.width !== this.width || out.height !== this.height) throw new RangeError('CpuCompositor.draw: out has another size');
    const whole = { top: 0, bottom: this.height };
    const rows = band === undefined || !canBeBanded(plan) ? whole : band;
    new FrameDrawing(plan, { pictures, coverages }, this.tools, rows, this).drawInto(out);
  }

  drawMattes(
    plan: Pick<FramePlan, 'width' | 'height'>,
    mattes: readonly PlannedMatte[],
    pictures: PictureSource,
    out: Uint8Array,
    coverages: CoverageSource = NO_COVERAGE,
  ): void {
    this.tools.mattes.draw(mattes, toPixels(plan, this), this.width, this.height, { pictures, coverages }, out);
  }

  private drawInPlane(
    layer: PlannedLayer,
    mattes: readonly PlannedMatte[],
    plane: Pick<Image, 'width' | 'height'>,
    sources: Sources,
    out: Uint8Array,
  ): void {
    const fromFilm = invert(layer.matrix);
    const inPlane = mattes.map((m) => ({ ...m, matrix: compose(m.matrix, fromFilm) }));
    this.tools.mattes.draw(inPlane, toPixels(layer, plane), plane.width, plane.height, sources, out);
  }
}
