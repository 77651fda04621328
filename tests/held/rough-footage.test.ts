import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync } from 'node:fs';
import { randomUUID } from 'node:crypto';
import { createDraft, finishDraft, type Draft } from 'immer';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { addShot } from '../../src/core/film/edits/reel';
import { trimEnd, trimStart } from '../../src/core/film/edits/trims';
import { addMatte } from '../../src/core/film/edits/mattes';
import { byId, createFilm, type Film, type Media, type Medium } from '../../src/core/film/film';
import { readyMedia } from '../../src/core/film/media-facts';
import { placedJoins } from '../../src/core/film/timing';
import { corner, pointsAt, type Outline } from '../../src/core/matte/outline/outline';
import { layJoin, makeKind } from '../../src/core/recipes/making';
import { addLinePair } from '../../src/core/recipes/feature-morph/feature-morph';
import { setOutlineAndFit } from '../../src/core/recipes/wipe-past/wipe-past';
import { runFindEdge } from '../../src/server/work/analysis';
import { checkStoredJoin } from '../../src/server/work/check-film';
import { measuredOutlines } from '../../src/server/demo/demo-joins';
import { exportFile, orderExport, runExport } from '../../src/server/exports/exports';
import { BY_NO_ONE } from '../../src/server/films/film-edits';
import { runFindBeats } from '../../src/server/work/find-beats';
import { addFilm, loadFilm, replaceFilm } from '../../src/server/films/films';
import { copyMedium, listMedia } from '../../src/server/media/media';
import { ingestMedium } from '../../src/server/media/ingest';
import { openTestWorkplace, type TestWorkplace } from '../../src/server/database/test-workplace';
import { workerPool } from '../../src/server/base/worker-pool';
import { edgesOfPassing, ROUGH_TAKES, roughFrame, shapeOn, writeRoughTake, type RoughTake } from '../fixtures/rough-footage';
import { writeBand } from '../fixtures/rough-sound';

const [WIDTH, HEIGHT, RATE] = [480, 270, 24];
const HANDLES = 3;
/** So many that the flash of what enters lies in them. */
const FLASH_HANDLES = 6;
const takeNamed = (name: string): RoughTake => ROUGH_TAKES.find((t) => t.name === name)!;

/** A shot, film frames of its take, and how it goes over into the next. */
interface Piece {
  readonly take: string;
  readonly from: number;
  readonly to: number;
  readonly kind: string;
}

const piece = (take: string, from: number, to: number, kind: string): Piece => ({ take, from, to, kind });

/** Each kind of join, on takes of all rates and shapes. */
const REEL: readonly Piece[] = [
  piece('street', 0, 34, 'wipe past'),
  piece('meadow', 16, 46, 'zoom through'),
  piece('dune', 24, 48, 'arrive'),
  piece('garden', 22, 46, 'dissolve'),
  piece('large', 8, 30, 'panels on the beat'),
  piece('fast', 6, 34, 'tiles in space'),
  piece('upright', 14, 44, 'held cut-out'),
  piece('old', 16, 44, 'melt'),
  piece('blur', 6, 30, 'wipe past, blurred'),
  piece('garden', 16, 44, 'feature morph'),
  piece('meadow', 16, 44, 'drop through'),
  piece('dune', 18, 46, 'bridge'),
  piece('huge', 6, 24, ''),
];
const KINDS = REEL.map((p) => p.kind).filter((k) => k !== '');

let place: TestWorkplace;
let filmId: string;
let film: Film;
let media: Media;
const mediumIds = new Map<string, string>();
const mediumNamed = (name: string): Medium => media.get(mediumIds.get(name)!)!;
const never = new AbortController().signal;

/** An outline of what a take shows, drawn as exactly as it was there on every second frame. */
function outlineOf(medium: Medium, frames: number, lineOn: (frame: number) => readonly (readonly [number, number])[]): Outline {
  const keys = [];
  for (let frame = 0; frame < frames; frame += 2)
    keys.push({
      frame,
      ease: 'straight' as const,
      points: lineOn(frame).map(([x, y]) => corner(x - medium.width / 2, y - medium.height / 2)),
    });
  return { closed: true, keys };
}

/** What lies behind the trailing edge of what passes. */
const behindEdge = (take: RoughTake) => (frame: number) => {
  const right = Math.min(edgesOfPassing(take, frame)[1], 1.5 * take.width);
  return [
    [right, -20],
    [2 * take.width, -20],
    [2 * take.width, take.height + 20],
    [right - 0.04 * take.width, take.height + 20],
  ] as const;
};

function compose(mediumOf: (name: string) => Medium): Film {
  const draft: Draft<Film> = createDraft(createFilm('Rough', WIDTH, HEIGHT, { numerator: RATE, denominator: 1 }));
  REEL.forEach(({ take, from, to }, i) => {
    const medium = mediumOf(take);
    addShot(draft, medium, i, randomUUID);
    const { id, length } = draft.shots[i]!;
    trimEnd(draft, medium, id, to - length, randomUUID);
    trimStart(draft, medium, id, from, randomUUID);
  });
  const outlines = new Map<string, string>();
  /** The outline of who stands in a take, made once. */
  const person = (name: string): string => {
    const known = outlines.get(name);
    if (known !== undefined) return known;
    const [take, medium] = [takeNamed(name), mediumOf(name)];
    const id = addMatte(draft, medium.id, 'outline', `Who stands in ${name}`, randomUUID);
    byId(draft.mattes, id, 'matte').outline = outlineOf(medium, take.frames, (frame) => shapeOn(take, frame)) as Draft<Outline>;
    outlines.set(name, id);
    return id;
  };
  const wipe = (joinId: string, name: string): void => {
    const take = takeNamed(name);
    const medium = mediumOf(name);
    const id = addMatte(draft, medium.id, 'outline', `Behind what passes in ${name}`, randomUUID);
    makeKind(draft, media, joinId, 'wipe past', { matteId: id }, { newId: randomUUID });
    setOutlineAndFit(draft, media, id, outlineOf(medium, take.frames, behindEdge(take)));
  };
  const measured = (joinId: string): ReadonlyMap<string, ReturnType<typeof measuredOutlines>> =>
    new Map([[joinId, measuredOutlines(draft, media, joinId)]]);
  const make: Record<string, (joinId: string) => void> = {
    'wipe past': (id) => wipe(id, 'street'),
    'wipe past, blurred': (id) => wipe(id, 'blur'),
    'zoom through': (id) => {
      makeKind(draft, media, id, 'zoom through', { matteId: person('meadow') });
      layJoin(draft, media, id, measured(id));
    },
    arrive: (id) => makeKind(draft, media, id, 'arrive', { matteId: person('garden') }, { length: 16 }),
    dissolve: (id) => makeKind(draft, media, id, 'dissolve', {}, { length: 12 }),
    'panels on the beat': (id) => makeKind(draft, media, id, 'panels on the beat', { on: 'frames', every: 3, count: 4 }),
    'tiles in space': (id) => makeKind(draft, media, id, 'tiles in space', { folds: 4, travels: 8, copies: 2 }),
    'held cut-out': (id) => {
      makeKind(draft, media, id, 'held cut-out', { matteId: person('old'), side: 'entering', on: 'frames', every: 5, punches: 2 });
      layJoin(draft, media, id, measured(id));
    },
    melt: (id) => makeKind(draft, media, id, 'melt', {}, { length: 8 }),
    'feature morph': (id) => {
      makeKind(draft, media, id, 'feature morph', {}, { length: 8 });
      const pair = addLinePair(draft, id, randomUUID)!;
      for (const [side, name] of [['leaving', 'garden'] as const, ['entering', 'meadow'] as const])
        byId(draft.mattes, pair[side], 'matte').outline = structuredClone(byId(draft.mattes, person(name), 'matte').outline);
      layJoin(draft, media, id);
    },
    'drop through': (id) => makeKind(draft, media, id, 'drop through', {}, { length: 16 }),
    bridge: (id) => makeKind(draft, media, id, 'bridge', { pin: { x: 20, y: -10, scale: 0.3, turn: 0 } }, { length: 16 }),
  };
  for (const [i, { join }] of placedJoins(draft).entries()) make[KINDS[i]!]!(join.id);
  return finishDraft<Film>(draft);
}

beforeAll(async () => {
  if (!existsSync('dist/compose.mjs')) execFileSync(process.execPath, ['scripts/build.mjs', '--tools']);
  place = await openTestWorkplace();
  filmId = await addFilm(place.db, createFilm('Rough', WIDTH, HEIGHT, { numerator: RATE, denominator: 1 }));
  mkdirSync(place.file('takes'));
  for (const take of ROUGH_TAKES) {
    const path = await writeRoughTake(take, place.file('takes'));
    const id = await copyMedium(place.db, filmId, take.name, path);
    await ingestMedium(place.db, id, never, () => undefined);
    mediumIds.set(take.name, id);
  }
  media = readyMedia(await listMedia(place.db, filmId));
  const { film: empty, revision } = await loadFilm(place.db, filmId);
  await replaceFilm(place.db, filmId, empty, compose(mediumNamed), revision);
  ({ film } = await loadFilm(place.db, filmId));
}, 400_000);
afterAll(async () => {
  await workerPool().close();
  await place?.close();
});

/** Every frame of a sent file, red, green and blue. */
function framesOf(path: string): Uint8Array[] {
  const args = ['-v', 'error', '-i', path, '-f', 'rawvideo', '-pix_fmt', 'rgb24', '-'];
  const all = execFileSync('ffmpeg', args, { maxBuffer: 1 << 29 });
  const size = 3 * WIDTH * HEIGHT;
  return Array.from({ length: all.length / size }, (_, i) => all.subarray(i * size, (i + 1) * size));
}

/** Mean difference of brightness over squares of 6 pixels; grain and codecs do not count. */
function apart(a: Uint8Array, b: Uint8Array): number {
  const SIDE = 6;
  let sum = 0;
  for (let y = 0; y < HEIGHT; y += SIDE)
    for (let x = 0; x < WIDTH; x += SIDE) {
      let more = 0;
      for (let v = 0; v < SIDE; v++) for (let u = 0, i = 3 * ((y + v) * WIDTH + x) + 1; u < SIDE; u++, i += 3) more += a[i]! - b[i]!;
      sum += Math.abs(more);
    }
  return sum / (WIDTH * HEIGHT);
}

/** By how many frames of its take a sent picture is off, as far as another frame of that is more like it: below 1 for the frame nearest in time. */
function framesOff(sent: Uint8Array, name: string, filmFrame: number): number {
  const take = takeNamed(name);
  const asSent = { ...take, width: WIDTH, height: HEIGHT };
  const awaited = (filmFrame * rateOf(name)) / RATE;
  const [best] = [-2, -1, 0, 1, 2, 3]
    .map((step) => Math.max(0, Math.min(take.frames - 1, Math.floor(awaited) + step)))
    .map((frame) => ({ frame, apart: apart(sent, roughFrame(asSent, frame)) }))
    .sort((one, other) => one.apart - other.apart);
  // a frame that was never recorded shows the one before it
  const missing = take.uneven && Math.floor(awaited) % 7 === 3 ? 1 : 0;
  return Math.abs(best!.frame - awaited) - missing;
}

const isWide = (name: string): boolean => takeNamed(name).width * 9 === takeNamed(name).height * 16;

describe('on footage that nobody drew', () => {
  it('takes every take with its rate, size and all its frames', () => {
    for (const take of ROUGH_TAKES) {
      const medium = mediumNamed(take.name);
      const [up, down = 1] = take.rate.split('/').map(Number) as [number, number?];
      const size = [take.enlarged * take.width, take.enlarged * take.height];
      expect([take.name, medium.frames, medium.width, medium.height]).toEqual([take.name, take.frames, ...size]);
      expect(medium.rate.numerator / medium.rate.denominator).toBeCloseTo(up / down, 2);
    }
  });

  it.each(KINDS.map((kind, i) => [kind, i] as const))('sends a %s as it is: frames in order, no hole', async (_kind, i) => {
    const placed = placedJoins(film)[i]!;
    const { entry, cost } = await orderExport(place.db, filmId, { format: 'mp4', joinId: placed.join.id, handles: HANDLES });
    await runExport(place.db, entry.id, never, () => undefined);
    const frames = framesOf(exportFile(entry.id, 'mp4'));
    const { before, after } = placed.join;
    expect(frames.length).toBe(cost);
    expect(frames.length).toBe(before + after + 2 * HANDLES);
    const [leaving, entering] = [REEL[i]!, REEL[i + 1]!];
    // outside the overlap each shot is just as it was recorded
    if (isWide(leaving.take))
      for (const k of [0, HANDLES - 1])
        expect(framesOff(frames[k]!, leaving.take, leaving.to - before - HANDLES + k), `leaving, ${k}`).toBeLessThan(1);
    if (isWide(entering.take))
      for (const k of [0, HANDLES - 1])
        expect(framesOff(frames[HANDLES + before + after + k]!, entering.take, entering.from + after + k), `entering, ${k}`).toBeLessThan(
          1,
        );
    // nothing that was recorded is darker than 12: what is black is a hole
    for (const [k, rgb] of frames.entries()) {
      let black = 0;
      for (let p = 0; p < rgb.length; p += 3) if (rgb[p]! < 5 && rgb[p + 1]! < 5 && rgb[p + 2]! < 5) black++;
      expect([k, black / (WIDTH * HEIGHT) < 0.001]).toEqual([k, true]);
    }
    const findings = await checkStoredJoin(place.db, filmId, film, media, placed);
    const wrong = ['empty pixels', 'no picture', 'no outline', 'nothing arrives', 'never covers', 'picture jump', 'matte jump'];
    expect(findings.filter((f) => wrong.includes(f.kind))).toEqual([]);
  });

  it.each([
    ['street', 4],
    // its blur is 345 pixels wide
    ['blur', 60],
  ])('finds where %s is free again to the frame, and its edge within %i px of 1280', async (name, most) => {
    const take = takeNamed(name);
    const medium = mediumNamed(name);
    const id = randomUUID();
    const { film: now, revision } = await loadFilm(place.db, filmId);
    const draft = createDraft(now);
    const matteId = addMatte(draft, medium.id, 'outline', `Found in ${name}`, () => id);
    await replaceFilm(place.db, filmId, now, finishDraft(draft), revision);
    await runFindEdge(place.db, filmId, { matteId, first: 0, last: take.frames - 1 }, never, () => undefined);
    const { outline } = (await loadFilm(place.db, filmId)).film.mattes.find((m) => m.id === id)!;
    const edgeOn = (frame: number, y: number): number => {
      const points = pointsAt(outline, frame).map((p) => [p.x + medium.width / 2, p.y + medium.height / 2] as const);
      const crossings = points.flatMap(([x0, y0], i) => {
        const [x1, y1] = points[(i + 1) % points.length]!;
        return y0 <= y !== y1 <= y ? [x0 + ((y - y0) / (y1 - y0)) * (x1 - x0)] : [];
      });
      return Math.min(...crossings);
    };
    const truthOn = (frame: number, y: number): number =>
      edgesOfPassing(take, frame)[1] - (0.04 * take.width * (y + 20)) / (take.height + 40);
    const frames = Array.from({ length: take.frames }, (_, frame) => frame);
    const lines = Array.from({ length: 9 }, (_, i) => ((i + 0.5) / 9) * take.height);
    const free = (edge: typeof edgeOn, part: (xs: boolean[]) => boolean, within: (x: number) => boolean): number =>
      frames.find((frame) => part(lines.map((y) => within(edge(frame, y)))))!;
    const some = (xs: boolean[]): boolean => xs.includes(true);
    const all = (xs: boolean[]): boolean => !xs.includes(false);
    for (const [part, within] of [
      [some, (x: number) => x < take.width - 2],
      [all, (x: number) => x < 2],
    ] as const)
      expect(Math.abs(free(edgeOn, part, within) - free(truthOn, part, within))).toBeLessThanOrEqual(1);
    const off = frames.flatMap((frame) =>
      lines.flatMap((y) => {
        const truth = truthOn(frame, y);
        return truth > 4 && truth < take.width - 4 ? [((edgeOn(frame, y) - truth) * 1280) / take.width] : [];
      }),
    );
    expect(off.length).toBeGreaterThan(12);
    expect(Math.abs(off.reduce((a, b) => a + b, 0) / off.length)).toBeLessThan(most);
  });

  it('keeps flash and click together in what is sent, and all of what is said', async () => {
    const placed = placedJoins(film)[KINDS.indexOf('held cut-out')]!;
    const { entry } = await orderExport(place.db, filmId, { format: 'mp4', joinId: placed.join.id, handles: FLASH_HANDLES });
    await runExport(place.db, entry.id, never, () => undefined);
    const path = exportFile(entry.id, 'mp4');
    const light = framesOf(path).map((rgb) => rgb.reduce((sum, v) => sum + v, 0) / rgb.length);
    const jumps = light.map((v, k) => v - Math.max(light[k - 1] ?? v, light[k + 1] ?? v));
    const flash = jumps.indexOf(Math.max(...jumps));
    expect(jumps[flash]).toBeGreaterThan(15);
    const heard = execFileSync('ffmpeg', ['-v', 'error', '-i', path, '-f', 'f32le', '-ac', '1', '-ar', '48000', '-'], {
      maxBuffer: 1 << 28,
    });
    const samples = new Float32Array(heard.buffer, heard.byteOffset, heard.length / 4);
    let loudest = 0;
    samples.forEach((v, i) => Math.abs(v) > Math.abs(samples[loudest]!) && (loudest = i));
    // the click is struck as the flash's frame begins to be recorded, at another rate than it is sent
    expect(Math.abs(loudest / 48_000 - flash / RATE)).toBeLessThan(1.2 / RATE);
    const said = (await listMedia(place.db, filmId)).find((m) => m.name === 'garden')!.sound!;
    expect(said.samples / 48_000).toBeGreaterThan(2.5);
  });

  it('finds the beats of a band within 30 ms', async () => {
    const path = place.file('band.wav');
    const truth = writeBand(path, { seconds: 14, beatsPerMinute: 104, first: 0.43 });
    const id = await copyMedium(place.db, filmId, 'band', path);
    await ingestMedium(place.db, id, never, () => undefined);
    await runFindBeats(place.db, filmId, id, never, () => undefined, BY_NO_ONE);
    const { seconds } = (await loadFilm(place.db, filmId)).film.beats!.find((b) => b.mediumId === id)!;
    const off = truth.slice(1, -1).map((at) => Math.min(...seconds.map((s) => Math.abs(s - at))));
    expect(Math.max(...off)).toBeLessThan(0.03);
  });

  it.each([
    ['wipe past', 'street', 'meadow'],
    ['wipe past, blurred', 'blur', 'garden'],
  ])('shows in a %s the next shot behind what passes, and what passes before it', async (kind, leaving, entering) => {
    const i = KINDS.indexOf(kind);
    const placed = placedJoins(film)[i]!;
    const { entry } = await orderExport(place.db, filmId, { format: 'mp4', joinId: placed.join.id, handles: 0 });
    await runExport(place.db, entry.id, never, () => undefined);
    const frames = framesOf(exportFile(entry.id, 'mp4'));
    const { before } = placed.join;
    let looked = 0;
    for (const [k, sent] of frames.entries()) {
      const shown = REEL[i]!.to - before + k;
      const edge = edgesOfPassing(takeNamed(leaving), shown)[1];
      const next = roughFrame(takeNamed(entering), Math.round(((REEL[i + 1]!.from - before + k) * rateOf(entering)) / RATE));
      const old = roughFrame(takeNamed(leaving), shown);
      const meanOff = (truth: Uint8Array, from: number, to: number): number => {
        let sum = 0;
        let n = 0;
        for (let y = 30; y < HEIGHT - 30; y += 2)
          for (let x = Math.ceil(from); x < to; x += 2, n++)
            sum += Math.abs(sent[3 * (y * WIDTH + x) + 1]! - truth[3 * (y * WIDTH + x) + 1]!);
        return sum / Math.max(1, n);
      };
      // what is smeared by the shutter is neither
      const smear = 0.04 * WIDTH + 45;
      if (edge + smear < WIDTH - 30) {
        expect([k, meanOff(next, edge + smear, WIDTH) < 12]).toEqual([k, true]);
        looked++;
      }
      if (edge - 2 * smear > 30) expect([k, meanOff(old, 0, edge - 2 * smear) < 12]).toEqual([k, true]);
    }
    expect(looked).toBeGreaterThan(1);
  });
});

function rateOf(name: string): number {
  const [up, down = 1] = takeNamed(name).rate.split('/').map(Number) as [number, number?];
  return up / down;
}
