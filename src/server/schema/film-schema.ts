import Joi from 'joi';
import { EFFECTS } from '../../core/effects/registry';
import {
  BLEND_MODES,
  EDGE_FILLS,
  type Carrier,
  type Effect,
  type LateCopies,
  type Layer,
  type MatteUse,
  type Span,
} from '../../core/film/composition';
import {
  SCHEMA_VERSION,
  type Bin,
  type Film,
  type FrameStrokes,
  type Join,
  type Matte,
  type MediumName,
  type OwnFraming,
  type SavedEase,
  type Shot,
  type ShotMove,
  type Steadying,
  type InterestPoint,
} from '../../core/film/film';
import { migrateFilm, versionOf } from '../../core/film/migrate';
import { LIMITS } from '../../core/film/limits';
import { faultInFilm } from '../../core/film/rules';
import { BETWEEN, CAMERA_CHANNELS, MOTION_CHANNELS, type Camera, type Motion, type Shutter, type Timing } from '../../core/motion/motion';
import type { ValueKey } from '../../core/motion/curve';
import type { Track } from '../../core/track/track';
import {
  LOUDEST_DB,
  SILENCE_DB,
  SOUND_CHANGES,
  type Marker,
  type MediumBeats,
  type MediumMarker,
  type ShotSound,
  type SoundChange,
  type SoundClip,
  type SoundHit,
  type SoundLane,
} from '../../core/film/sound';
import { TINTS } from '../../core/film/tint';
import { EASES } from '../../core/motion/curve';
import { AppError } from '../base/errors';
import { parse } from '../base/parse';
import { borders, linePairs, meltQuality, recipe } from './recipe-schema';
import { byte, colour, frame, id, name, number, rate, shaped, share } from '../base/schema-parts';

const risingFrames: Joi.CustomValidator<{ frame: number }[]> = (keys, helpers) =>
  keys.every((k, i) => i === 0 || keys[i - 1]!.frame < k.frame) ? keys : helpers.error('any.invalid');
const keyed = {
  frame: frame.required(),
  ease: Joi.string()
    .valid(...EASES)
    .required(),
};
const handle = Joi.array().ordered(Joi.number().min(0).max(1).required(), Joi.number().min(-100).max(100).required()).length(2);
const valueKey = shaped<ValueKey>({
  frame: frame.required(),
  value: number.required(),
  into: Joi.alternatives(Joi.string().valid('straight'), handle).required(),
  out: Joi.alternatives(Joi.string().valid('straight', 'hold'), handle).required(),
});
const channelOf = (value: Joi.NumberSchema): Joi.Schema =>
  Joi.alternatives(
    value,
    Joi.array()
      .items(valueKey.append({ value: value.required() } as Joi.SchemaMap<ValueKey>))
      .min(1)
      .max(LIMITS.keysOfChannel)
      .custom(risingFrames),
  );
const channel = channelOf(number);

const point = Joi.object({
  x: number.required(),
  y: number.required(),
  inX: number.required(),
  inY: number.required(),
  outX: number.required(),
  outY: number.required(),
});
const samePointCount: Joi.CustomValidator<{ points: unknown[] }[]> = (keys, helpers) =>
  keys.every((k) => k.points.length === keys[0]!.points.length) ? keys : helpers.error('any.invalid');
const outline = Joi.object({
  closed: Joi.boolean().required(),
  keys: Joi.array()
    .items(Joi.object({ ...keyed, points: Joi.array().items(point).max(2000).required() }))
    .max(20_000)
    .custom(risingFrames)
    .custom(samePointCount)
    .required(),
});

const stroke = {
  radius: Joi.number().positive().max(5000).required(),
  points: Joi.array().items(Joi.array().ordered(number.required(), number.required()).length(2)).max(100_000).required(),
};
export const strokeBox = Joi.array()
  .ordered(number.required(), number.required(), number.min(1).required(), number.min(1).required())
  .length(4);
export const strokeList = Joi.array()
  .items(Joi.object({ ...stroke, turn: Joi.number().integer().min(0).max(100_000) }))
  .max(LIMITS.strokesOfFrame);
const touchList = Joi.array()
  .items(Joi.object({ ...stroke, covers: Joi.boolean().required() }))
  .max(LIMITS.strokesOfFrame);
const corner = Joi.array().ordered(number.required(), number.required()).length(2);
const region = { frame: frame.required(), corners: Joi.array().items(corner).min(3).max(64).required() };
const track = shaped<Track>({
  id: id.required(),
  mediumId: id.required(),
  name: name.required(),
  model: Joi.string().valid('position', 'similarity', 'affine', 'perspective').required(),
  keys: Joi.array().items(Joi.object(region)).min(1).max(20_000).custom(risingFrames).required(),
  frames: Joi.array()
    .items(Joi.object({ ...region, confidence: Joi.number().min(0).max(1).required() }))
    .max(LIMITS.framesOfTrack)
    .custom(risingFrames)
    .required(),
});

const pixels = Joi.number().min(0).max(2000).required();
const cleaning = { cleanBlack: share, cleanWhite: share };
const matteKey = Joi.alternatives(
  Joi.object({ kind: Joi.string().valid('brightness').required(), threshold: channel.required(), softness: share, ...cleaning }),
  Joi.object({
    kind: Joi.string().valid('colour').required(),
    colour: Joi.array().ordered(byte, byte, byte).length(3).required(),
    tolerance: share,
    softness: share,
    spill: share,
    ...cleaning,
  }),
);

const matteUse = shaped<MatteUse>({
  matteId: id.required(),
  side: Joi.string().valid('inside', 'outside').required(),
  combine: Joi.string().valid('intersect', 'add', 'subtract'),
  growPx: number.required(),
  featherPx: number.min(0).required(),
  cleanEdge: Joi.number().min(0).max(1),
  ridesAlong: Joi.boolean(),
});
const shotSide = Joi.string().valid('leaving', 'entering');
/** What a layer shows; `held` is how the frame of a held picture is told. */
const sourceOf = (held: Joi.Schema): Joi.Schema =>
  Joi.alternatives(
    Joi.object({ kind: shotSide.required() }),
    Joi.object({ kind: Joi.string().valid('held').required(), side: shotSide.required(), frame: held.required() }),
    Joi.object({ kind: Joi.string().valid('medium').required(), mediumId: id.required(), frame: number.required() }),
    Joi.object({ kind: Joi.string().valid('colour').required(), colour: colour.required() }),
    Joi.object({ kind: Joi.string().valid('all beneath').required() }),
    Joi.object({
      kind: Joi.string().valid('melt').required(),
      quality: meltQuality,
      warp: channelOf(share).required(),
      mix: channelOf(share).required(),
      lines: Joi.object({ pairs: linePairs, borders }),
      subjects: Joi.object({ leaving: id.required(), entering: id.required() }),
    }),
  );
const span = shaped<Span>({ first: frame.required(), last: frame.min(Joi.ref('first')).required() });
const timing = shaped<Timing>({
  speed: channelOf(Joi.number().min(-100).max(100)).required(),
  anchor: frame.required(),
  between: Joi.string()
    .valid(...BETWEEN)
    .required(),
});
const flip = Joi.string().valid('across', 'down', 'both');
const motion = shaped<Motion>({
  ...(Object.fromEntries(MOTION_CHANNELS.map((c) => [c, channel.required()])) as Record<(typeof MOTION_CHANNELS)[number], Joi.Schema>),
  flip,
  pivotTrackId: id,
  apart: Joi.boolean(),
});
export const camera = shaped<Camera>({
  ...(Object.fromEntries(CAMERA_CHANNELS.map((c) => [c, channel.required()])) as Record<(typeof CAMERA_CHANNELS)[number], Joi.Schema>),
  focalMm: Joi.number().min(1).max(5000).required(),
  ridesOn: id,
});
const effect = shaped<Effect>({
  id: id.required(),
  kind: Joi.string()
    .valid(...EFFECTS.map((e) => e.kind))
    .required(),
  visible: Joi.boolean().required(),
  span,
  params: Joi.object().pattern(Joi.string().max(40), channel).required(),
});
export const effects = Joi.array().items(effect).max(LIMITS.effects).required();
const copies = shaped<LateCopies>({
  count: Joi.number().integer().min(0).max(50).required(),
  delay: Joi.number().integer().min(1).max(1000).required(),
  fall: share,
});
const layerOf = (held: Joi.Schema): Joi.ObjectSchema<Layer> =>
  shaped<Layer>({
    id: id.required(),
    name: name.required(),
    source: sourceOf(held).required(),
    visible: Joi.boolean().required(),
    span,
    time: timing,
    mattes: Joi.array().items(matteUse).max(100).required(),
    motion: motion.required(),
    ridesOn: id,
    edges: Joi.string()
      .valid(...EDGE_FILLS)
      .required(),
    opacity: channel.required(),
    blend: Joi.string()
      .valid(...BLEND_MODES)
      .required(),
    blur: Joi.boolean().required(),
    effects,
    copies,
  });
const layer = layerOf(frame.min(0));
/** A layer whose held picture is told from another one, and may lie before that. */
export const relativeLayer = layerOf(frame);
export const carrier = shaped<Carrier>({ id: id.required(), name: name.required(), motion: motion.required(), ridesOn: id });
const db = Joi.number().min(SILENCE_DB).max(LOUDEST_DB);
const fade = Joi.number().min(0).max(1e6).required();
const ownSound = {
  level: channelOf(db).required(),
  muted: Joi.boolean().required(),
  fadeIn: fade,
  fadeOut: fade,
};
const seconds = Joi.number().min(0).max(1e6);
const soundClip = shaped<SoundClip>({
  ...ownSound,
  id: id.required(),
  mediumId: id.required(),
  name: name.required(),
  start: number.required(),
  length: Joi.number().greater(0).max(1e7).required(),
  from: Joi.number().min(-1e6).max(1e6).required(),
});
const soundLane = shaped<SoundLane>({
  id: id.required(),
  name: name.required(),
  muted: Joi.boolean().required(),
  clips: Joi.array().items(soundClip).unique('id').max(LIMITS.clipsOfLane).required(),
});
const soundChange = shaped<SoundChange>({
  at: number.required(),
  kind: Joi.string()
    .valid(...SOUND_CHANGES)
    .required(),
  milliseconds: Joi.number().min(1).max(10_000).required(),
});
const soundHit = shaped<SoundHit>({
  id: id.required(),
  mediumId: id.required(),
  name: name.required(),
  at: number.required(),
  level: db.required(),
});
const rising: Joi.CustomValidator<number[]> = (list, helpers) =>
  list.every((v, i) => i === 0 || list[i - 1]! < v) ? list : helpers.error('any.invalid');
const mediumBeats = shaped<MediumBeats>({
  mediumId: id.required(),
  seconds: Joi.array().items(seconds).max(50_000).custom(rising).required(),
  downbeat: Joi.number().integer().min(0).max(50_000).required(),
  perBar: Joi.number().integer().min(1).max(16).required(),
  beatsPerMinute: Joi.number().min(0).max(1000).required(),
  confidence: share,
});

const markerLook = { name: name.required(), tint: Joi.valid(...TINTS), note: Joi.string().max(2000) };

const interestPoint = shaped<InterestPoint>({
  id: id.required(),
  side: shotSide.required(),
  frame: frame.min(0).required(),
  x: number.required(),
  y: number.required(),
  trackId: id,
});
const join = shaped<Join>({
  id: id.required(),
  name: name.required(),
  leavingShotId: id.required(),
  enteringShotId: id.required(),
  before: frame.min(0).required(),
  after: frame.min(0).required(),
  layers: Joi.array().items(layer).unique('id').max(LIMITS.layersOfJoin).required(),
  carriers: Joi.array().items(carrier).unique('id').max(LIMITS.carriersOfJoin).required(),
  camera,
  byDepth: Joi.boolean(),
  finish: effects,
  recipe,
  sound: soundChange,
  interest: Joi.array().items(interestPoint).max(8),
  hits: Joi.array().items(soundHit).unique('id').max(100),
});
const framing = Joi.alternatives(
  Joi.string().valid('fill', 'fit'),
  shaped<OwnFraming>({
    x: number.required(),
    y: number.required(),
    scale: Joi.number().min(0.001).max(1000).required(),
    turn: number.required(),
    flip,
  }),
);
const steadying = shaped<Steadying>({
  trackId: id.required(),
  position: share,
  turn: share,
  size: share,
  centred: Joi.boolean().required(),
  edges: Joi.string().valid('mirror', 'enlarge').required(),
});
const shot = shaped<Shot>({
  id: id.required(),
  mediumId: id.required(),
  name: name.required(),
  inFrame: number.required(),
  length: frame.min(1).required(),
  steadying,
  framing,
  time: timing,
  move: shaped<ShotMove>({ x: channel.required(), y: channel.required(), scale: channel.required(), turn: channel.required() }),
  sound: shaped<ShotSound>(ownSound),
  isOff: Joi.valid(true),
  tint: Joi.valid(...TINTS),
});
const matte = shaped<Matte>({
  id: id.required(),
  mediumId: id.required(),
  name: name.required(),
  outline: outline.required(),
  painted: Joi.array()
    .items(
      shaped<FrameStrokes>({
        frame: frame.required(),
        keep: strokeList.required(),
        drop: strokeList.required(),
        hair: strokeList,
        box: strokeBox,
        touches: touchList,
      }),
    )
    .custom(risingFrames),
  key: matteKey,
  frameEdits: Joi.array().items(id).max(1000),
  tidying: Joi.object({ smoothPx: pixels, holesPx: pixels, specksPx: pixels }),
  coversFrame: Joi.object({ from: frame.required(), to: frame.required() }).allow(null),
  trackId: id,
  ownerId: id,
});
const savedEase = shaped<SavedEase>({
  name: name.required(),
  out: Joi.alternatives(Joi.string().valid('straight', 'hold'), handle).required(),
  into: Joi.alternatives(Joi.string().valid('straight'), handle).required(),
});

/** The lists' lengths, and that nothing is in one twice, are checked apart: see `LISTS`. */
const film = shaped<Film>({
  schemaVersion: Joi.number().valid(SCHEMA_VERSION).required(),
  name: name.required(),
  width: Joi.number().integer().min(16).max(8192).required(),
  height: Joi.number().integer().min(16).max(8192).required(),
  rate: rate.required(),
  shots: Joi.array().items(shot).required(),
  aside: Joi.array().items(shot),
  joins: Joi.array().items(join).required(),
  mattes: Joi.array().items(matte).required(),
  tracks: Joi.array().items(track),
  finish: Joi.array().items(effect).max(LIMITS.effects),
  shutter: shaped<Shutter>({ angle: Joi.number().min(0).max(360).required(), phase: Joi.number().min(-360).max(360).required() }),
  background: colour,
  eases: Joi.array().items(savedEase).unique('name').max(200),
  soundLanes: Joi.array().items(soundLane),
  markers: Joi.array().items(shaped<Marker>({ id: id.required(), ...markerLook, frame: number.required() })),
  mediumMarkers: Joi.array().items(
    shaped<MediumMarker>({
      id: id.required(),
      mediumId: id.required(),
      ...markerLook,
      seconds: seconds.required(),
      lasts: Joi.number().greater(0).max(1e6),
    }),
  ),
  beats: Joi.array().items(mediumBeats),
  mediumNames: Joi.array().items(shaped<MediumName>({ mediumId: id.required(), name: name.required() })),
  bins: Joi.array().items(
    shaped<Bin>({ id: id.required(), name: name.required(), mediumIds: Joi.array().items(id).max(LIMITS.offShelf).unique().required() }),
  ),
  offShelf: Joi.array().items(id).max(LIMITS.offShelf),
}).required();

/** The lists of a film: how many items each may hold, and by what its items are told apart. */
const LISTS = {
  shots: { most: LIMITS.shots, by: 'id' },
  aside: { most: LIMITS.shots, by: 'id' },
  joins: { most: LIMITS.joins, by: 'id' },
  mattes: { most: LIMITS.mattes, by: 'id' },
  tracks: { most: LIMITS.tracks, by: 'id' },
  soundLanes: { most: LIMITS.soundLanes, by: 'id' },
  markers: { most: LIMITS.markers, by: 'id' },
  mediumMarkers: { most: LIMITS.markers, by: 'id' },
  beats: { most: LIMITS.markers, by: 'mediumId' },
  mediumNames: { most: LIMITS.offShelf, by: 'mediumId' },
  bins: { most: LIMITS.markers, by: 'id' },
} as const satisfies Partial<Record<keyof Film, { readonly most: number; readonly by: string }>>;
type ListName = keyof typeof LISTS;

/** A list that is too long, or that holds the same thing twice, as a sentence. */
function faultOfLists(film: Film): string | null {
  for (const [field, { most, by }] of Object.entries(LISTS) as [ListName, { most: number; by: string }][]) {
    const list = film[field] as readonly Record<string, unknown>[] | undefined;
    if (list === undefined) continue;
    if (list.length > most) return `"${field}" must contain less than or equal to ${most} items`;
    if (new Set(list.map((item) => item[by])).size < list.length) return `"${field}" contains a duplicate value`;
  }
  return null;
}

/** What `film` does not share with `before`, for looking at it closely: of strokes, tracks' frames and outlines too only what is new. */
function unknownPart(film: Film, before: Film): Film {
  const known = new Set<unknown>();
  for (const field of Object.keys(LISTS) as ListName[]) for (const item of before[field] ?? []) known.add(item);
  for (const m of before.mattes) {
    known.add(m.outline);
    for (const { keep, drop, hair = [], touches = [] } of m.painted ?? []) for (const s of [keep, drop, hair, touches].flat()) known.add(s);
  }
  for (const t of before.tracks ?? []) for (const f of t.frames) known.add(f);
  /** A list that is too long is looked at as it is, so that it is found to be. */
  const fresh = (list: unknown, most: number): unknown =>
    Array.isArray(list) && list.length <= most ? list.filter((item) => !known.has(item)) : list;
  const paint = (p: FrameStrokes): object =>
    Object.fromEntries(Object.entries(p).map(([field, value]) => [field, field === 'frame' ? value : fresh(value, LIMITS.strokesOfFrame)]));
  const lists = (Object.keys(LISTS) as ListName[]).flatMap((field) =>
    film[field] === undefined ? [] : [[field, (film[field] as readonly unknown[]).filter((item) => !known.has(item))] as const],
  );
  const part = { ...film, ...Object.fromEntries(lists) } as Film;
  const mattes = part.mattes.map((m) => ({
    ...m,
    ...(known.has(m.outline) ? { outline: NO_OUTLINE } : {}),
    ...(isListOfThings(m.painted) ? { painted: m.painted.map(paint) } : {}),
  }));
  const tracks = part.tracks?.map((t) => ({ ...t, frames: fresh(t.frames, LIMITS.framesOfTrack) }));
  return { ...part, mattes, ...(tracks === undefined ? {} : { tracks }) } as Film;
}

const NO_OUTLINE = { closed: false, keys: [] };

const isListOfThings = (value: unknown): value is readonly object[] =>
  Array.isArray(value) && value.every((item) => typeof item === 'object' && item !== null);

/**
 * Checks a whole film: shape by Joi, and what a film must hold to whatever its media are. Of a film that came of `before`, which was
 * checked, only what differs is looked at closely.
 * @throws AppError 'bad-request'
 */
export function parseFilm(value: unknown, before: Film | null = null): Film {
  const parsed = before === null ? inTodaysForm(value) : (value as Film);
  const names = Object.keys(LISTS) as ListName[];
  const isListed = before !== null && names.every((f) => isListOfThings(parsed[f] ?? []));
  parse<Film>(film, isListed ? unknownPart(parsed, before) : parsed);
  const fault = faultOfLists(parsed) ?? faultInFilm(parsed, before);
  if (fault !== null) throw new AppError('bad-request', `Not accepted: ${fault}`);
  return parsed;
}

function inTodaysForm(value: unknown): Film {
  try {
    return migrateFilm(value);
  } catch (error) {
    const version = versionOf(value);
    throw new AppError(
      'bad-request',
      error instanceof RangeError ? `Not accepted: ${error.message}` : `A film of version ${version} could not be read.`,
    );
  }
}
