import type { Draft } from 'immer';
import type { Effect, Layer, LayerSource } from '../../film/composition';
import { marksOfFilm } from '../../film/edits/marks';
import { type Film, type Matte, type Media, type Shot } from '../../film/film';
import { TILE_SHAPES, type TilesSettings } from '../../film/recipe-settings';
import { mediumFrameAt, mediumOf, placedJoins, type PlacedJoin } from '../../film/timing';
import { invert, type Matrix } from '../../geometry/matrix';
import { pointsAt, transformPoint, type OutlineKey, type OutlinePoint } from '../../matte/outline/outline';
import type { Channel } from '../../motion/curve';
import { EASES_OF_MOVES, easedKeys } from '../../motion/eases';
import { STILL, STILL_CAMERA, type Motion, type Timing } from '../../motion/motion';
import { eyeDistance } from '../../motion/transform';
import { baseFraming, shotFraming } from '../../plan/shot-framing';
import type { KindOfJoin, Made, Making } from '../kind';
import { foldInto, regularShape } from './fold';
import { idOf, madeLayer, madeUse, ownOutline } from '../made-layers';
import { fault, note, type Note } from '../next-thing';

/** Tiles on either side of the two that a join is about. */
const SHOWN_AROUND = 2;
/** Of a regular tile: how far its corners lie from its middle, a share of the frame's height. */
const RADIUS = 0.47;
/** An open tile reaches beyond the frame, film pixels: its soft edge lies outside. */
const BEYOND_PX = 6;
/** How far behind the furthest tile the backdrop hangs, film widths, and how much more than needed it covers. */
const BACKDROP_BEHIND = 1.5;
const BACKDROP_ROOM = 1.15;
const COPIES_APART = 0.05;
const CORNERS = { triangle: 3, diamond: 4, pentagon: 5, hexagon: 6 } as const;

interface Place {
  readonly x: number;
  readonly y: number;
  readonly depth: number;
}

const settingsOf = ({ join }: PlacedJoin): TilesSettings | null => (join.recipe?.kind === 'tiles in space' ? join.recipe.settings : null);

/** The joins whose tiles hang in one space with those of this one, in order. */
function runAround(film: Film, joinId: string): readonly PlacedJoin[] {
  const all = placedJoins(film);
  const at = all.findIndex((p) => p.join.id === joinId);
  if (at < 0) return [];
  const goesOn = (i: number): boolean =>
    all[i]!.leaving.id === all[i - 1]?.entering.id && settingsOf(all[i - 1]!) !== null && settingsOf(all[i]!)?.goesOn === true;
  let [first, last] = [at, at];
  while (first > 0 && goesOn(first)) first--;
  while (last + 1 < all.length && goesOn(last + 1)) last++;
  return all.slice(first, last + 1);
}

/** Film frames from the cut on which the camera arrives at the next tile. */
export function arrivalOf(film: Film, media: Media, { cut, entering }: PlacedJoin, { arrives, travels }: TilesSettings): number {
  if (arrives === 'cut') return 0;
  const marks = marksOfFilm(film, media).filter((m) => m.kind === 'marker' || m.kind === 'medium marker');
  const near = marks.map((m) => Math.round(m.frame) - cut).filter((f) => f > -travels && f < entering.length / 2);
  return near.reduce<number | null>((best, f) => (best === null || Math.abs(f) < Math.abs(best) ? f : best), null) ?? 0;
}

/** Film frames from the cut at which a join's camera sets out. */
const departureOf = (film: Film, media: Media, placed: PlacedJoin, settings: TilesSettings): number =>
  arrivalOf(film, media, placed, settings) - settings.travels;

/** How far a join reaches back and on: from where its frame folds, or the join before ended, to where the next sets out, or its tile is open. */
function reachOf(
  film: Film,
  media: Media,
  placed: PlacedJoin,
  settings: TilesSettings,
): { readonly before: number; readonly after: number } {
  const run = runAround(film, placed.join.id);
  const at = run.findIndex((p) => p.join.id === placed.join.id);
  const backTo = (p: PlacedJoin, s: TilesSettings, isFirst: boolean): number =>
    Math.max(1, Math.min(p.leaving.length - 1, -departureOf(film, media, p, s) + (isFirst ? s.folds : 0)));
  const next = run[at + 1];
  const after =
    next === undefined
      ? arrivalOf(film, media, placed, settings) + settings.folds
      : placed.entering.length - backTo(next, settingsOf(next)!, false);
  return { before: backTo(placed, settings, at === 0), after: Math.max(1, after) };
}

/** Where each shot's tile hangs, the first in the origin. Film pixels. */
function placesOf(film: Film, run: readonly PlacedJoin[]): readonly Place[] {
  const places: Place[] = [{ x: 0, y: 0, depth: 0 }];
  for (const p of run) {
    const { across, down, depth } = settingsOf(p)!;
    const { x, y, depth: z } = places.at(-1)!;
    places.push({ x: x + across * film.width, y: y + down * film.height, depth: z + depth * film.width });
  }
  return places;
}

const from = (a: Place, origin: Place): Place => ({ x: a.x - origin.x, y: a.y - origin.y, depth: a.depth - origin.depth });

/** The shape of a tile in the film's frame. */
function shapeOf(film: Film, { shape, turn, drawnId }: TilesSettings, shot: Shot, framing: Matrix): readonly OutlinePoint[] {
  const drawn = shape === 'drawn' ? film.mattes.find((m) => m.id === drawnId)?.outline : undefined;
  const points = drawn === undefined ? [] : pointsAt(drawn, drawn.keys[0]?.frame ?? Math.round(shot.inFrame));
  if (points.length >= 3) return points.map((p) => transformPoint(p, framing));
  return regularShape(shape === 'drawn' ? CORNERS.diamond : CORNERS[shape], RADIUS * film.height, turn);
}

/** When a tile folds and opens, film frames counted from its shot's first; null where it does not. */
interface FoldTimes {
  readonly folds: readonly [number, number] | null;
  readonly opens: readonly [number, number] | null;
}

/** The outline of a shot's tile; it is made once for a shot and then follows its numbers. */
function tileMatte({ film, media }: Making<TilesSettings>, shot: Shot, settings: TilesSettings, times: FoldTimes): string | null {
  const medium = mediumOf(media, shot);
  if (medium === null) return null;
  const matte = ownOutline(film, shot, 'tile', medium.id, `Tile of ${shot.name}`);
  const framing = shotFraming(film, medium, shot, Math.max(0, Math.round(shot.inFrame)));
  const { open, folded } = foldInto(shapeOf(film, settings, shot, framing), film.width + 2 * BEYOND_PX, film.height + 2 * BEYOND_PX);
  const back = invert(framing);
  const [flat, tile] = [open, folded].map((points) => points.map((p) => transformPoint(p, back)));
  const at = (offset: number): number => mediumFrameAt(film, shot, medium, offset);
  const key = (frame: number, points: readonly OutlinePoint[]): OutlineKey => ({ frame, ease: 'soft both', points });
  const pair = ([a, b]: readonly [number, number], first: readonly OutlinePoint[], second: readonly OutlinePoint[]): OutlineKey[] => [
    key(at(a), first),
    key(Math.max(at(a) + 1, at(b)), second),
  ];
  const keys = [
    ...(times.folds === null ? [] : pair(times.folds, flat!, tile!)),
    ...(times.opens === null ? [] : pair(times.opens, tile!, flat!)),
  ];
  const rising = keys.filter((k, i) => keys.findIndex((other) => other.frame === k.frame) === i).sort((a, b) => a.frame - b.frame);
  matte.outline = { closed: true, keys: rising.length === 0 ? [key(0, tile!)] : rising } as Draft<Matte['outline']>;
  return matte.id;
}

/** As its shot has it from the cut on, held on its first picture before. */
const heldBefore: Timing = {
  speed: [
    { frame: -1, value: 0, into: 'straight', out: 'hold' },
    { frame: 0, value: 1, into: 'straight', out: 'straight' },
  ],
  anchor: 0,
  between: 'nearest',
};
/** As its shot has it up to the cut, held on its last picture from there on. */
const heldAfter: Timing = {
  speed: [
    { frame: -2, value: 1, into: 'straight', out: 'hold' },
    { frame: -1, value: 0, into: 'straight', out: 'straight' },
  ],
  anchor: -1,
  between: 'nearest',
};
const HELD: Timing = { speed: 0, anchor: 0, between: 'nearest' };

/** How a layer of a shot's medium has to stand to look as the shot does. */
function likeShot(film: Film, media: Media, shot: Shot): Pick<Motion, 'x' | 'y' | 'scale' | 'turn' | 'flip'> {
  const { framing = 'fill' } = shot;
  const medium = mediumOf(media, shot);
  if (typeof framing === 'object') {
    const { x, y, scale, turn, flip } = framing;
    return { x, y, scale, turn, ...(flip === undefined ? {} : { flip }) };
  }
  const scale =
    framing === 'fit' && medium !== null
      ? Math.min(film.width / medium.width, film.height / medium.height) / baseFraming(film, medium)[0]
      : 1;
  return { x: 0, y: 0, scale, turn: 0 };
}

/** Shots hang in space as tiles; the camera goes from one to the next. The first folds out of the whole frame, the last opens into it. */
export const tiles: KindOfJoin<TilesSettings> = {
  name: 'Tiles in space',
  made: 'tiles in space',
  does: 'shots hang as tiles in depth, and the camera travels',
  need: null,
  quick: { folds: 6, travels: 10 },
  defaults: {
    shape: 'triangle',
    drawnId: null,
    turn: 0,
    folds: 10,
    travels: 18,
    arrives: 'cut',
    across: 0.9,
    down: 0.15,
    depth: 0.6,
    tilt: 16,
    copies: 3,
    backdrop: 'colour',
    colour: [16, 20, 34],
    mediumId: null,
    ease: 'soft both',
    motionBlur: true,
    goesOn: false,
  },
  fields: [
    { name: 'shape', label: 'Shape', kind: 'choice', options: TILE_SHAPES },
    { name: 'drawnId', label: 'Drawn as', kind: 'matte', side: 'leaving', orNone: 'diamond', when: (s) => s.shape === 'drawn' },
    { name: 'turn', label: 'Turned by', kind: 'number', unit: '°', min: -180, max: 180, step: 5, when: (s) => s.shape !== 'drawn' },
    { name: 'folds', label: 'Folds and opens in', kind: 'number', unit: 'fr', min: 1, max: 200, step: 1 },
    { name: 'travels', label: 'Camera travels for', kind: 'number', unit: 'fr', min: 1, max: 500, step: 1 },
    { name: 'arrives', label: 'Arrives with the', kind: 'choice', options: ['cut', 'marker'] },
    { name: 'across', label: 'Next tile: right', kind: 'number', unit: '×', min: -5, max: 5, step: 0.05 },
    { name: 'down', label: 'Next tile: down', kind: 'number', unit: '×', min: -5, max: 5, step: 0.05 },
    { name: 'depth', label: 'Next tile: away', kind: 'number', unit: '×', min: -2, max: 5, step: 0.05 },
    { name: 'tilt', label: 'Tilted by', kind: 'number', unit: '°', min: -75, max: 75, step: 1 },
    { name: 'copies', label: 'Copies of the outline', kind: 'number', unit: '', min: 0, max: 12, step: 1 },
    { name: 'backdrop', label: 'Backdrop', kind: 'choice', options: ['colour', 'medium'] },
    { name: 'colour', label: 'Colour', kind: 'colour' },
    { name: 'mediumId', label: 'Media', kind: 'medium', when: (s) => s.backdrop === 'medium' },
    { name: 'ease', label: 'Ease', kind: 'choice', options: EASES_OF_MOVES },
    { name: 'motionBlur', label: 'Motion blur', kind: 'switch' },
    { name: 'goesOn', label: 'Continues from the previous tiles', kind: 'switch' },
  ],
  shortest: 3,
  longest: 20_000,
  usual: 40,
  endsWithCut: true,
  begin(film, _media, placed) {
    const before = placedJoins(film).find((p) => p.entering.id === placed.leaving.id);
    return { goesOn: before !== undefined && settingsOf(before) !== null };
  },
  overlap: reachOf,
  run: (film, joinId) => runAround(film, joinId).map((p) => p.join.id),
  make: makeTiles,
  notes(film, media, placed, settings) {
    const run = runAround(film, placed.join.id);
    const [leaves, arrives] = [
      placed.cut + departureOf(film, media, placed, settings),
      placed.cut + arrivalOf(film, media, placed, settings),
    ];
    const notes: Note[] = [
      note(`The camera sets out on ${leaves} and arrives on ${arrives}; ${run.length + 1} shots hang in this space.`, leaves),
    ];
    if (settings.goesOn && run[0]?.join.id === placed.join.id)
      notes.push(fault('There are no tiles into the leaving shot to continue from.'));
    if (placed.cut - placed.leaving.length > leaves) notes.push(fault('The leaving shot is shorter than the way of the camera.'));
    const still = [placed.leaving, placed.entering].find((s) => s.time !== undefined && s.time.speed === 0);
    if (still !== undefined) notes.push(fault(`${still.name} is held, so that its tile cannot fold: give it some speed.`));
    return notes;
  },
};

function makeTiles(making: Making<TilesSettings>): Made {
  const { film, media, join, placed, settings } = making;
  const run = runAround(film, join.id);
  const at = run.findIndex((p) => p.join.id === join.id);
  const shots = [run[0]!.leaving, ...run.map((p) => p.entering)];
  const places = placesOf(film, run);
  const origin = places[at]!;
  const [leaves, arrives] = [departureOf(film, media, placed, settings), arrivalOf(film, media, placed, settings)];
  const first = -join.before;
  const goes = (a: number, b: number): Channel => (a === b ? a : easedKeys(settings.ease, [Math.max(first, leaves), a], [arrives, b]));
  const [isFirst, isLast] = [at === 0, at === run.length - 1];
  const next = from(places[at + 1]!, origin);
  const tileOf = (i: number): Layer => {
    const shot = shots[i]!;
    const own = settingsOf(run[Math.max(0, i - 1)]!)!;
    const isLeaving = i === at;
    const isEntering = i === at + 1;
    const medium = mediumOf(media, shot);
    const place = from(places[i]!, origin);
    // past tiles are turned away to one side, coming ones to the other
    const [behind, ahead] = [own.tilt, -own.tilt];
    const tiltY = isLeaving ? goes(0, behind) : isEntering ? goes(ahead, 0) : i < at ? behind : ahead;
    const shown = i <= at ? shot.length - 1 : 0;
    const source: LayerSource =
      isLeaving || isEntering
        ? { kind: isLeaving ? 'leaving' : 'entering' }
        : { kind: 'medium', mediumId: shot.mediumId, frame: medium === null ? 0 : Math.max(0, mediumFrameAt(film, shot, medium, shown)) };
    const like = isLeaving || isEntering ? {} : likeShot(film, media, shot);
    const time = isLeaving ? heldAfter : isEntering ? heldBefore : HELD;
    const matteId = tileMatte(making, shot, own, foldTimes(film, media, run, i));
    const amount =
      isLeaving && isFirst
        ? easedKeys('soft both', [first, 0], [leaves, 1])
        : isEntering && isLast
          ? easedKeys('soft both', [arrives, 1], [arrives + own.folds, 0])
          : 1;
    const copies: Effect = {
      id: idOf(join, `copies-${i}`),
      kind: 'outline copies',
      visible: true,
      params: { amount, count: own.copies, apartPx: Math.max(1, Math.round(COPIES_APART * film.height)), widthPx: 2 },
    };
    const role = isLeaving ? 'leaving' : isEntering ? 'entering' : `tile-${i}`;
    return {
      ...madeLayer(join, role, shot.name, source),
      // a speed of its own is the shot's to keep
      ...(shot.time === undefined || !(isLeaving || isEntering) ? { time } : {}),
      blur: settings.motionBlur,
      motion: { ...STILL, ...like, ...added(place, like), depth: place.depth, tiltY },
      mattes: matteId === null ? [] : [madeUse(join, role, { matteId, side: 'inside', growPx: 0, featherPx: 1 })],
      effects: own.copies > 0 ? [copies] : [],
      // a tile that would hang between the camera and the next one is passed, and gone by then
      ...(isLeaving && next.depth > 0
        ? { opacity: easedKeys('soft both', [Math.round((Math.max(first, leaves) + arrives) / 2), 1], [arrives, 0]) }
        : {}),
    };
  };
  const isNear = (i: number): boolean => i >= at - SHOWN_AROUND && i <= at + 1 + SHOWN_AROUND;
  // what hangs nearer than the leaving tile has been passed
  const shown = shots.map((_, i) => i).filter((i) => isNear(i) && (i >= at || places[i]!.depth >= origin.depth));
  return {
    layers: [
      ...shown.map(tileOf),
      backdrop(
        making,
        shown.map((i) => from(places[i]!, origin)),
        next,
      ),
    ],
    camera: { ...STILL_CAMERA, x: goes(0, next.x), y: goes(0, next.y), depth: goes(0, next.depth) },
    byDepth: true,
  };
}

const added = (place: Place, like: Partial<Motion>): Pick<Motion, 'x' | 'y'> => ({
  x: place.x + (typeof like.x === 'number' ? like.x : 0),
  y: place.y + (typeof like.y === 'number' ? like.y : 0),
});

/** When the tile of shot `i` of a run folds and opens: only the first and the last of a run do. */
function foldTimes(film: Film, media: Media, run: readonly PlacedJoin[], i: number): FoldTimes {
  const [first, last] = [run[0]!, run.at(-1)!];
  const [start, end] = [settingsOf(first)!, settingsOf(last)!];
  const leaves = first.leaving.length + departureOf(film, media, first, start);
  const arrives = arrivalOf(film, media, last, end);
  return {
    folds: i === 0 ? [Math.max(0, leaves - start.folds), Math.max(1, leaves)] : null,
    opens: i === run.length ? [arrives, arrives + end.folds] : null,
  };
}

/** What hangs behind all tiles, so large that it fills the frame wherever the camera is. */
function backdrop({ film, join, settings }: Making<TilesSettings>, tilesAt: readonly Place[], next: Place): Layer {
  const { backdrop: kind, colour, mediumId } = settings;
  const eye = eyeDistance(film.width, STILL_CAMERA.focalMm);
  const depth = Math.max(...tilesAt.map((p) => p.depth)) + BACKDROP_BEHIND * film.width;
  // the camera goes straight, so that it sees most of it at one end of its way
  const needed = [{ x: 0, y: 0, depth: 0 }, next].map((at) => {
    const larger = (eye + depth - at.depth) / eye;
    return Math.max(larger + (2 * Math.abs(at.x)) / film.width, larger + (2 * Math.abs(at.y)) / film.height);
  });
  const source: LayerSource = kind === 'medium' && mediumId !== null ? { kind: 'medium', mediumId, frame: 0 } : { kind: 'colour', colour };
  return {
    ...madeLayer(join, 'backdrop', 'Backdrop', source),
    ...(source.kind === 'medium' ? { time: HELD } : {}),
    blur: settings.motionBlur,
    motion: { ...STILL, depth, scale: BACKDROP_ROOM * Math.max(...needed) },
  };
}
