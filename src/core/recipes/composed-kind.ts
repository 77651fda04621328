import type { Draft } from 'immer';
import type { Carrier, Layer } from '../film/composition';
import type { FilmDraft } from '../film/drafts';
import type { Film, Join, Media } from '../film/film';
import type { PlacedJoin } from '../film/timing';
import type { Camera } from '../motion/motion';
import type { FramePlan } from '../plan/frame-plan';
import type { HoleShape } from './hole-shape';
import type { Field } from './recipe';
import type { NextThing, Note } from './next-thing';

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

/** A kind of join that follows from its settings at once. */
export interface ComposedKind<S> {
  readonly defaults: S;
  /** The settings as the panel shows them. */
  readonly fields: readonly Field<S>[];
  /** Frames its overlap has at least and at most, and what it is given where it has less or more. */
  readonly shortest: number;
  readonly longest: number;
  readonly usual: number;
  /** Whether it ends with the cut, and shows nothing of the entering shot that runs; else it lies about the cut, as far as both have pictures. */
  readonly endsWithCut?: boolean;
  /** The settings it begins with, where they depend on the join. */
  readonly begin?: (film: Film, media: Media, placed: PlacedJoin) => Partial<S>;
  /** The overlap that its settings ask for; without this, or where it is null, it is as a hand has set it. */
  readonly overlap?: (film: Film, media: Media, placed: PlacedJoin, settings: S) => Pick<Join, 'before' | 'after'> | null;
  /** Pictures of mattes whose areas have to be known; without this nothing is measured. */
  readonly measures?: (film: Film, media: Media, placed: PlacedJoin, settings: S) => readonly (FramePlan | null)[];
  readonly make: (making: Making<S>) => Made;
  /** The first thing it lacks. */
  readonly lacks?: (film: Film, placed: PlacedJoin, settings: S) => NextThing | null;
  /** What it came to, in sentences with figures. */
  readonly notes?: (film: Film, media: Media, placed: PlacedJoin, settings: S, measured: Measured | undefined) => readonly Note[];
  /** Joins that are made together with this one, in order; itself alone without this. */
  readonly run?: (film: Film, joinId: string) => readonly string[];
}
