import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { createDraft, finishDraft, type Draft } from 'immer';
import { renameJoin, setOverlap } from '../../core/film/edits/joins';
import { addShot } from '../../core/film/edits/reel';
import { trimEnd, trimStart } from '../../core/film/edits/trims';
import { setMatteUse } from '../../core/film/edits/layers';
import { CpuCompositor } from '../../core/render/cpu/compositor';
import { measureHole, type HoleShape } from '../../core/recipes/hole-shape';
import type { SettingsByKind, TilesSettings } from '../../core/film/recipe-settings';
import { addInterest } from '../../core/film/edits/interest';
import { pinByPoints } from '../../core/pair/bring-together';
import { plansToMeasure } from '../../core/recipes/keep';
import { layJoin, makeKind, setSettings } from '../../core/recipes/making';
import { addLinePair } from '../../core/recipes/feature-morph/feature-morph';
import { setOutlineAndFit } from '../../core/recipes/wipe-past/wipe-past';
import { byId, createFilm, type Film, type FrameStrokes, type Join, type Medium, type Media } from '../../core/film/film';
import { type ShotSide } from '../../core/film/composition';
import { addMatte, addTrack, rideOnTrack, setStrokes, setTidying } from '../../core/film/edits/mattes';
import { corner, type Outline } from '../../core/matte/outline/outline';
import { placeStrokes, type Strokes } from '../../core/matte/cut/strokes';
import type { Corner } from '../../core/track/plane-template';
import { wipeMatte } from '../../core/recipes/wipe-past/wipe-past-report';
import { placedJoins, placeJoin } from '../../core/film/timing';
import { rootFolder } from '../base/data-folder';

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
  piece('dome-close', 16, 96, 'The cart comes'),
  piece('cart-arrive', 60, 96, 'A lantern'),
  piece('toss-lantern', 0, 34, 'Lantern to kettle'),
  piece('toss-kettle', 34, 68, 'An empty desk'),
  piece('desk-plate', 0, 40, 'There he is'),
  piece('mender-take-1', 0, 57, 'Two takes, one word'),
  piece('mender-take-2', 52, 128, 'To the loft'),
  piece('loft-drop', 0, 41, 'Drop through'),
  piece('dome-drop', 24, 72, 'Figures'),
  piece('figure-a', 6, 52, 'One into the other'),
  piece('figure-b', 30, 90, 'The bell'),
  piece('bell-tower', 0, 90, 'Back to the street'),
  piece('street-tram', 0, 86, TO_TRY),
  piece('shop-pan', 20, 120, 'To the bench again'),
  piece('bench-loupe', 50, 116, LOUPE_TO_TRY),
  piece('dial-push', 32, 100, 'Dial to moon, to try'),
  piece('moonrise', 20, 74, 'To the hill again'),
  piece('hill-wide', 10, 82, 'Up to the dome, to try'),
  piece('dome-close', 16, 72, 'The bell, cut out'),
  piece('bell-tower', 0, 54, 'First tile'),
  piece('cart-arrive', 40, 94, 'Second tile'),
  piece('shop-pan', 20, 74, 'Third tile'),
  piece('dial-push', 32, 92, ''),
];

/** The tram moves about 40 px while the shutter is open; the matte's edge is as soft as the tram's. */
const EDGE_FEATHER_PX = 24;
export const CART_STROKES_FRAME = 60;
/** First medium frame to which the cart's matte is carried back, and so the first on which it stands before the dome. */
export const CART_FIRST_FRAME = 46;

/** What was made of the film's shots with the tools themselves, as they write it: pixels, centres at whole numbers. */
const readMade = (name: string): unknown => JSON.parse(readFileSync(join(rootFolder(), 'demo/joins', `${name}.json`), 'utf8'));

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
  makeCartArrive(film, media, joinNamed('The cart comes'), mediumOf('cart-arrive'));
  makePinned(film, media, joinNamed('Drop through'), 'drop through', { seamPx: 90 }, 24);
  makePinned(film, media, joinNamed('Up to the dome'), 'bridge', { comesAfter: 10, comesOver: 12 }, 40);
  makeCutOut(film, media, joinNamed('The bell, cut out'), mediumOf('bell-tower'));
  for (const [i, name] of TILES.entries()) makeKind(film, media, joinNamed(name), 'tiles in space', TILE_LOOKS[i]);
  makeFigureMorph(film, media, joinNamed('One into the other'), mediumOf);
  return finishDraft<Film>(film);
}

function makeTramWipe(film: Draft<Film>, joinId: string, media: ReadonlyMap<string, Medium>): void {
  makeKind(film, media, joinId, 'wipe past', {}, { newId: randomUUID });
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
    makeKind(film, media, joinId, 'zoom through', { matteId });
    setOverlap(film, joinId, i === 0 ? 24 : 30, i === 0 ? 4 : 0);
    setSettings(film, media, joinId, 'zoom through', { entering: 'grows', goesOn: i > 0 });
  });
  // where the second begins is known once the first is solved; after that nothing changes any more
  for (let round = 0; round < 2; round++) {
    const holes = new Map(zooms.map(([id]) => [id, measuredOutlines(film as Film, media, id)]));
    layJoin(film, media, zooms[0]![0], holes);
  }
}

/** Measures what a join is made from, of outlines alone. */
export function measuredOutlines(film: Film, media: Media, joinId: string): (HoleShape | null)[] {
  const placed = placeJoin(film, joinId)!;
  const width = Math.round((HOLE_HEIGHT * film.width) / film.height);
  const compositor = new CpuCompositor(width, HOLE_HEIGHT);
  return plansToMeasure(film, media, placed).map((plan) => {
    const mattes = plan?.layers[0]?.mattes ?? [];
    if (plan === null || mattes.length === 0) return null;
    const coverage = new Uint8Array(width * HOLE_HEIGHT);
    compositor.drawMattes(plan, mattes, () => null, coverage);
    return measureHole(coverage, width, HOLE_HEIGHT, film.width, film.height);
  });
}

/** One figure goes over into the other along lines drawn around both and across both faces. */
function makeFigureMorph(film: Draft<Film>, media: Media, joinId: string, mediumOf: (file: string) => Medium): void {
  const { pairs } = readMade('figure-lines') as {
    readonly pairs: readonly ({ readonly name: string; readonly closed: boolean } & Readonly<
      Record<ShotSide, readonly { readonly frame: number; readonly points: readonly Corner[] }[]>
    >)[];
  };
  makeKind(film, media, joinId, 'feature morph');
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
  layJoin(film, media, joinId);
}

/** The cart, cut out, comes to its place over the dome; its yard appears around it. */
function makeCartArrive(film: Draft<Film>, media: Media, joinId: string, medium: Medium): void {
  const matteId = addMatte(film, medium.id, 'strokes', 'Handcart', randomUUID);
  setStrokes(film, matteId, cartStrokes(medium));
  setTidying(film, matteId, { specksPx: 24 });
  const lead = CART_STROKES_FRAME - CART_FIRST_FRAME;
  setOverlap(film, joinId, lead, 0);
  makeKind(film, media, joinId, 'arrive', {
    matteId,
    from: 'left',
    distancePx: 620,
    arrivesIn: lead - 2,
    ground: 'fades',
    groundOver: 8,
  });
  const [cart, yard] = joinOf(film, joinId).layers;
  Object.assign(cart!, { name: 'Handcart' });
  Object.assign(yard!, { name: 'Yard' });
}

const TILES = ['First tile', 'Second tile', 'Third tile'] as const;
const TILE_LOOKS: readonly Partial<TilesSettings>[] = [
  { shape: 'triangle' },
  { shape: 'hexagon', across: 0.9, down: -0.2 },
  { shape: 'diamond', across: -0.8, down: 0.1 },
];

/** A join in which one shot is laid over the other by points marked in both. */
function makePinned<K extends 'drop through' | 'bridge'>(
  film: Draft<Film>,
  media: Media,
  joinId: string,
  kind: K,
  settings: Partial<SettingsByKind[K]>,
  length: number,
): void {
  const placed = placeJoin(film, joinId)!;
  const marked = (
    readMade('points') as Record<string, Readonly<Record<ShotSide, { readonly frame: number; readonly points: readonly Corner[] }>>>
  )[placed.join.name]!;
  for (const side of ['leaving', 'entering'] as const)
    for (const [x, y] of fromCentre(marked[side].points, media.get(placed[side].mediumId)!))
      addInterest(film, joinId, side, marked[side].frame, x, y, randomUUID);
  const pin = pinByPoints(film, media, placeJoin(film, joinId)!);
  makeKind(film, media, joinId, kind, { ...settings, pin }, { length });
}

/** The ringer of the bell, cut out of the frozen first frame, comes down over the dome. */
function makeCutOut(film: Draft<Film>, media: Media, joinId: string, medium: Medium): void {
  const { frame, points } = readMade('bell-ringer') as { readonly frame: number; readonly points: readonly Corner[] };
  const matteId = addMatte(film, medium.id, 'outline', 'Bell ringer', randomUUID);
  byId(film.mattes, matteId, 'matte').outline = {
    closed: true,
    keys: [{ frame, ease: 'straight', points: fromCentre(points, medium).map(([x, y]) => corner(x, y)) }],
  };
  makeKind(film, media, joinId, 'held cut-out', { matteId, punch: 0.3, outlinePx: 3, roughPx: 0 });
}

function cartStrokes(medium: Medium): FrameStrokes {
  const { keep, drop } = readMade('cart-strokes') as Strokes;
  const placed = placeStrokes({ keep, drop }, 1, 0.5 - medium.width / 2, 0.5 - medium.height / 2);
  return { frame: CART_STROKES_FRAME, ...placed };
}

const joinOf = (film: Draft<Film>, id: string): Draft<Join> => byId(film.joins, id, 'join');

const fromCentre = (points: readonly Corner[], { width, height }: Medium): [number, number][] =>
  points.map(([x, y]) => [x + 0.5 - width / 2, y + 0.5 - height / 2]);
