import { execFileSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { photoLike } from '../../../bench/known-pictures';
import { copyImage } from '../../core/image/image';
import { createPlane } from '../../core/image/pixels';
import { AnalysisWorker, endIdleAnalysis } from './analysis-worker';

const [W, H] = [96, 64];
const picture = photoLike(W, H, 3, 0.4);
const open = new AbortController().signal;

/** Begins to carry a square. */
async function begin(worker: AnalysisWorker): Promise<void> {
  const alpha = createPlane(W, H);
  for (let y = 20; y < 44; y++) alpha.data.fill(1, y * W + 30, y * W + 60);
  expect(await worker.ask({ kind: 'carry', picture: copyImage(picture), alpha })).toEqual({ kind: 'ready' });
}
const step = (worker: AnalysisWorker): ReturnType<AnalysisWorker['ask']> => worker.ask({ kind: 'step', picture: copyImage(picture) });

beforeAll(() => {
  if (!existsSync('dist/analysis.mjs')) execFileSync(process.execPath, ['scripts/build.mjs', '--tools']);
});
afterAll(() => endIdleAnalysis());

describe('an analysis worker', () => {
  it('carries for one job and knows nothing of it in the next', async () => {
    const first = new AnalysisWorker(open);
    await begin(first);
    const reply = await step(first);
    expect(reply.kind).toBe('carried');
    await first.close();
    const second = new AnalysisWorker(open);
    await expect(step(second)).rejects.toThrow('this was not begun');
    await second.close();
  });

  it('serves several jobs at once', async () => {
    const workers = [1, 2, 3].map(() => new AnalysisWorker(open));
    await Promise.all(workers.map(begin));
    const replies = await Promise.all(workers.map(step));
    expect(replies.map((r) => r.kind)).toEqual(['carried', 'carried', 'carried']);
    await Promise.all(workers.map((w) => w.close()));
  });

  it('can be used by the next job after one was stopped or has failed', async () => {
    const stop = new AbortController();
    const stopped = new AnalysisWorker(stop.signal);
    await begin(stopped);
    const asked = step(stopped);
    stop.abort(new Error('stopped by hand'));
    await expect(asked).rejects.toThrow('stopped by hand');
    await stopped.close();
    const failed = new AnalysisWorker(open);
    await expect(failed.ask({ kind: 'carry', picture: copyImage(picture), alpha: createPlane(3, 3) })).rejects.toThrow('a matte of 3×3');
    await failed.close();
    const next = new AnalysisWorker(open);
    await begin(next);
    expect((await step(next)).kind).toBe('carried');
    await next.close();
  });
});
