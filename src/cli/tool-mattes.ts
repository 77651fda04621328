import { readFile, rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { StrokeCutter } from '../core/matte/cut/cut';
import { shrunkTo } from '../core/image/image';
import { refineCoverage } from '../core/matte/edge/refine-coverage';
import { bytesOf, coverageOf, cutSize } from '../core/matte/coverage/resize';
import { placeStrokes } from '../core/matte/cut/strokes';
import { carryFrames } from '../server/carry-frames';
import { probe } from '../server/ffmpeg';
import { parse, strokesSchema } from '../server/film-schema';
import { greyWriter, numberedPictures, readPicture, writeGrey } from '../server/picture-files';
import { readFrameSpan } from './frame-span';
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
  if (values.image === undefined || values.strokes === undefined || values.out === undefined)
    throw new UsageError('tool cut --image I.png --strokes S.json --out alpha.png');
  const out = outputFile(values.out, values.image, values.strokes);
  const image = await readPicture(fromCaller(values.image));
  const given = parse(strokesSchema, await readJsonFile(values.strokes));
  const { width, height } = cutSize(image.width, image.height);
  const small = width < image.width && height < image.height ? shrunkTo(image, width, height) : image;
  const scale = small.width / image.width;
  const alpha = new StrokeCutter(small).cut(placeStrokes(given, scale, PIXEL_CENTRE * scale, PIXEL_CENTRE * scale));
  const coverage = refineCoverage({ width: small.width, height: small.height, data: bytesOf(alpha) }, image, small);
  await writeGrey(out, coverage.data, image.width, image.height);
}

/** `tool carry`: a matte given on one frame taken to the others, forwards and backwards. */
export async function carryCommand(args: readonly string[]): Promise<void> {
  const { values } = parseArgs({
    args: [...args],
    options: {
      video: { type: 'string' },
      frame: { type: 'string' },
      matte: { type: 'string' },
      out: { type: 'string' },
      from: { type: 'string' },
      to: { type: 'string' },
    },
  });
  if (values.video === undefined || values.matte === undefined || values.out === undefined || values.frame === undefined)
    throw new UsageError('tool carry --video V --frame N --matte M.png --out DIR [--from A --to B]');
  const folder = new OutputFolder(values.out, 'carry.json');
  const video = fromCaller(values.video);
  const probed = await probe(video);
  const { frame, from, to, last } = await readFrameSpan({ ...values, frame: values.frame }, video, probed);
  const matte = await readPicture(fromCaller(values.matte));
  if (matte.width !== probed.width || matte.height !== probed.height)
    throw new UsageError(
      `${values.matte} is ${matte.width}×${matte.height}, the video ${probed.width}×${probed.height}; they must be the same size`,
    );
  const partial = await folder.begin();
  const confidence = new Map<number, number>([[frame, 1]]);
  const alpha = coverageOf(matte, matte.width, matte.height);
  const stop = new AbortController();
  const run = async (end: number): Promise<void> => {
    if (end === frame) return;
    const direction = Math.sign(end - frame);
    // numbered in the order they come; backwards they get their own numbers afterwards
    const pictures = await numberedPictures(direction > 0 ? partial : join(partial, 'back'));
    const writer = greyWriter(pictures, probed.width, probed.height, direction > 0 ? frame + 1 : 0);
    const next = end + direction;
    const run = { path: video, probe: probed, alpha, from: frame, to: end, beyond: next >= 0 && next <= last ? next : null };
    for await (const carried of carryFrames(run, stop.signal)) {
      confidence.set(carried.frame, carried.confidence);
      await writer.write(carried.coverage);
      process.stderr.write(`\r${confidence.size - 1} of ${to - from}`);
    }
    await writer.close();
    if (direction > 0) return;
    for (let n = frame - 1; n >= end; n--) await rename(join(partial, 'back', pictureName(frame - 1 - n)), join(partial, pictureName(n)));
    await rm(join(partial, 'back'), { recursive: true });
  };
  try {
    await writeGrey(join(partial, pictureName(frame)), redOf(matte), matte.width, matte.height);
    const both = [to, from].map((end) =>
      run(end).catch((error: unknown) => {
        stop.abort(error);
        throw error;
      }),
    );
    await Promise.allSettled(both);
    await Promise.all(both);
    process.stderr.write('\n');
    const list = [...confidence].sort(([a], [b]) => a - b).map(([n, c]) => ({ frame: n, confidence: Math.round(1000 * c) / 1000 }));
    await writeText(join(partial, 'carry.json'), `${JSON.stringify({ frames: list })}\n`);
    await folder.finish(partial);
  } finally {
    await rm(partial, { recursive: true, force: true });
  }
}

const pictureName = (n: number): string => `${String(n).padStart(5, '0')}.png`;

function redOf({ data, width, height }: { data: Uint8ClampedArray; width: number; height: number }): Uint8Array {
  const out = new Uint8Array(width * height);
  for (let i = 0; i < out.length; i++) out[i] = data[4 * i]!;
  return out;
}
