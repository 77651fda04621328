import { beforeEach, describe, expect, it } from 'vitest';
import type { Drawing } from '../../core/plan/plan-views';
import { FRAMES_AHEAD, FramesAhead } from './frames-ahead';

/** Frames that are drawn when they are told to be, and take as long as is said. */
class FakeFrames {
  readonly atOnce = 2;
  wholeMs = 10;
  msOf = (): number => this.wholeMs;
  readonly ready = new Map<Drawing, 'whole' | 'draft'>();
  readonly asked: { readonly drawing: Drawing; readonly as: 'whole' | 'draft'; readonly lane: string; end(error?: Error): void }[] = [];
  shown(drawing: Drawing) {
    const as = this.ready.get(drawing);
    return as === undefined ? null : { bitmap: {} as ImageBitmap, isDraft: as === 'draft' };
  }
  draw = (drawing: Drawing, _width: number, _height: number, lane: string) => this.add(drawing, 'whole', lane);
  drawDraft = (drawing: Drawing, _width: number, _height: number, lane: string) => this.add(drawing, 'draft', lane);
  private add(drawing: Drawing, as: 'whole' | 'draft', lane: string): Promise<ImageBitmap | null> {
    return new Promise((resolve, reject) => {
      const end = (error?: Error): void => {
        if (error !== undefined) return reject(error);
        this.ready.set(drawing, as);
        resolve({} as ImageBitmap);
      };
      this.asked.push({ drawing, as, lane, end });
    });
  }
}

const drawings = Array.from({ length: 60 }, () => ({}) as Drawing);
let frames: FakeFrames;
let ahead: FramesAhead;
let due = 0;
beforeEach(() => {
  frames = new FakeFrames();
  ahead = new FramesAhead(frames, 25, () => undefined);
  due = 0;
});
const ask = (): string | null => ahead.ask((n) => drawings[due + n]!, 960, 540);
const settled = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, 0));

describe('frames that are about to be played', () => {
  it('are asked for in their order, not more than are drawn at once and one that waits, each once', async () => {
    ask();
    ask();
    expect(frames.asked.map((a) => drawings.indexOf(a.drawing))).toEqual([1, 2, 3]);
    frames.asked[0]!.end();
    await settled();
    ask();
    expect(frames.asked.map((a) => drawings.indexOf(a.drawing))).toEqual([1, 2, 3, 4]);
  });

  it('are whole where they are drawn in time, and drafts where they are not', async () => {
    ask();
    expect(frames.asked.every((a) => a.as === 'whole')).toBe(true);
    frames.wholeMs = 200;
    for (const { end } of frames.asked.splice(0)) end();
    await settled();
    ask();
    expect(frames.asked.map((a) => [drawings.indexOf(a.drawing), a.as])).toEqual([
      [4, 'draft'],
      [5, 'draft'],
      [6, 'draft'],
    ]);
  });

  it('are made whole once all are there, one at a time, those that are not due too soon', () => {
    frames.wholeMs = 200;
    for (let n = 1; n <= FRAMES_AHEAD; n++) frames.ready.set(drawings[n]!, 'draft');
    ask();
    ask();
    expect(frames.asked.map((a) => [drawings.indexOf(a.drawing), a.as, a.lane])).toEqual([[5, 'whole', 'ready']]);
  });

  it('that cannot be drawn are asked for once, and said when they are due', async () => {
    ask();
    frames.asked[0]!.end(new Error('the medium has no such frame'));
    await settled();
    expect(ask()).toBeNull();
    due = 1;
    expect(ask()).toBe('the medium has no such frame');
    expect(frames.asked.filter((a) => a.drawing === drawings[1])).toHaveLength(1);
  });
});
