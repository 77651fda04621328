import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { filmLength, placedJoins } from '../src/core/film/timing';
import { rootFolder } from '../src/server/base/data-folder';
import { openDb } from '../src/server/database/db';
import { seedDemoFilm } from '../src/server/demo/demo-film';
import { DEMO_FILM_NAME } from '../src/server/demo/demo-joins';
import { sourcesOf } from '../src/server/exports/exports';
import { PROXY_CODEC } from '../src/server/video/ffmpeg';
import { findFilm } from '../src/server/films/films';
import { copyMedium } from '../src/server/media/media';
import { ingestMedium } from '../src/server/media/ingest';
import { sendFilm } from '../src/server/exports/send-film';
import type { Line } from './line';

const RUNS = 3;

function ffmpegMs(args: readonly string[]): number {
  const began = performance.now();
  const run = spawnSync('ffmpeg', ['-v', 'error', '-y', '-nostdin', ...args]);
  if (run.status !== 0) throw new Error(String(run.stderr));
  return performance.now() - began;
}

/** Best of a few, taking turns, so that a busy moment of the machine hits both. */
async function bestOf(ours: () => Promise<number>, theirs: () => number): Promise<[number, number]> {
  let [a, b] = [Infinity, Infinity];
  for (let i = 0; i < RUNS; i++) {
    a = Math.min(a, await ours());
    b = Math.min(b, theirs());
  }
  return [a, b];
}

/** Importing and exporting, against ffmpeg alone doing the same decoding and encoding. */
export async function benchMedia(): Promise<Line[]> {
  const folder = mkdtempSync(join(tmpdir(), 'irimi-bench-'));
  process.env.IRIMI_DATA = folder;
  const db = await openDb(join(folder, 'irimi.sqlite'));
  try {
    const id = await seedDemoFilm(db, () => undefined);
    const { film } = await findFilm(db, DEMO_FILM_NAME);
    const sources = await sourcesOf(db, id, film);
    const tram = join(rootFolder(), 'demo/media/street-tram.webm');
    const signal = new AbortController().signal;
    const send = async (from: number, to: number): Promise<number> => {
      const began = performance.now();
      await sendFilm({ film, ...sources, from, to, format: 'mp4', output: join(folder, 'out.mp4'), signal, onProgress: () => undefined });
      return performance.now() - began;
    };
    // the same codec settings as exporting
    const encode = ['-c:v', 'libx264', '-crf', '17', '-preset', 'medium', '-movflags', '+faststart'];
    const transcode = (frames: number) => (): number =>
      ffmpegMs(['-i', tram, '-frames:v', String(frames), '-pix_fmt', 'yuv420p', ...encode, join(folder, 'plain.mp4')]);

    const [plainOurs, plainTheirs] = await bestOf(() => send(0, 72), transcode(72));
    const { from, to } = placedJoins(film)[0]!;
    const reach = Math.min(filmLength(film), to + 20);
    const [joinOurs, joinTheirs] = await bestOf(() => send(from - 20, reach), transcode(reach - from + 20));
    const [inOurs, inTheirs] = await bestOf(
      async () => {
        const began = performance.now();
        await ingestMedium(db, await copyMedium(db, id, 'again.webm', tram), signal, () => undefined);
        return performance.now() - began;
      },
      () => ffmpegMs(['-i', tram, '-an', '-vf', 'scale=960:540', ...PROXY_CODEC, join(folder, 'proxy.webm')]),
    );
    const ratio = (theirs: number, ours: number): string => (theirs / ours).toFixed(2);
    return [
      {
        what: 'exporting 72 plain frames, speed against a plain transcode',
        value: ratio(plainTheirs, plainOurs),
        against: `ffmpeg alone ${(plainTheirs / 1000).toFixed(2)} s`,
      },
      {
        what: `exporting ${reach - from + 20} frames with the tram wipe, the same`,
        value: ratio(joinTheirs, joinOurs),
        against: `ffmpeg alone ${(joinTheirs / 1000).toFixed(2)} s`,
      },
      {
        what: 'importing 120 frames, speed against ffmpeg alone',
        value: ratio(inTheirs, inOurs),
        against: `ffmpeg alone ${(inTheirs / 1000).toFixed(2)} s`,
      },
    ];
  } finally {
    await db.destroy();
    rmSync(folder, { recursive: true, force: true });
  }
}
