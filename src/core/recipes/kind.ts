import type { Draft } from 'immer';
import type { Carrier, Layer, ShotSide } from '../film/composition';
import type { FilmDraft, NewId } from '../film/drafts';
import type { Film, Join, Media } from '../film/film';
import type { PlacedJoin } from '../film/timing';
import type { Camera } from '../motion/motion';
import type { FramePlan } from '../plan/frame-plan';
import type { HoleShape } from './hole-shape';
import type { NextThing, Note } from './next-thing';
import type { WipeReport } from './wipe-past/wipe-past-report';

/** One setting of a recipe, from which its row in the panel is made. */
export type Field<S> = {
  readonly [K in keyof S & string]: {
    readonly name: K;
    readonly label: string;
    /** Only shown where this holds. */
    readonly when?: (settings: S) => boolean;
  } & (
    | { readonly kind: 'choice'; readonly options: readonly S[K][] }
    | { readonly kind: 'switch' }
    | {
        readonly kind: 'number';
        readonly unit: string;
        readonly min: number;
        readonly max: number;
        readonly step: number;
        /** What is shown for 1 of the setting. */
        readonly factor?: number;
        /** May be missing in settings that are stored. */
        readonly optional?: true;
      }
    /** A matte of one of the shots, or of any medium; `orNone` where it may do without, `orTrack` where the region of a track may become one. */
    | {
        readonly kind: 'matte';
        readonly side: ShotSide | 'any' | ((settings: S) => ShotSide);
        readonly orNone?: string;
        readonly orTrack?: true;
      }
    /** Mattes of any medium, in order. */
    | { readonly kind: 'mattes'; readonly most: number }
    | { readonly kind: 'medium' }
    | { readonly kind: 'colour' }
    /** A frame of one of the shots' media; `null` is the one at the cut. */
    | { readonly kind: 'moment'; readonly side: (settings: S) => ShotSide }
    /** How the entering shot lies over the leaving one; `within` where one shows a part of the other. */
    | { readonly kind: 'pin'; readonly within?: boolean }
    /** Pairs of lines, one drawn on each shot, and a matte of each shot: set on rows of the kind's own. */
    | { readonly kind: 'line pairs' }
    | { readonly kind: 'matte of each' }
  );
}[keyof S & string];

/** What a recipe takes, as it is asked for. */
export interface Need {
  readonly what: 'outline' | 'hole' | 'subject' | 'lines';
  /** 'needs …' */
  readonly text: string;
}

/** What was measured of a join, in the order its kind asked; null where a matte covers nothing. */
export type Measured = readonly (HoleShape | null)[];

/** What was measured, by join. */
export type AllMeasured = ReadonlyMap<string, Measured>;

/** What a kind of join is made from. The film is a draft: mattes that belong to the join may be added to it. */
export interface Making<S> {
  readonly film: FilmDraft;
  readonly media: Media;
  readonly join: Draft<Join>;
  readonly placed: PlacedJoin;
  readonly settings: S;
  /** Undefined while nothing is measured yet. */
  readonly measured: Measured | undefined;
}

/** What a kind of join comes to. */
export interface Made {
  /** Front to back. */
  readonly layers: readonly Layer[];
  readonly carriers?: readonly Carrier[];
  readonly camera?: Camera;
  readonly byDepth?: boolean;
}

/** What a kind may be given to begin with, beside its settings. */
export interface Given {
  readonly matteId?: string | null;
}

/** What of a shot could serve a need: its mattes, and tracks whose region could become one. */
export interface Offer {
  readonly kind: 'matte' | 'track';
  readonly id: string;
  readonly name: string;
}

/** What is known of a join beside the film. */
export interface Known {
  readonly media: Media;
  /** Undefined while nothing is measured yet. */
  readonly measured: Measured | undefined;
  readonly report: WipeReport | null;
  /** What is there for its need, the likeliest first. */
  readonly offers: readonly Offer[];
}

/** A kind of join: everything that is asked of it. Its settings, and what they refer to, are told in the film's own room. */
export interface KindOfJoin<S> {
  readonly name: string;
  /** 'Made it …' */
  readonly made: string;
  /** In half a sentence. */
  readonly does: string;
  /** Null for one that needs nothing but two shots. */
  readonly need: Need | null;
  readonly defaults: S;
  /** Every setting, as the panel shows it and a file holds it. */
  readonly fields: readonly Field<S>[];
  /** Frames its overlap has at least and at most, and what it is given where it has less or more. */
  readonly shortest: number;
  readonly longest: number;
  readonly usual: number;
  /** Its overlap follows from what it is made of: no length is asked for. */
  readonly ownLength?: true;
  /** Whether it ends with the cut, and shows nothing of the entering shot that runs; else it lies about the cut, as far as both have pictures. */
  readonly endsWithCut?: boolean;
  /** Where it goes on from the join before, it begins where that one ends. */
  readonly beginsWhereLastEnds?: true;
  /** What comes in comes at once: a jump of the picture is meant. */
  readonly comesAtOnce?: true;
  /** It follows what it depends on in the very edit that changes that, so that nothing has to be laid later. */
  readonly followsByItself?: true;
  /** The settings it begins with, where they depend on the join. */
  readonly begin?: (film: Film, media: Media, placed: PlacedJoin) => Partial<S>;
  /** Begins a join in a way of its own: its settings, overlap and layers. `given.matteId` is the matte that serves its need. */
  readonly start?: (film: FilmDraft, media: Media, joinId: string, given: Partial<S> & Given, newId: NewId) => void;
  /** Adds what a hand then draws on. */
  readonly furnish?: (film: FilmDraft, joinId: string, newId: NewId) => void;
  /** The overlap that its settings ask for; without this, or where it is null, it is as a hand has set it. */
  readonly overlap?: (film: Film, media: Media, placed: PlacedJoin, settings: S) => Pick<Join, 'before' | 'after'> | null;
  /** Pictures of mattes whose areas have to be known; without this nothing is measured. */
  readonly measures?: (film: Film, media: Media, placed: PlacedJoin, settings: S) => readonly (FramePlan | null)[];
  /** What it is made of; a kind without this has `lay`, or layers that are a hand's own. */
  readonly make?: (making: Making<S>) => Made;
  /** Lays a join, and those that hang together with it, from what was measured of all of them. */
  readonly lay?: (film: FilmDraft, joinId: string, measured: AllMeasured) => void;
  /** Fits the join to settings that were changed, for one without `make` and `lay`. */
  readonly fit?: (film: FilmDraft, media: Media, joinId: string) => void;
  /** What a passing object hides over time, for a kind whose overlap keeps to that. */
  readonly report?: (film: Film, media: Media, placed: PlacedJoin) => WipeReport | null;
  /** The first thing it lacks. */
  readonly lacks?: (film: Film, placed: PlacedJoin, settings: S, known: Known) => NextThing | null;
  /** What it came to, in sentences with figures. */
  readonly notes?: (film: Film, media: Media, placed: PlacedJoin, settings: S, measured: Measured | undefined) => readonly Note[];
  /** Joins that are made together with this one, in order; itself alone without this. */
  readonly run?: (film: Film, joinId: string) => readonly string[];
  /** Its settings for other shots: what holds for these two alone is left out, and told. */
  readonly elsewhere?: (settings: S) => { readonly settings: S; readonly told: readonly string[] };
  /** Settings that leave no room around what is covered; null where there is none to give up. */
  readonly withoutRoom?: (settings: S) => Partial<S> | null;
  /** Settings with which it shows within the frames of a preview. */
  readonly quick?: Partial<S>;
}
