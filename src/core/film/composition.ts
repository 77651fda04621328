import type { Channel } from '../motion/curve';
import { STILL, type Motion, type Timing } from '../motion/motion';

/** What a join is made of. Times are film frames counted from the cut; places film pixels from the frame's centre, y down. */

export type ShotSide = 'leaving' | 'entering';

export type Side = 'inside' | 'outside';

/** How a matte joins those before it: only what both cover, what either covers, or what they cover without it. */
export type Combining = 'intersect' | 'add' | 'subtract';

/** A matte as one layer uses it: which side of it stays, and how its edge is drawn (pixels of its medium). */
export interface MatteUse {
  readonly matteId: string;
  readonly side: Side;
  /** Of no meaning for the first of a layer; 'intersect' unless said. */
  readonly combine?: Combining;
  readonly growPx: number;
  readonly featherPx: number;
  /** How far the old background's colour is taken out of the soft edge, 0..1; not at all unless said. */
  readonly cleanEdge?: number;
  /** One of another shot or medium moves with the layer; else it stands where its own shot stands. */
  readonly ridesAlong?: boolean;
}

/** RGB, 0..255. */
export type Colour = readonly [number, number, number];

export const MELT_QUALITIES = ['fast', 'fine'] as const;
export type MeltQuality = (typeof MELT_QUALITIES)[number];

/** What a picture's border does while its inside is drawn about: it stays, or the picture slides along it. */
export const BORDERS = ['pinned', 'sliding'] as const;
export type Borders = (typeof BORDERS)[number];

/** Two outlines, open or closed, one on each shot: what they follow goes over into one another. */
export interface LinePair {
  readonly leaving: string;
  readonly entering: string;
}

/** Both shots melted into one another by their motion: how far shapes and colours have gone, 0..1 each. */
export interface MeltSource {
  readonly kind: 'melt';
  readonly quality: MeltQuality;
  readonly warp: Channel;
  readonly mix: Channel;
  /** Lines that say what becomes what; the rest follows by motion. */
  readonly lines?: { readonly pairs: readonly LinePair[]; readonly borders: Borders };
  /** Mattes of the subjects, which alone are melted; without them the whole pictures. */
  readonly subjects?: Readonly<Record<ShotSide, string>>;
}

/** Where a layer's picture comes from. */
export type LayerSource =
  | { readonly kind: ShotSide }
  /** One frame of a shot's medium, whatever the time. */
  | { readonly kind: 'held'; readonly side: ShotSide; readonly frame: number }
  /** Any medium of the shelf; `frame` of it is shown at the cut. */
  | { readonly kind: 'medium'; readonly mediumId: string; readonly frame: number }
  | { readonly kind: 'colour'; readonly colour: Colour }
  | MeltSource
  /** Nothing of its own: its effects work on what lies under it. */
  | { readonly kind: 'all beneath' };

/** First and last frame. */
export interface Span {
  readonly first: number;
  readonly last: number;
}

/** What shows beyond a picture's border: nothing, the picture mirrored or over again, or its last pixels drawn out. */
export const EDGE_FILLS = ['none', 'mirrored', 'repeated', 'stretched'] as const;
export type EdgeFill = (typeof EDGE_FILLS)[number];

/** The separable modes of W3C Compositing that are used here. */
export const BLEND_MODES = ['normal', 'add', 'multiply', 'screen', 'lighten', 'darken'] as const;
export type BlendMode = (typeof BLEND_MODES)[number];

/** One effect in the order of a layer or finish. Its parameters are named by its kind; each is a channel. */
export interface Effect {
  readonly id: string;
  /** The name under which its kind is listed (`core/effects/registry.ts`). */
  readonly kind: string;
  readonly visible: boolean;
  readonly span?: Span;
  readonly params: Readonly<Record<string, Channel>>;
}

/** Copies behind a layer that do the same some frames later. */
export interface LateCopies {
  readonly count: number;
  /** Frames between one and the next. */
  readonly delay: number;
  /** 0..1: what of its opacity each has less than the one before it. */
  readonly fall: number;
}

/** One picture of a join's stack. */
export interface Layer {
  readonly id: string;
  readonly name: string;
  readonly source: LayerSource;
  readonly visible: boolean;
  /** When it is there; over the whole overlap unless said. */
  readonly span?: Span;
  /** Its own time; as its shot has it unless said. */
  readonly time?: Timing;
  /** Combined in this order. */
  readonly mattes: readonly MatteUse[];
  readonly motion: Motion;
  /** The carrier that moves it. */
  readonly ridesOn?: string;
  readonly edges: EdgeFill;
  /** 0..1 */
  readonly opacity: Channel;
  readonly blend: BlendMode;
  /** Whether the shutter blurs it. */
  readonly blur: boolean;
  readonly effects: readonly Effect[];
  readonly copies?: LateCopies;
}

/** A motion that several layers ride on, and that may ride on another. */
export interface Carrier {
  readonly id: string;
  readonly name: string;
  readonly motion: Motion;
  readonly ridesOn?: string;
}

export const plainLayer = (id: string, name: string, kind: ShotSide): Layer => newLayer(id, name, { kind });

export const newLayer = (id: string, name: string, source: LayerSource): Layer => ({
  id,
  name,
  source,
  visible: true,
  mattes: [],
  motion: STILL,
  edges: 'none',
  opacity: 1,
  blend: 'normal',
  blur: true,
  effects: [],
});

/** The shot whose picture a layer shows; null for what is of neither. */
export const sideOf = ({ source }: Pick<Layer, 'source'>): ShotSide | null =>
  source.kind === 'leaving' || source.kind === 'entering' ? source.kind : source.kind === 'held' ? source.side : null;
