import type { Film, Media } from '../film/film';
import { createImage, type Image } from '../image/pixels';
import type { CoverageSource, PictureSource } from '../render/compositor';
import { CpuCompositor } from '../render/cpu/compositor';
import type { Content, FramePlan, PlannedLayer } from '../plan/frame-plan';
import { keyedPictures, pictureKey } from '../plan/plan-needs';
import { planFrame } from '../plan/plan-film';

const CHECK_HEIGHT = 180;
/** Coverage from which on a pixel counts as covered: a rounding step or two along an edge is no hole. */
const COVERED = 253;
const BLANK: Image = { width: 1, height: 1, data: new Uint8ClampedArray([0, 0, 0, 255]) };

/** What makes a frame, reduced to what decides whether its pixels are covered. */
export const coveragePlan = (film: Film, media: Media, frame: number): FramePlan => {
  const plan = planFrame(film, media, frame, { samples: 1 });
  const bare = (l: PlannedLayer): PlannedLayer => ({ ...l, content: withoutNext(l.content), cleanEdge: 0, effects: [] });
  return { ...plan, layers: plan.layers.map(bare), finish: [] };
};

/** What lies between two pictures covers what either does. */
const withoutNext = (content: Content): Content => (content.kind === 'picture' ? { ...content, next: null } : content);

/** A plan in which every melt is only one of the two pictures that it mixes. */
const withSideOfMelts = (plan: FramePlan, side: 'from' | 'to'): FramePlan => ({
  ...plan,
  layers: plan.layers.flatMap((l) =>
    l.content.kind === 'melt'
      ? l.content[side].map((of) => ({ ...of, opacity: of.opacity * l.opacity, mattes: [...of.mattes, ...l.mattes] }))
      : [l],
  ),
});

/** Measures how much of a frame is empty, at a small size. Keeps scratch memory, so one instance serves a run of frames of one film. */
export class EmptinessMeter {
  private readonly compositor: CpuCompositor;
  private readonly out: Image;

  constructor({ width, height }: Pick<FramePlan, 'width' | 'height'>) {
    const across = Math.max(1, Math.round((CHECK_HEIGHT * width) / height));
    this.compositor = new CpuCompositor(across, CHECK_HEIGHT);
    this.out = createImage(across, CHECK_HEIGHT);
  }

  /**
   * Share of the frame that no layer covers, 0..1. Pictures are asked for only where their colours decide. A melt is as empty as the
   * emptier of the pictures that it mixes.
   */
  measure(plan: FramePlan, pictures: PictureSource, coverages: CoverageSource): number {
    if (plan.layers.every((l) => l.content.kind !== 'melt')) return this.emptyOf(plan, pictures, coverages);
    return Math.max(...(['from', 'to'] as const).map((side) => this.emptyOf(withSideOfMelts(plan, side), pictures, coverages)));
  }

  private emptyOf(plan: FramePlan, pictures: PictureSource, coverages: CoverageSource): number {
    const { data, width, height } = this.out;
    const deciding = new Set(keyedPictures(plan).map(pictureKey));
    this.compositor.draw(plan, (ref) => (deciding.has(pictureKey(ref)) ? pictures(ref) : BLANK), this.out, coverages);
    let empty = 0;
    for (let i = 3; i < data.length; i += 4) if (data[i]! < COVERED) empty += 1 - data[i]! / 255;
    return empty / (width * height);
  }
}
