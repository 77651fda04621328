import type { FramePlan, PlannedLayer } from './frame-plan';
import type { Drawing } from './plan-views';

/** Moments of an open shutter that a draft shows at most. */
const DRAFT_SAMPLES = 3;

const drafts = new WeakMap<Drawing, Drawing>();
const made = new WeakSet<Drawing>();

/** Whether a drawing is a draft of another. */
export const isDraft = (drawing: Drawing): boolean => made.has(drawing);

/** The same drawing with less work in it: few moments of an open shutter, first and last among them, and melts made fast. */
export function draftOf(drawing: Drawing): Drawing {
  const known = drafts.get(drawing);
  if (known !== undefined) return known;
  const draft: Drawing =
    drawing.kind === 'difference'
      ? { ...drawing, plan: draftPlan(drawing.plan), other: draftPlan(drawing.other) }
      : { ...drawing, plan: draftPlan(drawing.plan) };
  drafts.set(drawing, draft);
  made.add(draft);
  return draft;
}

const draftPlan = (plan: FramePlan): FramePlan => ({ ...plan, layers: plan.layers.map(draftLayer) });

function draftLayer(layer: PlannedLayer): PlannedLayer {
  const { samples, content } = layer;
  const last = samples.length - 1;
  const kept =
    samples.length <= DRAFT_SAMPLES
      ? samples
      : Array.from({ length: DRAFT_SAMPLES }, (_, i) => samples[Math.round((i * last) / (DRAFT_SAMPLES - 1))]!);
  return { ...layer, samples: kept, content: content.kind === 'melt' ? { ...content, quality: 'fast' } : content };
}
