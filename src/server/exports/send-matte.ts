import { createReadStream, createWriteStream } from 'node:fs';
import { mkdir, readdir, rename, rm } from 'node:fs/promises';
import { once } from 'node:events';
import { finished } from 'node:stream/promises';
import { join } from 'node:path';
import { Zip, ZipPassThrough } from 'fflate';
import type { Film, Medium } from '../../core/film/film';
import type { ExportEnding, MatteFormat } from '../../core/film/job';
import type { StoredCoverage } from '../../core/matte/coverage/stored-coverage';
import { planMediumMatte } from '../../core/plan/plan-mattes';
import { picturesOf } from '../../core/plan/plan-needs';
import type { SharedPicture, TaskCoverage } from '../../workers/compose';
import { AnalysisFrames } from '../video/analysis-frames';
import { AppError } from '../base/errors';
import { countFrames } from '../video/ffmpeg';
import { compose } from '../base/worker-pool';
import { greyWriter, numberedPictures } from '../video/picture-files';
import { RawEncoder } from '../video/raw-encoder';
import type { PictureFile } from '../video/ffmpeg';

export const ENDINGS: Record<MatteFormat, ExportEnding> = {
  png: 'zip',
  grey: 'mkv',
  'alpha webm': 'webm',
  'alpha mov': 'mov',
  'alpha mkv': 'mkv',
};

export interface MatteTask {
  readonly film: Film;
  readonly medium: Medium;
  readonly original: PictureFile;
  readonly matteId: string;
  readonly format: MatteFormat;
  /** Medium frames, both included. */
  readonly first: number;
  readonly last: number;
  coverage(frame: number): Promise<StoredCoverage | null>;
  readonly output: string;
  readonly signal: AbortSignal;
  onProgress(fraction: number): void;
}

const BT709 = ['-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'bt709'];
const toYuv = (pixels: string): string[] => ['-vf', `scale=out_color_matrix=bt709:out_range=tv,format=${pixels}`];

const VIDEO: Record<Exclude<MatteFormat, 'png'>, readonly string[]> = {
  grey: ['-c:v', 'ffv1', '-level', '3', '-pix_fmt', 'gray', '-f', 'matroska'],
  'alpha webm': [
    ...toYuv('yuva420p'),
    ...['-c:v', 'libvpx-vp9', '-b:v', '0', '-crf', '18', '-deadline', 'good', '-cpu-used', '4', '-row-mt', '1', '-auto-alt-ref', '0'],
    ...BT709,
    ...['-color_range', 'tv', '-f', 'webm'],
  ],
  'alpha mov': [...toYuv('yuva444p10le'), '-c:v', 'prores_ks', '-profile:v', '4444', '-vendor', 'apl0', ...BT709, '-f', 'mov'],
  'alpha mkv': ['-c:v', 'ffv1', '-level', '3', '-pix_fmt', 'bgra', '-f', 'matroska'],
};

/** Draws a matte on its medium's frames, at full size, and writes it out. The file appears under its name only when complete. */
export async function sendMatte(task: MatteTask): Promise<{ readonly frames: number }> {
  const { medium, original, format, first, last, output, signal } = task;
  const { width, height } = medium;
  const grey = format === 'png' || format === 'grey';
  const partial = `${output}.part`;
  const folder = `${output}.frames`;
  const source = new AnalysisFrames(original, width, height);
  const out = new SharedArrayBuffer((grey ? 1 : 4) * width * height);
  const memory = new SharedArrayBuffer(4 * width * height);
  const pixels = new Uint8Array(out);
  const encoder =
    format === 'png'
      ? greyWriter(await numberedPictures(folder), width, height, first)
      : new RawEncoder({ pixels: grey ? 'gray' : 'rgba', width, height, rate: medium.rate }, [...VIDEO[format], partial]);
  const stop = (): void => encoder.kill();
  signal.addEventListener('abort', stop, { once: true });
  try {
    for (let frame = first; frame <= last; frame++) {
      signal.throwIfAborted();
      const plan = planMediumMatte(task.film, medium, task.matteId, frame);
      const pictures: SharedPicture[] = [];
      // drawing the coverage of an outline alone needs no picture
      if (!grey || plan.layers[0]!.mattes.some((m) => m.kind !== 'outline')) {
        const { data } = await source.frame(frame);
        new Uint8ClampedArray(memory).set(data);
        for (const ref of picturesOf(plan))
          pictures.push({ mediumId: ref.mediumId, frame: ref.frame, width, height, pixels: 'rgba', memory });
      }
      const stored = await task.coverage(frame);
      const coverages: TaskCoverage[] = stored === null ? [] : [{ matteId: task.matteId, frame, ...stored }];
      await compose({ as: grey ? 'matte' : 'cut-out', plan, pictures, coverages, out });
      await encoder.write(pixels);
      task.onProgress((frame - first + 1) / (last - first + 1));
    }
    await encoder.close();
    signal.throwIfAborted();
    const wanted = last - first + 1;
    if (format === 'png') await zipFolder(folder, partial, wanted);
    else if ((await countFrames(partial, signal)) !== wanted)
      throw new AppError('unavailable', 'Not every frame was written. Export it again.');
    await rename(partial, output);
    return { frames: wanted };
  } catch (error) {
    signal.throwIfAborted(); // a stopped encoder complains too
    throw error;
  } finally {
    signal.removeEventListener('abort', stop);
    encoder.kill();
    source.close();
    await rm(partial, { force: true });
    await rm(folder, { recursive: true, force: true });
  }
}

/** Puts the files of `folder` into a zip at `path`, as they are: PNGs do not get smaller. */
async function zipFolder(folder: string, path: string, wanted: number): Promise<void> {
  await mkdir(folder, { recursive: true });
  const names = (await readdir(folder)).sort();
  if (names.length !== wanted)
    throw new AppError('unavailable', `Only ${names.length} of ${wanted} pictures were written. Export it again.`);
  const target = createWriteStream(path);
  const zip = new Zip((error, chunk, final) => {
    if (error !== null) target.destroy(error);
    else target.write(chunk);
    if (final) target.end();
  });
  for (const name of names) {
    const entry = new ZipPassThrough(name);
    zip.add(entry);
    for await (const chunk of createReadStream(join(folder, name))) {
      entry.push(new Uint8Array(chunk as Buffer));
      if (target.writableNeedDrain) await once(target, 'drain');
    }
    entry.push(new Uint8Array(0), true);
  }
  zip.end();
  await finished(target);
}
