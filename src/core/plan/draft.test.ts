import { expect, it } from 'vitest';
import { translation } from '../geometry/matrix';
import { draftOf } from './draft';
import type { FramePlan } from './frame-plan';
import { plainPlanned } from './plan-shot';
import type { Drawing } from './plan-views';

const layer = plainPlanned({ kind: 'colour', colour: [1, 2, 3] }, 8, 4, translation(0, 0));
const moved = (count: number): FramePlan['layers'][number] => ({
  ...layer,
  samples: Array.from({ length: count }, (_, i) => translation(i, 0)),
});
const planOf = (...layers: FramePlan['layers']): FramePlan => ({ width: 8, height: 4, layers, finish: [], background: null, missing: [] });

it('keeps the first, the middle and the last moment of an open shutter', () => {
  const drawing: Drawing = { kind: 'picture', plan: planOf(moved(9), moved(2), layer) };
  const { plan } = draftOf(drawing);
  expect(plan.layers.map((l) => l.samples.map((m) => m[2]))).toEqual([[0, 4, 8], [0, 1], []]);
  expect(draftOf(drawing)).toBe(draftOf(drawing));
});

it('makes melts fast, in both plans of a difference', () => {
  const melt = {
    ...layer,
    content: { kind: 'melt', from: [], to: [], warped: 0.5, lines: null, mixed: 0.5, quality: 'fine', anchors: [] },
  } as const;
  const draft = draftOf({ kind: 'difference', plan: planOf(melt), other: planOf(melt) });
  if (draft.kind !== 'difference') throw new Error('another kind');
  for (const { layers } of [draft.plan, draft.other])
    expect(layers[0]!.content).toMatchObject({ kind: 'melt', quality: 'fast', mixed: 0.5 });
});
