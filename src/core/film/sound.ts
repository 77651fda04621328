import type { Channel } from '../motion/curve';
import type { Tint } from './tint';

/** Samples a second of all sound that is worked with. */
export const SOUND_RATE = 48_000;

/**
 * What a film holds of sound. Times on the reel are film frames, held as doubles; places in a medium are seconds. Levels are dB,
 * channels on the clock of what they belong to; at `SILENCE_DB` nothing is heard.
 */
export const SILENCE_DB = -60;
export const LOUDEST_DB = 12;

/** The sound that comes with a shot; without it it is heard as it is. The clock counts from the shot's first frame. */
export interface ShotSound {
  readonly level: Channel;
  readonly muted: boolean;
  /** Film frames over which it comes in and goes. */
  readonly fadeIn: number;
  readonly fadeOut: number;
}

export const PLAIN_SOUND: ShotSound = { level: 0, muted: false, fadeIn: 0, fadeOut: 0 };

/** A span of a medium's sound in a lane. The clock of its level counts from its start. */
export interface SoundClip extends ShotSound {
  readonly id: string;
  readonly mediumId: string;
  readonly name: string;
  /** Film frame on which it starts. */
  readonly start: number;
  readonly length: number;
  /** Seconds of its medium at which it starts. */
  readonly from: number;
}

/** A row of clips under the shots; where two lie over each other both are heard. */
export interface SoundLane {
  readonly id: string;
  readonly name: string;
  readonly muted: boolean;
  readonly clips: readonly SoundClip[];
}

export const SOUND_CHANGES = ['hard', 'cross fade', 'leaving only', 'entering only'] as const;

/** How sound goes from the leaving to the entering shot of a join. With 'only', nothing of the other is heard within the overlap. */
export interface SoundChange {
  /** Film frames from the cut to where it changes over; negative before it. */
  readonly at: number;
  readonly kind: (typeof SOUND_CHANGES)[number];
  /** Length of the cross-fade, half of it before and half after. */
  readonly milliseconds: number;
}

export const PLAIN_CHANGE: SoundChange = { at: 0, kind: 'hard', milliseconds: 80 };

/** A sound that a join brings along. */
export interface SoundHit {
  readonly id: string;
  readonly mediumId: string;
  readonly name: string;
  /** Film frames from the cut. */
  readonly at: number;
  readonly level: number;
}

/** What a hand says of a place. */
export interface MarkerLook {
  readonly name: string;
  readonly tint?: Tint;
  readonly note?: string;
}

/** A named place on the film. */
export interface Marker extends MarkerLook {
  readonly id: string;
  /** Film frame; may lie between two. */
  readonly frame: number;
}

/** A named place in a medium, wherever it is shown or heard; with `lasts` a named span of it. */
export interface MediumMarker extends MarkerLook {
  readonly id: string;
  readonly mediumId: string;
  readonly seconds: number;
  /** Seconds, more than 0. */
  readonly lasts?: number;
}

/** The beats of a medium. */
export interface MediumBeats {
  readonly mediumId: string;
  /** Rising. */
  readonly seconds: readonly number[];
  /** The first of the beats that begins a bar; every `perBar`th after it does too. */
  readonly downbeat: number;
  readonly perBar: number;
  readonly beatsPerMinute: number;
  /** 0..1, as found; 1 when tapped. */
  readonly confidence: number;
}
