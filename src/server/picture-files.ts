import { spawn } from 'node:child_process';
import { mkdir, rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { createImage, type Image } from '../core/image/image';
import { rational } from '../core/geometry/rational';
import { AppError } from './errors';
import { exitOf, run, tailOf } from './ffmpeg';
import { RawEncoder } from './raw-encoder';

const STILL_GUARD = ['-protocol_whitelist', 'file,pipe', '-format_whitelist', 'image2,png_pipe,jpeg_pipe,webp_pipe,tiff_pipe,bmp_pipe'];
const MAX_SIDE = 16_384;

/** Reads a still picture. @throws AppError 'unusable-file' */
export async function readPicture(path: string): Promise<Image> {
  const unusable = (why: string): AppError => new AppError('unusable-file', `${path} ${why}`);
  let size: { streams?: { width?: number; height?: number }[] };
  try {
    size = JSON.parse(
      await run('ffprobe', ['-v', 'error', ...STILL_GUARD, '-show_entries', 'stream=width,height', '-of', 'json', path]),
    ) as typeof size;
  } catch (error) {
    if (String(error).includes('not installed')) throw error;
    throw unusable('is not a picture that can be read. PNG, JPEG, WebP, TIFF and BMP can.');
  }
  const { width = 0, height = 0 } = size.streams?.[0] ?? {};
  if (width < 1 || height < 1 || width > MAX_SIDE || height > MAX_SIDE) throw unusable(`is ${width}×${height}; that cannot be used.`);
  const child = spawn(
    'ffmpeg',
    [
      '-hide_banner',
      '-nostdin',
      '-v',
      'error',
      ...STILL_GUARD,
      '-i',
      path,
      '-frames:v',
      '1',
      '-f',
      'rawvideo',
      '-pix_fmt',
      'rgba',
      'pipe:1',
    ],
    { stdio: ['ignore', 'pipe', 'pipe'] },
  );
  const parts: Buffer[] = [];
  child.stdout.on('data', (part: Buffer) => parts.push(part));
  const complaint = tailOf(child.stderr);
  const code = await exitOf(child, 'ffmpeg');
  const image = createImage(width, height);
  const bytes = Buffer.concat(parts);
  if (code !== 0 || bytes.length !== image.data.length) throw unusable(`could not be read: ${complaint() || 'it ends too early'}`);
  image.data.set(bytes);
  return image;
}

/** Writes 8-bit grey pictures as numbered PNGs, or as one when `pattern` has no number. */
export function greyWriter(pattern: string, width: number, height: number, firstNumber: number): RawEncoder {
  const numbered = pattern.includes('%') ? ['-start_number', String(firstNumber)] : ['-update', '1', '-frames:v', '1'];
  return new RawEncoder({ pixels: 'gray', width, height, rate: rational(25, 1) }, [
    ...['-f', 'image2', '-c:v', 'png', '-compression_level', '3'],
    ...numbered,
    pattern,
  ]);
}

/** Writes one 8-bit grey PNG; a half-written one never has the name. */
export async function writeGrey(path: string, coverage: Uint8Array, width: number, height: number): Promise<void> {
  const partial = `${path}.part`;
  try {
    const writer = greyWriter(partial, width, height, 0);
    await writer.write(coverage);
    await writer.close();
    await rename(partial, path);
  } finally {
    await rm(partial, { force: true });
  }
}

/** Makes `folder` and gives the pattern of the numbered pictures in it. */
export async function numberedPictures(folder: string): Promise<string> {
  await mkdir(folder, { recursive: true });
  return join(folder.replaceAll('%', '%%'), '%05d.png');
}
