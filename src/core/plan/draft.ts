import type { FramePlan, PlannedLayer } from './frame-plan';
import { plansOf, type Drawing } from './plan-views';

/** The same drawing with less work in it: nothing is blurred by its motion, soft edges keep their old background, melts are made fast. */
export const draftOf = (drawing: Drawing): Drawing =>
  drawing.kind === 'difference'
    ? { ...drawing, plan: draftPlan(drawing.plan), other: draftPlan(drawing.other) }
    : { ...drawing, plan: draftPlan(drawing.plan) };

const draftPlan = (plan: FramePlan): FramePlan => ({ ...plan, layers: plan.layers.map(draftLayer) });

const draftLayer = (layer: PlannedLayer): PlannedLayer => ({
  ...layer,
  samples: [],
  cleanEdge: 0,
  content: layer.content.kind === 'melt' ? { ...layer.content, quality: 'fast' } : layer.content,
});

/** Work of a layer's parts, in layers that are only placed. */
const WORK = { mattes: 0.5, effects: 2, melt: 12 } as const;

/** Roughly how much there is to draw of a drawing, in layers that are only placed; 1 at least. */
export const workOf = (drawing: Drawing): number =>
  Math.max(1, ...plansOf(drawing).map(({ layers, finish }) => layers.reduce(addWork, 0) + WORK.effects * finish.length));

const addWork = (sum: number, { content, samples, mattes, effects }: PlannedLayer): number =>
  sum +
  Math.max(1, samples.length) +
  WORK.mattes * mattes.length +
  WORK.effects * effects.length +
  (content.kind === 'melt' ? WORK.melt : 0);
