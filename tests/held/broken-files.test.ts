import { execFileSync } from 'node:child_process';
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { createFilm } from '../../src/core/film/film';
import { rational } from '../../src/core/geometry/rational';
import { mediaFolder, mediumFolder } from '../../src/server/base/data-folder';
import { addFilm } from '../../src/server/films/films';
import { copyMedium, listMedia } from '../../src/server/media/media';
import { ingestMedium } from '../../src/server/media/ingest';
import { openTestWorkplace, type TestWorkplace } from '../../src/server/database/test-workplace';
import { seeded, times } from './seeded';

let place: TestWorkplace;
let filmId: string;
const random = seeded(238);
const whole: Buffer[] = [];

beforeAll(async () => {
  place = await openTestWorkplace();
  filmId = await addFilm(place.db, createFilm('Broken', 160, 90, rational(24, 1)));
  const picture = ['-f', 'lavfi', '-i', 'testsrc2=size=160x90:rate=24', '-frames:v', '24'];
  for (const [ending, ...codec] of [
    ['mp4', '-c:v', 'libx264', '-bf', '2'],
    ['webm', '-c:v', 'libvpx-vp9', '-deadline', 'realtime', '-cpu-used', '8'],
    ['mkv', '-c:v', 'ffv1'],
    ['avi', '-c:v', 'mpeg4'],
    ['mpg', '-c:v', 'mpeg2video'],
    ['gif'],
  ] as const) {
    const path = place.file(`whole.${ending}`);
    execFileSync('ffmpeg', ['-v', 'error', '-y', ...picture, ...codec, path]);
    whole.push(readFileSync(path));
  }
}, 60_000);
afterAll(() => place.close());

/** A file with something wrong: cut short, bytes changed, a piece left out, doubled or zeroed, or of another's beginning. */
function broken(): Buffer {
  const file = Buffer.from(whole[random(whole.length)]!);
  const at = random(file.length);
  const length = 1 + random(Math.max(1, file.length >> 2));
  switch (random(6)) {
    case 0:
      return file.subarray(0, at);
    case 1: {
      const share = 1 + random(60);
      for (let i = 0; i < share; i++) file[random(file.length)] = random(256);
      return file;
    }
    case 2:
      return Buffer.concat([file.subarray(0, at), file.subarray(at + length)]);
    case 3:
      return Buffer.concat([file.subarray(0, at), file.subarray(at, at + length), file.subarray(at)]);
    case 4:
      return file.fill(0, at, at + length);
    default:
      return Buffer.concat([whole[random(whole.length)]!.subarray(0, 64), file.subarray(64)]);
  }
}

it('makes of every broken file a usable medium or a clear sentence, and leaves nothing half done', async () => {
  const outcomes = { ready: 0, failed: 0 };
  for (let n = 0; n < times(36, 500); n++) {
    const name = `broken-${n}.bin`;
    writeFileSync(place.file(name), broken());
    const id = await copyMedium(place.db, filmId, name, place.file(name));
    await ingestMedium(place.db, id, new AbortController().signal, () => undefined).catch(() => undefined); // the row says why
    const medium = (await listMedia(place.db, filmId)).find((m) => m.id === id)!;
    expect(['ready', 'failed']).toContain(medium.status);
    if (medium.status === 'ready') expect(medium.facts!.frames).toBeGreaterThan(0);
    else expect(medium.error).toMatch(/^[A-Z].{20,}/s);
    expect(readdirSync(mediumFolder(id)).filter((f) => f.endsWith('.part'))).toEqual([]);
    outcomes[medium.status as 'ready' | 'failed']++;
  }
  expect(outcomes.ready).toBeGreaterThan(0);
  expect(outcomes.failed).toBeGreaterThan(0);
  expect(readdirSync(join(mediaFolder())).length).toBe(times(36, 500));
}, 600_000);
