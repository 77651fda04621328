import type { FramesReply, FramesRequest } from '../../workers/frames/protocol';
import type { PicturesMessage, ProxySource } from '../../workers/pictures/protocol';
import type { Band } from '../../core/render/compositor';
import { stacked } from './bands';
import { Scheduler, type Lane, type Task } from './frames-scheduler';
import { WorkerChannel } from './worker-channel';

type Answered = Extract<FramesRequest, { readonly job: number }>;
/** Requests that are answered, before they have a number. */
type Asked<R = Answered> = R extends { readonly job: number } ? Omit<R, 'job'> : never;
/** A reply, and how long a worker took over it, ms. */
export type FramesAnswer = Exclude<FramesReply, { readonly kind: 'failed' }> & { readonly took: number };

type DrawRequest = Extract<Asked, { readonly kind: 'draw' }>;

type Waiting = Task & {
  readonly request: Asked;
  readonly settle: (answer: FramesAnswer | null) => void;
  readonly fail: (error: Error) => void;
  readonly onTaken?: OnTaken;
};

/** Told when a worker would begin; false where it need not. */
type OnTaken = () => boolean;

interface Hand {
  readonly channel: WorkerChannel<FramesRequest, FramesReply>;
  isBusy: boolean;
  /** The frame it has drawn last. */
  last: number | null;
}

const MOST_WORKERS = 4;

/** One worker a core but the page's own, and never less than two: one of them is always free for what the hand wants. */
const workersFor = (cores: number): number => Math.max(2, Math.min(MOST_WORKERS, cores - 1));

/** The workers that draw and measure frames: each does one thing at a time, the most urgent one that waits. */
export class FramesPool {
  private readonly hands: readonly Hand[];
  private readonly waiting = new Scheduler<Waiting>(({ settle }) => settle(null));

  private readonly decoding: Worker;

  /** Workers that draw, and one that decodes for them all. */
  constructor(openDrawing: () => Worker, openDecoding: () => Worker, cores: number) {
    this.decoding = openDecoding();
    this.hands = Array.from({ length: workersFor(cores) }, () => {
      const worker = openDrawing();
      const { port1, port2 } = new MessageChannel();
      this.decoding.postMessage({ kind: 'port', port: port1 } satisfies PicturesMessage, [port1]);
      worker.postMessage({ kind: 'pictures', port: port2 } satisfies FramesRequest, [port2]);
      return { channel: new WorkerChannel<FramesRequest, FramesReply>(worker, 'The frame worker'), isBusy: false, last: null };
    });
  }

  /** How many frames are drawn at one time. */
  get size(): number {
    return this.hands.length;
  }

  /**
   * Draws, in bands side by side where there are several; null when it was dropped, or is not wanted any more when its turn comes. `near` is the film
   * frame. What is told of the time it took is that of all workers together.
   * @throws Error when it cannot be drawn
   */
  async draw(
    request: DrawRequest,
    bands: readonly Band[],
    lane: Lane,
    near: number | undefined,
    onTaken: OnTaken,
  ): Promise<FramesAnswer | null> {
    const whole = { kind: 'draw', lane, ...(near === undefined ? {} : { near }), onTaken } as const;
    if (bands.length === 1) return this.add({ ...whole, request });
    const partOf = {};
    const answers = await Promise.all(bands.map((band) => this.add({ ...whole, partOf, request: { ...request, band } })));
    const drawn = answers.filter((a) => a?.kind === 'drawn');
    if (drawn.length === bands.length)
      return { ...drawn[0]!, bitmap: stacked(drawn.map((a) => a.bitmap)), took: drawn.reduce((sum, a) => sum + a.took, 0) };
    for (const { bitmap } of drawn) bitmap.close();
    return null;
  }

  /** Measures for somebody; null when that one no longer wants it. @throws Error when it cannot be measured */
  measure(request: Exclude<Asked, { readonly kind: 'draw' }>, owner: string): Promise<FramesAnswer | null> {
    return this.add({ kind: request.kind, owner, request });
  }

  dropLane(lane: Lane): void {
    this.waiting.dropLane(lane);
  }

  dropMeasures(owner: string): void {
    this.waiting.dropMeasures(owner);
  }

  setMedia(media: readonly ProxySource[]): void {
    this.decoding.postMessage({ kind: 'media', media } satisfies PicturesMessage);
  }

  /** Says something to all workers that draw. */
  tell(message: Exclude<FramesRequest, Answered>): void {
    for (const { channel } of this.hands) channel.tell(message);
  }

  close(): void {
    for (const { channel } of this.hands) channel.close();
    this.decoding.terminate();
  }

  private add(task: Task & { readonly request: Asked; readonly onTaken?: OnTaken }): Promise<FramesAnswer | null> {
    return new Promise((settle, fail) => {
      this.waiting.add({ ...task, settle, fail });
      this.giveOut();
    });
  }

  private giveOut(): void {
    this.hands.forEach((hand, i) => {
      if (hand.isBusy) return;
      for (let task = this.waiting.take(i > 0, hand.last); task !== undefined; task = this.waiting.take(i > 0, hand.last)) {
        if (task.onTaken?.() !== false) return void this.doIt(hand, task);
        task.settle(null);
      }
    });
  }

  private async doIt(hand: Hand, task: Waiting): Promise<void> {
    hand.isBusy = true;
    if (task.kind === 'draw') hand.last = task.near ?? null;
    const began = performance.now();
    await hand.channel
      .ask(task.request)
      .then((answer) => task.settle(answer === null ? null : { ...answer, took: performance.now() - began }), task.fail);
    hand.isBusy = false;
    this.giveOut();
  }
}
