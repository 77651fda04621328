import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { IDENTITY } from '../../core/geometry/matrix';
import type { Drawing } from '../../core/plan/plan-views';
import type { FramesReply, FramesRequest } from '../../workers/frames/protocol';
import { TEST_PLANS } from '../../core/render/test-plans';
import { FramesClient } from './frames-client';

type Draw = Extract<FramesRequest, { kind: 'draw' }>;

/** A worker that answers when it is told to. */
class FakeWorker {
  /** Those that draw. */
  static all: FakeWorker[] = [];
  readonly sent: FramesRequest[] = [];
  private readonly done = new Set<number>();
  onmessage: ((event: { data: FramesReply }) => void) | null = null;
  constructor(url: URL) {
    if (url.pathname.includes('frames')) FakeWorker.all.push(this);
  }
  postMessage(message: FramesRequest): void {
    this.sent.push(message);
  }
  terminate(): void {
    this.onmessage = null;
  }
  /** What it is at. */
  get open(): Draw | undefined {
    return this.sent.find((m): m is Draw => m.kind === 'draw' && !this.done.has(m.job));
  }
  /** Ends what it is at. */
  async answer(): Promise<ImageBitmap> {
    const { job, width, height, band } = this.open!;
    const rows = band === undefined ? height : band.bottom - band.top;
    const bitmap = { width, height: rows, close: () => undefined } as ImageBitmap;
    this.done.add(job);
    this.onmessage?.({ data: { kind: 'drawn', job, bitmap } });
    await new Promise((resolve) => setTimeout(resolve, 0));
    return bitmap;
  }
  /** All that has been given to workers, in the order of each. */
  static get draws(): Draw[] {
    return FakeWorker.all.flatMap((w) => w.sent.filter((m) => m.kind === 'draw'));
  }
  /** Lets all workers end what they are at, until nothing waits. */
  static async answerAll(): Promise<void> {
    for (let busy = FakeWorker.all.find((w) => w.open); busy !== undefined; busy = FakeWorker.all.find((w) => w.open)) await busy.answer();
  }
}

beforeEach(() => {
  FakeWorker.all = [];
  vi.stubGlobal('Worker', FakeWorker);
  vi.stubGlobal('location', { href: 'http://irimi.test/' });
  vi.stubGlobal('navigator', { hardwareConcurrency: 2 });
});
afterEach(() => {
  vi.restoreAllMocks();
  vi.unstubAllGlobals();
});

/** A drawing of the stored coverage of `matteId` on a frame. */
const drawingOf = (matteId: string, frame: number): Drawing =>
  ({
    kind: 'matte',
    plan: {
      width: 4,
      height: 2,
      missing: [],
      finish: [],
      layers: [
        {
          content: { kind: 'beneath' },
          matrix: IDENTITY,
          samples: [],
          effects: [],
          mattes: [{ kind: 'coverage', matteId, frame, matrix: IDENTITY, picture: { mediumId: 'm', frame, width: 4, height: 2 } }],
        },
      ],
    },
  }) as unknown as Drawing;

/** Has all of these drawn. */
async function drawn(client: FramesClient, drawings: readonly Drawing[]): Promise<void> {
  const all = drawings.map((d) => client.draw(d, 4, 2, 'thumb'));
  await FakeWorker.answerAll();
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
    const [first, second] = FakeWorker.all;
    await first!.answer();
    await early;
    expect(client.cached(one, 4, 2)).toBeNull();
    const bitmap = await second!.answer();
    expect(await late).toBe(bitmap);
    expect(client.cached(one, 4, 2)).toBe(bitmap);
  });
});

describe('a slow picture that the hand waits for', () => {
  const slow: Drawing = { kind: 'picture', plan: TEST_PLANS.find((p) => p.name === 'moved by whole pixels')!.plan };

  beforeEach(() => {
    vi.spyOn(FramesClient.prototype, 'isSlow').mockReturnValue(true);
    class Canvas {
      private readonly rows: number[] = [];
      constructor(
        readonly width: number,
        readonly height: number,
      ) {}
      getContext = () => ({ drawImage: (_: unknown, __: number, top: number) => void this.rows.push(top) });
      transferToImageBitmap = () => ({ width: this.width, height: this.height, rows: this.rows });
    }
    vi.stubGlobal('OffscreenCanvas', Canvas);
  });

  it('is drawn by all workers, each some of its rows, and put together', async () => {
    const client = new FramesClient('f');
    const asked = client.draw(slow, 320, 181, 'now');
    expect(FakeWorker.all.map((w) => w.open?.band)).toEqual([
      { top: 0, bottom: 91 },
      { top: 91, bottom: 181 },
    ]);
    await FakeWorker.answerAll();
    expect(await asked).toEqual({ width: 320, height: 181, rows: [0, 91] });
    expect(client.cached(slow, 320, 181)).toEqual(await asked);
  });

  it('is drawn by one where it is made ready, or as a draft', async () => {
    const client = new FramesClient('f');
    void client.draw(slow, 320, 181, 'ready');
    void client.drawDraft(slow, 320, 181, 'now');
    expect(FakeWorker.draws.map((d) => d.band)).toEqual([undefined, undefined]);
    await FakeWorker.answerAll();
  });
});

describe('frames of a film', () => {
  const frameOf = (frame: number): Drawing => drawingOf('m', frame);

  it('are made ready by one worker, while the other is free for the hand', async () => {
    const client = new FramesClient('f');
    const ready = [1, 2, 3].map((at) => client.draw(frameOf(at), 8, 4, 'ready', at));
    expect(FakeWorker.all.map((w) => w.open !== undefined)).toEqual([false, true]);
    const now = client.draw(frameOf(9), 8, 4, 'now');
    expect(FakeWorker.all[0]!.open).toBeDefined();
    await FakeWorker.answerAll();
    expect((await Promise.all([...ready, now])).every((b) => b !== null)).toBe(true);
  });

  it('are drawn once, also when the hand wants one that is to be made ready', async () => {
    const client = new FramesClient('f');
    const [first, second] = [1, 2].map((at) => client.draw(frameOf(at), 8, 4, 'ready', at));
    // this one is being made, that one waits
    const same = client.draw(frameOf(1), 8, 4, 'now');
    const sooner = client.draw(frameOf(2), 8, 4, 'now');
    await FakeWorker.answerAll();
    expect(FakeWorker.draws).toHaveLength(2);
    expect(await same).toBe(await first);
    expect(await second).toBe(await sooner);
  });

  it('are shown as drafts of half the size until they are whole', async () => {
    const client = new FramesClient('f');
    const draft = client.drawDraft(frameOf(1), 8, 4, 'ahead');
    await FakeWorker.answerAll();
    expect(FakeWorker.draws[0]).toMatchObject({ width: 4, height: 2 });
    expect(client.shown(frameOf(1), 8, 4)).toEqual({ bitmap: await draft, isDraft: true });
    const whole = client.draw(frameOf(1), 8, 4, 'ahead');
    await FakeWorker.answerAll();
    expect(client.shown(frameOf(1), 8, 4)).toEqual({ bitmap: await whole, isDraft: false });
  });

  it('stay within their memory, the longest unused going first', async () => {
    const client = new FramesClient('f');
    for (const at of [1, 2, 3]) {
      void client.draw(frameOf(at), 8, 4, 'thumb');
      await FakeWorker.answerAll();
    }
    expect(client.memory.used).toBe(3 * 4 * 8 * 4);
    client.cached(frameOf(1), 8, 4);
    client.setBudget(2 * 4 * 8 * 4);
    expect([1, 2, 3].map((at) => client.cached(frameOf(at), 8, 4) !== null)).toEqual([true, false, true]);
  });
});
