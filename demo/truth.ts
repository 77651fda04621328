import { execFileSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

/** Where the camera stood on a frame: metres, a unit quaternion (x, y, z, w); it looks along its own −z. */
export interface CameraTruth {
  readonly position: readonly [number, number, number];
  readonly rotation: readonly [number, number, number, number];
  readonly verticalFovDegrees: number;
}

/** What the renderer wrote beside a shot of the demo film. */
export interface Truth {
  readonly frames: number;
  /** Coverage of the subject, 0..255, row-major; the size is the matte's own. */
  matte(frame: number): Uint8Array;
  readonly matteWidth: number;
  readonly matteHeight: number;
  /** Place of a named point in pixels of the 1280×720 picture, pixel centres at +0.5. */
  point(name: string, frame: number): readonly [number, number];
  /** The names `point` knows. */
  readonly pointNames: readonly string[];
  camera(frame: number): CameraTruth;
}

interface PointsFile {
  readonly points: readonly Record<string, readonly [number, number]>[];
  readonly cameras: readonly CameraTruth[];
}

/** What a take of the mender says. Times are seconds from its first frame. */
export interface SpeechTruth {
  readonly words: readonly { readonly word: string; readonly start: number; readonly end: number }[];
  /** Said in both takes, within different sentences. */
  readonly sharedWord: string;
  /** What an editor wants to lose; null where the tongue does not slip. */
  readonly slip: { readonly start: number; readonly end: number } | null;
}

export interface BeatsTruth {
  readonly beatsPerMinute: number;
  /** Seconds from the start of the music. */
  readonly beats: readonly number[];
}

const truthFile = (root: string, name: string): string => join(root, 'demo/truth', name);
const readJson = (path: string): unknown => JSON.parse(readFileSync(path, 'utf8'));

/** @throws Error when the take has none */
export const readSpeech = (take: string, root = process.cwd()): SpeechTruth =>
  readJson(truthFile(root, `${take}.speech.json`)) as SpeechTruth;

export const readBeats = (root = process.cwd()): BeatsTruth => readJson(truthFile(root, 'small-hours.beats.json')) as BeatsTruth;

const MATTE_WIDTH = 640;
const MATTE_HEIGHT = 360;

/** Reads the truth of a shot. @throws Error when there is none, RangeError for what it does not hold. */
export function readTruth(shot: string, root = process.cwd()): Truth {
  const file = (ending: string): string => truthFile(root, `${shot}.${ending}`);
  const { points, cameras } = readJson(file('points.json')) as PointsFile;
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
    pointNames: Object.keys(points[0] ?? {}),
    camera(frame) {
      const found = cameras[frame];
      if (found === undefined) throw new RangeError(`${shot} has no camera for frame ${frame}`);
      return found;
    },
  };
}
