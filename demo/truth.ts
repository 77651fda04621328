import { execFileSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

/** What the renderer wrote beside a shot of the demo film. */
export interface Truth {
  readonly frames: number;
  /** Coverage of the subject, 0..255, row-major; the size is the matte's own. */
  matte(frame: number): Uint8Array;
  readonly matteWidth: number;
  readonly matteHeight: number;
  /** Place of a named point in pixels of the 1280×720 picture, pixel centres at +0.5. */
  point(name: string, frame: number): readonly [number, number];
}

interface PointsFile {
  readonly points: readonly Record<string, readonly [number, number]>[];
}

const MATTE_WIDTH = 640;
const MATTE_HEIGHT = 360;

/** Reads the truth of a shot. @throws Error when there is none, RangeError for what it does not hold. */
export function readTruth(shot: string, root = process.cwd()): Truth {
  const file = (ending: string): string => join(root, 'demo/truth', `${shot}.${ending}`);
  const { points } = JSON.parse(readFileSync(file('points.json'), 'utf8')) as PointsFile;
  const raw = existsSync(file('matte.mkv'))
    ? execFileSync('ffmpeg', ['-v', 'error', '-i', file('matte.mkv'), '-f', 'rawvideo', '-pix_fmt', 'gray', 'pipe:1'], {
        maxBuffer: 2 ** 30,
      })
    : null;
  const size = MATTE_WIDTH * MATTE_HEIGHT;
  return {
    frames: points.length,
    matteWidth: MATTE_WIDTH,
    matteHeight: MATTE_HEIGHT,
    matte(frame) {
      if (raw === null || frame < 0 || (frame + 1) * size > raw.length) throw new RangeError(`${shot} has no matte for frame ${frame}`);
      return raw.subarray(frame * size, (frame + 1) * size);
    },
    point(name, frame) {
      const found = points[frame]?.[name];
      if (found === undefined) throw new RangeError(`${shot} has no point "${name}" on frame ${frame}`);
      return found;
    },
  };
}
