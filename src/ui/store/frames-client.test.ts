import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { IDENTITY } from '../../core/geometry/matrix';
import type { Drawing } from '../../core/plan/plan-views';
import type { FramesReply, FramesRequest } from '../../workers/frames/protocol';
import { FramesClient } from './frames-client';

/** A worker that answers when it is told to. */
class FakeWorker {
  static newest: FakeWorker;
  readonly sent: FramesRequest[] = [];
  onmessage: ((event: { data: FramesReply }) => void) | null = null;
  constructor() {
    FakeWorker.newest = this;
  }
  postMessage(message: FramesRequest): void {
    this.sent.push(message);
  }
  terminate(): void {
    this.onmessage = null;
  }
  get draws(): Extract<FramesRequest, { kind: 'draw' }>[] {
    return this.sent.filter((m) => m.kind === 'draw');
  }
  answer(job: number): ImageBitmap {
    const bitmap = { width: 4, height: 2 } as ImageBitmap;
    this.onmessage?.({ data: { kind: 'drawn', job, bitmap } });
    return bitmap;
  }
}

beforeEach(() => {
  vi.stubGlobal('Worker', FakeWorker);
  vi.stubGlobal('location', { href: 'http://irimi.test/' });
});
afterEach(() => vi.unstubAllGlobals());

/** A drawing of the stored coverage of `matteId` on a frame. */
const drawingOf = (matteId: string, frame: number): Drawing =>
  ({
    kind: 'matte',
    plan: {
      width: 4,
      height: 2,
      missing: [],
      layers: [
        {
          content: { kind: 'beneath' },
          matrix: IDENTITY,
          samples: [],
          mattes: [{ kind: 'coverage', matteId, frame, matrix: IDENTITY, picture: { mediumId: 'm', frame, width: 4, height: 2 } }],
        },
      ],
    },
  }) as unknown as Drawing;

/** Has all of these drawn. */
async function drawn(client: FramesClient, drawings: readonly Drawing[]): Promise<void> {
  const all = drawings.map((d) => client.draw(d, 4, 2, 'thumb'));
  for (const { job } of FakeWorker.newest.draws) FakeWorker.newest.answer(job);
  await Promise.all(all);
}

describe('pictures of stored mattes', () => {
  const [one, two, other] = [drawingOf('m', 1), drawingOf('m', 2), drawingOf('n', 1)];

  it('are kept, and only that of the frame which changed is forgotten', async () => {
    const client = new FramesClient('f');
    await drawn(client, [one, two, other]);
    const before = [one, two, other].map((d) => client.changesOf(d));
    client.forgetMatte('m', 1);
    expect([one, two, other].map((d) => client.cached(d, 4, 2) === null)).toEqual([true, false, false]);
    expect([one, two, other].map((d, i) => client.changesOf(d) - before[i]!)).toEqual([1, 0, 0]);
  });

  it('are all forgotten when the whole matte may have changed', async () => {
    const client = new FramesClient('f');
    await drawn(client, [one, two, other]);
    const before = [one, two, other].map((d) => client.changesOf(d));
    client.forgetMatte('m', null);
    expect([one, two, other].map((d) => client.cached(d, 4, 2) === null)).toEqual([true, true, false]);
    expect([one, two, other].map((d, i) => client.changesOf(d) - before[i]!)).toEqual([1, 1, 0]);
  });

  it('that were asked for before the change are not kept after it', async () => {
    const client = new FramesClient('f');
    const early = client.draw(one, 4, 2, 'thumb');
    client.forgetMatte('m', 1);
    const late = client.draw(one, 4, 2, 'thumb');
    const [first, second] = FakeWorker.newest.draws;
    FakeWorker.newest.answer(first!.job);
    await early;
    expect(client.cached(one, 4, 2)).toBeNull();
    const bitmap = FakeWorker.newest.answer(second!.job);
    expect(await late).toBe(bitmap);
    expect(client.cached(one, 4, 2)).toBe(bitmap);
  });
});
