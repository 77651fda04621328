import type { Rational } from '../geometry/rational';
import type { MatteKey } from '../matte/key/key';
import type { Outline } from '../matte/outline/outline';
import type { Strokes } from '../matte/cut/strokes';
import type { Tidying } from '../matte/coverage/tidy';
import type { EaseShape } from '../motion/eases';
import type { Track } from '../track/track';
import type { Channel } from '../motion/curve';
import type { Camera, Motion, Shutter, Timing } from '../motion/motion';
import type { Carrier, Colour, Effect, Layer, ShotSide } from './composition';
import type { JoinKind, Recipe } from './recipe-settings';
import type { Marker, MediumBeats, MediumMarker, ShotSound, SoundChange, SoundHit, SoundLane } from './sound';
import type { Tint } from './tint';

export const SCHEMA_VERSION = 4;

/** Pictures in time, or one that stands for as long as it is asked to. */
export type MediumKind = 'video' | 'still';

/** What the film's rules need to know of a medium. Sizes are as displayed: turned upright, square pixels. */
export interface Medium {
  readonly id: string;
  readonly kind: MediumKind;
  readonly name: string;
  readonly width: number;
  readonly height: number;
  readonly rate: Rational;
  readonly frames: number;
}

export type Media = ReadonlyMap<string, Medium>;

/** A span of one medium on the reel. Shots follow each other without gaps; handles are what lies outside the span. */
export interface Shot {
  readonly id: string;
  readonly mediumId: string;
  readonly name: string;
  /** Medium frame shown on the shot's first film frame; a fraction where the rates differ. */
  readonly inFrame: number;
  /** Film frames on the reel, at least 1. */
  readonly length: number;
  readonly steadying?: Steadying;
  /** Fills the frame unless said. */
  readonly framing?: Framing;
  /** As filmed unless said; the clock counts from the shot's first frame. */
  readonly time?: Timing;
  /** A camera's movement given to the shot, on the same clock. */
  readonly move?: ShotMove;
  /** As recorded unless said. */
  readonly sound?: ShotSound;
  /** It is neither shown nor heard: the background stands in its place. */
  readonly isOff?: true;
  /** The colour it is drawn with on the reel, one of `TINTS`. */
  readonly tint?: Tint;
}

export const MOVE_CHANNELS = ['x', 'y', 'scale', 'turn'] as const;
export type MoveChannel = (typeof MOVE_CHANNELS)[number];

/**
 * How a whole picture moves as if a camera did, about the frame's middle: film pixels, factor, degrees clockwise. It is enlarged by as
 * much as leaves no border in sight.
 */
export type ShotMove = Readonly<Record<MoveChannel, Channel>>;

/** How a shot is held still on a track of its medium. Shares 0..1: nothing of the movement is taken out, or all. */
export interface Steadying {
  readonly trackId: string;
  readonly position: number;
  readonly turn: number;
  readonly size: number;
  /** Brought to the middle of the frame, rather than kept where the track's first region is. */
  readonly centred: boolean;
  /** What becomes of the borders that come into sight: the picture goes on mirrored, or is enlarged until none shows. */
  readonly edges: 'mirror' | 'enlarge';
}

/** How a shot sits in the frame: filling it, whole within it, or placed by hand on top of filling it. */
export type Framing = 'fill' | 'fit' | OwnFraming;

export interface OwnFraming {
  /** Film pixels from the centre. */
  readonly x: number;
  readonly y: number;
  /** 1 fills the frame. */
  readonly scale: number;
  /** Degrees, clockwise. */
  readonly turn: number;
  readonly flip?: Motion['flip'];
}

/**
 * The place where two neighbouring shots meet. The overlap reaches `before` film frames back from the cut and
 * `after` frames past it; in it the layers, front to back, make the picture.
 */
export interface Join {
  readonly id: string;
  readonly name: string;
  readonly leavingShotId: string;
  readonly enteringShotId: string;
  readonly before: number;
  readonly after: number;
  readonly layers: readonly Layer[];
  readonly carriers: readonly Carrier[];
  readonly camera?: Camera;
  /** Layers are drawn by their depth instead of as listed. */
  readonly byDepth?: boolean;
  /** Effects over the whole picture of the join. */
  readonly finish: readonly Effect[];
  readonly recipe?: Recipe;
  /** Hard, with the picture's cut, unless said. */
  readonly sound?: SoundChange;
  readonly hits?: readonly SoundHit[];
  /** Where the eye is in both shots, four points each at most. */
  readonly interest?: readonly InterestPoint[];
}

/** A place of interest on a medium frame of one of a join's shots, medium pixels from the centre; it may ride on a track of that medium. */
export interface InterestPoint {
  readonly id: string;
  readonly side: ShotSide;
  readonly frame: number;
  readonly x: number;
  readonly y: number;
  readonly trackId?: string;
}

export const kindOf = ({ recipe }: Join): JoinKind => recipe?.kind ?? 'cut';

/** What a hand has painted on one medium frame. Medium pixels, origin at the picture's centre. */
export interface FrameStrokes extends Strokes {
  readonly frame: number;
}

/**
 * A coverage source that belongs to a medium, in medium frames; every join that shows the medium may use it. With
 * `painted` it is cut from strokes and carried, and its coverage is stored frame by frame; with `key` it is drawn from the
 * picture's own colours; else the outline draws it.
 */
export interface Matte {
  readonly id: string;
  readonly mediumId: string;
  readonly name: string;
  readonly outline: Outline;
  /** Rising frames. */
  readonly painted?: readonly FrameStrokes[];
  readonly key?: MatteKey;
  /** Changes of the stored frames, oldest first, as ids: taking one out of the list takes that change back. */
  readonly frameEdits?: readonly string[];
  /** For painted and keyed coverage. */
  readonly tidying?: Tidying;
  /** First and last medium frame on which what the outline follows covers the whole picture, once that was looked for; null where it never does. */
  readonly coversFrame?: { readonly from: number; readonly to: number } | null;
  /** The outline rides on this track of the same medium; its keyframes are relative to it. */
  readonly trackId?: string;
  /** The join or shot whose recipe made it, and keeps it as its settings say: it is no one's choice for another. */
  readonly ownerId?: string;
}

/** An ease of a hand's own. */
export interface SavedEase extends EaseShape {
  readonly name: string;
}

/** What a medium is called in the film, where that is not what its file is called. */
export interface MediumName {
  readonly mediumId: string;
  readonly name: string;
}

/** A folder of the shelf. A medium lies in one at most. */
export interface Bin {
  readonly id: string;
  readonly name: string;
  readonly mediumIds: readonly string[];
}

/** One project: plain data, the same in the browser, on the server and in a film file. */
export interface Film {
  readonly schemaVersion: typeof SCHEMA_VERSION;
  readonly name: string;
  readonly width: number;
  readonly height: number;
  readonly rate: Rational;
  readonly shots: readonly Shot[];
  /** Shots that were taken off the reel while a finished join still needs them: they come back with it. */
  readonly aside?: readonly Shot[];
  /** Joins of pairs that are no longer neighbours stay, and serve again when the shots come back together. */
  readonly joins: readonly Join[];
  readonly mattes: readonly Matte[];
  readonly tracks?: readonly Track[];
  /** Effects over the whole film; their spans and keys are film frames. */
  readonly finish?: readonly Effect[];
  readonly shutter?: Shutter;
  /** What shows where no layer lies; black unless said. */
  readonly background?: Colour;
  /** Eases a hand has saved, by name. */
  readonly eases?: readonly SavedEase[];
  readonly soundLanes?: readonly SoundLane[];
  readonly markers?: readonly Marker[];
  readonly mediumMarkers?: readonly MediumMarker[];
  readonly beats?: readonly MediumBeats[];
  readonly mediumNames?: readonly MediumName[];
  readonly bins?: readonly Bin[];
  /** Media taken off the shelf: hidden for as long as that can be taken back, then gone. Nothing in the film uses them. */
  readonly offShelf?: readonly string[];
}

export function createFilm(name: string, width: number, height: number, rate: Rational): Film {
  return { schemaVersion: SCHEMA_VERSION, name, width, height, rate, shots: [], joins: [], mattes: [] };
}

/** @throws RangeError when the list has no such id; a stored film never refers to what it does not hold. */
export function byId<T extends { readonly id: string }>(list: readonly T[], id: string, what: string): T {
  const found = list.find((item) => item.id === id);
  if (found === undefined) throw new RangeError(`no ${what} ${id} in the film`);
  return found;
}
