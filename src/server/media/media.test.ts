import { mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { stat } from 'node:fs/promises';
import { join } from 'node:path';
import { zipSync } from 'fflate';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { makeNumberedVideo, numbersOf, readNumber } from '../../../tests/fixtures/numbered-video';
import { createFilm } from '../../core/film/film';
import { isUsable, type ShelfMedium } from '../../core/film/media-facts';
import { rational, toNumber } from '../../core/geometry/rational';
import { mediumFile, mediumFolder } from '../base/data-folder';
import { addFilm } from '../films/films';
import { copyMedium, listMedia, pictureFileOf, removeMedium, takeInMedium } from './media';
import { countFrames } from '../video/ffmpeg';
import { removeParts } from './first-parts';
import { ingestMedium } from './ingest';
import { FrameReader, SlotPool } from '../exports/frame-reader';
import { run } from '../base/processes';
import { openTestWorkplace, type TestWorkplace } from '../database/test-workplace';

let place: TestWorkplace;
let filmId: string;
beforeAll(async () => {
  place = await openTestWorkplace();
  filmId = await addFilm(place.db, createFilm('Numbers', 320, 180, rational(24, 1)));
});
afterAll(() => place.close());

const still = new AbortController().signal;

async function bringIn(name: string): Promise<ShelfMedium> {
  const id = await copyMedium(place.db, filmId, name, place.file(name));
  await ingestMedium(place.db, id, still, () => undefined).catch(() => undefined); // the row says how it ended
  return (await listMedia(place.db, filmId)).find((m) => m.id === id)!;
}

/** Numbers of some frames as sending out decodes them from the original. */
async function sentNumbers(medium: ShelfMedium, from: number, count: number): Promise<number[]> {
  const { width, height } = medium.facts!;
  const pool = new SlotPool(4 * width * height);
  const reader = new FrameReader(medium, await pictureFileOf(place.db, medium.id), from, width, height, 'rgba', pool);
  const numbers: number[] = [];
  for (let i = from; i < from + count; i++) {
    const slot = await reader.frame(i);
    numbers.push(readNumber({ width, height, data: slot.bytes }));
    slot.release();
  }
  await reader.close();
  return numbers;
}

/** Frame numbers of the proxy, as the page shows them. */
const proxyNumbers = (medium: ShelfMedium): Promise<number[]> =>
  numbersOf(mediumFile(medium.id, 'proxy.webm'), medium.facts!.proxyWidth, medium.facts!.proxyHeight);

describe('numbered pictures in a zip', () => {
  it('are one medium at the film’s rate, each picture its frame, on the page and sent out', async () => {
    await makeNumberedVideo(place.file('all.mkv'), { width: 320, height: 180, frames: 14, rate: '24', codec: ['-c:v', 'ffv1'] });
    const folder = place.file('numbered');
    mkdirSync(folder);
    await run('ffmpeg', ['-v', 'error', '-i', place.file('all.mkv'), join(folder, 'pan.%04d.png')], { seconds: 60 });
    const files = Object.fromEntries(readdirSync(folder).map((f) => [f, readFileSync(join(folder, f))]));
    writeFileSync(place.file('numbered.zip'), zipSync(files, { level: 0 }));
    const medium = await bringIn('numbered.zip');
    expect(medium).toMatchObject({ status: 'ready', facts: { kind: 'video', frames: 14, width: 320, height: 180 } });
    expect(toNumber(medium.facts!.rate)).toBe(24);
    const all = Array.from({ length: 14 }, (_, i) => i);
    expect(await sentNumbers(medium, 0, 14)).toEqual(all);
    expect(await proxyNumbers(medium)).toEqual(all);
  });

  it('that are no pictures, or damaged, are said', async () => {
    writeFileSync(place.file('words.zip'), zipSync({ 'a.txt': Buffer.from('words') }));
    expect(await bringIn('words.zip')).toMatchObject({ status: 'failed', error: expect.stringContaining('holds no pictures') as string });
    writeFileSync(place.file('bad.zip'), zipSync({ 'a.0001.png': Buffer.from('no picture') }));
    expect(await bringIn('bad.zip')).toMatchObject({ status: 'failed', error: expect.stringContaining('damaged') as string });
  });
});

const UNEVEN_FRAMES = 90;
/** A phone's clock: thirty a second on average, never quite on time, with two long gaps. */
const unevenTime = (n: number): number => n / 30 + 0.011 * ((n * 7) % 3) + (n > 40 ? 0.4 : 0) + (n > 70 ? 0.25 : 0);

describe('frame n', () => {
  it.each([
    ['24', '24.mp4', 100],
    ['30000/1001', '2997.mp4', 130],
    ['25', '25.webm', 60],
  ])('is the same picture on the page and sent out, at %s', async (rate, name, frames) => {
    const codec = name.endsWith('webm') ? ['-c:v', 'libvpx', '-b:v', '3M', '-deadline', 'realtime', '-cpu-used', '8'] : undefined;
    await makeNumberedVideo(place.file(name), { width: 320, height: 180, frames, rate, ...(codec === undefined ? {} : { codec }) });
    const medium = await bringIn(name);
    expect(medium).toMatchObject({ status: 'ready', facts: { frames, width: 320, height: 180, wasVariable: false } });
    const all = Array.from({ length: frames }, (_, i) => i);
    expect(await proxyNumbers(medium)).toEqual(all);
    expect(await sentNumbers(medium, 0, frames)).toEqual(all);
    // entered in the middle, right after and right before key frames, and at the end
    for (const from of [1, 29, 31, frames - 2]) expect(await sentNumbers(medium, from, 2)).toEqual([from, from + 1]);
  });

  it('is the same picture when the file has no steady rate, and stays on time', async () => {
    await makeNumberedVideo(place.file('uneven.mp4'), { width: 320, height: 180, frames: UNEVEN_FRAMES, rate: '30', times: unevenTime });
    const medium = await bringIn('uneven.mp4');
    expect(medium).toMatchObject({ status: 'ready', facts: { wasVariable: true } });
    const rate = toNumber(medium.facts!.rate);
    const proxy = await proxyNumbers(medium);
    expect(proxy).toHaveLength(medium.facts!.frames);
    expect(await sentNumbers(medium, 0, proxy.length)).toEqual(proxy);
    for (const from of [38, 55, 80]) expect(await sentNumbers(medium, from, 3)).toEqual(proxy.slice(from, from + 3));
    proxy.forEach((number, k) => {
      // what the file shows at that moment, give or take half a frame of the even grid
      expect(unevenTime(number) - unevenTime(0)).toBeLessThanOrEqual((k + 0.51) / rate);
      if (number + 1 < UNEVEN_FRAMES) expect(unevenTime(number + 1) - unevenTime(0)).toBeGreaterThanOrEqual((k - 0.51) / rate);
    });
  });
});

describe('what is no usable video', () => {
  it.each([
    ['text.mp4', 'this is not a video at all', /neither video nor sound/],
    ['list.m3u8', '#EXTM3U\n#EXTINF:1,\n/etc/passwd\n', /neither video nor sound/],
    ['concat.txt', "ffconcat version 1.0\nfile '/etc/passwd'\n", /neither video nor sound/],
    ['picture.svg', '<svg xmlns="http://www.w3.org/2000/svg"><image href="file:///etc/passwd"/></svg>', /neither video nor sound/],
  ])('%s gets a clear sentence', async (name, content, sentence) => {
    writeFileSync(place.file(name), content);
    const medium = await bringIn(name);
    expect(medium.status).toBe('failed');
    expect(medium.error).toMatch(sentence);
  });

  it('sound alone is a medium without a picture', async () => {
    await run('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', 'sine=d=1', '-c:a', 'libopus', place.file('tone.webm')], {
      seconds: 60,
    });
    const { status, facts, sound } = await bringIn('tone.webm');
    expect([status, facts, sound?.name]).toEqual(['ready', null, 'Tone']);
  });

  it('a file cut off in the middle keeps what can be decoded, or says what is wrong', async () => {
    await makeNumberedVideo(place.file('whole.mkv'), { width: 320, height: 180, frames: 60, rate: '24' });
    const bytes = (await import('node:fs')).readFileSync(place.file('whole.mkv'));
    writeFileSync(place.file('half.mkv'), bytes.subarray(0, bytes.length / 2));
    const medium = await bringIn('half.mkv');
    expect(medium.status).toBe('ready');
    const { frames } = medium.facts!;
    expect(frames).toBeGreaterThan(5);
    expect(frames).toBeLessThan(50);
    expect(medium.error).toBe(`This file ends early: ${frames} of about 60 pictures came in. The rest is missing or damaged.`);
  });

  it('says nothing of what a tool complained of', async () => {
    const noise = Buffer.alloc(4096, 0x5a);
    const head = (await import('node:fs')).readFileSync(place.file('whole.mkv')).subarray(0, 700);
    writeFileSync(place.file('damaged.mkv'), Buffer.concat([head, noise]));
    const medium = await bringIn('damaged.mkv');
    expect(medium.status).toBe('failed');
    expect(medium.error).not.toMatch(/0x|@|matroska|ffmpeg|Error|Invalid/);
  });
});

it('takes a received file in, and refuses an empty one', async () => {
  writeFileSync(place.file('whole.bin'), Buffer.alloc(1500));
  const id = await takeInMedium(place.db, filmId, 'a.bin', place.file('whole.bin'));
  expect((await stat(mediumFile(id, 'original'))).size).toBe(1500);
  await removeMedium(place.db, id);
  writeFileSync(place.file('empty.bin'), '');
  await expect(takeInMedium(place.db, filmId, 'b.bin', place.file('empty.bin'))).rejects.toThrow(/b.bin is empty/);
});

it('refuses a few pictures that lie hours apart, at once and with a sentence', async () => {
  const far = ['-f', 'lavfi', '-i', 'testsrc=size=64x36:rate=25:duration=0.2', '-vf', "setpts='if(gt(N,2),1e7,N)/25/TB'"];
  await run('ffmpeg', ['-v', 'error', '-y', ...far, '-fps_mode', 'passthrough', '-c:v', 'libvpx', place.file('far.mkv')], { seconds: 60 });
  const began = Date.now();
  const medium = await bringIn('far.mkv');
  expect(medium).toMatchObject({ status: 'failed' });
  expect(medium.error).toMatch(/times in this file jump from 0:00:00 to 111:06:40 after picture 3\..*Cut out the part/);
  expect(Date.now() - began).toBeLessThan(20_000);
});

it('refuses few pictures that lie minutes apart for hours', async () => {
  const slow = ['-f', 'lavfi', '-i', 'testsrc=size=64x36:rate=25:duration=1', '-vf', 'setpts=N*300/TB'];
  await run('ffmpeg', ['-v', 'error', '-y', ...slow, '-fps_mode', 'passthrough', '-c:v', 'libvpx', place.file('slow.mkv')], {
    seconds: 60,
  });
  expect((await bringIn('slow.mkv')).error).toMatch(/25 pictures over 2.0 hours/);
});

describe('a file that does not say how long it is', () => {
  const live = async (name: string, ...args: string[]): Promise<ShelfMedium> => {
    const sound = ['-f', 'lavfi', '-i', 'sine=frequency=330:duration=31'];
    await run('ffmpeg', ['-v', 'error', '-y', ...args, ...sound, '-c:v', 'libvpx', '-c:a', 'libopus', '-live', '1', place.file(name)], {
      seconds: 60,
    });
    const told = await run('ffprobe', ['-v', 'error', '-show_entries', 'format=duration', '-of', 'csv=p=0', place.file(name)], {
      seconds: 60,
    });
    expect(told.trim()).toBe('N/A');
    return bringIn(name);
  };
  const picture = ['-f', 'lavfi', '-i', 'testsrc=size=64x36:rate=24:duration=30'];

  it.each([
    ['live.webm', picture],
    ['live.mkv', picture],
    ['live-alone.webm', []],
  ])('keeps all its sound: %s', async (name, args) => {
    const medium = await live(name, ...args);
    expect(medium).toMatchObject({ status: 'ready', error: null });
    expect(medium.sound!.samples / 48_000).toBeGreaterThan(30.9);
    if (args.length > 0) expect(medium.facts!.frames).toBe(720);
  });
});

it('can be used as far as it is ready, while the rest is prepared', async () => {
  await makeNumberedVideo(place.file('long.mp4'), { width: 960, height: 540, frames: 720, rate: '24' });
  const id = await copyMedium(place.db, filmId, 'long.mp4', place.file('long.mp4'));
  const seen: { readonly frames: number; readonly proxy: string; readonly usable: boolean; readonly frame: number }[] = [];
  const looks: Promise<void>[] = [];
  const look = async (): Promise<void> => {
    const medium = (await listMedia(place.db, filmId)).find((m) => m.id === id)!;
    const { frames, proxy } = medium.facts!;
    await expect(pictureFileOf(place.db, id)).rejects.toThrow('still being prepared');
    // the part is a whole film file with just these frames
    const counted = await countFrames(mediumFile(id, proxy));
    seen.push({ frames, proxy, usable: isUsable(medium), frame: counted });
  };
  await ingestMedium(place.db, id, still, () => undefined, () => void looks.push(look())); // prettier-ignore
  await Promise.all(looks);
  expect(seen[0]).toMatchObject({ proxy: 'part-1.webm', usable: true });
  for (const part of seen) expect(part.frame).toBe(part.frames);
  expect(seen[0]!.frames).toBeGreaterThan(100);
  const whole = (await listMedia(place.db, filmId)).find((m) => m.id === id)!;
  expect(whole).toMatchObject({ status: 'ready', facts: { frames: 720, proxy: 'proxy.webm' } });
  await removeParts(id);
  expect(readdirSync(mediumFolder(id)).filter((f) => f.startsWith('part-'))).toEqual([]);
}, 120_000);
