import { describe, expect, it } from 'vitest';
import { createImage, type Image } from '../../image/pixels';
import type { FramePlan, PlannedLayer } from '../../plan/frame-plan';
import { canBeBanded } from '../compositor';
import { TEST_PLANS, TEST_SIZE, testPictures } from '../test-plans';
import { CpuCompositor } from './compositor';

const { width, height } = TEST_SIZE;

function draw(plan: FramePlan, band?: { readonly top: number; readonly bottom: number }): Image {
  const out = createImage(width, height);
  new CpuCompositor(width, height).draw(plan, testPictures, out, undefined, band);
  return out;
}

const furthest = (a: Image, b: Image): number => a.data.reduce((most, v, i) => Math.max(most, Math.abs(v - b.data[i]!)), 0);

/** A layer that changes what lies under it by nothing: layers behind it do not know what those before it hide. */
const nothing: PlannedLayer = {
  ...TEST_PLANS[0]!.plan.layers[0]!,
  content: { kind: 'beneath' },
  effects: [{ kind: 'flip', params: { across: 0, down: 0 } }],
};

describe('the reference compositor', () => {
  it.each(TEST_PLANS)('draws the same whether or not it leaves out what is hidden: $name', ({ plan }) => {
    const layers = plan.layers.flatMap((layer, i) => (i === 0 ? [layer] : [nothing, layer]));
    expect(furthest(draw(plan), draw({ ...plan, layers }))).toBe(0);
  });

  it.each(TEST_PLANS)('draws bands as it draws the whole: $name', ({ plan }) => {
    const whole = draw(plan);
    const [upper, lower] = [draw(plan, { top: 0, bottom: 19 }), draw(plan, { top: 19, bottom: height })];
    if (!canBeBanded(plan)) {
      expect(upper.data).toEqual(whole.data);
      return;
    }
    const row = 4 * width;
    expect(upper.data.subarray(0, 19 * row)).toEqual(whole.data.subarray(0, 19 * row));
    expect(lower.data.subarray(19 * row)).toEqual(whole.data.subarray(19 * row));
  });
});
