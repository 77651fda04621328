import { expect, it } from 'vitest';
import { translation } from '../geometry/matrix';
import { draftOf, workOf } from './draft';
import type { FramePlan } from './frame-plan';
import { plainPlanned } from './plan-shot';
import type { Drawing } from './plan-views';

const layer = plainPlanned({ kind: 'colour', colour: [1, 2, 3] }, 8, 4, translation(0, 0));
const moved = (count: number): FramePlan['layers'][number] => ({
  ...layer,
  samples: Array.from({ length: count }, (_, i) => translation(i, 0)),
});
const planOf = (...layers: FramePlan['layers']): FramePlan => ({ width: 8, height: 4, layers, finish: [], background: null, missing: [] });

it('blurs nothing by its motion', () => {
  const drawing: Drawing = { kind: 'picture', plan: planOf(moved(9), { ...layer, cleanEdge: 1 }) };
  const { plan } = draftOf(drawing);
  expect(plan.layers.map((l) => [l.samples.length, l.cleanEdge, l.matrix])).toEqual([
    [0, 0, layer.matrix],
    [0, 0, layer.matrix],
  ]);
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

it('reckons how much there is to draw: moments of the shutter, mattes, effects, and a melt more than all', () => {
  const work = (...layers: FramePlan['layers']): number => workOf({ kind: 'picture', plan: planOf(...layers) });
  expect(work()).toBe(1);
  expect(work(layer, layer)).toBe(2);
  expect(work(moved(9))).toBe(9);
  expect(work({ ...layer, effects: [{ kind: 'glow', params: {} }] })).toBe(3);
  const melt = { kind: 'melt', from: [], to: [], warped: 0, lines: null, mixed: 0, quality: 'fine', anchors: [] } as const;
  expect(work({ ...layer, content: melt })).toBeGreaterThan(work(moved(9)));
});
