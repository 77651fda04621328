import { afterEach, expect, it, vi } from 'vitest';
import { IDENTITY } from '../../core/geometry/matrix';
import { createImage, type Image } from '../../core/image/pixels';
import type { FramePlan, PlannedMatte } from '../../core/plan/frame-plan';
import { plainPlanned } from '../../core/plan/plan-shot';
import type { FramesReply, FramesRequest, ProxySource } from './protocol';
import { serveFrames } from './serve';

const [W, H] = [8, 4];
const SOURCE: ProxySource = { mediumId: 'm', url: '/m', framesPerSecond: 24, frames: 10 };

/** A worker on a channel, whose media show the number of their frame as grey; a medium has ten. */
function served(): { ask(request: FramesRequest): void; replies: FramesReply[]; decoded: number[]; until(count: number): Promise<void> } {
  const { port1, port2 } = new MessageChannel();
  const decoded: number[] = [];
  serveFrames(port2, {
    open: ({ frames }) => ({
      decode(frame) {
        if (frame >= frames) return Promise.reject(new RangeError(`the medium has no frame ${frame}`));
        decoded.push(frame);
        return Promise.resolve(grey(10 * frame));
      },
    }),
    // the pixels themselves stand for the bitmap
    toBitmap: ({ data }) => Promise.resolve(data.buffer as unknown as ImageBitmap),
  });
  const replies: FramesReply[] = [];
  port1.onmessage = ({ data }: MessageEvent<FramesReply>) => void replies.push(data);
  open.push(port1, port2);
  return {
    ask: (request) => port1.postMessage(request),
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
const draw = (job: number, plan: FramePlan, lane: 'now' | 'thumb' = 'thumb'): FramesRequest => ({
  kind: 'draw',
  job,
  lane,
  drawing: { kind: 'picture', plan },
  width: W,
  height: H,
});
const redOf = (reply: FramesReply | undefined, at = 0): number =>
  new Uint8ClampedArray((reply as { bitmap: unknown }).bitmap as ArrayBuffer)[4 * at]!;

it('draws the pictures of media, and decodes each only once', async () => {
  const { ask, replies, decoded, until } = served();
  ask({ kind: 'media', media: [SOURCE] });
  ask(draw(1, planOf(3)));
  ask(draw(2, planOf(3)));
  ask(draw(3, planOf(5)));
  await until(3);
  expect(replies.map((r) => [r.kind, 'job' in r ? r.job : 0, redOf(r)])).toEqual([
    ['drawn', 1, 30],
    ['drawn', 2, 30],
    ['drawn', 3, 50],
  ]);
  expect(decoded).toEqual([3, 5]);
});

it('says why a frame cannot be drawn, and goes on with the next', async () => {
  const { ask, replies, until } = served();
  ask({ kind: 'media', media: [SOURCE] });
  ask(draw(1, planOf(40)));
  ask(draw(2, planOf(2)));
  await until(2);
  expect(replies[0]).toEqual({ kind: 'failed', job: 1, reason: 'the medium has no frame 40' });
  expect(redOf(replies[1])).toBe(20);
});

it('answers what is overtaken or no longer wanted as dropped', async () => {
  const { ask, replies, until } = served();
  ask({ kind: 'media', media: [SOURCE] });
  ask(draw(1, planOf(1), 'now'));
  ask(draw(2, planOf(2), 'now'));
  ask({ kind: 'measure', job: 3, owner: 'check', plan: planOf(3) });
  ask({ kind: 'drop measures', owner: 'check' });
  await until(3);
  // the first is on its way already when the second comes
  const kinds = new Map(replies.map((r) => ['job' in r ? r.job : 0, r.kind]));
  expect(kinds.get(2)).toBe('drawn');
  expect(kinds.get(3)).toBe('dropped');
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
  ask({ kind: 'media', media: [SOURCE] });
  ask({ kind: 'mattes', url: '/mattes' });
  ask({ kind: 'measure', job: 1, owner: 'a', plan: planOf(4, [matte]) });
  ask({ kind: 'measure hole', job: 2, owner: 'a', plan: planOf(4, [matte]) });
  await until(2);
  const empty = replies.find((r) => r.kind === 'measured');
  expect(empty?.empty).toBeCloseTo(0.5, 1);
  expect(replies.some((r) => r.kind === 'hole' && r.hole !== null)).toBe(true);
  expect(asked.mock.calls.map(([url]) => url)).toEqual(['/mattes/hole/4']);
  ask({ kind: 'forget', matteId: 'hole', frame: null });
  ask({ kind: 'measure hole', job: 3, owner: 'a', plan: planOf(4, [matte]) });
  await until(3);
  expect(asked).toHaveBeenCalledTimes(2);
});
