import type { FilmDraft } from '../../../core/film/drafts';
import { laneOfClip, moveClip, setClipSound, trimClip } from '../../../core/film/edits/sound';
import type { Film } from '../../../core/film/film';
import type { SoundFacts } from '../../../core/film/media-facts';
import { nearestTarget } from '../../../core/film/snap';
import { LOUDEST_DB, SILENCE_DB, type SoundClip } from '../../../core/film/sound';
import type { Channel, ValueKey } from '../../../core/motion/curve';
import { LANE_ROW, GAP } from './sizes';

/** What of a clip is held: all of it, an end, a fade's corner, its level, or one key of that. */
export type Grip = 'move' | 'start' | 'end' | 'fade in' | 'fade out' | 'level' | { readonly key: number };

export interface ClipDrag {
  readonly film: Film;
  readonly clip: SoundClip;
  readonly sound: SoundFacts;
  readonly grip: Grip;
  /** Film frames that edges are drawn to, and from how far. */
  readonly targets: readonly number[];
  readonly reach: number;
}

export interface NamedChange {
  readonly name: string;
  readonly change: (film: FilmDraft) => void;
}

/** dB of a level that a pixel of a lane stands for. */
const DB_PER_PX = (LOUDEST_DB - SILENCE_DB) / LANE_ROW;
const clampDb = (db: number): number => Math.max(SILENCE_DB, Math.min(LOUDEST_DB, db));

/** What a drag by film frames and pixels downwards makes of a clip. */
export function clipDragged(drag: ClipDrag, frames: number, dy: number): NamedChange {
  const { film, clip, sound, grip, targets, reach } = drag;
  const drawn = (frame: number): number => nearestTarget(frame, targets, reach) ?? frame;
  if (grip === 'move') {
    const [start, end] = [clip.start + frames, clip.start + clip.length + frames];
    const [toStart, toEnd] = [nearestTarget(start, targets, reach), nearestTarget(end, targets, reach)];
    const isEnd = toEnd !== null && (toStart === null || Math.abs(toEnd - end) < Math.abs(toStart - start));
    const at = isEnd ? toEnd - clip.length : (toStart ?? start);
    const lanes = film.soundLanes ?? [];
    const from = lanes.indexOf(laneOfClip(lanes, clip.id));
    const lane = lanes[Math.max(0, Math.min(lanes.length - 1, from + Math.round(dy / (LANE_ROW + GAP))))]!;
    return { name: `Moved ${clip.name}`, change: (d) => moveClip(d, clip.id, at, lane.id) };
  }
  if (grip === 'start')
    return {
      name: `Trimmed the start of ${clip.name}`,
      change: (d) => trimClip(d, sound, clip.id, 'start', drawn(clip.start + frames) - clip.start),
    };
  if (grip === 'end') {
    const end = clip.start + clip.length;
    return { name: `Trimmed the end of ${clip.name}`, change: (d) => trimClip(d, sound, clip.id, 'end', drawn(end + frames) - end) };
  }
  if (grip === 'fade in')
    return { name: `Fade in of ${clip.name}`, change: (d) => setClipSound(d, clip.id, { fadeIn: clip.fadeIn + frames }) };
  if (grip === 'fade out')
    return { name: `Fade out of ${clip.name}`, change: (d) => setClipSound(d, clip.id, { fadeOut: clip.fadeOut - frames }) };
  const by = -dy * DB_PER_PX;
  if (grip === 'level')
    return { name: `Level of ${clip.name}`, change: (d) => setClipSound(d, clip.id, { level: raised(clip.level, by) }) };
  return {
    name: `Level of ${clip.name}`,
    change: (d) => setClipSound(d, clip.id, { level: withKeyMoved(clip.level, grip.key, frames, by) }),
  };
}

function raised(level: Channel, by: number): Channel {
  return typeof level === 'number' ? clampDb(level + by) : level.map((k) => ({ ...k, value: clampDb(k.value + by) }));
}

/** One key moved in time, between its neighbours, and in value. */
function withKeyMoved(level: Channel, index: number, frames: number, by: number): Channel {
  if (typeof level === 'number') return raised(level, by);
  const key = level[index];
  if (key === undefined) return level;
  const least = (level[index - 1]?.frame ?? -1e6) + 1;
  const most = (level[index + 1]?.frame ?? 1e6) - 1;
  const moved: ValueKey = {
    ...key,
    frame: Math.max(least, Math.min(most, Math.round(key.frame + frames))),
    value: clampDb(key.value + by),
  };
  return level.map((k, i) => (i === index ? moved : k));
}

/** Pixels from a lane's top at which a level lies, and back. */
export const levelY = (db: number): number => (LOUDEST_DB - clampDb(db)) / DB_PER_PX;
export const levelOfY = (y: number): number => clampDb(LOUDEST_DB - y * DB_PER_PX);
