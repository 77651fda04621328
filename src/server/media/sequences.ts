import { rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import sharp, { type Sharp } from 'sharp';
import { formatRational, type Rational } from '../../core/geometry/rational';
import { mediumFile, mediumFolder } from '../base/data-folder';
import { AppError } from '../base/errors';
import { run, runLimit } from '../base/processes';
import { probe, type Probe } from '../video/ffmpeg';
import { unzipPictures } from '../video/picture-zip';

const MOST_SIDE = 8192;

/**
 * Makes one file without loss of the numbered pictures in a zip, in the order of their numbers, one a frame at `rate`. All are as large
 * as the first. @returns how it is decoded, and a sentence where the zip ended early @throws AppError 'unusable-file'
 */
export async function joinSequence(
  id: string,
  rate: Rational,
  bytes: number,
  signal: AbortSignal,
  onProgress: (fraction: number) => void,
): Promise<{ readonly probe: Probe; readonly endsEarly: string | null }> {
  const folder = join(mediumFolder(id), 'pictures.part');
  const joined = mediumFile(id, 'sequence.mkv');
  try {
    const { pictures, endsIn } = await unzipPictures(mediumFile(id, 'original'), folder, signal);
    if (pictures.length === 0) throw new AppError('unusable-file', 'The zip ends before its first picture.');
    let size: { readonly width: number; readonly height: number } | null = null;
    for (const [i, { path, name }] of pictures.entries()) {
      signal.throwIfAborted();
      const upright = sharp(path).rotate().toColourspace('srgb').ensureAlpha(); // prettier-ignore
      const sized: Sharp = size === null ? upright : upright.resize({ ...size, fit: 'fill' });
      const { width, height } = await sized
        .png({ compressionLevel: 1 })
        .toFile(join(folder, `${String(i).padStart(6, '0')}.png`))
        .catch(() => {
          throw new AppError('unusable-file', `${name} in the zip is damaged or of a kind that is not known here.`);
        });
      if (width > MOST_SIDE || height > MOST_SIDE)
        throw new AppError('unusable-file', `The pictures are ${width}×${height}; at most ${MOST_SIDE} pixels a side can be used.`);
      size ??= { width, height };
      await rm(path);
      onProgress((0.7 * (i + 1)) / pictures.length);
    }
    const args = ['-hide_banner', '-nostdin', '-v', 'error', '-y', '-framerate', formatRational(rate), '-i', join(folder, '%06d.png')];
    await run('ffmpeg', [...args, '-c:v', 'ffv1', '-level', '3', '-g', '1', '-pix_fmt', 'bgra', '-f', 'matroska', `${joined}.part`], {
      signal,
      seconds: runLimit(bytes, pictures.length * size!.width * size!.height),
    });
    await rename(`${joined}.part`, joined);
    const endsEarly = endsIn === null ? null : `The zip ends early: ${pictures.length} whole pictures came in.`;
    return { probe: await probe(joined, signal), endsEarly };
  } finally {
    await rm(folder, { recursive: true, force: true });
    await rm(`${joined}.part`, { force: true });
  }
}
