import type { EaseName } from '../motion/eases';
import type { Borders, Colour, LinePair, MeltQuality, ShotSide } from './composition';

/** How a join was made, as it is remembered: the settings of each kind. Times are film frames, lengths film pixels. */

/** Settings of the recipe "wipe past". */
export interface WipeSettings {
  /** The overlap follows the hole whenever the outline changes. */
  readonly followsHole: boolean;
}

/** Settings of the recipe "zoom through". Times are film frames. */
export interface ZoomSettings {
  /** The matte whose inside is the hole; null while there is none. */
  readonly matteId: string | null;
  readonly piece: 'fades' | 'slides' | 'stays';
  /** Of a piece that slides: where to, degrees clockwise from the right, and how far, film pixels. */
  readonly slideDegrees: number;
  readonly slidePx: number;
  /** Frames before the move in which it slides off its place, and stays beside it; 0 lets it slide and fade while the move goes. */
  readonly slidesBefore?: number;
  readonly entering: 'grows' | 'waits' | 'pushes on';
  /** Room left around, a share of what is covered: 0.06 is 6 %. */
  readonly room: number;
  /** Late copies of what is left of the shot around the hole, and the frames between them. */
  readonly copies: number;
  readonly copyDelay: number;
  /** Frames from the overlap's first to where the move starts. */
  readonly startsAfter: number;
  /** The entering shot stands still until the move starts. */
  readonly holdsEntering: boolean;
  readonly ease: EaseName;
  readonly motionBlur: boolean;
  readonly mirroredEdge: boolean;
  /** The move goes on from a zoom through into its leaving shot, without a stop. */
  readonly goesOn: boolean;
}

export const ARRIVES_FROM = ['left', 'right', 'above', 'below'] as const;
/** How what is around an arriving subject follows: by opacity, from its brightest parts on, or at once at the cut. */
export const GROUND_COMES = ['fades', 'sweeps', 'cuts'] as const;

/** Settings of the recipe "arrive". Times are film frames. */
export interface ArriveSettings {
  /** The matte of what arrives, of the entering shot; null while there is none. */
  readonly matteId: string | null;
  readonly from: (typeof ARRIVES_FROM)[number];
  readonly distancePx: number;
  readonly arrivesIn: number;
  readonly ease: EaseName;
  readonly ground: (typeof GROUND_COMES)[number];
  /** The last frames of the overlap over which the ground comes. */
  readonly groundOver: number;
  readonly motionBlur: boolean;
}

/** Settings of the recipe "melt". */
export interface MeltSettings {
  /** The matte of a subject within which it melts; all of the picture without one. */
  readonly matteId: string | null;
  readonly quality: MeltQuality;
  readonly ease: EaseName;
}

/** What lies behind subjects that go over into each other: a shot, both dissolving, or media from the shelf. */
export const GROUNDS_BEHIND = ['leaving', 'entering', 'both', 'medium'] as const;
export type GroundBehind = (typeof GROUNDS_BEHIND)[number];

/** Settings of the recipe "feature morph". */
export interface FeatureSettings {
  readonly pairs: readonly LinePair[];
  readonly borders: Borders;
  readonly quality: MeltQuality;
  readonly ease: EaseName;
  /** Mattes of the subjects; the whole pictures go over unless both are chosen. */
  readonly subjects: Readonly<Record<ShotSide, string | null>>;
  readonly ground: GroundBehind;
  readonly groundMediumId: string | null;
}

/** Settings of the recipe "dissolve". */
export interface DissolveSettings {
  readonly ease: EaseName;
}

/** How the slices of a picture lie: beside each other, one below the other, at a slant, or in rows and columns. */
export const PANEL_LAYOUTS = ['upright', 'level', 'slanted', 'grid'] as const;
export const PANEL_ORDERS = ['forwards', 'backwards', 'from the middle', 'shuffled'] as const;
/** What things that come one after another keep to: the beats of the music, or so many frames. */
export const TIMED_ON = ['beats', 'frames'] as const;

/** Settings of the recipe "panels on the beat". */
export interface PanelsSettings {
  readonly count: number;
  readonly layout: (typeof PANEL_LAYOUTS)[number];
  /** Of slanted ones, degrees clockwise from upright. */
  readonly slant: number;
  readonly order: (typeof PANEL_ORDERS)[number];
  readonly on: (typeof TIMED_ON)[number];
  /** Frames from one to the next, where they do not keep to beats. */
  readonly every: number;
  /** So many of the last come earlier, by so many frames each. */
  readonly early: number;
  readonly earlyBy: number;
  readonly shakePx: number;
  readonly kickStops: number;
  readonly blurPx: number;
  /** Frames in which these die away. */
  readonly diesIn: number;
}

/** What a frozen frame does: a part of it lands over the leaving shot, or one shot is seen through a hole in it. */
export const CUT_OUT_WAYS = ['lands', 'pulls back'] as const;

/** Settings of the recipe "held cut-out". */
export interface CutOutSettings {
  readonly way: (typeof CUT_OUT_WAYS)[number];
  /** The frame of its medium that is frozen; the one at the cut unless said. */
  readonly moment?: number | null;
  /** The shot of which a frame is frozen. */
  readonly side: ShotSide;
  /** The matte of what is cut out, of that shot; null while there is none. */
  readonly matteId: string | null;
  /** Of one that lands: how often it comes down, by how much larger, and when. */
  readonly punches: number;
  /** A share: 0.2 is 20 % larger. */
  readonly punch: number;
  readonly on: (typeof TIMED_ON)[number];
  readonly every: number;
  readonly roughPx: number;
  /** Frames after which the torn edge is another; 0 keeps it. */
  readonly driftEvery: number;
  readonly shadowPx: number;
  readonly outlinePx: number;
  /** Frames in which a bright copy fades; 0 is none. */
  readonly flash: number;
  /** Of one that pulls back: the matte of the moving shot's subject, kept in the middle. */
  readonly subjectId: string | null;
  /** Frames in which the hole closes. */
  readonly closes: number;
  /** A share. */
  readonly room: number;
  readonly ease: EaseName;
  readonly motionBlur: boolean;
}

/** How the entering shot, filling the frame, lies over the leaving one where both show the same. */
export interface Pin {
  readonly x: number;
  readonly y: number;
  readonly scale: number;
  /** Degrees, clockwise. */
  readonly turn: number;
}

/** Settings of the recipe "drop through". */
export interface DropSettings {
  /** Lays what falls in the entering shot over what falls in the leaving one; null stacks both as they are. */
  readonly pin: Pin | null;
  readonly seamPx: number;
  readonly ease: EaseName;
  readonly motionBlur: boolean;
}

/** Settings of the recipe "bridge". */
export interface BridgeSettings {
  readonly pin: Pin | null;
  /** The matte of what both show, of the nearer shot: it comes first, what is around it last. */
  readonly subjectId: string | null;
  /** Frames in which the nearer shot comes, and those after which it begins to. */
  readonly comesAfter: number;
  readonly comesOver: number;
  /** The matte of what fades in the wider shot: its sky, say. */
  readonly fadesId: string | null;
  readonly behind: Colour;
  /** Mattes of any medium that pass near the camera. */
  readonly occluderIds: readonly string[];
  readonly ease: EaseName;
  readonly motionBlur: boolean;
  /** The move goes on from a bridge into its leaving shot, without a stop. */
  readonly goesOn: boolean;
}

export const TILE_SHAPES = ['triangle', 'diamond', 'pentagon', 'hexagon', 'drawn'] as const;

/** Settings of the recipe "tiles in space". */
export interface TilesSettings {
  readonly shape: (typeof TILE_SHAPES)[number];
  /** An outline of the leaving shot whose shape is taken. */
  readonly drawnId: string | null;
  /** Degrees, clockwise. */
  readonly turn: number;
  /** Frames in which the frame folds into its tile, and opens out of one. */
  readonly folds: number;
  /** Frames the camera takes, and where it arrives: with the cut, or at the marker nearest to it. */
  readonly travels: number;
  readonly arrives: 'cut' | 'marker';
  /** Where the next tile hangs: film widths to the right, film heights down, film widths away. */
  readonly across: number;
  readonly down: number;
  readonly depth: number;
  /** Degrees by which tiles are turned away that the camera is not at. */
  readonly tilt: number;
  readonly copies: number;
  readonly backdrop: 'colour' | 'medium';
  readonly colour: Colour;
  readonly mediumId: string | null;
  readonly ease: EaseName;
  readonly motionBlur: boolean;
  /** The leaving shot already hangs as a tile: this one goes on from the tiles before it. */
  readonly goesOn: boolean;
}

/** The settings of every kind. */
export interface SettingsByKind {
  'wipe past': WipeSettings;
  'zoom through': ZoomSettings;
  arrive: ArriveSettings;
  'held cut-out': CutOutSettings;
  'panels on the beat': PanelsSettings;
  'tiles in space': TilesSettings;
  'drop through': DropSettings;
  bridge: BridgeSettings;
  melt: MeltSettings;
  'feature morph': FeatureSettings;
  dissolve: DissolveSettings;
}

export type RecipeName = keyof SettingsByKind;

/** How a join was made: the kind, its settings, and a mark of what that made, by which a change by hand is told. */
export type Recipe = {
  readonly [K in RecipeName]: {
    readonly kind: K;
    readonly settings: SettingsByKind[K];
    readonly made: string;
    /** The overlap stays as a hand has set it, whatever the settings would ask for. */
    readonly overlapByHand?: true;
  };
}[RecipeName];

export type JoinKind = 'cut' | RecipeName;
