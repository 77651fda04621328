import { EmptinessMeter } from '../../core/check/coverage';
import { FrameLooker, picturesToLook, plansToLook, type FrameLook, type LookPlans } from '../../core/check/look';
import { createImage, type Plane } from '../../core/image/pixels';
import { lumaOf } from '../../core/image/plane';
import { carriedPoints } from '../../core/matte/outline/carry-outline';
import type { OutlinePoint } from '../../core/matte/outline/outline';
import { likenessOf, type Aligned } from '../../core/pair/align';
import { alignPictures } from '../../core/pair/align-pictures';
import { cameraStep } from '../../core/pair/borrowed-move';
import { findWithin } from '../../core/pair/find-within';
import { SIGNS_WIDTH } from '../../core/pair/frame-signs';
import { IN_PLACE, type Placement } from '../../core/pair/placement';
import type { FramePlan } from '../../core/plan/frame-plan';
import { keyedPictures, picturesOf } from '../../core/plan/plan-needs';
import { measureHole, type HoleShape } from '../../core/recipes/hole-shape';
import type { Compositors } from './draw';
import type { FramesRequest } from './protocol';
import type { Sources } from './sources';

/** Height at which holes are measured. */
const HOLE_HEIGHT = 270;

/** Width at which points are carried. */
const CARRY_WIDTH = 960;

/** What is to be known of frames without being shown. */
export class Measurer {
  private readonly sources: Sources;
  private readonly compositorOf: Compositors;
  private meter: { readonly size: string; readonly meter: EmptinessMeter } | null = null;
  private looker: { readonly size: string; readonly looker: FrameLooker } | null = null;
  /** The last picture drawn for its brightness: of frames that follow each other each is asked for twice. */
  private lastLuma: { readonly key: string; readonly luma: Plane } | null = null;

  constructor(sources: Sources, compositorOf: Compositors) {
    this.sources = sources;
    this.compositorOf = compositorOf;
  }

  /** Where the camera takes the picture of one plan on that of the next. */
  async step(plan: FramePlan, over: FramePlan): Promise<Placement> {
    return cameraStep(await this.lumaOfPlan(plan), await this.lumaOfPlan(over));
  }

  /** Where the motion from one plan's picture to another's takes points, pixels of both from the centre. */
  async carry({ plan, over, points }: Extract<FramesRequest, { kind: 'carry points' }>): Promise<readonly OutlinePoint[]> {
    const [from, to] = [await this.lumaOfPlan(plan, CARRY_WIDTH), await this.lumaOfPlan(over, CARRY_WIDTH)];
    return carriedPoints(points, from, to, plan.width / from.width);
  }

  /** The share of a frame that nothing covers, 0..1. */
  async measure(plan: FramePlan): Promise<number> {
    const size = `${plan.width}x${plan.height}`;
    if (this.meter?.size !== size) this.meter = { size, meter: new EmptinessMeter(plan) };
    const pictures = await this.sources.pictures(keyedPictures(plan), true);
    return this.meter.meter.measure(plan, pictures, await this.sources.coverage(plan));
  }

  /** What a frame of a join looks like. */
  async look(plans: LookPlans): Promise<FrameLook> {
    const sized = plans.result ?? plans.shots.leaving ?? plans.shots.entering ?? plans.mattes[0]?.plan;
    if (sized === undefined) return { light: null, result: null, shots: { leaving: null, entering: null }, mattes: [] };
    const size = `${sized.width}x${sized.height}`;
    if (this.looker?.size !== size) this.looker = { size, looker: new FrameLooker(sized) };
    const stored = await Promise.all(plansToLook(plans).map((plan) => this.sources.coverage(plan)));
    const pictures = await this.sources.pictures(picturesToLook(plans), false);
    return this.looker.looker.look(plans, pictures, (matte) => stored.map((of) => of(matte)).find((c) => c !== null) ?? null);
  }

  /** The hole that the mattes of a plan's first layer make in the frame; null without one. */
  async holeOf(plan: FramePlan): Promise<HoleShape | null> {
    const mattes = plan.layers[0]?.mattes ?? [];
    if (mattes.length === 0) return null;
    const height = Math.min(HOLE_HEIGHT, plan.height);
    const width = Math.max(1, Math.round((height * plan.width) / plan.height));
    const pictures = await this.sources.pictures(
      mattes.flatMap((m) => (m.kind === 'key' ? [m.picture] : [])),
      false,
    );
    const coverage = new Uint8Array(width * height);
    this.compositorOf(width, height).drawMattes(plan, mattes, pictures, coverage, await this.sources.coverage(plan));
    return measureHole(coverage, width, height, plan.width, plan.height);
  }

  /** How the picture of a plan lies over another's, in pixels of the signs' pictures, and how alike both are as they are now. */
  async align({
    plan,
    over,
    within,
  }: Extract<FramesRequest, { kind: 'align' }>): Promise<{ readonly before: number; readonly aligned: Aligned }> {
    const [a, b] = [await this.lumaOfPlan(over), await this.lumaOfPlan(plan)];
    const before = likenessOf(a, b, IN_PLACE);
    const found = within ? findWithin(a, b) : null;
    if (found === null) return { before: before.likeness, aligned: alignPictures(a, b) };
    return { before: before.likeness, aligned: { placement: found.placement, likeness: found.score, overlap: before.overlap } };
  }

  private async lumaOfPlan(plan: FramePlan, wide = SIGNS_WIDTH): Promise<Plane> {
    const width = Math.min(wide, plan.width);
    const key = `${width} ${JSON.stringify(plan)}`;
    if (this.lastLuma?.key === key) return this.lastLuma.luma;
    const out = createImage(width, Math.max(1, Math.round((width * plan.height) / plan.width)));
    this.compositorOf(out.width, out.height).draw(plan, await this.sources.pictures(picturesOf(plan), false), out);
    this.lastLuma = { key, luma: lumaOf(out) };
    return this.lastLuma.luma;
  }
}
