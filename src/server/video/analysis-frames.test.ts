import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { makeNumberedVideo, readNumber } from '../../../tests/fixtures/numbered-video';
import { AnalysisFrames } from './analysis-frames';
import { probe } from './ffmpeg';

const WIDTH = 96;
const HEIGHT = 64;
const FRAMES = 80;
const BYTES_A_FRAME = 4 * WIDTH * HEIGHT;

let folder: string;
let path: string;

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'irimi-frames-'));
  path = join(folder, 'numbered.mp4');
  await makeNumberedVideo(path, { width: WIDTH, height: HEIGHT, frames: FRAMES, rate: '25' });
});
afterAll(() => rmSync(folder, { recursive: true }));

async function numbers(frames: AnalysisFrames, order: readonly number[]): Promise<number[]> {
  const found: number[] = [];
  try {
    for (const n of order) found.push(readNumber(await frames.frame(n)));
  } finally {
    frames.close();
  }
  return found;
}

const from = (first: number, last: number): number[] =>
  Array.from({ length: Math.abs(last - first) + 1 }, (_, i) => first + i * Math.sign(last - first));

describe('frames for analysis', () => {
  it('are the same going forwards, backwards and in jumps', async () => {
    const forwards = from(0, FRAMES - 1);
    expect(await numbers(new AnalysisFrames({ path, probe: await probe(path) }, WIDTH, HEIGHT), forwards)).toEqual(forwards);
    const backwards = from(FRAMES - 1, 0);
    expect(await numbers(new AnalysisFrames({ path, probe: await probe(path) }, WIDTH, HEIGHT), backwards)).toEqual(backwards);
    const jumps = [40, 41, 3, 2, 79, 78, 0, 60, 61, 59];
    expect(await numbers(new AnalysisFrames({ path, probe: await probe(path) }, WIDTH, HEIGHT), jumps)).toEqual(jumps);
  });

  it('keep no more than they may, backwards or skipping, however large they are', async () => {
    const order = [...from(60, 30), 55];
    const few = new AnalysisFrames({ path, probe: await probe(path) }, WIDTH, HEIGHT, { mostBytes: 5 * BYTES_A_FRAME });
    const most: number[] = [];
    const found: number[] = [];
    for (const n of order) {
      found.push(readNumber(await few.frame(n)));
      most.push(few.bytesKept);
    }
    few.close();
    expect(found).toEqual(order);
    expect(Math.max(...most)).toBe(5 * BYTES_A_FRAME);
    expect(few.bytesKept).toBe(0);
  });

  it('say which frame a video does not have', async () => {
    const frames = new AnalysisFrames({ path, probe: await probe(path) }, WIDTH, HEIGHT);
    await expect(frames.frame(FRAMES + 3)).rejects.toThrow(`The video has no frame ${FRAMES + 3}`);
    frames.close();
  });
});
