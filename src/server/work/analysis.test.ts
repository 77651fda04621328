import { execFileSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { KnownShot } from '../../../bench/synthetic-shots';
import { carriedShot, H, W, writeVideo } from '../../../tests/fixtures/carried-shot';
import { makeEdit, redoEdit, undoEdit, undoStacks } from '../../core/film/history';
import { addMatte, addTrack, removeTrackKey, setTrackKey } from '../../core/film/edits/mattes';
import { createFilm } from '../../core/film/film';
import { readyMedia } from '../../core/film/media-facts';
import { rational } from '../../core/geometry/rational';
import { regionAndContour } from '../../../bench/measures';
import { patchAround } from '../../core/track/track';
import { runFollow } from './analysis';
import { runCarry } from './carry-matte';
import { runSmooth } from './smooth-matte';
import { openFilm, storeEdit } from '../films/film-edits';
import { addFilm, loadFilm } from '../films/films';
import { listMatteFrames, loadCoverage, removeMatteFrames, restoreMatteFrame, settleMatte, storeMatteFrame } from '../films/matte-frames';
import { copyMedium, listMedia } from '../media/media';
import { ingestMedium } from '../media/ingest';
import { openTestWorkplace, type TestWorkplace } from '../database/test-workplace';

let place: TestWorkplace;
let filmId: string;
let shot: KnownShot;
let matteId: string;
let trackId: string;
const nothing = (): void => undefined;
const open = new AbortController().signal;

async function edit(name: string, change: Parameters<typeof makeEdit>[2]): Promise<void> {
  const { film, revision } = await loadFilm(place.db, filmId);
  await storeEdit(place.db, filmId, { base: revision, edit: makeEdit(film, name, change)!.edit });
}

const storeTruth = (frame: number): Promise<void> =>
  storeMatteFrame(place.db, filmId, matteId, {
    frame,
    origin: 'hand',
    confidence: 1,
    doubt: null,
    madeFrom: 'truth',
    coverage: { width: W, height: H, data: shot.mattes[frame]! },
  });

const quality = async (frame: number): Promise<number> =>
  regionAndContour((await loadCoverage(place.db, filmId, matteId, frame))!.data, shot.mattes[frame]!, W, H).j;

beforeAll(async () => {
  if (!existsSync('dist/analysis.mjs')) execFileSync(process.execPath, ['scripts/build.mjs', '--tools']);
  place = await openTestWorkplace();
  shot = carriedShot();
  writeVideo(place.file('carry.mkv'), shot);
  filmId = await addFilm(place.db, createFilm('Carry', W, H, rational(24, 1)));
  const mediumId = await copyMedium(place.db, filmId, 'carry.mkv', place.file('carry.mkv'));
  await ingestMedium(place.db, mediumId, open, nothing);
  expect(readyMedia(await listMedia(place.db, filmId)).get(mediumId)!.frames).toBe(9);
  await edit('matte', (d) => void (matteId = addMatte(d, mediumId, 'strokes', 'Blob', () => 'matte-1')));
  await edit('track', (d) => {
    const corners: [number, number][] = [
      [-14, -14],
      [14, -14],
      [14, 14],
      [-14, 14],
    ];
    trackId = addTrack(d, mediumId, 'Patch', 'similarity', 4, corners, () => 'track-1');
  });
}, 60_000);
afterAll(() => place.close());

describe('carrying', () => {
  it('stores every frame on the way, close to the truth', async () => {
    await storeTruth(2);
    const progress: number[] = [];
    await runCarry(place.db, filmId, { matteId, from: 2, to: 6 }, open, (f) => progress.push(f));
    const frames = await listMatteFrames(place.db, filmId, matteId);
    expect(frames.map((f) => [f.frame, f.origin])).toEqual([[2, 'hand'], ...[3, 4, 5, 6].map((n) => [n, 'carried'])]);
    for (const n of [3, 4, 5, 6]) expect(await quality(n)).toBeGreaterThan(0.9);
    expect(progress).toEqual([0.25, 0.5, 0.75, 1]);
  });

  it('goes backwards too', async () => {
    await runCarry(place.db, filmId, { matteId, from: 2, to: 0 }, open, nothing);
    expect(await quality(0)).toBeGreaterThan(0.9);
  });

  it('meets the next painted frame and leaves that as it is', async () => {
    await storeTruth(8);
    await runCarry(place.db, filmId, { matteId, from: 2, to: 8 }, open, nothing);
    expect(await quality(8)).toBe(1);
    expect(await quality(7)).toBeGreaterThan(0.9);
    expect((await listMatteFrames(place.db, filmId, matteId)).find((f) => f.frame === 8)!.origin).toBe('hand');
  });

  it('passes settled frames by until they are opened again', async () => {
    await settleMatte(place.db, filmId, matteId, true);
    const before = await listMatteFrames(place.db, filmId, matteId);
    await runCarry(place.db, filmId, { matteId, from: 2, to: 5 }, open, nothing);
    expect(await listMatteFrames(place.db, filmId, matteId)).toEqual(before);
    await settleMatte(place.db, filmId, matteId, false);
    await runCarry(place.db, filmId, { matteId, from: 2, to: 3 }, open, nothing);
    const after = await listMatteFrames(place.db, filmId, matteId);
    expect(after.find((f) => f.frame === 3)!.version).not.toBe(before.find((f) => f.frame === 3)!.version);
  });

  it('leaves a frame alone that is painted while it is on its way there', async () => {
    await removeMatteFrames(place.db, filmId, matteId, 'carried');
    const painting: Promise<void>[] = [];
    await runCarry(place.db, filmId, { matteId, from: 2, to: 7 }, new AbortController().signal, () => {
      if (painting.length === 0) painting.push(storeTruth(6));
    });
    await Promise.all(painting);
    expect((await listMatteFrames(place.db, filmId, matteId)).find((f) => f.frame === 6)!.origin).toBe('hand');
    expect(await quality(6)).toBe(1);
    await removeMatteFrames(place.db, filmId, matteId, [6]);
  });

  it('keeps what it has when it is stopped', async () => {
    await removeMatteFrames(place.db, filmId, matteId, 'carried');
    const stop = new AbortController();
    await expect(
      runCarry(place.db, filmId, { matteId, from: 2, to: 7 }, stop.signal, () => stop.abort(new Error('enough'))),
    ).rejects.toThrow('enough');
    expect((await listMatteFrames(place.db, filmId, matteId)).map((f) => f.frame)).toEqual([2, 3, 4, 8]);
  });

  it('brings back what had been carried when the hand is taken off', async () => {
    const carried = await loadCoverage(place.db, filmId, matteId, 3);
    await storeTruth(3);
    expect(await quality(3)).toBe(1);
    await restoreMatteFrame(place.db, filmId, matteId, 3);
    expect((await loadCoverage(place.db, filmId, matteId, 3))!.data).toEqual(carried!.data);
    await restoreMatteFrame(place.db, filmId, matteId, 2);
    expect(await loadCoverage(place.db, filmId, matteId, 2)).toBeNull();
  });

  it('is taken back and brought back with everything it has overwritten', async () => {
    await removeMatteFrames(place.db, filmId, matteId, 'carried');
    await storeTruth(2);
    await runCarry(place.db, filmId, { matteId, from: 2, to: 4 }, open, nothing);
    const first = await loadCoverage(place.db, filmId, matteId, 4);
    await storeTruth(3);
    await runCarry(place.db, filmId, { matteId, from: 3, to: 6 }, open, nothing);
    const second = await loadCoverage(place.db, filmId, matteId, 4);
    expect(second!.data).not.toEqual(first!.data);
    const framesOf = async (): Promise<number[]> => (await listMatteFrames(place.db, filmId, matteId)).map((f) => f.frame);
    const step = async (which: 'undo' | 'redo'): Promise<void> => {
      const { edits, revision } = await openFilm(place.db, filmId);
      const target = undoStacks(edits)[which].at(-1)!;
      expect(target.name).toBe('Carried Blob');
      await storeEdit(place.db, filmId, { base: revision, edit: which === 'undo' ? undoEdit(target) : redoEdit(target) });
    };
    expect(await framesOf()).toEqual([2, 3, 4, 5, 6, 8]);
    await step('undo');
    expect(await framesOf()).toEqual([2, 3, 4, 8]);
    expect((await loadCoverage(place.db, filmId, matteId, 4))!.data).toEqual(first!.data);
    await step('undo');
    expect(await framesOf()).toEqual([2, 3, 8]);
    await step('redo');
    await step('redo');
    expect(await framesOf()).toEqual([2, 3, 4, 5, 6, 8]);
    expect((await loadCoverage(place.db, filmId, matteId, 4))!.data).toEqual(second!.data);
  });

  it('leaves every painted frame on its way as it is, and meets it from both sides', async () => {
    await storeTruth(2);
    await storeTruth(5);
    await runCarry(place.db, filmId, { matteId, from: 2, to: 8 }, open, nothing);
    const frames = await listMatteFrames(place.db, filmId, matteId);
    expect(frames.filter((f) => f.origin === 'hand').map((f) => f.frame)).toEqual([2, 3, 5, 8]);
    expect(await quality(5)).toBe(1);
    for (const n of [4, 6, 7]) expect(await quality(n)).toBeGreaterThan(0.9);
  });

  it('says what is wrong when there is nothing to carry from', async () => {
    await expect(runCarry(place.db, filmId, { matteId, from: 0, to: 1 }, open, nothing)).rejects.toThrow('has no matte to carry on from');
    await expect(runCarry(place.db, filmId, { matteId: 'gone', from: 5, to: 7 }, open, nothing)).rejects.toThrow('The matte is gone');
  });
});

describe('smoothing over time', () => {
  it('changes carried frames only, and is taken back', async () => {
    const before = new Map((await listMatteFrames(place.db, filmId, matteId)).map((f) => [f.frame, f]));
    const carried = await loadCoverage(place.db, filmId, matteId, 6);
    await runSmooth(place.db, filmId, { matteId, first: 0, last: 8, strength: 1 }, open, nothing);
    for (const f of await listMatteFrames(place.db, filmId, matteId))
      expect(f.version === before.get(f.frame)!.version, `frame ${f.frame}`).toBe(f.origin === 'hand');
    expect((await loadCoverage(place.db, filmId, matteId, 6))!.data).not.toEqual(carried!.data);
    expect(await quality(6)).toBeGreaterThan(0.9);
    const { edits, revision } = await openFilm(place.db, filmId);
    const target = undoStacks(edits).undo.at(-1)!;
    expect(target.name).toBe('Smoothed Blob over time');
    await storeEdit(place.db, filmId, { base: revision, edit: undoEdit(target) });
    expect((await loadCoverage(place.db, filmId, matteId, 6))!.data).toEqual(carried!.data);
  });

  it('says so when there is too little to smooth', async () => {
    await expect(runSmooth(place.db, filmId, { matteId, first: 3, last: 3, strength: 1 }, open, nothing)).rejects.toThrow('too few frames');
  });
});

describe('following', () => {
  it('finds the region on all frames and stores it as an edit that can be taken back', async () => {
    await runFollow(place.db, filmId, { trackId, first: 1, last: 7 }, open, nothing);
    const { film } = await loadFilm(place.db, filmId);
    const track = film.tracks!.find((t) => t.id === trackId)!;
    expect(track.frames.map((f) => f.frame)).toEqual([1, 2, 3, 5, 6, 7]);
    expect(track.frames.every((f) => f.confidence > 0.5)).toBe(true);
  });
});

describe('following what cannot be followed', () => {
  it('says which region is too small, and where', async () => {
    let tinyId = '';
    await edit('tiny', (d) => {
      const corners: [number, number][] = [
        [0, 0],
        [1, 0],
        [1, 1],
      ];
      tinyId = addTrack(d, d.mattes[0]!.mediumId, 'Speck', 'affine', 4, corners, () => 'track-tiny');
    });
    await expect(runFollow(place.db, filmId, { trackId: tinyId, first: 2, last: 6 }, open, nothing)).rejects.toThrow(
      'Speck holds almost nothing of the picture on frame 4',
    );
  });
});

describe('following between two places given by hand', () => {
  it('goes from both to meet in the middle, so that nothing jumps at the second', async () => {
    await edit('correct', (d) => {
      const [key] = d.tracks!.find((t) => t.id === trackId)!.keys;
      setTrackKey(
        d,
        trackId,
        8,
        key!.corners.map(([x, y]) => [x + 40, y]),
      );
    });
    await runFollow(place.db, filmId, { trackId, first: 4, last: 8 }, open, nothing);
    const { frames, keys } = (await loadFilm(place.db, filmId)).film.tracks!.find((t) => t.id === trackId)!;
    const across = [keys[0]!, ...frames.filter((f) => f.frame > 4 && f.frame < 8), keys[1]!].map((f) => f.corners[0]![0]);
    expect(across).toHaveLength(5);
    const steps = across.slice(1).map((x, i) => x - across[i]!);
    expect(Math.max(...steps)).toBeLessThan(0.7 * (across.at(-1)! - across[0]!));
    await edit('take the correction back', (d) => removeTrackKey(d, trackId, 8));
  });
});

describe('following a point', () => {
  it('counts only where its patch went', async () => {
    let pointId = '';
    await edit('point', (d) => {
      pointId = addTrack(d, d.mattes[0]!.mediumId, 'Point', 'position', 4, patchAround([3, -2], W), () => 'point-1');
    });
    await runFollow(place.db, filmId, { trackId: pointId, first: 2, last: 6 }, open, nothing);
    const { frames, keys } = (await loadFilm(place.db, filmId)).film.tracks!.find((t) => t.id === pointId)!;
    expect(frames.map((f) => f.frame)).toEqual([2, 3, 5, 6]);
    const shape = (corners: readonly (readonly [number, number])[]): number[] =>
      corners.flatMap(([x, y]) => [Math.round(100 * (x - corners[0]![0])), Math.round(100 * (y - corners[0]![1]))]);
    for (const f of frames) expect(shape(f.corners)).toEqual(shape(keys[0]!.corners));
    // the subject travels to the right
    const across = frames.map((f) => f.corners[0]![0]);
    expect(across).toEqual([...across].sort((a, b) => a - b));
    expect(across.at(-1)! - across[0]!).toBeGreaterThan(4);
  });
});
