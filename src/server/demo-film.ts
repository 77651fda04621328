import { randomUUID } from 'node:crypto';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { createDraft, finishDraft, type Draft } from 'immer';
import type { Knex } from 'knex';
import { addShot, renameJoin, setOverlap, trimEnd, trimStart } from '../core/film/edits';
import { setMatteUse } from '../core/film/edits/layers';
import { Compositor } from '../core/render/cpu/compositor';
import { measureHole, type HoleShape } from '../core/recipes/hole-shape';
import { layZooms, makeZoomThrough, planHole, setZoomSettings } from '../core/recipes/zoom-through';
import type { ValueKey } from '../core/motion/curve';
import { easedKeys } from '../core/motion/eases';
import { layComposed, makeComposed } from '../core/recipes/composed';
import { addLinePair } from '../core/recipes/feature-morph';
import { makeWipePast, setOutlineAndFit } from '../core/recipes/wipe-past';
import { byId, createFilm, type Film, type FrameStrokes, type Join, type Medium, type Media } from '../core/film/film';
import { plainLayer, type Layer, type ShotSide } from '../core/film/composition';
import { readyMedia, readySounds, type SoundFacts } from '../core/film/media-facts';
import { setBeats } from '../core/film/edits/marks';
import { addClip, addSoundLane, duplicateClip, setClipSound, trimClip } from '../core/film/edits/sound';
import { cutInWord } from '../core/film/edits/words';
import { monoOf, SOUND_RATE } from '../core/sound/samples';
import { findWord } from '../core/sound/words';
import { addMatte, addMatteUse, addTrack, rideOnTrack, setStrokes, setTidying } from '../core/film/edits/mattes';
import { StrokeCutter } from '../core/matte/cut/cut';
import { corner, type Outline } from '../core/matte/outline/outline';
import { analysisSize, bytesOf } from '../core/matte/coverage/resize';
import { markOf, placeStrokes, type Strokes } from '../core/matte/cut/strokes';
import type { Corner } from '../core/track/plane-template';
import { wipeMatte } from '../core/recipes/wipe-past-report';
import { filmLength, placedJoins, startOfShot } from '../core/film/timing';
import { runCarry } from './carry-matte';
import { AnalysisFrames } from './analysis-frames';
import { mediumFile, rootFolder } from './data-folder';
import { addFilm, loadFilm, replaceFilm } from './films';
import { storeMatteFrame } from './matte-frames';
import { beatsOf } from './find-beats';
import { SoundFiles, streamSound } from './sound-files';
import { copyMedium, ingestMedium, listMedia, probeOf } from './media';

export const DEMO_FILM_NAME = 'Small Hours';
export const TO_TRY = 'Tram wipe, to try';
export const LOUPE_TO_TRY = 'Through the loupe, to try';

interface Piece {
  readonly file: string;
  /** First medium frame shown, and the one past the last. */
  readonly from: number;
  readonly to: number;
  /** The join to the next piece. */
  readonly join: string;
}

const piece = (file: string, from: number, to: number, join: string): Piece => ({ file, from, to, join });

/** The story, shot by shot. The two takes of the mender are cut inside the word they share. */
export const REEL: readonly Piece[] = [
  piece('street-tram', 0, 86, 'Tram wipe'),
  piece('shop-pan', 20, 104, 'To the bench'),
  piece('bench-loupe', 0, 116, 'Through the loupe'),
  piece('dial-push', 32, 72, 'Dial to moon'),
  piece('moonrise', 56, 120, 'Under the moon'),
  piece('hill-wide', 10, 82, 'Up to the dome'),
  piece('dome-close', 0, 96, 'The cart comes'),
  piece('cart-arrive', 60, 96, 'A lantern'),
  piece('toss-lantern', 0, 34, 'Lantern to kettle'),
  piece('toss-kettle', 34, 68, 'An empty desk'),
  piece('desk-plate', 0, 40, 'There he is'),
  piece('mender-take-1', 0, 57, 'Two takes, one word'),
  piece('mender-take-2', 52, 128, 'To the loft'),
  piece('loft-drop', 0, 46, 'Drop through'),
  piece('dome-drop', 10, 70, 'Figures'),
  piece('figure-a', 6, 52, 'One into the other'),
  piece('figure-b', 30, 90, 'The bell'),
  piece('bell-tower', 0, 90, 'Back to the street'),
  piece('street-tram', 0, 86, TO_TRY),
  piece('shop-pan', 20, 120, 'To the bench again'),
  piece('bench-loupe', 50, 116, LOUPE_TO_TRY),
  piece('dial-push', 32, 100, 'Dial to moon, to try'),
  piece('moonrise', 20, 120, ''),
];

/** The tram moves about 40 px while the shutter is open; the matte's edge is as soft as the tram's. */
const EDGE_FEATHER_PX = 24;
const CART_STROKES_FRAME = 60;
/** First medium frame to which the cart's matte is carried back, and so the first on which it stands before the dome. */
const CART_FIRST_FRAME = 46;

/** What was made of the film's shots with the tools themselves, as they write it: pixels, centres at whole numbers. */
const readMade = (name: string): unknown => JSON.parse(readFileSync(join(rootFolder(), 'demo/joins', `${name}.json`), 'utf8'));

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
  for (const [name, length] of MELTS) makeComposed(draft, media, joinOfName(draft, name), 'melt', {}, length);
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

/** The reel with its joins. `shots` are the media by the names of their files. */
export function composeDemoFilm(shots: ReadonlyMap<string, Medium>): Film {
  const mediumOf = (file: string): Medium => {
    const medium = shots.get(file);
    if (medium === undefined) throw new Error(`the demo film needs ${file}`);
    return medium;
  };
  const film = createDraft(createFilm(DEMO_FILM_NAME, 1280, 720, { numerator: 24, denominator: 1 }));
  REEL.forEach(({ file, from, to }, i) => {
    const medium = mediumOf(file);
    addShot(film, medium, i, randomUUID);
    const { id } = film.shots[i]!;
    trimStart(film, medium, id, from, randomUUID);
    trimEnd(film, medium, id, to - medium.frames, randomUUID);
  });
  const joins = placedJoins(film as Film).map((p) => p.join.id);
  joins.forEach((id, i) => renameJoin(film, id, REEL[i]!.join));
  const joinNamed = (name: string): string => joins[REEL.findIndex((p) => p.join === name)]!;
  const media = new Map([...shots.values()].map((m) => [m.id, m]));
  makeTramWipe(film, joinNamed('Tram wipe'), media);
  const glassId = trackLoupe(film, mediumOf('bench-loupe'));
  makeZooms(film, media, [
    [joinNamed('Through the loupe'), glassId],
    [joinNamed('Dial to moon'), drawDialMiddle(film, mediumOf('dial-push'))],
  ]);
  makeCartArrive(film, joinNamed('The cart comes'), mediumOf('cart-arrive'));
  makeFigureMorph(film, media, joinNamed('One into the other'), mediumOf);
  return finishDraft<Film>(film);
}

function makeTramWipe(film: Draft<Film>, joinId: string, media: ReadonlyMap<string, Medium>): void {
  makeWipePast(film, joinId, randomUUID);
  const { matte } = wipeMatte(
    film,
    placedJoins(film as Film).find((p) => p.join.id === joinId)!,
  )!;
  const layer = joinOf(film, joinId).layers.find((l) => l.source.kind === 'leaving')!;
  setMatteUse(film, joinId, layer.id, matte.id, { featherPx: EDGE_FEATHER_PX, cleanEdge: 0.8 });
  const medium = media.get(matte.mediumId)!;
  const made = readMade('tram-edge') as {
    readonly covered: { readonly from: number; readonly to: number };
    readonly keys: readonly { readonly frame: number; readonly points: readonly Corner[] }[];
  };
  const outline: Outline = {
    closed: true,
    keys: made.keys.map(({ frame, points }) => ({
      frame,
      ease: 'straight',
      points: fromCentre(points, medium).map(([x, y]) => corner(x, y)),
    })),
  };
  setOutlineAndFit(film, media, matte.id, outline);
  byId(film.mattes, matte.id, 'matte').coversFrame = made.covered;
}

/** The share of a quarter circle's radius at which the handles of its cubic curve lie. */
const QUARTER_CIRCLE = 0.5523;

/** The loupe's ring, followed; an outline of its glass, drawn on one frame, rides on it. */
function trackLoupe(film: Draft<Film>, medium: Medium): string {
  const { frames, glass } = readMade('loupe-track') as {
    readonly glass: { readonly frame: number; readonly centre: Corner; readonly rim: readonly Corner[] };
    readonly frames: readonly { readonly frame: number; readonly corners: readonly Corner[]; readonly confidence: number }[];
  };
  const placed = frames.map((f) => ({ ...f, corners: fromCentre(f.corners, medium) }));
  const key = placed.find((f) => f.confidence === 1)!;
  const trackId = addTrack(film, medium.id, 'Loupe glass', 'affine', key.frame, key.corners, randomUUID);
  byId(film.tracks!, trackId, 'track').frames = placed.filter((f) => f !== key);
  const [centre] = fromCentre([glass.centre], medium);
  const rim = fromCentre(glass.rim, medium);
  const matteId = addMatte(film, medium.id, 'outline', 'Loupe glass', randomUUID);
  byId(film.mattes, matteId, 'matte').outline = {
    closed: true,
    keys: [
      {
        frame: glass.frame,
        ease: 'straight',
        points: rim.map(([x, y], i) => {
          const [nextX, nextY] = rim[(i + 1) % rim.length]!;
          const [outX, outY] = [QUARTER_CIRCLE * (nextX - centre![0]), QUARTER_CIRCLE * (nextY - centre![1])];
          return { x, y, inX: -outX, inY: -outY, outX, outY };
        }),
      },
    ],
  };
  rideOnTrack(film, matteId, trackId);
  return matteId;
}

/** The middle of the clock's dial, as an outline that grows with the push. */
function drawDialMiddle(film: Draft<Film>, medium: Medium): string {
  const { keys } = readMade('dial-middle') as {
    readonly keys: readonly { readonly frame: number; readonly centre: Corner; readonly radius: number }[];
  };
  const matteId = addMatte(film, medium.id, 'outline', 'Middle of the dial', randomUUID);
  byId(film.mattes, matteId, 'matte').outline = {
    closed: true,
    keys: keys.map(({ frame, centre, radius }) => {
      const [[x, y]] = fromCentre([centre], medium) as [[number, number]];
      const k = QUARTER_CIRCLE * radius;
      return {
        frame,
        ease: 'straight' as const,
        points: [
          { ...corner(x + radius, y), inY: -k, outY: k },
          { ...corner(x, y + radius), inX: k, outX: -k },
          { ...corner(x - radius, y), inY: k, outY: -k },
          { ...corner(x, y - radius), inX: -k, outX: k },
        ],
      };
    }),
  };
  return matteId;
}

/** Height at which the holes are measured. */
const HOLE_HEIGHT = 360;

/** A chain of zooms through outlines, each going on from the one before. */
function makeZooms(film: Draft<Film>, media: Media, zooms: readonly (readonly [joinId: string, matteId: string])[]): void {
  zooms.forEach(([joinId, matteId], i) => {
    makeZoomThrough(film, media, joinId, matteId);
    setOverlap(film, joinId, i === 0 ? 24 : 30, i === 0 ? 4 : 0);
    setZoomSettings(film, joinId, { entering: 'grows', goesOn: i > 0 });
  });
  // where the second begins is known once the first is solved; after that nothing changes any more
  for (let round = 0; round < 2; round++) {
    const holes = new Map(zooms.map(([id]) => [id, measured(film as Film, media, id)]));
    layZooms(film, zooms[0]![0], holes);
  }
}

function measured(film: Film, media: Media, joinId: string): (HoleShape | null)[] {
  const placed = placedJoins(film).find((p) => p.join.id === joinId)!;
  const width = Math.round((HOLE_HEIGHT * film.width) / film.height);
  const compositor = new Compositor(width, HOLE_HEIGHT);
  return Array.from({ length: placed.to - placed.from }, (_, i) => {
    const plan = planHole(film, media, placed, placed.from + i);
    const coverage = new Uint8Array(width * HOLE_HEIGHT);
    compositor.drawMattes(plan!, plan!.layers[0]?.mattes ?? [], () => null, coverage);
    return plan!.layers.length === 0 ? null : measureHole(coverage, width, HOLE_HEIGHT, film.width, film.height);
  });
}

/** One figure goes over into the other along lines drawn around both and across both faces. */
function makeFigureMorph(film: Draft<Film>, media: Media, joinId: string, mediumOf: (file: string) => Medium): void {
  const { pairs } = readMade('figure-lines') as {
    readonly pairs: readonly ({ readonly name: string; readonly closed: boolean } & Readonly<
      Record<ShotSide, readonly { readonly frame: number; readonly points: readonly Corner[] }[]>
    >)[];
  };
  makeComposed(film, media, joinId, 'feature morph');
  for (const drawn of pairs) {
    const pair = addLinePair(film, joinId, randomUUID)!;
    for (const [side, file] of [
      ['leaving', 'figure-a'],
      ['entering', 'figure-b'],
    ] as const) {
      const matte = byId(film.mattes, pair[side], 'matte');
      const keys = drawn[side].map(({ frame, points }) => ({
        frame,
        ease: 'straight' as const,
        points: fromCentre(points, mediumOf(file)).map(([x, y]) => corner(x, y)),
      }));
      Object.assign(matte, { name: `${drawn.name}, ${side}`, outline: { closed: drawn.closed, keys } });
    }
  }
  layComposed(film, media, joinId);
}

/** The cart, cut out, comes to its place over the dome; its yard appears around it. */
function makeCartArrive(film: Draft<Film>, joinId: string, medium: Medium): void {
  const matteId = addMatte(film, medium.id, 'strokes', 'Handcart', randomUUID);
  setStrokes(film, matteId, cartStrokes(medium));
  setTidying(film, matteId, { specksPx: 24 });
  const lead = CART_STROKES_FRAME - CART_FIRST_FRAME;
  setOverlap(film, joinId, lead, 0);
  const target = joinOf(film, joinId);
  const cart = plainLayer(randomUUID(), 'Handcart', 'entering') as Draft<Layer>;
  const yard = plainLayer(randomUUID(), 'Yard', 'entering') as Draft<Layer>;
  yard.opacity = [...easedKeys('soft both', [-10, 0], [0, 1])] as Draft<ValueKey>[];
  target.layers = [cart, yard, ...target.layers.filter((l) => l.source.kind === 'leaving')];
  addMatteUse(film, joinId, cart.id, matteId, 'inside');
  setMatteUse(film, joinId, cart.id, matteId, { featherPx: 2 });
}

function cartStrokes(medium: Medium): FrameStrokes {
  const { keep, drop } = readMade('cart-strokes') as Strokes;
  const placed = placeStrokes({ keep, drop }, 1, 0.5 - medium.width / 2, 0.5 - medium.height / 2);
  return { frame: CART_STROKES_FRAME, ...placed };
}

/** Cuts the cart from its strokes as the page would, and carries it back over the overlap. */
async function cutCart(db: Knex, filmId: string, film: Film, signal: AbortSignal): Promise<void> {
  const matte = film.mattes.find((m) => m.painted !== undefined)!;
  const [strokes] = matte.painted!;
  const medium = readyMedia(await listMedia(db, filmId)).get(matte.mediumId)!;
  const size = analysisSize(medium.width, medium.height);
  const frames = new AnalysisFrames(mediumFile(medium.id, 'original'), await probeOf(db, medium.id), size.width, size.height);
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

const joinOf = (film: Draft<Film>, id: string): Draft<Join> => byId(film.joins, id, 'join');

const fromCentre = (points: readonly Corner[], { width, height }: Medium): [number, number][] =>
  points.map(([x, y]) => [x + 0.5 - width / 2, y + 0.5 - height / 2]);
