import type { Carrier, Effect, Layer, MatteUse, ShotSide } from '../film/composition';
import { CUT_OUT_WAYS, TIMED_ON, type CutOutSettings } from '../film/recipe-settings';
import { mediumFrameAt, mediumOf, startsAround, type PlacedJoin } from '../film/timing';
import type { Film, Media } from '../film/film';
import { apply, type Point } from '../geometry/matrix';
import type { EdgeStyle } from '../geometry/polygon-raster';
import { channelAt, type Channel } from '../motion/curve';
import { EASES_OF_MOVES, easedKeys } from '../motion/eases';
import { fittedKeys } from '../motion/fitted-keys';
import { STILL, type Motion } from '../motion/motion';
import { planMatteAlone } from '../plan/plan-frame';
import { momentsBefore } from './beats';
import type { ComposedKind, Made, Making, Measured } from './composed-kind';
import { zoomMap } from './cover-solver';
import type { HoleShape } from './hole-shape';
import { lackingMatte } from './lacking';
import { idOf, madeLayer, madeUse } from './made-layers';
import { fault, note, type Note } from './next-thing';

/** Frames in which a cut-out that came down is at rest again, at most. */
const PUNCH_FRAMES = 6;
/** A hole is enlarged at most so much until it fills the frame. */
const MOST_ENLARGED = 16;
const FEATHER_PX = 1.5;

/** Film frame whose picture is frozen: the first of the entering shot; of the leaving one its last, or the one on which the hole begins to open. */
const frozenAt = ({ cut, from }: PlacedJoin, { side, way }: Pick<CutOutSettings, 'side' | 'way'>): number =>
  side === 'entering' ? cut : way === 'lands' ? cut - 1 : from;
const otherOf = (side: ShotSide): ShotSide => (side === 'entering' ? 'leaving' : 'entering');

/** The frozen picture: its medium's frame. */
function heldFrame(film: Film, media: Media, placed: PlacedJoin, settings: CutOutSettings): number {
  const { side } = settings;
  const medium = mediumOf(media, placed[side]);
  if (medium === null) return 0;
  const frame = mediumFrameAt(film, placed[side], medium, frozenAt(placed, settings) - startsAround(placed)[side]);
  return Math.max(0, Math.min(medium.frames - 1, frame));
}

interface Parts {
  readonly making: Making<CutOutSettings>;
  readonly frame: number;
  /** The cut-out in the film's frame, of the frozen picture. */
  readonly shape: HoleShape | null;
}

const held = ({ making: { join, settings }, frame }: Parts, role: string, name: string, side: MatteUse['side']): Layer => ({
  ...madeLayer(join, role, name, { kind: 'held', side: settings.side, frame }),
  blur: settings.motionBlur,
  mattes: settings.matteId === null ? [] : [madeUse(join, role, { matteId: settings.matteId, side, growPx: 0, featherPx: FEATHER_PX })],
});

/** How the edge of the hole is drawn: by the layers that have it, as a hand has left them. */
const edgeOf = ({ join }: PlacedJoin, matteId: string): EdgeStyle =>
  join.layers.flatMap((l) => l.mattes).find((m) => m.matteId === matteId && m.side === 'outside') ?? { growPx: 0, featherPx: FEATHER_PX };

/** What is laid around a cut-out, in the order it is drawn. */
function trimmings({ making: { join, settings } }: Parts): readonly Effect[] {
  const { roughPx, driftEvery, outlinePx, shadowPx, way } = settings;
  const effect = (kind: Effect['kind'], params: Effect['params']): Effect => ({
    id: idOf(join, kind.replace(' ', '-')),
    kind,
    visible: true,
    params,
  });
  return [
    // the frame's own border is not torn
    ...(roughPx > 0 && way === 'lands' ? [effect('rough edge', { depthPx: roughPx, sizePx: 2 * roughPx, everyFrames: driftEvery })] : []),
    ...(outlinePx > 0 ? [effect('outline', { widthPx: outlinePx })] : []),
    ...(shadowPx > 0 ? [effect('drop shadow', { distancePx: shadowPx, softPx: shadowPx })] : []),
  ];
}

/** A part of the frozen picture comes down over the leaving shot, ahead of the cut. */
function landing(parts: Parts): Made {
  const { film, media, join, placed, settings } = parts.making;
  const leaving = madeLayer(join, 'moving', placed.leaving.name, { kind: 'leaving' });
  if (settings.matteId === null) return { layers: [leaving] };
  const first = -join.before;
  const moments = momentsOf(film, media, placed, settings).map((f) => f - placed.cut);
  const motion: Motion = { ...STILL, scale: punches(moments, settings.punch), pivotX: parts.shape?.x ?? 0, pivotY: parts.shape?.y ?? 0 };
  const cutOut: Layer = {
    ...held(parts, 'cut-out', 'Cut-out', 'inside'),
    span: { first: moments[0] ?? first, last: -1 },
    motion,
    effects: trimmings(parts),
  };
  const at = moments[0] ?? first;
  const flash: Layer = {
    ...held(parts, 'flash', 'Flash', 'inside'),
    span: { first: at, last: Math.min(-1, at + settings.flash - 1) },
    motion,
    blend: 'add',
    opacity: easedKeys('soft stop', [at, 1], [at + settings.flash, 0]),
  };
  return { layers: [...(settings.flash > 0 ? [flash] : []), cutOut, leaving] };
}

/** The film frames on which a cut-out comes down, rising; none before the leaving shot. */
export function momentsOf(film: Film, media: Media, placed: PlacedJoin, { punches: count, on, every }: CutOutSettings): readonly number[] {
  const earliest = placed.cut - placed.leaving.length;
  const moments = momentsBefore(film, media, placed.cut, Math.max(1, count), on, every);
  return [...new Set(moments.map((f) => Math.max(earliest, f)))];
}

/** Larger on each of these frames, and at rest again before the next. */
function punches(moments: readonly number[], punch: number): Channel {
  if (punch <= 0 || moments.length === 0) return 1;
  return moments.flatMap((at, i) => {
    const room = Math.min(PUNCH_FRAMES, (moments[i + 1] ?? 0) - at - 1);
    // where there is no room to come to rest it stays as it is
    if (room < 1) return i === 0 ? [{ frame: at, value: 1, into: 'straight' as const, out: 'hold' as const }] : [];
    const [down, rest] = easedKeys('soft stop', [at, 1 + punch], [at + room, 1]);
    return [down!, { ...rest!, out: 'hold' as const }];
  });
}

/** The hole's zoom on a frame: `share` 1 where it fills the frame, 0 where the frozen picture stands in its place. */
function zoomAt({ inner }: HoleShape, share: number, room: number): { readonly scale: number; readonly x: number; readonly y: number } {
  const full = Math.max(1, (1 + room) / Math.max(inner.scale, 1 / MOST_ENLARGED));
  // the place that stays: what is enlarged about it brings the hole's middle to that of the frame
  const away = full > 1 + 1e-9 ? full / (full - 1) : 0;
  return { scale: full ** share, x: inner.x * away, y: inner.y * away };
}

/** The hole's border as it lies on a zoomed frame, no further than the frame. */
function holeOn(
  shape: HoleShape,
  zoom: { readonly scale: number; readonly x: number; readonly y: number },
  width: number,
  height: number,
): [Point, Point] {
  const map = zoomMap(zoom);
  const [a, b] = [apply(map, { x: shape.left, y: shape.top }), apply(map, { x: shape.right, y: shape.bottom })];
  const within = (v: number, size: number): number => Math.max(-size / 2, Math.min(size / 2, v));
  return [
    { x: within(a.x, width), y: within(a.y, height) },
    { x: within(b.x, width), y: within(b.y, height) },
  ];
}

/** Where the moving shot lies so that it covers the hole and, as far as it may, its subject is in the middle of it. */
export function behindHole(
  [a, b]: readonly [Point, Point],
  subject: Point,
  share: number,
  room: number,
  width: number,
  height: number,
): { readonly scale: number; readonly x: number; readonly y: number } {
  const covers = Math.max((b.x - a.x) / width, (b.y - a.y) / height);
  const scale = Math.max(0.01, Math.min(1, covers * (1 + room)));
  const along = (low: number, high: number, size: number, at: number): number => {
    const [least, most] = [high - (scale * size) / 2, low + (scale * size) / 2];
    const wanted = (1 - share) * ((low + high) / 2 - scale * at);
    return least > most ? (least + most) / 2 : Math.max(least, Math.min(most, wanted));
  };
  return { scale, x: along(a.x, b.x, width, subject.x), y: along(a.y, b.y, height, subject.y) };
}

/** Values smoothed over some frames; the first and the last stay. */
function steadied(values: readonly number[]): readonly number[] {
  const reach = 2;
  return values.map((_, i) => {
    const r = Math.min(reach, i, values.length - 1 - i);
    const near = values.slice(i - r, i + r + 1);
    return near.reduce((sum, v) => sum + v, 0) / near.length;
  });
}

/** A shot is seen through a hole in the frozen picture, which pulls back from it, or goes into it where the leaving shot is frozen. */
function pullingBack(parts: Parts): Made {
  const { film, join, placed, settings, measured } = parts.making;
  const { side, room, ease, closes, matteId } = settings;
  const other = otherOf(side);
  const moving = madeLayer(join, 'moving', placed[other].name, { kind: other });
  if (matteId === null || parts.shape === null) return { layers: [moving] };
  const first = -join.before;
  // the entering shot is itself from the cut on, the leaving one until the overlap begins
  const last = side === 'entering' ? join.after : Math.max(first + 1, join.after - 1);
  const { scale: full, x, y } = zoomAt(parts.shape, 1, room);
  // how far the hole is open, 1 to 0; the other way round where the leaving shot is frozen
  const way = easedKeys(
    ease,
    ...(side === 'entering'
      ? ([
          [first, 1],
          [last, 0],
        ] as const)
      : ([
          [first, 0],
          [last, 1],
        ] as const)),
  );
  const pullId = idOf(join, 'pull');
  const pull: Carrier = {
    id: pullId,
    name: side === 'entering' ? 'Pull back' : 'Go in',
    motion: { ...STILL, scale: way.map((k) => ({ ...k, value: k.value === 1 ? full : 1 })), pivotX: x, pivotY: y },
  };
  const shares = Array.from({ length: join.before + join.after }, (_, i) => channelAt(way, first + i));
  const subjects = subjectPlaces(measured, shares.length);
  const places = shares.map((share, i) => {
    const hole = holeOn(parts.shape!, zoomAt(parts.shape!, share, room), film.width, film.height);
    return behindHole(hole, subjects[i]!, share, room, film.width, film.height);
  });
  const placeKeys = (axis: 'x' | 'y'): Channel =>
    fittedKeys(
      places.map((p) => p[axis]),
      first,
      { below: 0.2, above: 0.2 },
    );
  const size = fittedKeys(
    places.map((p) => Math.log(p.scale)),
    first,
    { below: 0.002, above: 0.002 },
    Math.exp,
  );
  const closed =
    side === 'entering'
      ? ([
          [last - closes, 0],
          [last, 1],
        ] as const)
      : ([
          [first, 1],
          [first + closes, 0],
        ] as const);
  const around = { ...held(parts, 'around', 'Around the hole', 'outside'), ridesOn: pullId, effects: trimmings(parts) };
  const piece = { ...held(parts, 'piece', 'What closes it', 'inside'), ridesOn: pullId, opacity: easedKeys('soft both', ...closed) };
  return {
    layers: [
      piece,
      around,
      {
        ...moving,
        blur: settings.motionBlur,
        // its border lies in sight nowhere; a curve fitted a little short of it shows what is mirrored there
        edges: 'mirrored',
        motion: { ...STILL, x: placeKeys('x'), y: placeKeys('y'), scale: size },
      },
    ],
    carriers: [pull],
  };
}

/** Where the moving shot's subject is on each frame; in its middle where nothing is known. */
function subjectPlaces(measured: Measured | undefined, length: number): readonly Point[] {
  const shapes = (measured ?? []).slice(1);
  const known = shapes.findIndex((s) => s !== null);
  if (known < 0) return Array.from({ length }, () => ({ x: 0, y: 0 }));
  let latest = shapes[known]!;
  const filled = Array.from({ length }, (_, i) => {
    latest = shapes[i] ?? latest;
    return latest;
  });
  const [xs, ys] = [steadied(filled.map((s) => s.x)), steadied(filled.map((s) => s.y))];
  return xs.map((x, i) => ({ x, y: ys[i]! }));
}

/** A part of a frozen frame lands over the leaving shot ahead of the cut, or one shot is seen through a hole in the frozen other. */
export const cutOut: ComposedKind<CutOutSettings> = {
  defaults: {
    way: 'lands',
    side: 'entering',
    matteId: null,
    punches: 3,
    punch: 0.18,
    on: 'beats',
    every: 8,
    roughPx: 6,
    driftEvery: 3,
    shadowPx: 14,
    outlinePx: 0,
    flash: 5,
    subjectId: null,
    closes: 6,
    room: 0.06,
    ease: 'soft stop',
    motionBlur: true,
  },
  fields: [
    { name: 'way', label: 'It', kind: 'choice', options: CUT_OUT_WAYS },
    { name: 'side', label: 'Frozen', kind: 'choice', options: ['entering', 'leaving'] },
    { name: 'matteId', label: 'Cut out', kind: 'matte', side: (s) => s.side },
    { name: 'punches', label: 'Times it comes down', kind: 'number', unit: '', min: 1, max: 24, step: 1, when: (s) => s.way === 'lands' },
    {
      name: 'punch',
      label: 'Larger by',
      kind: 'number',
      unit: '%',
      min: 0,
      max: 200,
      step: 1,
      factor: 100,
      when: (s) => s.way === 'lands',
    },
    { name: 'on', label: 'Once every', kind: 'choice', options: TIMED_ON, when: (s) => s.way === 'lands' },
    {
      name: 'every',
      label: 'So many',
      kind: 'number',
      unit: 'fr',
      min: 1,
      max: 120,
      step: 1,
      when: (s) => s.way === 'lands' && s.on === 'frames',
    },
    { name: 'roughPx', label: 'Torn edge', kind: 'number', unit: 'px', min: 0, max: 100, step: 1, when: (s) => s.way === 'lands' },
    {
      name: 'driftEvery',
      label: 'Drifts every',
      kind: 'number',
      unit: 'fr',
      min: 0,
      max: 48,
      step: 1,
      when: (s) => s.way === 'lands' && s.roughPx > 0,
    },
    { name: 'flash', label: 'Flash fades in', kind: 'number', unit: 'fr', min: 0, max: 48, step: 1, when: (s) => s.way === 'lands' },
    {
      name: 'subjectId',
      label: 'Kept in the middle',
      kind: 'matte',
      side: (s) => otherOf(s.side),
      orNone: 'nothing',
      when: (s) => s.way === 'pulls back',
    },
    { name: 'closes', label: 'Hole closes in', kind: 'number', unit: 'fr', min: 1, max: 200, step: 1, when: (s) => s.way === 'pulls back' },
    {
      name: 'room',
      label: 'Room left around',
      kind: 'number',
      unit: '%',
      min: 0,
      max: 100,
      step: 1,
      factor: 100,
      when: (s) => s.way === 'pulls back',
    },
    { name: 'ease', label: 'Ease', kind: 'choice', options: EASES_OF_MOVES, when: (s) => s.way === 'pulls back' },
    { name: 'shadowPx', label: 'Shadow', kind: 'number', unit: 'px', min: 0, max: 200, step: 1 },
    { name: 'outlinePx', label: 'Outline', kind: 'number', unit: 'px', min: 0, max: 60, step: 1 },
    { name: 'motionBlur', label: 'Motion blur', kind: 'switch' },
  ],
  shortest: 2,
  longest: 2000,
  usual: 24,
  endsWithCut: true,
  // one that lands needs no more of the overlap than it stands on
  overlap: (film, media, placed, settings) =>
    settings.way === 'lands' ? { before: placed.cut - momentsOf(film, media, placed, settings)[0]!, after: 0 } : null,
  // the hole is as wide as its soft edge reaches
  measures(film, media, placed, settings) {
    const { matteId, subjectId, side, way } = settings;
    const known = (id: string | null): id is string => id !== null && film.mattes.some((m) => m.id === id);
    const shape = known(matteId)
      ? planMatteAlone(film, media, placed, side, matteId, frozenAt(placed, settings), edgeOf(placed, matteId))
      : null;
    if (way === 'lands' || !known(subjectId)) return [shape];
    const frames = Array.from({ length: placed.to - placed.from }, (_, i) => placed.from + i);
    return [shape, ...frames.map((f) => planMatteAlone(film, media, placed, otherOf(side), subjectId, f))];
  },
  make(making) {
    const { film, media, placed, settings, measured } = making;
    const parts: Parts = { making, frame: heldFrame(film, media, placed, settings), shape: measured?.[0] ?? null };
    return settings.way === 'lands' ? landing(parts) : pullingBack(parts);
  },
  lacks: (film, placed, { matteId, side, way }) => lackingMatte(film, placed, side, matteId, way === 'lands' ? 'lands' : 'is the hole'),
  notes: notesOfCutOut,
};

function notesOfCutOut(
  film: Film,
  media: Media,
  placed: PlacedJoin,
  settings: CutOutSettings,
  measured: Measured | undefined,
): readonly Note[] {
  const frozen = frozenAt(placed, settings);
  if (settings.way === 'lands') {
    const moments = momentsOf(film, media, placed, settings);
    return [
      note(`It lands on ${moments[0]!}, ${placed.cut - moments[0]!} frames ahead of the cut; frozen is frame ${frozen}.`, moments[0]),
    ];
  }
  const shape = measured?.[0];
  if (shape === undefined) return [];
  if (shape === null) return [fault(`The matte covers nothing on frame ${frozen}, which is frozen: carry it there, or paint it.`, frozen)];
  const { scale } = zoomAt(shape, 1, settings.room);
  const text = `The frozen frame ${frozen} is enlarged ${scale.toFixed(1)} × where the hole fills the frame, and stands in its place on ${
    settings.side === 'entering' ? placed.to : placed.from
  }.`;
  return [
    shape.inner.scale < 1 / MOST_ENLARGED ? fault(`The hole is too small to fill the frame at ${MOST_ENLARGED} ×.`, frozen) : note(text),
  ];
}
