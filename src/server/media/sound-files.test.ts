import { SOUND_RATE } from '../../core/film/sound';
import { execFileSync } from 'node:child_process';
import { readFileSync, statSync, writeFileSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { clicksOf, clickPairs, flashesOf, makeClickFilm, writeClicks } from '../../../tests/fixtures/clicks';
import { readBeats, readSpeech } from '../../../demo/truth';
import { addShot } from '../../core/film/edits/reel';
import { trimEnd, trimStart } from '../../core/film/edits/trims';
import { addClip, setClipSound } from '../../core/film/edits/sound';
import { createFilm, type Film } from '../../core/film/film';
import { readyMedia, readySounds, type ShelfMedium } from '../../core/film/media-facts';
import { changed, countingIds } from '../../core/film/sample-film';
import { filmLength } from '../../core/film/timing';
import { rational } from '../../core/geometry/rational';
import { Mixer } from '../../core/sound/mixer';
import { PEAK_SCALES, peakLevels } from '../../core/sound/peaks';
import { planSound } from '../../core/sound/plan-sound';
import { monoOf, packPairs, type Stereo } from '../../core/sound/samples';
import { fMeasure } from '../../core/sound/test-sounds';
import { findWord } from '../../core/sound/words';
import { mediumFile } from '../base/data-folder';
import { sendOrdered, sourcesOf } from '../exports/exports';
import { addFilm } from '../films/films';
import { beatsOf } from '../work/find-beats';
import { addSound, ingestMedium, mediaWithoutSound } from './ingest';
import { copyMedium, listMedia } from './media';
import { mixToFile } from '../exports/send-sound';
import { SoundFiles, streamSound } from './sound-files';
import { openTestWorkplace, type TestWorkplace } from '../database/test-workplace';
import { workerPool } from '../base/worker-pool';

let place: TestWorkplace;
let filmId: string;
const never = new AbortController().signal;
const files = new SoundFiles();

beforeAll(async () => {
  place = await openTestWorkplace();
  execFileSync(process.execPath, ['scripts/build.mjs', '--tools']);
  filmId = await addFilm(place.db, createFilm('Heard', 160, 90, rational(24, 1)));
});
afterAll(async () => {
  await files.close();
  await workerPool().close();
  await place.close();
});

async function bring(name: string, path = place.file(name)): Promise<ShelfMedium> {
  const id = await copyMedium(place.db, filmId, name, path);
  await ingestMedium(place.db, id, never, () => undefined).catch(() => undefined); // what failed is told on the card
  return (await listMedia(place.db, filmId)).find((m) => m.id === id)!;
}

const ffmpeg = (...args: string[]): void => void execFileSync('ffmpeg', ['-v', 'error', '-y', ...args]);

/** Where a sound that was silent rises first, samples. */
async function firstSound(id: string): Promise<number> {
  const { left } = await files.read(id, 0, 3 * SOUND_RATE);
  return left.findIndex((v) => Math.abs(v) > 0.1);
}

describe('a sound that is brought in', () => {
  beforeAll(() => writeClicks(place.file('clicks.wav'), 2, [0.5, 1.25]));

  it.each([
    ['44.wav', ['-ar', '44100'], 1],
    ['mono.flac', ['-ac', '1', '-ar', '96000'], 1],
    ['low.wav', ['-ar', '8000', '-ac', '1'], 8],
    ['music.mp3', ['-b:a', '192k'], 30],
    ['music.m4a', ['-b:a', '192k'], 30],
    ['music.opus', ['-b:a', '192k'], 2],
    ['music.ogg', ['-c:a', 'libvorbis', '-q:a', '8'], 2],
    ['surround.wav', ['-ac', '6'], 1],
    ['loud.aiff', [], 1],
  ])('keeps its places: %s', async (name, args, within) => {
    ffmpeg('-i', place.file('clicks.wav'), ...args, place.file(name));
    const { status, facts, sound, error } = await bring(name);
    expect([name, status, facts, error]).toEqual([name, 'ready', null, null]);
    expect(Math.abs(sound!.samples - 2 * SOUND_RATE)).toBeLessThan(0.06 * SOUND_RATE);
    // formats that cut a sound into frames may shift it by their own delay where the file does not tell it
    expect(Math.abs((await firstSound(sound!.id)) - 0.5 * SOUND_RATE)).toBeLessThan(within * 48);
    if (name === 'surround.wav') expect(sound!.sourceChannels).toBe(6);
  });

  it('has peaks of all that is heard', async () => {
    const { sound } = await bring('clicks.wav');
    const peaks = new Int8Array(readFileSync(mediumFile(sound!.id, 'peaks.s8')).buffer);
    const levels = peakLevels(sound!.samples);
    expect(peaks.length >= levels.at(-1)!.offset + 2 * levels.at(-1)!.pairs).toBe(true);
    const bytes = readFileSync(mediumFile(sound!.id, 'peaks.s8'));
    const at = (level: number, sample: number): number =>
      bytes.readInt8(levels[level]!.offset + 2 * Math.floor(sample / PEAK_SCALES[level]!) + 1);
    for (const level of [0, 1, 2, 3]) expect(at(level, 0.5 * SOUND_RATE)).toBeGreaterThan(90);
    expect(at(0, 0.4 * SOUND_RATE)).toBe(0);
    expect(statSync(mediumFile(sound!.id, 'sound.s16')).size).toBe(4 * sound!.samples);
  });

  it('of a picture lies on the picture’s clock, also where it starts late or early', async () => {
    makeClickFilm(place.file('flash.mkv'), { seconds: 3, rate: 24, flashes: [24, 48] });
    for (const [name, shift] of [
      ['on-time.mkv', 0],
      ['late.mkv', 0.25],
      ['early.mkv', -0.25],
    ] as const) {
      ffmpeg(
        '-i',
        place.file('flash.mkv'),
        '-itsoffset',
        String(shift),
        '-i',
        place.file('flash.mkv'),
        '-map',
        '0:v',
        '-map',
        '1:a',
        '-c',
        'copy',
        place.file(name),
      );
      const { sound, facts } = await bring(name);
      expect(facts!.frames).toBe(72);
      expect([name, Math.abs((await firstSound(sound!.id)) - (1 + shift) * SOUND_RATE) <= 48]).toEqual([name, true]);
    }
  });

  it('that is broken leaves the picture usable and says so; a broken sound alone fails', async () => {
    writeFileSync(place.file('torn.wav'), readFileSync(place.file('clicks.wav')).subarray(0, 30));
    const torn = await bring('torn.wav');
    expect(torn.status).toBe('failed');
    expect(torn.error).toMatch(/sound/);
    writeFileSync(place.file('noise.mp3'), Buffer.from('this is no sound at all '.repeat(50)));
    expect((await bring('noise.mp3')).status).toBe('failed');
  });

  it('is added to media that were brought in before sounds were kept', async () => {
    const { id, sound } = await bring('flash.mkv');
    await place.db('media').where({ id }).update({ sound: null });
    expect((await mediaWithoutSound(place.db)).map((m) => m.id)).toEqual([id]);
    await addSound(place.db, id, never, () => undefined);
    expect((await listMedia(place.db, filmId)).find((m) => m.id === id)!.sound).toEqual(sound);
    expect(await mediaWithoutSound(place.db)).toEqual([]);
  });

  it('reads as silence where there is none', async () => {
    const { sound } = await bring('clicks.wav');
    const { left } = await files.read(sound!.id, -3, 10);
    expect([...left]).toEqual(new Array(10).fill(0));
    expect((await files.read(sound!.id, sound!.samples - 2, 6)).right).toHaveLength(6);
    expect((await files.read(sound!.id, -9, 4)).left).toHaveLength(4);
  });
});

describe('sound that is sent out', () => {
  let film: Film;
  /** Film frames of flashes and clicks of the two shots. */
  const expected = [24, 48, 80, 104].map((f) => f / 24);

  beforeAll(async () => {
    makeClickFilm(place.file('one.mkv'), { seconds: 3, rate: 24, flashes: [24, 48] });
    makeClickFilm(place.file('two.mkv'), { seconds: 4, rate: 24, flashes: [20, 44, 68] });
    const media = [await bring('one.mkv'), await bring('two.mkv')].map((m) => m.facts!);
    film = changed(createFilm('Heard', 160, 90, rational(24, 1)), (d) => {
      media.forEach((m, i) => addShot(d, m, i, countingIds(`s${i}`)));
      trimEnd(d, media[0]!, d.shots[0]!.id, -12, countingIds('t'));
      trimStart(d, media[1]!, d.shots[1]!.id, 0, countingIds('t'));
      trimEnd(d, media[1]!, d.shots[1]!.id, -40, countingIds('t'));
    });
  });

  const send = async (out: string, format: 'webm' | 'mp4' | 'wav', toSend = film): Promise<string> => {
    const path = place.file(out);
    const sources = await sourcesOf(place.db, filmId, toSend);
    await sendOrdered(
      { format },
      { film: toSend, ...sources, from: 0, to: filmLength(toSend), output: path, signal: never, onProgress: () => undefined },
    );
    return path;
  };

  it.each(['webm', 'mp4'] as const)('is in step with the picture within a millisecond: %s', async (format) => {
    const path = await send(`step.${format}`, format);
    const clicks = clicksOf(path);
    const flashes = flashesOf(path);
    expect(clicks).toHaveLength(expected.length);
    expect(flashes).toHaveLength(expected.length);
    expected.forEach((at, i) => {
      expect(Math.abs(clicks[i]! - flashes[i]!)).toBeLessThan(0.001);
      expect(Math.abs(flashes[i]! - at)).toBeLessThan(0.001);
    });
    const { streams } = JSON.parse(
      execFileSync('ffprobe', ['-v', 'error', '-select_streams', 'a', '-show_streams', '-of', 'json', path], { encoding: 'utf8' }),
    ) as { streams: Record<string, unknown>[] };
    expect(streams[0]).toMatchObject({ codec_name: format === 'webm' ? 'opus' : 'aac', sample_rate: '48000', channels: 2 });
  });

  it('alone is exact to the sample, cuts included, and the same as what the page mixes', async () => {
    const path = await send('alone.wav', 'wav');
    const pcm = readFileSync(path).subarray(-4 * ((filmLength(film) * SOUND_RATE) / 24));
    const sent = new Int16Array(pcm.buffer.slice(pcm.byteOffset, pcm.byteOffset + pcm.length));
    const parts = [clickPairs(2.5, [1, 2]), clickPairs(56 / 24, [20 / 24, 44 / 24])];
    expect(sent.length).toBe(parts[0]!.length + parts[1]!.length);
    for (const [i, value] of [...parts[0]!, ...parts[1]!].entries())
      if (Math.abs(sent[i]! - value) > 1) expect([i, sent[i]]).toEqual([i, value]);
    const shelf = await listMedia(place.db, filmId);
    const mixer = new Mixer(planSound(film, readyMedia(shelf), readySounds(shelf)), files.read);
    // the page asks for other blocks than sending out does
    for (let at = 0; at < 90_000; at += 9600) {
      const block = packPairs(await mixer.block(at, 9600));
      expect(block).toEqual(sent.slice(2 * at, 2 * (at + 9600)));
    }
  });

  it('has levels, fades and lanes as they are heard, and no track where nothing is', async () => {
    const music = (await bring('clicks.wav')).sound!;
    const louder = changed(film, (d) => {
      const id = addClip(d, null, music, 60, countingIds('c'));
      setClipSound(d, id, { level: -6 });
    });
    expect(clicksOf(await send('lanes.webm', 'webm', louder)).length).toBeGreaterThan(expected.length);
    const still = changed(film, (d) => {
      for (const shot of d.shots) shot.sound = { level: 0, muted: true, fadeIn: 0, fadeOut: 0 };
    });
    const path = await send('still.webm', 'webm', still);
    expect(
      execFileSync('ffprobe', ['-v', 'error', '-show_entries', 'stream=codec_type', '-of', 'csv=p=0', path], { encoding: 'utf8' }).trim(),
    ).toBe('video');
  });

  it('leaves nothing behind when it is stopped', async () => {
    const shelf = await listMedia(place.db, filmId);
    const stop = new AbortController();
    stop.abort(new Error('enough'));
    const plan = planSound(film, readyMedia(shelf), readySounds(shelf));
    const task = { film, media: readyMedia(shelf), sounds: readySounds(shelf), from: 0, to: 24, signal: stop.signal };
    await expect(mixToFile(plan, task, place.file('stopped'))).rejects.toThrow('enough');
  });
});

describe('the demo film’s sound', () => {
  const heard = async (file: string): Promise<{ readonly id: string; readonly samples: number }> => {
    const { sound } = await bring(file, `demo/media/${file}`);
    return sound!;
  };

  it('has its beats found, part by part as it is read', async () => {
    const { id, samples } = await heard('small-hours.opus');
    const found = await beatsOf(streamSound(id), samples, never, () => undefined);
    const { beats, beatsPerMinute } = readBeats();
    expect(fMeasure(found.seconds, beats)).toBeGreaterThan(0.97);
    expect(Math.abs(found.beatsPerMinute / beatsPerMinute - 1)).toBeLessThan(0.01);
  });

  it('has the word that both takes say found within 30 ms', async () => {
    const [one, two] = ['mender-take-1', 'mender-take-2'].map((name) => ({ name, speech: readSpeech(name) }));
    const sound = async (name: string): Promise<Float32Array> => {
      const { id, samples } = await heard(`${name}.webm`);
      const stereo: Stereo = await files.read(id, 0, samples);
      return monoOf(stereo);
    };
    const wordOf = (speech: ReturnType<typeof readSpeech>) => speech.words.find((w) => w.word === speech.sharedWord)!;
    const found = findWord(await sound(one!.name), wordOf(one!.speech), await sound(two!.name))!;
    const truth = wordOf(two!.speech);
    expect(Math.abs(found.b.start - truth.start)).toBeLessThan(0.03);
    expect(Math.abs(found.b.end - truth.end)).toBeLessThan(0.03);
  });
});
