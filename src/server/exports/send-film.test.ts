import { execFileSync } from 'node:child_process';
import { existsSync, readdirSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { makeNumberedVideo, numbersOf } from '../../../tests/fixtures/numbered-video';
import { setOverlap } from '../../core/film/edits/joins';
import { addShot } from '../../core/film/edits/reel';
import { slideEntering, trimStart } from '../../core/film/edits/trims';
import { closeLoop, isLoop } from '../../core/film/edits/loop';
import { setLayer, setMotion } from '../../core/film/edits/layers';
import { createFilm, type Film } from '../../core/film/film';
import { readyMedia } from '../../core/film/media-facts';
import { changed, countingIds, edgeKey, sampleFilm, sampleMedium, sampleWipe } from '../../core/film/sample-film';
import { filmLength, placedJoins } from '../../core/film/timing';
import { rational, type Rational } from '../../core/geometry/rational';
import { sourcesOf } from './exports';
import { addFilm } from '../films/films';
import { copyMedium, listMedia } from '../media/media';
import { ingestMedium } from '../media/ingest';
import { openTestWorkplace, type TestWorkplace } from '../database/test-workplace';
import { scaling } from '../../core/geometry/matrix';
import type { FramePlan } from '../../core/plan/frame-plan';
import { plainPlanned } from '../../core/plan/plan-shot';
import { planFrame } from '../../core/plan/plan-film';
import { needsOf } from '../../core/plan/plan-needs';
import { decodeSizes, StretchSizes } from './decode-sizes';
import { sendFilm, type SendTask } from './send-film';

let place: TestWorkplace;
let filmId: string;
const [WIDTH, HEIGHT] = [320, 180];

beforeAll(async () => {
  place = await openTestWorkplace();
  execFileSync(process.execPath, ['scripts/build.mjs', '--tools']);
  filmId = await addFilm(place.db, createFilm('Send', WIDTH, HEIGHT, rational(24, 1)));
  for (const [name, rate] of [
    ['24.mp4', '24'],
    ['2997.mp4', '30000/1001'],
  ] as const) {
    await makeNumberedVideo(place.file(name), { width: WIDTH, height: HEIGHT, frames: 60, rate });
    await ingestMedium(place.db, await copyMedium(place.db, filmId, name, place.file(name)), new AbortController().signal, () => undefined);
  }
});
afterAll(() => place.close());

const media = async () => [...readyMedia(await listMedia(place.db, filmId)).values()];

async function film(rate: Rational, change: Parameters<typeof changed>[1] = () => undefined): Promise<Film> {
  const all = await media();
  return changed(createFilm('Send', WIDTH, HEIGHT, rate), (d) => {
    all.forEach((m, i) => addShot(d, m, i, countingIds(`s${i}`)));
    change(d);
  });
}

async function send(toSend: Film, out: string, rest: Partial<SendTask> = {}) {
  return sendFilm({
    film: toSend,
    ...(await sourcesOf(place.db, filmId, toSend)),
    from: 0,
    to: filmLength(toSend),
    format: out.endsWith('mp4') ? 'mp4' : 'webm',
    output: place.file(out),
    signal: new AbortController().signal,
    onProgress: () => undefined,
    ...rest,
  });
}

const probe = (file: string) =>
  JSON.parse(
    execFileSync('ffprobe', ['-v', 'error', '-count_frames', '-select_streams', 'v', '-show_streams', '-of', 'json', place.file(file)], {
      encoding: 'utf8',
    }),
  ) as { streams: Record<string, string>[] };

describe('sendFilm', () => {
  it('sends a loop whose end goes on in its beginning', async () => {
    const all = new Map((await media()).map((m) => [m.id, m]));
    const looped = changed(await film(rational(24, 1)), (d) => closeLoop(d, all, countingIds('l')));
    expect(isLoop(looped, all)).toBe(true);
    await send(looped, 'loop.mp4');
    const numbers = await numbersOf(place.file('loop.mp4'), WIDTH, HEIGHT);
    expect(numbers).toHaveLength(filmLength(looped));
    // the numbers of the first medium run on over the seam
    expect(numbers[0]).toBe(numbers.at(-1)! + 1);
    expect(numbers[1]).toBe(numbers[0]! + 1);
  });

  it.each([
    ['out.webm', rational(24, 1), 'vp9', '24/1'],
    ['out.mp4', rational(30000, 1001), 'h264', '30000/1001'],
  ])('%s has every frame once, at the right rate', async (name, rate, codec, rateText) => {
    const whole = await film(rate);
    const { frames, framesWithHoles } = await send(whole, name);
    expect(frames).toBe(filmLength(whole));
    expect(framesWithHoles).toEqual([]);
    const [stream] = probe(name).streams;
    expect(stream).toMatchObject({
      codec_name: codec,
      r_frame_rate: rateText,
      nb_read_frames: String(frames),
      width: WIDTH,
      height: HEIGHT,
      pix_fmt: 'yuv420p',
    });
    const numbers = await numbersOf(place.file(name), WIDTH, HEIGHT);
    const fps = rate.numerator / rate.denominator;
    const [first] = whole.shots;
    const expected = Array.from({ length: frames }, (_, k) =>
      k < first!.length ? Math.floor((k * 24) / fps + 1e-6) : Math.floor(((k - first!.length) * (30000 / 1001)) / fps + 1e-6),
    );
    expect(numbers).toEqual(expected);
  });

  it('draws joins: the entering shot shows where the outline opens', async () => {
    const [a, b] = await media();
    const wiped = {
      ...sampleWipe({ ...a!, width: 160, height: 90 }, { ...b!, width: 160, height: 90 }, [edgeKey(20, 80), edgeKey(30, -80)], 40, 30),
      width: WIDTH,
      height: HEIGHT,
    };
    const { from, to } = placedJoins(wiped)[0]!;
    const result = await send(wiped, 'join.webm', {
      from: from - 2,
      to: to + 2,
      media: new Map([a!, b!].map((m) => [m.id, { ...m, width: 160, height: 90 }])),
    });
    expect(result).toEqual({ frames: to - from + 4, framesWithHoles: [] });
    const numbers = await numbersOf(place.file('join.webm'), WIDTH, HEIGHT);
    expect(numbers[0]).toBe(from - 2);
  });

  it('reports frames with holes', async () => {
    const [, second] = await media();
    const early = await film(rational(24, 1), (d) => setOverlap(d, d.joins[0]!.id, 3, 0));
    const hidden = changed(early, (d) => void (d.joins[0]!.layers[0]!.visible = false));
    const from = placedJoins(hidden)[0]!.from;
    expect((await send(hidden, 'holes.webm', { from: from - 1, to: from + 4 })).framesWithHoles).toEqual([from, from + 1, from + 2]);
    const slid = changed(hidden, (d) => trimStart(d, second!, d.shots[1]!.id, 10, countingIds('t')));
    expect((await send(slid, 'whole.webm', { from: from - 1, to: from + 4 })).framesWithHoles).toEqual([]);
  });

  it('leaves nothing when it is stopped', async () => {
    const abort = new AbortController();
    const whole = await film(rational(24, 1));
    await expect(
      send(whole, 'stopped.webm', { signal: abort.signal, onProgress: (f) => f > 0.2 && abort.abort(new Error('enough')) }),
    ).rejects.toThrow('enough');
    expect(existsSync(place.file('stopped.webm'))).toBe(false);
    expect(readdirSync(place.folder).filter((f) => f.includes('.part'))).toEqual([]);
  });

  it('leaves nothing when an original is gone, and says which', async () => {
    const whole = await film(rational(24, 1));
    const sources = await sourcesOf(place.db, filmId, whole);
    const originals = new Map([...sources.originals].map(([id, o]) => [id, { ...o, path: '/nowhere.mp4' }]));
    await expect(send(whole, 'broken.webm', { originals })).rejects.toThrow(
      /24 cannot be read past frame -1, and frame 0 is asked for. Its file is damaged or was changed/,
    );
    expect(existsSync(place.file('broken.webm'))).toBe(false);
  });

  it('says when the place to write to does not exist', async () => {
    await expect(send(await film(rational(24, 1)), 'no/such/folder.webm')).rejects.toThrow(
      /could not be encoded to its end; the log of the server says why/,
    );
  });
});

it('decodes each medium as large as it is shown, never larger than it is', () => {
  const picture = { mediumId: 'm', frame: 0, width: 400, height: 200 };
  const plan = (scale: number): FramePlan => ({
    ...{ width: 100, height: 50, finish: [], background: null, missing: [] },
    layers: [plainPlanned({ kind: 'picture', picture, next: null }, 400, 200, scaling(scale))],
  });
  expect(decodeSizes([plan(0.25), plan(0.5)]).get('m')).toEqual({ width: 200, height: 100 });
  expect(decodeSizes([plan(3)]).get('m')).toEqual({ width: 400, height: 200 });
});

describe('pictures sent out', () => {
  const open = new AbortController().signal;
  /** RGB of one frame of a file, by a careful conversion. */
  const pixels = (path: string, at = 0): Buffer =>
    execFileSync('ffmpeg', [
      ...['-v', 'error', '-i', path, '-vf', `select='eq(n,${at})',scale=flags=accurate_rnd+full_chroma_int+bicubic`],
      ...['-frames:v', '1', '-f', 'rawvideo', '-pix_fmt', 'rgb24', '-'],
    ]);

  it.each([
    ['webm', 'tv', 'bt709'],
    ['mp4', 'tv', 'bt709'],
    ['mp4', 'tv', 'smpte170m'],
    ['mp4', 'pc', 'bt709'],
  ] as const)('come back within half a step as %s, from %s range by the %s matrix', async (format, range, matrix) => {
    const name = `ramp-${range}-${matrix}.mkv`;
    const toYuv = `geq=r='X*255/319+0.5':g='X*255/319+0.5':b='X*255/319+0.5',scale=out_range=${range}:out_color_matrix=${matrix}:flags=accurate_rnd+full_chroma_int,format=yuv444p`;
    execFileSync('ffmpeg', [
      ...['-v', 'error', '-y', '-f', 'lavfi', '-i', `color=size=${WIDTH}x${HEIGHT}:rate=24,format=gbrp`, '-vf', toYuv, '-frames:v', '4'],
      ...['-c:v', 'ffv1', '-color_range', range, '-colorspace', matrix, place.file(name)],
    ]);
    const id = await addFilm(place.db, createFilm(name, WIDTH, HEIGHT, rational(24, 1)));
    await ingestMedium(place.db, await copyMedium(place.db, id, name, place.file(name)), open, () => undefined);
    const [medium] = [...readyMedia(await listMedia(place.db, id)).values()];
    const ramp = changed(createFilm(name, WIDTH, HEIGHT, rational(24, 1)), (d) => addShot(d, medium!, 0, countingIds('r')));
    const out = place.file(`ramp-${range}-${matrix}.${format}`);
    const rest = { format, output: out, signal: open, onProgress: () => undefined };
    await sendFilm({ film: ramp, ...(await sourcesOf(place.db, id, ramp)), from: 0, to: 4, ...rest });
    const got = pixels(out, 1);
    let sum = 0;
    for (let y = 20; y < 160; y++) for (let x = 4; x < 316; x++) sum += got[3 * (y * WIDTH + x) + 1]! - (x * 255) / 319;
    expect(Math.abs(sum / (140 * 312))).toBeLessThan(0.5);
  });

  it('are scaled where a layer alone is', async () => {
    const scaled = await film(rational(24, 1), (d) => {
      const join = d.joins[0]!;
      setOverlap(d, join.id, 5, 0);
      setMotion(d, join.id, { kind: 'layer', id: join.layers[0]!.id }, { scale: 0.5 });
      setLayer(d, join.id, join.layers[1]!.id, { visible: false });
    });
    const { framesWithHoles } = await send(scaled, 'scaled.webm', { from: 50, to: 60 });
    expect(framesWithHoles).toEqual([55, 56, 57, 58, 59]);
    const inOverlap = pixels(place.file('scaled.webm'), 7);
    // the corner lies outside the picture at half its size, the middle inside
    expect(inOverlap[0]!).toBeLessThan(8);
    expect(inOverlap[3 * (90 * WIDTH + 160)]!).toBeGreaterThan(60);
  });
});

it('knows a size for every picture, also of a shot that begins before its medium does', () => {
  const [a, b] = [sampleMedium('a', 60), sampleMedium('b', 72)];
  const media = new Map([a, b].map((m) => [m.id, m]));
  const film = changed(sampleFilm([a, b]), (d) => slideEntering(d, b, d.joins[0]!.id, 40));
  const sizes = new StretchSizes(film, media);
  const lacking = Array.from({ length: filmLength(film) }, (_, frame) => frame).filter((frame) =>
    [...needsOf(planFrame(film, media, frame)).pictures.values()].some(({ ref }) => !sizes.at(frame).has(ref.mediumId)),
  );
  expect(film.shots[1]!.inFrame).toBeLessThan(-2);
  expect(lacking).toEqual([]);
});
