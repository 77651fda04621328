import { readFile, rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { StrokeCutter } from '../core/matte/cut/cut';
import { shrunkTo } from '../core/image/image';
import { refineCoverage } from '../core/matte/edge/refine-coverage';
import { bytesOf, coverageOf, cutSize } from '../core/matte/coverage/resize';
import { placeStrokes } from '../core/matte/cut/strokes';
import { carryFrames } from '../server/work/carry-frames';
import { blendMattes } from '../core/matte/carry/meet';
import type { Image } from '../core/image/pixels';
import { probe, type Probe } from '../server/video/ffmpeg';
import { parse } from '../server/base/parse';
import { strokesSchema } from '../server/http/request-schema';
import { greyWriter, numberedPictures, readPicture, writeGrey } from '../server/video/picture-files';
import { frameNumber, readFrameSpan } from './frame-span';
import { takes } from './help';
import { fromCaller, outputFile, OutputFolder, writeText } from './output';
import { UsageError } from './usage';

/** Reads a JSON file. @throws UsageError that names it. */
export async function readJsonFile(path: string): Promise<unknown> {
  try {
    return JSON.parse(await readFile(fromCaller(path), 'utf8'));
  } catch (error) {
    throw new UsageError(`${path} is not a JSON file that can be read: ${(error as Error).message}`);
  }
}

/** On the command line pixel centres are at whole numbers. */
const PIXEL_CENTRE = 0.5;

/** `tool cut`: a matte from strokes on one picture. */
export async function cutCommand(args: readonly string[]): Promise<void> {
  const { values } = parseArgs({
    args: [...args],
    options: { image: { type: 'string' }, strokes: { type: 'string' }, out: { type: 'string' } },
  });
  if (values.image === undefined || values.strokes === undefined || values.out === undefined) throw new UsageError(takes('cut'));
  const out = outputFile(values.out, values.image, values.strokes);
  const image = await readPicture(fromCaller(values.image));
  const given = parse(strokesSchema, await readJsonFile(values.strokes));
  if (given.box === undefined && given.keep.length === 0) throw new UsageError(`${values.strokes} has neither keep strokes nor a box`);
  const { width, height } = cutSize(image.width, image.height);
  const small = width < image.width && height < image.height ? shrunkTo(image, width, height) : image;
  const scale = small.width / image.width;
  const alpha = new StrokeCutter(small).cut(placeStrokes(given, scale, PIXEL_CENTRE * scale, PIXEL_CENTRE * scale));
  const coverage = refineCoverage({ width: small.width, height: small.height, data: bytesOf(alpha) }, image, small);
  await writeGrey(out, coverage.data, image.width, image.height);
}

/** A matte given on a frame. */
interface Given {
  readonly frame: number;
  readonly matte: Image;
}

/** A way from a given frame on: to the last frame that is carried there, and the one after it where the video has one. */
interface Leg {
  readonly from: Given;
  readonly to: number;
}

/** `tool carry`: mattes given on one frame or several taken to the others; between two of them it is carried from both, and they meet. */
export async function carryCommand(args: readonly string[]): Promise<void> {
  const { values } = parseArgs({
    args: [...args],
    options: {
      ...{ video: { type: 'string' }, frame: { type: 'string' }, matte: { type: 'string' }, out: { type: 'string' } },
      ...{ from: { type: 'string' }, to: { type: 'string' }, given: { type: 'string', multiple: true } },
    } as const,
  });
  const listed = (values.given ?? []).map(parsedGiven);
  if (values.matte !== undefined && values.frame !== undefined) listed.unshift({ frame: values.frame, path: values.matte });
  if (
    values.video === undefined ||
    values.out === undefined ||
    listed.length === 0 ||
    (values.matte === undefined) !== (values.frame === undefined)
  )
    throw new UsageError(takes('carry'));
  const folder = new OutputFolder(values.out, 'carry.json');
  const video = fromCaller(values.video);
  const probed = await probe(video);
  const span = await readFrameSpan({ ...values, frame: listed[0]!.frame }, video, probed);
  const { from, to, last } = span;
  const given: Given[] = [];
  for (const { frame, path } of listed)
    given.push({ frame: frameNumber(frame, 'the frame of a given matte', last), matte: await matteOf(path, probed) });
  given.sort((a, b) => a.frame - b.frame);
  for (const [i, { frame }] of given.entries()) {
    if (frame === given[i + 1]?.frame) throw new UsageError(`frame ${frame} is given twice`);
    if (frame < from || frame > to) throw new UsageError(`frame ${frame} is given, but only ${from} to ${to} are asked for`);
  }
  const legs = legsBetween(given, from, to);
  const steps = legs.reduce((sum, leg) => sum + Math.abs(leg.to - leg.from.frame), 0);
  const partial = await folder.begin();
  const confidence = new Map<number, number>(given.map((g) => [g.frame, 1]));
  const stop = new AbortController();
  let done = 0;
  /** Carries along a leg to a folder of its own, numbered in the order of the way. */
  const run = async (leg: Leg, index: number): Promise<LegFrame[]> => {
    const { from: start, to: end } = leg;
    const direction = Math.sign(end - start.frame);
    const writer = greyWriter(await numberedPictures(join(partial, `leg-${index}`)), probed.width, probed.height, 0);
    const next = end + direction;
    const alpha = coverageOf(start.matte, probed.width, probed.height);
    const way = { path: video, probe: probed, alpha, from: start.frame, to: end, beyond: next >= 0 && next <= last ? next : null };
    const frames: LegFrame[] = [];
    for await (const carried of carryFrames(way, stop.signal)) {
      frames.push({
        frame: carried.frame,
        confidence: carried.confidence,
        path: join(partial, `leg-${index}`, pictureName(frames.length)),
      });
      await writer.write(carried.coverage);
      process.stderr.write(`\r${++done} of ${steps}`);
    }
    await writer.close();
    return frames;
  };
  try {
    for (const g of given) await writeGrey(join(partial, pictureName(g.frame)), redOf(g.matte), probed.width, probed.height);
    const found: LegFrame[][] = [];
    // both ways of a pair at a time
    for (let i = 0; i < legs.length; i += 2) {
      const both = legs.slice(i, i + 2).map((leg, k) =>
        run(leg, i + k).catch((error: unknown) => {
          stop.abort(error);
          throw error;
        }),
      );
      await Promise.allSettled(both);
      found.push(...(await Promise.all(both)));
    }
    process.stderr.write('\n');
    const byFrame = new Map<number, LegFrame[]>();
    for (const frame of found.flat()) byFrame.set(frame.frame, [...(byFrame.get(frame.frame) ?? []), frame]);
    for (const [frame, [first, second]] of byFrame) {
      const out = join(partial, pictureName(frame));
      if (second === undefined) {
        await rename(first!.path, out);
        confidence.set(frame, first!.confidence);
        continue;
      }
      const left = given.findLast((g) => g.frame < frame)!.frame;
      const right = given.find((g) => g.frame > frame)!.frame;
      const share = (frame - left) / (right - left);
      const [a, b] = await Promise.all(
        [first!, second].map(async ({ path }) => coverageOf(await readPicture(path), probed.width, probed.height)),
      );
      await writeGrey(out, bytesOf(blendMattes(a!, b!, share)), probed.width, probed.height);
      confidence.set(frame, (1 - share) * first!.confidence + share * second.confidence);
    }
    for (const index of legs.keys()) await rm(join(partial, `leg-${index}`), { recursive: true, force: true });
    const list = [...confidence].sort(([a], [b]) => a - b).map(([n, c]) => ({ frame: n, confidence: Math.round(1000 * c) / 1000 }));
    await writeText(join(partial, 'carry.json'), `${JSON.stringify({ frames: list })}\n`);
    await folder.finish(partial);
  } finally {
    await rm(partial, { recursive: true, force: true });
  }
}

interface LegFrame {
  readonly frame: number;
  readonly confidence: number;
  readonly path: string;
}

function parsedGiven(text: string): { readonly frame: string; readonly path: string } {
  const at = text.indexOf('=');
  if (at <= 0 || at === text.length - 1) throw new UsageError(`--given takes a frame and a picture such as 17=matte.png, not "${text}"`);
  return { frame: text.slice(0, at), path: text.slice(at + 1) };
}

async function matteOf(given: string, { width, height }: Pick<Probe, 'width' | 'height'>): Promise<Image> {
  const matte = await readPicture(fromCaller(given));
  if (matte.width !== width || matte.height !== height)
    throw new UsageError(`${given} is ${matte.width}×${matte.height}, the video ${width}×${height}; they must be the same size`);
  return matte;
}

/** The ways to go: from the first given frame back and from the last one on, and between two of them both ways, the way on first. */
function legsBetween(given: readonly Given[], from: number, to: number): Leg[] {
  const legs: Leg[] = [];
  const [first, last] = [given[0]!, given.at(-1)!];
  if (last.frame < to) legs.push({ from: last, to });
  if (first.frame > from) legs.push({ from: first, to: from });
  for (let i = 0; i + 1 < given.length; i++) {
    const [a, b] = [given[i]!, given[i + 1]!];
    if (b.frame - a.frame > 1) legs.push({ from: a, to: b.frame - 1 }, { from: b, to: a.frame + 1 });
  }
  return legs;
}

const pictureName = (n: number): string => `${String(n).padStart(5, '0')}.png`;

function redOf({ data, width, height }: { data: Uint8ClampedArray; width: number; height: number }): Uint8Array {
  const out = new Uint8Array(width * height);
  for (let i = 0; i < out.length; i++) out[i] = data[4 * i]!;
  return out;
}
