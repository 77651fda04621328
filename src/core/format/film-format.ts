import type { Draft } from 'immer';
import { effectNamed } from '../effects/registry';
import { moved, retimeComposition, retimeShotClock, startsOfShots, type FrameMap } from '../film/clocks';
import type { Effect } from '../film/composition';
import type { FilmDraft } from '../film/drafts';
import type { Film, Join, Shot } from '../film/film';
import { keepingMarks } from '../film/made-mark';
import { toNumber, type Rational } from '../geometry/rational';
import { clamp } from '../geometry/clamp';
import { scaleChannel } from '../motion/key-edits';
import type { Channel } from '../motion/curve';
import type { Motion } from '../motion/motion';
import { kindNamed } from '../recipes/kinds';

/** Changing what holds for a whole film after it was begun: its size, and its rate. */

const scaled = (channel: Channel, k: number): Draft<Channel> => scaleChannel(channel, k) as Draft<Channel>;

/** Changes the numbers of a join's recipe that are of a unit, as far as they may go. */
function changeSettings(join: Draft<Join>, unit: string, k: number): void {
  if (join.recipe === undefined) return;
  const settings = join.recipe.settings as unknown as Record<string, unknown>;
  for (const field of kindNamed(join.recipe.kind).fields) {
    const value = settings[field.name];
    if (field.kind === 'number' && field.unit === unit && typeof value === 'number') {
      const next = value * k;
      settings[field.name] = clamp(unit === 'fr' ? Math.round(next) : next, field.min, field.max);
    }
    if (field.kind === 'pin' && unit === 'px' && value != null) {
      const pin = value as { x: number; y: number };
      Object.assign(pin, { x: pin.x * k, y: pin.y * k });
    }
  }
}

const LENGTHS = ['x', 'y', 'depth', 'pivotX', 'pivotY'] as const;

function scaleMotion(motion: Draft<Motion>, k: number): void {
  for (const name of LENGTHS) motion[name] = scaled(motion[name], k);
}

function scaleEffects(effects: Draft<Effect>[], k: number): void {
  for (const { kind, params } of effects)
    for (const [name, channel] of Object.entries(params))
      if (effectNamed(kind)?.params[name]?.isLength === true) params[name] = scaled(channel, k);
}

function scaleShot(shot: Draft<Shot>, k: number): void {
  if (typeof shot.framing === 'object') Object.assign(shot.framing, { x: shot.framing.x * k, y: shot.framing.y * k });
  if (shot.move !== undefined) for (const name of ['x', 'y'] as const) shot.move[name] = scaled(shot.move[name], k);
}

function scaleJoin(join: Draft<Join>, k: number): void {
  for (const layer of join.layers) {
    scaleMotion(layer.motion, k);
    scaleEffects(layer.effects, k);
  }
  for (const carrier of join.carriers) scaleMotion(carrier.motion, k);
  if (join.camera !== undefined) for (const name of ['x', 'y', 'depth'] as const) join.camera[name] = scaled(join.camera[name], k);
  scaleEffects(join.finish, k);
  changeSettings(join, 'px', k);
}

/**
 * Changes the size of a film. What lies in a picture stays where it lies in it, as far as the new shape shows it: places and lengths grow
 * as pictures do that fill the frame.
 */
export function setFilmSize(film: FilmDraft, width: number, height: number): void {
  const k = Math.max(width / film.width, height / film.height);
  for (const shot of [...film.shots, ...(film.aside ?? [])]) scaleShot(shot, k);
  keepingMarks(film, () => {
    for (const join of film.joins) scaleJoin(join, k);
  });
  scaleEffects(film.finish ?? [], k);
  Object.assign(film, { width, height });
}

function retimeShot(shot: Draft<Shot>, length: number, at: FrameMap): void {
  shot.length = length;
  retimeShotClock(shot, at);
  if (shot.sound === undefined) return;
  shot.sound.fadeIn = at(shot.sound.fadeIn);
  shot.sound.fadeOut = at(shot.sound.fadeOut);
}

function retimeJoin(join: Draft<Join>, ratio: number): void {
  const at: FrameMap = (frame) => frame * ratio;
  join.before = Math.round(at(join.before));
  join.after = Math.round(at(join.after));
  retimeComposition(join, at);
  for (const layer of join.layers) if (layer.copies !== undefined) layer.copies.delay = Math.max(1, Math.round(at(layer.copies.delay)));
  if (join.sound !== undefined) join.sound.at = at(join.sound.at);
  for (const hit of join.hits ?? []) hit.at = at(hit.at);
  changeSettings(join, 'fr', ratio);
}

/**
 * Changes the rate of a film. Each cut stays at its time, on the frame nearest to that, and so do joins, keys, markers and sounds; every
 * shot goes on beginning on the same picture.
 */
export function setFilmRate(film: FilmDraft, rate: Rational): void {
  const ratio = toNumber(rate) / toNumber(film.rate);
  const at: FrameMap = (frame) => frame * ratio;
  const starts = startsOfShots(film);
  for (const shot of film.shots) {
    const start = starts.get(shot.id)!;
    retimeShot(shot, Math.max(1, Math.round(at(start + shot.length)) - Math.round(at(start))), at);
  }
  for (const shot of film.aside ?? []) retimeShot(shot, Math.max(1, Math.round(at(shot.length))), at);
  keepingMarks(film, () => {
    for (const join of film.joins) retimeJoin(join, ratio);
  });
  // an overlap that reached all through a shot still does, and no further
  for (const join of film.joins) {
    join.before = Math.min(join.before, film.shots.find((s) => s.id === join.leavingShotId)?.length ?? join.before);
    join.after = Math.min(join.after, film.shots.find((s) => s.id === join.enteringShotId)?.length ?? join.after);
  }
  retimeComposition({ layers: [], carriers: [], finish: film.finish ?? [] }, at);
  for (const lane of film.soundLanes ?? [])
    for (const clip of lane.clips) {
      Object.assign(clip, { start: at(clip.start), length: at(clip.length), fadeIn: at(clip.fadeIn), fadeOut: at(clip.fadeOut) });
      clip.level = moved(clip.level, at);
    }
  for (const marker of film.markers ?? []) marker.frame = at(marker.frame);
  film.rate = rate;
}

/** The most that a cut would be off its time at another rate, seconds. */
export function mostOff(film: Film, rate: Rational): number {
  const ratio = toNumber(rate) / toNumber(film.rate);
  const off = [...startsOfShots(film).values()].map((start) => Math.abs(Math.round(start * ratio) - start * ratio) / toNumber(rate));
  return Math.max(0, ...off);
}
