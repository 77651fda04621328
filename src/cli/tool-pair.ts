import { rm } from 'node:fs/promises';
import { parseArgs } from 'node:util';
import { SignsReader, SIGNS_WIDTH, type FrameSigns } from '../core/pair/frame-signs';
import { exactPairs, matchMap } from '../core/pair/match-map';
import { between, flowPair } from '../core/flow/between';
import { meltFrames, type MeltPictures } from '../core/morph/melt';
import { shareOf } from '../core/morph/melt-frames';
import { AnalysisFrames } from '../server/video/analysis-frames';
import { countVideoFrames, probe } from '../server/video/ffmpeg';
import { colourWriter, numberedPictures, readPicture, writePicture } from '../server/video/picture-files';
import { frameNumber } from './frame-span';
import { takes } from './help';
import { fromCaller, outputFile, OutputFolder, writeText } from './output';
import { UsageError, wholeNumber } from './usage';

/** Frames of a video that are paired at most; longer ones are looked at evenly. */
const MOST_FRAMES = 240;

const rounded = (value: number, digits: number): number => Number(value.toFixed(digits));

interface LookedAt {
  readonly signs: readonly FrameSigns[];
  /** Frames of the video from one to the next that is looked at. */
  readonly step: number;
  /** Pixels of the video to one of the signs. */
  readonly scale: number;
}

async function lookAt(given: string): Promise<LookedAt> {
  const path = fromCaller(given);
  const probed = await probe(path);
  const count = await countVideoFrames(path, probed);
  if (count === 0) throw new UsageError(`${given} has no frame that can be decoded`);
  const step = Math.ceil(count / MOST_FRAMES);
  const frames = new AnalysisFrames(
    { path, probe: probed },
    SIGNS_WIDTH,
    Math.max(16, Math.round((SIGNS_WIDTH * probed.height) / probed.width)),
  );
  const reader = new SignsReader();
  const signs: FrameSigns[] = [];
  try {
    for (let n = 0; n < count; n += step) signs.push(reader.next(await frames.frame(n)));
  } finally {
    frames.close();
  }
  return { signs, step, scale: probed.width / SIGNS_WIDTH };
}

/** `tool pair`: where two videos meet best, with how one lies over the other there. */
export async function pairCommand(args: readonly string[]): Promise<void> {
  const { values } = parseArgs({ args: [...args], options: { a: { type: 'string' }, b: { type: 'string' }, out: { type: 'string' } } });
  if (values.a === undefined || values.b === undefined || values.out === undefined) throw new UsageError(takes('pair'));
  const out = outputFile(values.out, values.a, values.b);
  const a = await lookAt(values.a);
  const b = await lookAt(values.b);
  const working = matchMap({ a: a.signs, b: b.signs });
  let now = working.next();
  while (now.done !== true) {
    process.stderr.write(`\r${Math.round(100 * now.value)} %`);
    now = working.next();
  }
  process.stderr.write('\n');
  const map = now.value;
  const pairs = exactPairs(map, a.signs, b.signs).map(({ row, column, placement, likeness }) => ({
    a: row * a.step,
    b: column * b.step,
    score: rounded(Math.max(0, likeness), 4),
    transform: {
      scale: rounded((placement.scale * a.scale) / b.scale, 4),
      rotationDegrees: rounded((placement.turn * 180) / Math.PI, 3),
      dx: rounded(placement.dx * a.scale, 2),
      dy: rounded(placement.dy * a.scale, 2),
      flip: placement.flip,
    },
  }));
  await writeText(out, `${JSON.stringify({ pairs })}\n`);
}

/** `tool between`: the picture part of the way from one to another. */
export async function betweenCommand(args: readonly string[]): Promise<void> {
  const { values } = parseArgs({
    args: [...args],
    options: { a: { type: 'string' }, b: { type: 'string' }, at: { type: 'string' }, out: { type: 'string' } },
  });
  if (values.a === undefined || values.b === undefined || values.out === undefined) throw new UsageError(takes('between'));
  const at = Number(values.at ?? '0.5');
  if (!(at >= 0 && at <= 1)) throw new UsageError(`--at takes a number from 0 to 1, not "${values.at}"`);
  const out = outputFile(values.out, values.a, values.b);
  const [a, b] = await Promise.all([readPicture(fromCaller(values.a)), readPicture(fromCaller(values.b))]);
  if (a.width !== b.width || a.height !== b.height)
    throw new UsageError(`${values.a} is ${a.width}×${a.height}, ${values.b} ${b.width}×${b.height}; they must be the same size`);
  await writePicture(out, between(flowPair(a, b, 'fine'), at));
}

/**
 * `tool morph`: the frames between one of a video and one of another, melted. Both go on moving: towards its end the leaving one shows what
 * comes after its frame, and at its start the entering one what comes before its own, as far as they have it.
 */
export async function morphCommand(args: readonly string[]): Promise<void> {
  const { values } = parseArgs({
    args: [...args],
    options: {
      ...{ a: { type: 'string' }, 'a-frame': { type: 'string' }, b: { type: 'string' }, 'b-frame': { type: 'string' } },
      ...{ frames: { type: 'string' }, out: { type: 'string' }, quality: { type: 'string' } },
    } as const,
  });
  const { a, b, out, frames, 'a-frame': aFrame, 'b-frame': bFrame, quality = 'fine' } = values;
  if ([a, b, out, frames, aFrame, bFrame].some((v) => v === undefined)) throw new UsageError(takes('morph'));
  if (quality !== 'fast' && quality !== 'fine') throw new UsageError(`--quality takes fast or fine, not "${quality}"`);
  const count = wholeNumber(frames, '--frames', 1);
  const folder = new OutputFolder(out!, 'morph.json');
  const from = await opened(a!, aFrame!, '--a-frame');
  const { width, height } = from.probed;
  const to = await opened(b!, bFrame!, '--b-frame', { width, height });
  const partial = await folder.begin();
  try {
    const writer = colourWriter(await numberedPictures(partial), width, height, 0);
    const meeting: MeltPictures = async (i) => [
      await from.frames.frame(Math.min(from.last, from.frame + i + 1)),
      await to.frames.frame(Math.max(0, to.frame - count + i)),
    ];
    let done = 0;
    for await (const picture of meltFrames(count, meeting, quality)) {
      await writer.write(new Uint8Array(picture.data));
      process.stderr.write(`\r${++done} of ${count}`);
    }
    await writer.close();
    process.stderr.write('\n');
    await writeText(
      `${partial}/morph.json`,
      `${JSON.stringify({ frames: Array.from({ length: count }, (_, i) => ({ frame: i, at: rounded(shareOf(i, count), 4) })) })}\n`,
    );
    await folder.finish(partial);
  } finally {
    from.frames.close();
    to.frames.close();
    await rm(partial, { recursive: true, force: true });
  }
}

async function opened(given: string, frameText: string, name: string, size?: { readonly width: number; readonly height: number }) {
  const path = fromCaller(given);
  const probed = await probe(path);
  const last = (await countVideoFrames(path, probed)) - 1;
  const frame = frameNumber(frameText, name, last);
  const { width, height } = size ?? probed;
  return { probed, last, frame, frames: new AnalysisFrames({ path, probe: probed }, width, height) };
}
