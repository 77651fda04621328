import type { Draft } from 'immer';
import { toNumber } from '../../geometry/rational';
import { shiftChannel } from '../../motion/key-edits';
import type { Channel } from '../../motion/curve';
import type { FilmDraft, NewId } from '../drafts';
import { byId, type Film } from '../film';
import type { SoundFacts } from '../media-facts';
import {
  SOUND_RATE,
  PLAIN_CHANGE,
  PLAIN_SOUND,
  type ShotSound,
  type SoundChange,
  type SoundClip,
  type SoundHit,
  type SoundLane,
} from '../sound';

/** Changes to what is heard. Frames are film frames. */

/** Film frames that a sound lasts. */
const framesOfSound = (film: Pick<Film, 'rate'>, { samples }: SoundFacts): number => (samples / SOUND_RATE) * toNumber(film.rate);

/** A clip is at least so long, film frames. */
const SHORTEST = 0.1;

export function addSoundLane(film: FilmDraft, name: string, newId: NewId): string {
  const id = newId();
  film.soundLanes = [...(film.soundLanes ?? []), { id, name, muted: false, clips: [] }];
  return id;
}

const draftLane = (film: FilmDraft, laneId: string): Draft<SoundLane> => byId(film.soundLanes ?? [], laneId, 'lane');

export function setSoundLane(film: FilmDraft, laneId: string, part: Partial<Pick<SoundLane, 'name' | 'muted'>>): void {
  Object.assign(draftLane(film, laneId), part);
}

/** Takes a lane away, with its clips. */
export function removeSoundLane(film: FilmDraft, laneId: string): void {
  film.soundLanes = film.soundLanes?.filter((l) => l.id !== laneId);
}

/** @throws RangeError when no lane has it */
export function laneOfClip<T extends Pick<SoundLane, 'clips'>>(lanes: readonly T[], clipId: string): T {
  const lane = lanes.find((l) => l.clips.some((c) => c.id === clipId));
  if (lane === undefined) throw new RangeError(`no clip ${clipId} in the film`);
  return lane;
}

const draftClip = (film: FilmDraft, clipId: string): Draft<SoundClip> =>
  byId(laneOfClip(film.soundLanes ?? [], clipId).clips, clipId, 'clip');

/** Lays the whole of a sound in a lane, or in a new one. @returns the clip's id */
export function addClip(film: FilmDraft, laneId: string | null, sound: SoundFacts, start: number, newId: NewId): string {
  const lane = draftLane(film, laneId ?? addSoundLane(film, sound.name, newId));
  const id = newId();
  const clip = { id, mediumId: sound.id, name: sound.name, start: Math.max(0, start), length: framesOfSound(film, sound), from: 0 };
  lane.clips.push({ ...PLAIN_SOUND, ...clip, level: 0 });
  return id;
}

/** Moves a clip in time, and to another lane where one is named. */
export function moveClip(film: FilmDraft, clipId: string, start: number, laneId?: string): void {
  const from = laneOfClip(film.soundLanes ?? [], clipId);
  const clip = byId(from.clips, clipId, 'clip');
  clip.start = Math.max(0, start);
  if (laneId === undefined || laneId === from.id) return;
  from.clips = from.clips.filter((c) => c.id !== clipId);
  draftLane(film, laneId).clips.push(clip);
}

/** Moves one end of a clip later by `by` frames, within its sound; what is heard stays where it is. */
export function trimClip(film: FilmDraft, sound: SoundFacts, clipId: string, end: 'start' | 'end', by: number): void {
  const clip = draftClip(film, clipId);
  const perSecond = toNumber(film.rate);
  if (end === 'end') {
    const room = framesOfSound(film, sound) - clip.from * perSecond;
    clip.length = Math.max(SHORTEST, Math.min(room, clip.length + by));
  } else {
    const least = Math.max(-clip.from * perSecond, -clip.start);
    const moved = Math.max(least, Math.min(clip.length - SHORTEST, by));
    clip.start += moved;
    clip.length -= moved;
    clip.from = Math.max(0, clip.from + moved / perSecond);
    clip.level = shiftChannel(clip.level, -Math.round(moved)) as Draft<Channel>;
  }
  clip.fadeIn = Math.min(clip.fadeIn, clip.length);
  clip.fadeOut = Math.min(clip.fadeOut, clip.length);
}

/** Parts a clip at a film frame within it; nothing changes to the ear. @returns the id of the later part, or null outside */
export function splitClip(film: FilmDraft, clipId: string, frame: number, newId: NewId): string | null {
  const lane = laneOfClip(film.soundLanes ?? [], clipId);
  const clip = byId(lane.clips, clipId, 'clip');
  const first = frame - clip.start;
  if (first < SHORTEST || clip.length - first < SHORTEST) return null;
  const id = newId();
  lane.clips.push({
    ...clip,
    id,
    start: frame,
    length: clip.length - first,
    from: clip.from + first / toNumber(film.rate),
    level: shiftChannel(clip.level, -Math.round(first)) as Draft<Channel>,
    fadeIn: 0,
    fadeOut: Math.min(clip.fadeOut, clip.length - first),
  });
  clip.length = first;
  clip.fadeIn = Math.min(clip.fadeIn, first);
  clip.fadeOut = 0;
  return id;
}

/** Lays the same once more right behind. @returns its id */
export function duplicateClip(film: FilmDraft, clipId: string, newId: NewId): string {
  const lane = laneOfClip(film.soundLanes ?? [], clipId);
  const clip = byId(lane.clips, clipId, 'clip');
  const id = newId();
  lane.clips.push({ ...clip, id, start: clip.start + clip.length });
  return id;
}

export function removeClip(film: FilmDraft, clipId: string): void {
  const lane = laneOfClip(film.soundLanes ?? [], clipId);
  lane.clips = lane.clips.filter((c) => c.id !== clipId);
}

/** What can be set of a clip's and of a shot's sound. */
type SoundPart = Partial<ShotSound>;

export function setClipSound(film: FilmDraft, clipId: string, part: SoundPart): void {
  const clip = draftClip(film, clipId);
  Object.assign(clip, part);
  clip.fadeIn = Math.max(0, Math.min(clip.fadeIn, clip.length));
  clip.fadeOut = Math.max(0, Math.min(clip.fadeOut, clip.length));
}

export function setShotSound(film: FilmDraft, shotId: string, part: SoundPart): void {
  const shot = byId(film.shots, shotId, 'shot');
  const sound = { ...PLAIN_SOUND, ...shot.sound, ...part };
  const { length } = shot;
  shot.sound = {
    ...sound,
    level: sound.level as Draft<Channel>,
    fadeIn: Math.max(0, Math.min(sound.fadeIn, length)),
    fadeOut: Math.max(0, Math.min(sound.fadeOut, length)),
  };
}

/** Sets where and how sound goes over in a join. */
export function setSoundChange(film: FilmDraft, joinId: string, part: Partial<SoundChange>): void {
  const join = byId(film.joins, joinId, 'join');
  join.sound = { ...PLAIN_CHANGE, ...join.sound, ...part };
}

export function addHit(draft: FilmDraft, joinId: string, sound: SoundFacts, at: number, newId: NewId): void {
  const join = byId(draft.joins, joinId, 'join');
  join.hits = [...(join.hits ?? []), { id: newId(), mediumId: sound.id, name: sound.name, at, level: 0 }];
}

export function setHit(draft: FilmDraft, joinId: string, hitId: string, part: Partial<Pick<SoundHit, 'at' | 'level'>>): void {
  Object.assign(byId(byId(draft.joins, joinId, 'join').hits ?? [], hitId, 'sound hit'), part);
}

export function removeHit(draft: FilmDraft, joinId: string, hitId: string): void {
  const join = byId(draft.joins, joinId, 'join');
  join.hits = join.hits?.filter((h) => h.id !== hitId);
}
