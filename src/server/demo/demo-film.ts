import { SOUND_RATE } from '../../core/film/sound';
import { randomUUID } from 'node:crypto';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { createDraft, finishDraft, type Draft } from 'immer';
import type { Knex } from 'knex';
import { easedKeys } from '../../core/motion/eases';
import { layJoin, makeKind } from '../../core/recipes/making';
import { createFilm, type Film, type Media } from '../../core/film/film';
import { readyMedia, readySounds, type SoundFacts } from '../../core/film/media-facts';
import { setBeats } from '../../core/film/edits/marks';
import { addClip, addSoundLane, duplicateClip, setClipSound, trimClip } from '../../core/film/edits/sound';
import { cutInWord } from '../../core/film/edits/words';
import { monoOf } from '../../core/sound/samples';
import { findWord } from '../../core/sound/words';
import { StrokeCutter } from '../../core/matte/cut/cut';
import { analysisSize, bytesOf } from '../../core/matte/coverage/resize';
import { markOf, placeStrokes } from '../../core/matte/cut/strokes';
import { filmLength, placedJoins, startOfShot } from '../../core/film/timing';
import { CART_FIRST_FRAME, CART_STROKES_FRAME, composeDemoFilm, DEMO_FILM_NAME, measuredOutlines, REEL } from './demo-joins';
import { runCarry } from '../work/carry-matte';
import { AnalysisFrames } from '../video/analysis-frames';
import { rootFolder } from '../base/data-folder';
import { addFilm, loadFilm, replaceFilm } from '../films/films';
import { storeMatteFrame } from '../films/matte-frames';
import { beatsOf } from '../work/find-beats';
import { SoundFiles, streamSound } from '../media/sound-files';
import { copyMedium, listMedia, pictureFileOf } from '../media/media';
import { ingestMedium } from '../media/ingest';

/** Fills an empty data folder with the demo film; an existing one is left as it is. Gives the film's id. */
export async function seedDemoFilm(db: Knex, say: (line: string) => void): Promise<string> {
  const known = await db<{ id: string; document: string }>('films');
  const present = known.find((f) => (JSON.parse(f.document) as Film).name === DEMO_FILM_NAME);
  if (present !== undefined) return present.id;
  const filmId = await addFilm(db, createFilm(DEMO_FILM_NAME, 1280, 720, { numerator: 24, denominator: 1 }));
  const never = new AbortController().signal;
  const ids = new Map<string, string>();
  for (const file of [...new Set(REEL.map((p) => p.file)), MUSIC]) {
    const name = file === MUSIC ? `${file}.opus` : `${file}.webm`;
    const path = join(rootFolder(), 'demo/media', name);
    if (!existsSync(path)) throw new Error(`demo/media/${name} is missing; the checkout is incomplete`);
    say(`preparing ${file}`);
    const id = await copyMedium(db, filmId, name, path);
    await ingestMedium(db, id, never, () => undefined);
    ids.set(file, id);
  }
  const shelf = await listMedia(db, filmId);
  const ready = readyMedia(shelf);
  const silent = composeDemoFilm(new Map([...ids].filter(([file]) => file !== MUSIC).map(([file, id]) => [file, ready.get(id)!])));
  say('listening to the music and the takes');
  const film = await withSound(silent, ready, readySounds(shelf).get(ids.get(MUSIC)!)!);
  const stored = await loadFilm(db, filmId);
  await replaceFilm(db, filmId, stored.film, film, stored.revision);
  say('cutting out the handcart');
  await cutCart(db, filmId, film, never);
  return filmId;
}

const MUSIC = 'small-hours';
/** Level of the music, dB: on its own, and under the mender's voice. */
const MUSIC_DB = -5;
const UNDER_VOICE_DB = -19;
/** Film frames over which it gives way to the voice. */
const GIVES_WAY = 12;

/** Music under the reel with its beats as the program finds them, the takes cut inside the word that they share. */
async function withSound(film: Film, media: Media, music: SoundFacts): Promise<Film> {
  const draft = createDraft(film);
  await cutTakes(draft, media);
  for (const [name, length] of MELTS) makeKind(draft, media, joinOfName(draft, name), 'melt', {}, { length });
  const clipId = addClip(draft, addSoundLane(draft, 'Music', randomUUID), music, 0, randomUUID);
  const again = duplicateClip(draft, clipId, randomUUID);
  const length = filmLength(draft);
  const voices = draft.shots.filter((s) => s.name.startsWith('Mender')).map((s) => startOfShot(draft as Film, s.id));
  const [from, to] = [Math.min(...voices), Math.max(...voices) + draft.shots.find((s) => s.name.startsWith('Mender take 2'))!.length];
  const keys = [
    ...easedKeys('soft both', [from - GIVES_WAY, MUSIC_DB], [from, UNDER_VOICE_DB]),
    ...easedKeys('soft both', [to - GIVES_WAY, UNDER_VOICE_DB], [to, MUSIC_DB]),
  ];
  setClipSound(draft, clipId, { level: keys });
  trimClip(draft, music, again, 'end', length - (draft.soundLanes![0]!.clips[1]!.start + draft.soundLanes![0]!.clips[1]!.length));
  setClipSound(draft, again, { level: MUSIC_DB, fadeOut: 48 });
  setBeats(draft, {
    mediumId: music.id,
    ...(await beatsOf(streamSound(music.id), music.samples, new AbortController().signal, () => undefined)),
  });
  // what keeps to beats is made when they are known
  makeKind(draft, media, joinOfName(draft, 'The bell'), 'panels on the beat', { count: 5, order: 'from the middle' });
  const cutOut = joinOfName(draft, 'The bell, cut out');
  layJoin(draft, media, cutOut, new Map([[cutOut, measuredOutlines(draft, media, cutOut)]]));
  return finishDraft<Film>(draft);
}

/** Joins that melt, and over how many frames: a word that goes on, someone who appears, one thing that becomes another in the air. */
const MELTS = [
  ['Two takes, one word', 8],
  ['There he is', 12],
  ['Lantern to kettle', 6],
] as const;

const joinOfName = (film: Draft<Film>, name: string): string => placedJoins(film as Film).find((p) => p.join.name === name)!.join.id;

/** Seconds of the first take in which the shared word is said, roughly, as a hand would select it. */
const WORD = { start: 2.08, end: 2.62 };

async function cutTakes(film: Draft<Film>, media: Media): Promise<void> {
  const { join: takes, leaving, entering } = placedJoins(film as Film).find((p) => p.join.name === 'Two takes, one word')!;
  const files = new SoundFiles();
  try {
    const heard = async (mediumId: string): Promise<Float32Array> => monoOf(await files.read(mediumId, 0, 6 * SOUND_RATE));
    const word = findWord(await heard(leaving.mediumId), WORD, await heard(entering.mediumId));
    if (word === null || !cutInWord(film, media, takes.id, 'leaving', word)) throw new Error('the takes of the demo film share no word');
  } finally {
    await files.close();
  }
}

/** Cuts the cart from its strokes as the page would, and carries it back over the overlap. */
async function cutCart(db: Knex, filmId: string, film: Film, signal: AbortSignal): Promise<void> {
  const matte = film.mattes.find((m) => m.painted !== undefined)!;
  const [strokes] = matte.painted!;
  const medium = readyMedia(await listMedia(db, filmId)).get(matte.mediumId)!;
  const size = analysisSize(medium.width, medium.height);
  const frames = new AnalysisFrames(await pictureFileOf(db, medium.id), size.width, size.height);
  try {
    const cutter = new StrokeCutter(await frames.frame(CART_STROKES_FRAME));
    const alpha = cutter.cut(placeStrokes(strokes!, size.width / medium.width, size.width / 2, size.height / 2));
    await storeMatteFrame(db, filmId, matte.id, {
      frame: CART_STROKES_FRAME,
      origin: 'hand',
      confidence: 1,
      doubt: null,
      madeFrom: markOf(strokes!),
      coverage: { ...size, data: bytesOf(alpha) },
    });
  } finally {
    frames.close();
  }
  await runCarry(db, filmId, { matteId: matte.id, from: CART_STROKES_FRAME, to: CART_FIRST_FRAME }, signal, () => undefined, null);
}
