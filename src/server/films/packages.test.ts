import { execFileSync } from 'node:child_process';
import { createWriteStream, existsSync, mkdirSync, readdirSync, readFileSync, renameSync, statSync, writeFileSync } from 'node:fs';
import { pipeline } from 'node:stream/promises';
import { unzipSync, zipSync, type Zippable } from 'fflate';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { addMatte } from '../../core/film/edits/mattes';
import { addShot } from '../../core/film/edits/reel';
import { createFilm, type Film } from '../../core/film/film';
import { changedFilm } from '../../core/film/history';
import { readyMedia } from '../../core/film/media-facts';
import { goBackTo } from '../../core/film/version';
import { rational } from '../../core/geometry/rational';
import { mediumFile, mediumFolder } from '../base/data-folder';
import { openTestWorkplace, type TestWorkplace } from '../database/test-workplace';
import { exportFile, orderExport, runExport } from '../exports/exports';
import { copyMedium, listMedia } from '../media/media';
import { ingestMedium } from '../media/ingest';
import { bringFilmBack, copyFilm, deleteFilm, deleteForGood } from './film-copies';
import { addFilm, listFilms, loadFilm, replaceFilm } from './films';
import { listMatteFrames, loadCoverage, storeMatteFrame } from './matte-frames';
import { openPackage, packFilm, type Packing } from './packages';
import { deleteVersion, keepHourly, keepVersion, listVersions, loadVersion } from './versions';

const [W, H] = [64, 36];
const never = new AbortController().signal;
const nothing = (): void => undefined;
const newId = (() => {
  let n = 0;
  return () => `n${++n}`;
})();

let place: TestWorkplace;
let filmId: string;
let film: Film;

/** A film of a video and a still, with a painted matte of one stored frame. */
beforeAll(async () => {
  if (!existsSync('dist/compose.mjs')) execFileSync(process.execPath, ['scripts/build.mjs', '--tools']);
  place = await openTestWorkplace();
  const source = (name: string, ...args: string[]): void => void execFileSync('ffmpeg', ['-v', 'error', '-y', '-f', 'lavfi', '-i', `testsrc2=size=${W}x${H}:rate=24`, ...args, place.file(name)]); // prettier-ignore
  source('bars.mkv', '-frames:v', '12', '-c:v', 'libx264', '-qp', '0');
  source('card.png', '-frames:v', '1');
  filmId = await addFilm(place.db, createFilm('Small', W, H, rational(24, 1)));
  for (const name of ['bars.mkv', 'card.png'])
    await ingestMedium(place.db, await copyMedium(place.db, filmId, name, place.file(name)), never, nothing);
  const media = [...readyMedia(await listMedia(place.db, filmId)).values()];
  const stored = await loadFilm(place.db, filmId);
  film = changedFilm(stored.film, (d) => {
    for (const medium of media) addShot(d, medium, d.shots.length, newId);
    d.shots[1]!.length = 6;
    addMatte(d, media[0]!.id, 'strokes', 'Painted', () => 'matte-1');
  });
  await replaceFilm(place.db, filmId, stored.film, film, 1);
  const data = Uint8Array.from({ length: W * H }, (_, i) => i % 256);
  const coverage = { width: W, height: H, data };
  await storeMatteFrame(place.db, filmId, 'matte-1', { frame: 3, origin: 'carried', confidence: 0.5, doubt: null, madeFrom: '', coverage });
});
afterAll(() => place.close());

async function packed(id: string, packing: Packing = 'used'): Promise<string> {
  const path = place.file(`${id}.zip`);
  await pipeline(await packFilm(place.db, id, packing), createWriteStream(path));
  return path;
}

/** What a film looks like when it is sent out: the sum of every frame's decoded bytes. */
async function sent(id: string): Promise<string> {
  const { entry } = await orderExport(place.db, id, { format: 'mp4', joinId: null, handles: 0 });
  await runExport(place.db, entry.id, never, nothing);
  return execFileSync('ffmpeg', ['-v', 'error', '-i', exportFile(entry.id, 'mp4'), '-f', 'framemd5', '-an', '-']).toString();
}

it('makes a film of its own of a film, which stands without it', async () => {
  const before = await sent(filmId);
  const copy = await copyFilm(place.db, filmId, 'Copy of Small');
  const { film: copied } = await loadFilm(place.db, copy);
  expect(copied.name).toBe('Copy of Small');
  expect(copied.shots.map((s) => s.length)).toEqual([12, 6]);
  expect(copied.shots.some((s) => film.shots.some((o) => o.mediumId === s.mediumId))).toBe(false);
  expect((await loadCoverage(place.db, copy, 'matte-1', 3))!.data[200]).toBe(200);
  expect(await sent(copy)).toBe(before);
  await deleteFilm(place.db, copy);
  expect((await listFilms(place.db)).map((f) => f.id)).toEqual([filmId]);
  expect((await listFilms(place.db, 'deleted')).map((f) => f.name)).toEqual(['Copy of Small']);
  await bringFilmBack(place.db, copy);
  await expect(deleteForGood(place.db, copy)).rejects.toThrow('not deleted yet');
  await deleteFilm(place.db, copy);
  await deleteForGood(place.db, copy);
  expect(existsSync(mediumFolder(copied.shots[0]!.mediumId))).toBe(false);
  expect(await sent(filmId)).toBe(before);
});

it('leaves nothing of a copy that fails half way', async () => {
  const { film: now } = await loadFilm(place.db, filmId);
  const hidden = mediumFolder(now.shots[1]!.mediumId);
  renameSync(hidden, `${hidden}-away`);
  const films = (await listFilms(place.db)).length;
  await expect(copyFilm(place.db, filmId, 'Half')).rejects.toThrow('ENOENT');
  expect((await listFilms(place.db)).length).toBe(films);
  renameSync(`${hidden}-away`, hidden);
});

it('opens a package as a film that sends out the same frames', async () => {
  const path = await packed(filmId);
  const { filmId: opened, media } = await openPackage(place.db, path);
  expect(media.map((m) => m.name)).toEqual(['bars.mkv', 'card.png']);
  for (const { id } of media) await ingestMedium(place.db, id, never, nothing);
  expect((await loadFilm(place.db, opened)).film.shots.map((s) => s.length)).toEqual([12, 6]);
  const [was, is] = [await loadCoverage(place.db, filmId, 'matte-1', 3), await loadCoverage(place.db, opened, 'matte-1', 3)];
  expect(Buffer.from(is!.data).equals(Buffer.from(was!.data))).toBe(true);
  expect(await sent(opened)).toBe(await sent(filmId));
});

it('packs only the frames in use with some around them, which send out the same', async () => {
  const source = ['-f', 'lavfi', '-i', `testsrc2=size=${W}x${H}:rate=24`, '-f', 'lavfi', '-i', 'sine=frequency=330:sample_rate=48000'];
  execFileSync('ffmpeg', [
    '-v',
    'error',
    '-y',
    ...source,
    '-t',
    '20',
    '-c:v',
    'libx264',
    '-qp',
    '0',
    '-c:a',
    'flac',
    '-metadata:s:v:0',
    'timecode=10:00:00:00',
    '-metadata:s:v:0',
    'reel_name=A012',
    place.file('long.mkv'),
  ]);
  const id = await addFilm(place.db, createFilm('Long', W, H, rational(24, 1)));
  await ingestMedium(place.db, await copyMedium(place.db, id, 'long.mkv', place.file('long.mkv')), never, nothing);
  const media = readyMedia(await listMedia(place.db, id));
  const [medium] = [...media.values()];
  const before = await loadFilm(place.db, id);
  const cut = changedFilm(before.film, (d) => {
    addShot(d, medium!, 0, newId);
    Object.assign(d.shots[0]!, { inFrame: 300, length: 12 });
    addMatte(d, medium!.id, 'strokes', 'Painted', () => 'matte-2');
  });
  await replaceFilm(place.db, id, before.film, cut, 1);
  const coverage = { width: W, height: H, data: new Uint8Array(W * H).fill(9) };
  for (const frame of [10, 305])
    await storeMatteFrame(place.db, id, 'matte-2', { frame, origin: 'carried', confidence: 1, doubt: null, madeFrom: '', coverage });
  const path = await packed(id, { handles: 4 });
  expect(statSync(path).size).toBeLessThan(statSync(place.file('long.mkv')).size / 4);
  const { filmId: opened, media: files } = await openPackage(place.db, path);
  for (const file of files) await ingestMedium(place.db, file.id, never, nothing);
  const [short] = [...readyMedia(await listMedia(place.db, opened)).values()];
  expect(short).toMatchObject({ frames: 12 + 2 * 4 + 2, width: W, height: H, hasSound: true });
  expect(short).toMatchObject({ timecode: '10:00:12:07', reelName: 'A012' });
  const { film: as } = await loadFilm(place.db, opened);
  expect(as.shots[0]).toMatchObject({ inFrame: 5, length: 12 });
  expect((await listMatteFrames(place.db, opened, 'matte-2')).map((f) => f.frame)).toEqual([10]);
  expect(await sent(opened)).toBe(await sent(id));
}, 60_000);

it('says what is wrong with a package, and keeps nothing of it', async () => {
  const whole = unzipSync(readFileSync(await packed(filmId)));
  const json = JSON.parse(Buffer.from(whole['film.json']!).toString()) as {
    film: Record<string, unknown>;
    version: number;
    media: { file: string }[];
  };
  const other = (change: (files: Zippable, said: typeof json) => void): Buffer => {
    const files: Zippable = { ...whole };
    const said = structuredClone(json);
    change(files, said);
    if (files['film.json'] === whole['film.json']) files['film.json'] = Buffer.from(JSON.stringify(said));
    return Buffer.from(zipSync(files, { level: 0 }));
  };
  const [media] = json.media;
  const bad: readonly (readonly [Buffer, RegExp])[] = [
    [Buffer.from('not a zip at all'), /cannot be read as a ZIP/],
    [readFileSync(place.file(`${filmId}.zip`)).subarray(0, 4000), /ZIP|list of files/],
    [other((files) => delete files['film.json']), /film\.json is missing/],
    [other((files) => (files['film.json'] = Buffer.from('{'))), /no JSON/],
    [other((_, said) => (said.version = 2)), /version/],
    [other((_, said) => (said.film.shots = 7)), /shots/],
    [other((_, said) => void said.media.pop()), /media that is not in it/],
    [other((files) => delete files[media!.file]), /is missing/],
    [other((files) => (files[media!.file] = Buffer.from('changed'))), /was changed on its way/],
    [other((files) => (files['mattes/1/000003.png'] = Buffer.from('no picture'))), /no picture/],
  ];
  const folders = (): number => readdirSync(mediumFolder('x').replace(/x$/, '')).length;
  mkdirSync(mediumFolder('keep'), { recursive: true });
  const [films, before] = [(await listFilms(place.db)).length, folders()];
  for (const [bytes, what] of bad) {
    writeFileSync(place.file('bad.zip'), bytes);
    await expect(openPackage(place.db, place.file('bad.zip'))).rejects.toThrow(what);
    expect([(await listFilms(place.db)).length, folders()]).toEqual([films, before]);
  }
});

it('keeps versions by name and once an hour, and goes back to one by an edit', async () => {
  const { film: now, revision } = await loadFilm(place.db, filmId);
  const kept = await keepVersion(place.db, filmId, 'First cut', false, 1000);
  await keepHourly(place.db, filmId, 1000 + 3_599_000);
  expect(await listVersions(place.db, filmId)).toHaveLength(1);
  await keepHourly(place.db, filmId, 1000 + 3_600_000);
  expect((await listVersions(place.db, filmId)).map((v) => [v.name, v.isByItself])).toEqual([['Kept by itself', true], ['First cut', false]]); // prettier-ignore
  const changed = changedFilm(now, (d) => {
    d.shots.pop();
    d.name = 'Other';
    d.markers = [{ id: 'm', name: 'here', frame: 3 }];
  });
  await replaceFilm(place.db, filmId, now, changed, revision + 1);
  const version = await loadVersion(place.db, filmId, kept.id);
  expect(changedFilm(changed, (d) => goBackTo(d, version))).toEqual(now);
  const own = await copyFilm(place.db, filmId, 'As it was', version);
  expect((await loadFilm(place.db, own)).film.shots).toHaveLength(2);
  await deleteVersion(place.db, filmId, kept.id);
  await expect(loadVersion(place.db, filmId, kept.id)).rejects.toThrow('no longer there');
  expect(readFileSync(mediumFile(version.shots[0]!.mediumId, 'original')).length).toBeGreaterThan(100);
});
