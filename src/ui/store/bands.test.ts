import { expect, it } from 'vitest';
import type { Drawing } from '../../core/plan/plan-views';
import { TEST_PLANS } from '../../core/render/test-plans';
import { bandsOf } from './bands';

const drawing = (name: string): Drawing => ({ kind: 'picture', plan: TEST_PLANS.find((p) => p.name === name)!.plan });
const still = drawing('moved by whole pixels');

it('parts the rows of a drawing among workers, without a gap, and not into slivers', () => {
  expect(bandsOf(still, 541, 2)).toEqual([
    { top: 0, bottom: 271 },
    { top: 271, bottom: 541 },
  ]);
  expect(bandsOf(still, 541, 3).map((b) => b.bottom)).toEqual([180, 361, 541]);
  expect(bandsOf(still, 130, 4)).toHaveLength(2);
  expect(bandsOf(still, 90, 4)).toEqual([{ top: 0, bottom: 90 }]);
});

it('leaves whole what looks at its neighbours, and views that are no picture', () => {
  expect(bandsOf(drawing('effects on a layer and on what lies under it'), 541, 2)).toHaveLength(1);
  expect(bandsOf({ ...still, kind: 'matte' }, 541, 2)).toHaveLength(1);
});
