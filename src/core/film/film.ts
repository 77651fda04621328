import type { Rational } from '../geometry/rational';
import type { MatteKey } from '../matte/key/key';
import type { Outline } from '../matte/outline/outline';
import type { Strokes } from '../matte/cut/strokes';
import type { Tidying } from '../matte/coverage/tidy';
import type { Channel } from '../motion/curve';
import type { Track } from '../track/track';

export const SCHEMA_VERSION = 2;

/** What the film's rules need to know of a medium. Sizes are as displayed: turned upright, square pixels. */
export interface Medium {
  readonly id: string;
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
}

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

export type Side = 'inside' | 'outside';

/** How a matte joins those before it: only what both cover, what either covers, or what they cover without it. */
export type Combining = 'intersect' | 'add' | 'subtract';

/** A matte as one layer uses it: which side of it stays, and how its edge is drawn (medium pixels). */
export interface MatteUse {
  readonly matteId: string;
  readonly side: Side;
  /** Of no meaning for the first of a layer; 'intersect' unless said. */
  readonly combine?: Combining;
  readonly growPx: number;
  readonly featherPx: number;
  /** How far the old background's colour is taken out of the soft edge, 0..1; not at all unless said. */
  readonly cleanEdge?: number;
}

export type LayerSource = 'leaving' | 'entering';

/** One picture of a join's stack. Channel times are film frames counted from the cut. */
export interface Layer {
  readonly id: string;
  readonly name: string;
  readonly source: LayerSource;
  readonly visible: boolean;
  /** Combined in this order. */
  readonly mattes: readonly MatteUse[];
  /** 0..1 */
  readonly opacity: Channel;
  /** Film pixels from the centre. */
  readonly x: Channel;
  readonly y: Channel;
  /** 1 is the shot's own framing. */
  readonly scale: Channel;
  /** Clockwise. */
  readonly rotationDegrees: Channel;
}

export type JoinKind = 'cut' | 'wipe past';

/**
 * The place where two neighbouring shots meet. The overlap reaches `before` film frames back from the cut and
 * `after` frames past it; in it the layers, front to back, make the picture.
 */
export interface Join {
  readonly id: string;
  readonly name: string;
  readonly kind: JoinKind;
  readonly leavingShotId: string;
  readonly enteringShotId: string;
  readonly before: number;
  readonly after: number;
  /** The overlap follows the hole of the wipe whenever the outline changes. */
  readonly fitsHole: boolean;
  readonly layers: readonly Layer[];
}

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
  /** First and last medium frame on which what the outline follows covers the whole picture, once that was looked for. */
  readonly coversFrame?: { readonly from: number; readonly to: number };
  /** The outline rides on this track of the same medium; its keyframes are relative to it. */
  readonly trackId?: string;
}

/** One project: plain data, the same in the browser, on the server and in a film file. */
export interface Film {
  readonly schemaVersion: typeof SCHEMA_VERSION;
  readonly name: string;
  readonly width: number;
  readonly height: number;
  readonly rate: Rational;
  readonly shots: readonly Shot[];
  /** Joins of pairs that are no longer neighbours stay, and serve again when the shots come back together. */
  readonly joins: readonly Join[];
  readonly mattes: readonly Matte[];
  readonly tracks?: readonly Track[];
  /** Media taken off the shelf: hidden for as long as that can be taken back, then gone. Nothing in the film uses them. */
  readonly offShelf?: readonly string[];
}

export function createFilm(name: string, width: number, height: number, rate: Rational): Film {
  return { schemaVersion: SCHEMA_VERSION, name, width, height, rate, shots: [], joins: [], mattes: [] };
}

export const plainLayer = (id: string, name: string, source: LayerSource): Layer => ({
  id,
  name,
  source,
  visible: true,
  mattes: [],
  opacity: 1,
  x: 0,
  y: 0,
  scale: 1,
  rotationDegrees: 0,
});

/** @throws RangeError when the list has no such id; a stored film never refers to what it does not hold. */
export function byId<T extends { readonly id: string }>(list: readonly T[], id: string, what: string): T {
  const found = list.find((item) => item.id === id);
  if (found === undefined) throw new RangeError(`no ${what} ${id} in the film`);
  return found;
}
