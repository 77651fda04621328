import { afterEach, expect, it, vi } from 'vitest';
import { IDENTITY } from '../../core/geometry/matrix';
import { createImage, type Image } from '../../core/image/pixels';
import type { FramePlan, PlannedMatte } from '../../core/plan/frame-plan';
import { plainPlanned } from '../../core/plan/plan-shot';
import { PictureBank } from '../pictures/bank';
import type { ProxySource } from '../pictures/protocol';
import { servePictures } from '../pictures/serve';
import type { FramesReply, FramesRequest } from './protocol';
import { serveFrames } from './serve';

const [W, H] = [8, 4];
const SOURCE: ProxySource = { mediumId: 'm', url: '/m', framesPerSecond: 24, frames: 10 };

interface Served {
  ask(request: FramesRequest): void;
  readonly bank: PictureBank;
  readonly replies: FramesReply[];
  readonly decoded: number[];
  until(count: number): Promise<void>;
}

/** A worker on a channel, whose media show the number of their frame as grey. */
function served(): Served {
  const { port1, port2 } = new MessageChannel();
  const pictures = new MessageChannel();
  const decoded: number[] = [];
  const bank = new PictureBank(({ frames }) => ({
    decode(frame) {
      if (frame >= frames) return Promise.reject(new RangeError(`the medium has no frame ${frame}`));
      decoded.push(frame);
      return Promise.resolve(grey(10 * frame));
    },
  }));
  bank.add([SOURCE]);
  servePictures(bank, pictures.port1);
  // the pixels themselves stand for the bitmap
  serveFrames(port2, { toBitmap: ({ data }) => Promise.resolve(data.slice().buffer as unknown as ImageBitmap) });
  const replies: FramesReply[] = [];
  port1.onmessage = ({ data }: MessageEvent<FramesReply>) => void replies.push(data);
  port1.postMessage({ kind: 'pictures', port: pictures.port2 } satisfies FramesRequest, [pictures.port2]);
  open.push(port1, port2, pictures.port1);
  return {
    ask: (request) => port1.postMessage(request),
    bank,
    replies,
    decoded,
    until: (count) => vi.waitFor(() => expect(replies).toHaveLength(count), 5000),
  };
}

const open: MessagePort[] = [];
afterEach(() => {
  for (const port of open.splice(0)) port.close();
  vi.unstubAllGlobals();
});

function grey(value: number): Image {
  const image = createImage(W, H);
  image.data.forEach((_, i) => (image.data[i] = i % 4 === 3 ? 255 : value));
  return image;
}
const picture = (frame: number) => ({ mediumId: 'm', frame, width: W, height: H });
const planOf = (frame: number, mattes: readonly PlannedMatte[] = []): FramePlan => ({
  width: W,
  height: H,
  layers: [{ ...plainPlanned({ kind: 'picture', picture: picture(frame), next: null }, W, H, IDENTITY), mattes }],
  finish: [],
  background: null,
  missing: [],
});
const draw = (job: number, plan: FramePlan): FramesRequest => ({
  kind: 'draw',
  job,
  isSmall: true,
  isDraft: false,
  drawing: { kind: 'picture', plan },
  width: W,
  height: H,
});
const redOf = (reply: FramesReply | undefined, at = 0): number =>
  new Uint8ClampedArray((reply as { bitmap: unknown }).bitmap as ArrayBuffer)[4 * at]!;

it('draws the pictures of media, and decodes each only once', async () => {
  const { ask, replies, decoded, until } = served();
  for (const [job, frame] of [
    [1, 3],
    [2, 3],
    [3, 5],
  ] as const) {
    ask(draw(job, planOf(frame)));
    await until(job);
  }
  expect(replies.map((r) => [r.kind, 'job' in r ? r.job : 0, redOf(r)])).toEqual([
    ['drawn', 1, 30],
    ['drawn', 2, 30],
    ['drawn', 3, 50],
  ]);
  expect(decoded).toEqual([3, 5]);
});

it('draws only the rows that are asked for', async () => {
  const { ask, replies, until } = served();
  ask({ ...draw(1, planOf(3)), band: { top: 1, bottom: 3 } } as FramesRequest);
  await until(1);
  expect(replies[0]).toMatchObject({
    kind: 'drawn',
    bitmap: new Uint8ClampedArray(4 * 2 * W).map((_, i) => (i % 4 === 3 ? 255 : 30)).buffer,
  });
});

it('says why a frame cannot be drawn, and goes on with the next', async () => {
  const { ask, replies, until } = served();
  ask(draw(1, planOf(40)));
  await until(1);
  ask(draw(2, planOf(2)));
  await until(2);
  expect(replies[0]).toEqual({ kind: 'failed', job: 1, reason: 'the medium has no frame 40' });
  expect(redOf(replies[1])).toBe(20);
});

it('measures what is empty, and the hole that stored coverage makes; it fetches that anew once it is forgotten', async () => {
  const data = Uint8Array.from({ length: W * H }, (_, i) => (i % W >= 2 && i % W < 6 ? 255 : 0));
  const asked = vi.fn((_url: string) => Promise.resolve(new Response(data, { headers: { 'x-width': String(W), 'x-height': String(H) } })));
  vi.stubGlobal('fetch', asked);
  const { ask, replies, until } = served();
  const matte = {
    kind: 'coverage',
    matteId: 'hole',
    frame: 4,
    width: W,
    height: H,
    picture: picture(4),
    tidying: { smoothPx: 0, fillHolesPx: 0, dropSpecksPx: 0 },
    side: 'inside',
    combine: 'intersect',
    growPx: 0,
    featherPx: 0,
    matrix: IDENTITY,
    rides: true,
  } as unknown as PlannedMatte;
  ask({ kind: 'mattes', url: '/mattes' });
  ask({ kind: 'measure', job: 1, plan: planOf(4, [matte]) });
  await until(1);
  ask({ kind: 'measure hole', job: 2, plan: planOf(4, [matte]) });
  await until(2);
  const empty = replies.find((r) => r.kind === 'measured');
  expect(empty?.empty).toBeCloseTo(0.5, 1);
  expect(replies.some((r) => r.kind === 'hole' && r.hole !== null)).toBe(true);
  expect(asked.mock.calls.map(([url]) => url)).toEqual(['/mattes/hole/4']);
  ask({ kind: 'forget', matteId: 'hole', frame: null });
  ask({ kind: 'measure hole', job: 3, plan: planOf(4, [matte]) });
  await until(3);
  expect(asked).toHaveBeenCalledTimes(2);
});
