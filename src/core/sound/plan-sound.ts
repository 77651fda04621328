import { channelAt, type Channel } from '../motion/curve';
import type { Film, Join, Media, Shot } from '../film/film';
import type { SoundFacts, Sounds } from '../film/media-facts';
import { PLAIN_CHANGE, PLAIN_SOUND, SILENCE_DB, type ShotSound } from '../film/sound';
import { filmLength, mediumPlaceAt, placedJoins, startOfShot, type PlacedJoin } from '../film/timing';
import { toNumber } from '../geometry/rational';
import { SOUND_RATE } from '../film/sound';
import { frameOfSample, gainOf, sampleOfFrame } from './samples';

/** One sound in its place on the film. All samples count from the film's first at `SOUND_RATE`. */
export interface Voice {
  readonly id: string;
  readonly mediumId: string;
  /** Samples of its medium; outside there is nothing to hear. */
  readonly mediumSamples: number;
  /** First sample heard, and the one past the last. */
  readonly from: number;
  readonly to: number;
  /** Medium sample heard at film sample `from` where it runs as recorded; null under a speed of its own. */
  readonly plainAt: number | null;
  /** Medium sample, as a fraction, at a film sample. */
  placeAt(sample: number): number;
  /** Film sample that the clock of `level` counts from. */
  readonly clock: number;
  readonly level: Channel;
  /** Equal-power ramps, each between two film samples. */
  readonly ramps: readonly Ramp[];
}

export interface Ramp {
  readonly from: number;
  readonly to: number;
  readonly rises: boolean;
}

/** Everything that is heard of a film, with nothing left to look up. */
export interface SoundPlan {
  readonly rate: Film['rate'];
  readonly samples: number;
  readonly voices: readonly Voice[];
}

/** What is heard of a film: the shots' own sound as it goes over from one to the next, what joins bring along, and the lanes. */
export function planSound(film: Film, media: Media, sounds: Sounds): SoundPlan {
  const joins = placedJoins(film);
  const voices = [
    ...film.shots.flatMap((shot) => shotVoice(film, media, sounds, shot, joins) ?? []),
    ...joins.flatMap((placed) => hitVoices(film, sounds, placed)),
    ...laneVoices(film, sounds),
  ];
  return { rate: film.rate, samples: sampleOfFrame(film.rate, filmLength(film)), voices: voices.filter((v) => v.to > v.from) };
}

/** Where the sound of a join goes over: film samples at which the entering shot is first and the leaving one last heard, and the ramp between. */
export function changeOf(film: Pick<Film, 'rate'>, placed: PlacedJoin): { readonly enters: number; readonly leaves: number } {
  const { at, kind, milliseconds } = placed.join.sound ?? PLAIN_CHANGE;
  const sample = (frame: number): number => sampleOfFrame(film.rate, frame);
  const least = sample(placed.cut - placed.leaving.length);
  const most = sample(placed.cut + placed.entering.length);
  const inside = (n: number): number => Math.max(least, Math.min(most, n));
  if (kind === 'leaving only') return { enters: sample(placed.to), leaves: sample(placed.to) };
  if (kind === 'entering only') return { enters: sample(placed.from), leaves: sample(placed.from) };
  const middle = inside(sample(placed.cut + at));
  const half = kind === 'hard' ? 0 : Math.round((milliseconds / 2000) * SOUND_RATE);
  return { enters: inside(middle - half), leaves: inside(middle + half) };
}

function shotVoice(film: Film, media: Media, sounds: Sounds, shot: Shot, joins: readonly PlacedJoin[]): Voice | null {
  const medium = media.get(shot.mediumId);
  const sound = sounds.get(shot.mediumId);
  const own = shot.sound ?? PLAIN_SOUND;
  if (medium === undefined || sound === undefined || own.muted || shot.isOff === true) return null;
  const start = startOfShot(film, shot.id);
  const before = joins.find((p) => p.entering.id === shot.id);
  const after = joins.find((p) => p.leaving.id === shot.id);
  const begins = before === undefined ? null : changeOf(film, before);
  const ends = after === undefined ? null : changeOf(film, after);
  const from = begins?.enters ?? sampleOfFrame(film.rate, start);
  const to = ends?.leaves ?? sampleOfFrame(film.rate, start + shot.length);
  const perFrame = SOUND_RATE / toNumber(medium.rate);
  const placeAt = (sample: number): number => mediumPlaceAt(film, shot, medium, frameOfSample(film.rate, sample) - start) * perFrame;
  const clock = sampleOfFrame(film.rate, start);
  const isPlain = shot.time === undefined && Math.abs(placeAt(clock + SOUND_RATE) - placeAt(clock) - SOUND_RATE) < 1e-4;
  return {
    id: shot.id,
    mediumId: shot.mediumId,
    mediumSamples: sound.samples,
    from,
    to,
    plainAt: isPlain ? Math.round(placeAt(clock)) + (from - clock) : null,
    placeAt,
    clock,
    level: own.level,
    ramps: [
      ...fades(film, own, from, to),
      ...(begins !== null && begins.leaves > begins.enters ? [{ from: begins.enters, to: begins.leaves, rises: true }] : []),
      ...(ends !== null && ends.leaves > ends.enters ? [{ from: ends.enters, to: ends.leaves, rises: false }] : []),
    ],
  };
}

function fades(film: Film, { fadeIn, fadeOut }: ShotSound, from: number, to: number): Ramp[] {
  const length = (frames: number): number => sampleOfFrame(film.rate, frames);
  return [
    ...(fadeIn > 0 ? [{ from, to: from + length(fadeIn), rises: true }] : []),
    ...(fadeOut > 0 ? [{ from: to - length(fadeOut), to, rises: false }] : []),
  ];
}

function plainVoice(
  id: string,
  { id: mediumId, samples }: SoundFacts,
  from: number,
  to: number,
  at: number,
  own: ShotSound,
  film: Film,
): Voice {
  return {
    id,
    mediumId,
    mediumSamples: samples,
    from,
    to,
    plainAt: at,
    placeAt: (sample) => at + sample - from,
    clock: from,
    level: own.level,
    ramps: fades(film, own, from, to),
  };
}

function laneVoices(film: Film, sounds: Sounds): Voice[] {
  return (film.soundLanes ?? []).flatMap((lane) =>
    lane.clips.flatMap((clip) => {
      const sound = sounds.get(clip.mediumId);
      if (sound === undefined || lane.muted || clip.muted) return [];
      const from = sampleOfFrame(film.rate, clip.start);
      const to = sampleOfFrame(film.rate, clip.start + clip.length);
      return [plainVoice(clip.id, sound, from, to, Math.round(clip.from * SOUND_RATE), clip, film)];
    }),
  );
}

function hitVoices(film: Film, sounds: Sounds, { join, cut }: { readonly join: Join; readonly cut: number }): Voice[] {
  return (join.hits ?? []).flatMap((hit) => {
    const sound = sounds.get(hit.mediumId);
    if (sound === undefined) return [];
    const from = sampleOfFrame(film.rate, cut + hit.at);
    return [plainVoice(hit.id, sound, from, from + sound.samples, 0, { ...PLAIN_SOUND, level: hit.level }, film)];
  });
}

/** Film samples between which a keyed level is drawn straight. */
const LEVEL_STEP = 64;

/** Loudness of a voice at `count` film samples from `from` on, written to `out`: level and ramps, the same wherever a block begins. */
export function gainsOf(voice: Voice, rate: Film['rate'], from: number, count: number, out: Float32Array): void {
  const { level, clock, ramps } = voice;
  if (typeof level === 'number') out.fill(gainOf(level, SILENCE_DB), 0, count);
  else {
    const at = (sample: number): number => gainOf(channelAt(level, frameOfSample(rate, sample - clock)), SILENCE_DB);
    let step = Math.floor(from / LEVEL_STEP) * LEVEL_STEP;
    let here = at(step);
    let next = at(step + LEVEL_STEP);
    for (let i = 0; i < count; i++) {
      if (from + i - step >= LEVEL_STEP) {
        step += LEVEL_STEP;
        here = next;
        next = at(step + LEVEL_STEP);
      }
      out[i] = here + ((next - here) * (from + i - step)) / LEVEL_STEP;
    }
  }
  for (const { from: begins, to: ends, rises } of ramps) {
    for (let i = rises ? 0 : Math.max(0, begins - from); i < (rises ? Math.min(count, ends - from) : count); i++) {
      const share = Math.max(0, Math.min(1, (from + i + 0.5 - begins) / (ends - begins)));
      out[i] = out[i]! * Math.sin((Math.PI / 2) * (rises ? share : 1 - share));
    }
  }
}
