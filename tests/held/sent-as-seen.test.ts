import { createHash } from 'node:crypto';
import { cpSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Knex } from 'knex';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readyMedia } from '../../src/core/film/media-facts';
import { placedJoins } from '../../src/core/film/timing';
import { openDataDb } from '../../src/server/database/db';
import { orderedFrames, orderExport, runExport, sourcesOf } from '../../src/server/exports/exports';
import { listFilms, loadFilm, type StoredFilm } from '../../src/server/films/films';
import { listMedia } from '../../src/server/media/media';
import { yuvBytes } from '../../src/core/image/yuv';
import { FrameDrawer } from '../../src/server/exports/frame-drawer';
import { workerPool } from '../../src/server/base/worker-pool';
import { seededFolder } from '../screens/demo';
import { isLong } from './seeded';

let folder: string;
let db: Knex;
let stored: StoredFilm;
const signal = new AbortController().signal;
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'irimi-sent-'));
  cpSync(seededFolder(), folder, { recursive: true });
  process.env.IRIMI_DATA = folder;
  process.env.IRIMI_ROOT = process.cwd();
  db = await openDataDb();
  stored = await loadFilm(db, (await listFilms(db))[0]!.id);
}, 300_000);
afterAll(async () => {
  await workerPool().close();
  await db?.destroy();
  rmSync(folder, { recursive: true, force: true });
});

/** A fingerprint of each of these film frames as it goes to the encoder, when just `from` … `to` is ordered. */
async function drawn(frames: Iterable<number>, from: number, to: number): Promise<Map<number, string>> {
  const { film } = stored;
  const drawer = new FrameDrawer({ film, ...(await sourcesOf(db, stored.id, film, { from, to })), signal }, 'yuv420p');
  const found = new Map<number, string>();
  try {
    for await (const { frame, slot } of drawer.draw(frames)) {
      found.set(
        frame,
        createHash('sha1')
          .update(slot.bytes.subarray(0, yuvBytes(film.width, film.height)))
          .digest('hex'),
      );
      slot.release();
    }
  } finally {
    await drawer.close();
  }
  return found;
}

/** Of a span of frames one in the middle; in a long run all. */
const some = (from: number, to: number): number[] =>
  isLong ? Array.from({ length: to - from }, (_, i) => from + i) : [Math.floor((from + to) / 2)];

describe('every join of the demo film', () => {
  it('is the same, frame by frame, alone, with handles, and as part of the film', async () => {
    const { film } = stored;
    const alone = new Map<string, Map<number, string>>();
    const handled = new Map<string, Map<number, string>>();
    for (const [i, { join, from: begins, to: ends }] of placedJoins(film).entries()) {
      const { id, name } = join;
      // a short run looks at one after another alone and with handles, a long one at each in both ways
      const isHandled = isLong || begins === ends || i % 2 === 0;
      const isAlone = isLong || !isHandled;
      for (const [handles, into] of [...(isAlone ? [[0, alone] as const] : []), ...(isHandled ? [[6, handled] as const] : [])]) {
        const { from, to } = orderedFrames(film, { format: 'webm', joinId: id, handles });
        if (to > from) into.set(name, await drawn(some(from, to), from, to));
      }
    }
    expect(new Set([...alone.keys(), ...handled.keys()]).size).toBe(placedJoins(film).length);
    const wanted = new Set([...alone.values(), ...handled.values()].flatMap((frames) => [...frames.keys()]));
    const whole = await drawn(
      [...wanted].sort((a, b) => a - b),
      0,
      film.shots.reduce((sum, s) => sum + s.length, 0),
    );
    const differing = [...alone, ...handled].flatMap(([name, frames]) =>
      [...frames].flatMap(([frame, hash]) => (whole.get(frame) === hash ? [] : [`${name}, frame ${frame}`])),
    );
    expect(differing).toEqual([]);
  }, 3_600_000);

  it('is written out alone, melts without handles too', async () => {
    const { film } = stored;
    const media = readyMedia(await listMedia(db, stored.id));
    expect(media.size).toBeGreaterThan(10);
    for (const name of ['Lantern to kettle', 'Two takes, one word', 'One into the other']) {
      const placed = placedJoins(film).find((p) => p.join.name === name)!;
      const { entry } = await orderExport(db, stored.id, { format: 'webm', joinId: placed.join.id, handles: 0 });
      await runExport(db, entry.id, signal, () => undefined);
      expect(await db('exports').where({ id: entry.id }).first('frames')).toEqual({ frames: placed.to - placed.from });
    }
  }, 300_000);
});
