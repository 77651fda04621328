import { execFileSync } from 'node:child_process';
import { copyFileSync, existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { unzipSync, zipSync } from 'fflate';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { createFilm, type Film } from '../../core/film/film';
import { makeEdit } from '../../core/film/history';
import type { MatteFormat } from '../../core/film/job';
import { addMatte } from '../../core/film/edits/mattes';
import { readyMedia, type MediumFacts } from '../../core/film/media-facts';
import { rational } from '../../core/geometry/rational';
import { runBringIn } from './bring-in-matte';
import { incomingFolder } from '../base/data-folder';
import { storeEdit } from '../films/film-edits';
import { addFilm, loadFilm } from '../films/films';
import { listMatteFrames, loadCoverage, removeMatteFrames, settleMatte, storeMatteFrame, swapFrameEdit } from '../films/matte-frames';
import { copyMedium, listMedia, pictureFileOf } from '../media/media';
import { ingestMedium } from '../media/ingest';
import { ENDINGS, sendMatte } from '../exports/send-matte';
import { openTestWorkplace, type TestWorkplace } from '../database/test-workplace';

const [W, H, FRAMES] = [96, 54, 5];
const open = new AbortController().signal;
const nothing = (): void => undefined;

let place: TestWorkplace;
let filmId: string;
let film: Film;
let medium: MediumFacts;

/** A block that moves two pixels a frame. */
const block = (frame: number): Uint8Array =>
  Uint8Array.from({ length: W * H }, (_, i) => {
    const x = (i % W) - 2 * frame;
    const y = Math.floor(i / W);
    return x >= 20 && x < 50 && y >= 12 && y < 40 ? 255 : 0;
  });

const raw = (path: string, pixels: string): Buffer =>
  execFileSync('ffmpeg', ['-v', 'error', '-i', path, '-f', 'rawvideo', '-pix_fmt', pixels, '-'], { maxBuffer: 1e8 });

async function send(format: MatteFormat, signal = open, onProgress: (fraction: number) => void = nothing): Promise<string> {
  const output = place.file(`${format}.${ENDINGS[format]}`);
  const original = await pictureFileOf(place.db, medium.id);
  const coverage = (frame: number): ReturnType<typeof loadCoverage> => loadCoverage(place.db, filmId, 'matte-1', frame);
  await sendMatte({ film, medium, original, matteId: 'matte-1', format, first: 0, last: FRAMES - 1, coverage, output, signal, onProgress });
  return output;
}

const bringIn = async (file: Buffer, matteId = 'matte-2', signal = open): Promise<void> => {
  writeFileSync(join(incomingFolder(), 'received'), file);
  await runBringIn(place.db, filmId, { matteId, file: 'received', first: 0 }, signal, nothing);
};

beforeAll(async () => {
  if (!existsSync('dist/compose.mjs')) execFileSync(process.execPath, ['scripts/build.mjs', '--tools']);
  place = await openTestWorkplace();
  const source = ['-f', 'lavfi', '-i', `testsrc2=size=${W}x${H}:rate=24`, '-frames:v', String(FRAMES)];
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...source, '-c:v', 'libx264', '-qp', '0', place.file('bars.mkv')]);
  filmId = await addFilm(place.db, createFilm('Files', W, H, rational(24, 1)));
  const mediumId = await copyMedium(place.db, filmId, 'bars.mkv', place.file('bars.mkv'));
  await ingestMedium(place.db, mediumId, open, nothing);
  medium = readyMedia(await listMedia(place.db, filmId)).get(mediumId)!;
  for (const id of ['matte-1', 'matte-2']) {
    const { film: now, revision } = await loadFilm(place.db, filmId);
    const made = makeEdit(now, 'matte', (d) => void addMatte(d, mediumId, 'strokes', id, () => id));
    await storeEdit(place.db, filmId, { base: revision, edit: made!.edit });
  }
  film = (await loadFilm(place.db, filmId)).film;
  for (let frame = 0; frame < FRAMES; frame++) {
    const coverage = { width: W, height: H, data: block(frame) };
    await storeMatteFrame(place.db, filmId, 'matte-1', { frame, origin: 'hand', confidence: 1, doubt: null, madeFrom: '', coverage });
  }
  mkdirSync(incomingFolder(), { recursive: true });
}, 60_000);
afterAll(() => place.close());

describe('a matte sent out', () => {
  it('is a zip of numbered pictures, each its frame exactly', async () => {
    const files = unzipSync(readFileSync(await send('png')));
    expect(Object.keys(files)).toHaveLength(FRAMES);
    Object.keys(files)
      .sort()
      .forEach((name, frame) => {
        const path = place.file('one.png');
        writeFileSync(path, files[name]!);
        expect(raw(path, 'gray').equals(Buffer.from(block(frame)))).toBe(true);
      });
  });

  it('is grey video without loss', async () => {
    const found = raw(await send('grey'), 'gray');
    for (let frame = 0; frame < FRAMES; frame++)
      expect(found.subarray(frame * W * H, (frame + 1) * W * H).equals(Buffer.from(block(frame)))).toBe(true);
  });

  it.each(['alpha mkv', 'alpha mov', 'alpha webm'] as const)('is the picture with its alpha as %s', async (format) => {
    const path = await send(format);
    // the library's decoder, which knows alpha; ffmpeg's own leaves it out
    const decoder = format === 'alpha webm' ? ['-c:v', 'libvpx-vp9'] : [];
    const rgba = execFileSync('ffmpeg', ['-v', 'error', ...decoder, '-i', path, '-f', 'rawvideo', '-pix_fmt', 'rgba', '-'], {
      maxBuffer: 1e8,
    });
    expect(rgba).toHaveLength(4 * W * H * FRAMES);
    let off = 0;
    for (let frame = 0; frame < FRAMES; frame++)
      block(frame).forEach((v, i) => (off += Math.abs(rgba[4 * (frame * W * H + i) + 3]! - v) / 255));
    expect(off / (W * H * FRAMES)).toBeLessThan(0.01);
  });

  it('leaves nothing behind when it is stopped', async () => {
    const stop = new AbortController();
    const before = readdirSync(place.folder).filter((n) => n.includes('.part') || n.includes('.frames'));
    await expect(send('grey', stop.signal, () => stop.abort(new Error('stopped')))).rejects.toThrow('stopped');
    expect(readdirSync(place.folder).filter((n) => n.includes('.part') || n.includes('.frames'))).toEqual(before);
  });
});

describe('a matte brought in', () => {
  const isBlock = async (): Promise<void> => {
    for (let frame = 0; frame < FRAMES; frame++)
      expect(Buffer.from((await loadCoverage(place.db, filmId, 'matte-2', frame))!.data).equals(Buffer.from(block(frame)))).toBe(true);
  };

  it('comes from a zip of pictures as it went out, and can be taken back by name', async () => {
    await bringIn(readFileSync(await send('png')));
    await isBlock();
    const { film: now } = await loadFilm(place.db, filmId);
    const edits = now.mattes.find((m) => m.id === 'matte-2')!.frameEdits!;
    await swapFrameEdit(place.db, filmId, 'matte-2', edits.at(-1)!);
    expect(await listMatteFrames(place.db, filmId, 'matte-2')).toEqual([]);
    await swapFrameEdit(place.db, filmId, 'matte-2', edits.at(-1)!);
    await isBlock();
  });

  it('leaves painted and settled frames as they are, and says so where there are no others', async () => {
    const paint = { width: W, height: H, data: new Uint8Array(W * H).fill(7) };
    const painted = { frame: 1, origin: 'hand', confidence: 1, doubt: null, madeFrom: '', coverage: paint } as const;
    await storeMatteFrame(place.db, filmId, 'matte-2', painted);
    const file = readFileSync(await send('png'));
    await bringIn(file);
    expect((await loadCoverage(place.db, filmId, 'matte-2', 1))!.data[0]).toBe(7);
    await settleMatte(place.db, filmId, 'matte-2', true);
    await expect(bringIn(file)).rejects.toThrow('painted or locked');
    await settleMatte(place.db, filmId, 'matte-2', false);
    await removeMatteFrames(place.db, filmId, 'matte-2', [1]);
  });

  it('comes from grey video too', async () => {
    await bringIn(readFileSync(await send('grey')));
    await isBlock();
  });

  it.each<MatteFormat>(['alpha webm', 'alpha mov', 'alpha mkv'])('comes from the alpha of a picture sent out as %s', async (format) => {
    await bringIn(readFileSync(await send(format)));
    let off = 0;
    for (let frame = 0; frame < FRAMES; frame++) {
      const { data } = (await loadCoverage(place.db, filmId, 'matte-2', frame))!;
      block(frame).forEach((v, i) => (off += Math.abs(data[i]! - v) / 255));
    }
    expect(off / (W * H * FRAMES)).toBeLessThan(0.01);
  });

  it('says what is wrong with a zip that is cut off, and one without pictures', async () => {
    const whole = readFileSync(await send('png'));
    const cutOff = Buffer.concat([whole.subarray(0, 60), Buffer.alloc(40, 7)]);
    await expect(bringIn(cutOff)).rejects.toThrow();
    await expect(bringIn(Buffer.from(zipSync({ 'notes.txt': new Uint8Array(9) })))).rejects.toThrow('The zip holds no pictures');
  });

  it('says where a zip ends early, and keeps the pictures that came whole', async () => {
    const whole = readFileSync(await send('png'));
    const { length } = await listMatteFrames(place.db, filmId, 'matte-2');
    const all = Array.from({ length }, (_, i) => i);
    await removeMatteFrames(place.db, filmId, 'matte-2', all);
    // cut within the fourth picture: three are whole
    const fourth = [...whole.toString('latin1').matchAll(/PK\x03\x04/g)][3]!.index;
    await expect(bringIn(whole.subarray(0, fourth + 60))).rejects.toThrow(
      'The zip ends early, within 00003.png: 3 whole pictures came in. Bring the whole file in again for the others.',
    );
    expect((await listMatteFrames(place.db, filmId, 'matte-2')).map((f) => f.frame)).toEqual([0, 1, 2]);
    // without its table of contents, but with all pictures
    await expect(bringIn(whole.subarray(0, whole.lastIndexOf('PK\x01\x02')))).rejects.toThrow(/5 whole pictures came in/);
  });

  it('brings pictures numbered past the medium in from the frame asked for, and keeps those before a broken one', async () => {
    const files = unzipSync(readFileSync(await send('png')));
    const renamed = Object.keys(files)
      .sort()
      .map((name, i): [string, Uint8Array] => [`shot.${1001 + i}.png`, files[name]!]);
    await bringIn(Buffer.from(zipSync(Object.fromEntries(renamed))));
    await isBlock();
    const { length } = await listMatteFrames(place.db, filmId, 'matte-2');
    await removeMatteFrames(
      place.db,
      filmId,
      'matte-2',
      Array.from({ length }, (_, i) => i),
    );
    renamed[3]![1] = renamed[3]![1].slice(0, 40);
    await expect(bringIn(Buffer.from(zipSync(Object.fromEntries(renamed))))).rejects.toThrow(
      /^shot.1004.png is not a picture that can be read/,
    );
    expect((await listMatteFrames(place.db, filmId, 'matte-2')).map((f) => f.frame)).toEqual([0, 1, 2]);
  });

  it('refuses frames of other proportions and says which', async () => {
    const path = place.file('square.mkv');
    execFileSync('ffmpeg', [
      '-v',
      'error',
      '-y',
      '-f',
      'lavfi',
      '-i',
      'color=white:size=64x64:rate=24',
      '-frames:v',
      '3',
      '-c:v',
      'ffv1',
      path,
    ]);
    await expect(bringIn(readFileSync(path))).rejects.toThrow('64×64');
  });

  it('refuses what is no picture at all', async () => {
    await expect(bringIn(Buffer.from('no film, only words'))).rejects.toThrow();
    expect(readdirSync(incomingFolder())).toEqual([]);
  });

  it('never writes outside its folder, whatever the names in the zip say', async () => {
    const png = place.file('inside.png');
    execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', `color=white:size=${W}x${H}`, '-frames:v', '1', png]);
    copyFileSync(png, place.file('kept.png'));
    await bringIn(Buffer.from(zipSync({ '../../../escaped-0002.png': readFileSync(png) })));
    expect(existsSync(join(incomingFolder(), '../../../escaped-0002.png'))).toBe(false);
    expect((await loadCoverage(place.db, filmId, 'matte-2', 2))!.data.every((v) => v === 255)).toBe(true);
  });
});

describe('a zip made to hurt', () => {
  it('is refused for pictures of too many pixels, quickly and with few bytes', async () => {
    const size = '16384x9216';
    execFileSync('ffmpeg', [
      '-v',
      'error',
      '-y',
      '-f',
      'lavfi',
      '-i',
      `color=white:size=${size}`,
      '-frames:v',
      '1',
      '-pix_fmt',
      'monob',
      place.file('vast.png'),
    ]);
    const vast = readFileSync(place.file('vast.png'));
    const zip = Buffer.from(zipSync({ '00000.png': vast, '00001.png': vast, '00002.png': vast }));
    expect(zip.length).toBeLessThan(100_000);
    const before = process.memoryUsage().rss;
    await expect(bringIn(zip)).rejects.toThrow(/00000.png is not a picture that can be read/);
    expect(process.memoryUsage().rss - before).toBeLessThan(500 * 2 ** 20);
  });

  it('is refused for what it unpacks to, without holding up anything else for long', async () => {
    const zip = Buffer.from(zipSync({ 'bomb.png': new Uint8Array(300 * 2 ** 20) }, { level: 1 }));
    let turns = 0;
    const beat = setInterval(() => turns++, 1);
    await expect(bringIn(zip)).rejects.toThrow(/bomb.png in the zip is too large/);
    clearInterval(beat);
    // unpacked in one go there would be none
    expect(turns).toBeGreaterThan(10);
  });

  it('can be stopped while it is unpacked, and leaves nothing', async () => {
    const stop = new AbortController();
    stop.abort(new Error('cancelled'));
    await expect(bringIn(Buffer.from(zipSync({ 'a.png': new Uint8Array(9) })), 'matte-2', stop.signal)).rejects.toThrow('cancelled');
    expect(readdirSync(incomingFolder())).toEqual([]);
  });
});
