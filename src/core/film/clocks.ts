import type { Draft } from 'immer';
import { CAMERA_CHANNELS, MOTION_CHANNELS, type Motion, type Timing } from '../motion/motion';
import { moveKeys } from '../motion/key-edits';
import type { Channel } from '../motion/curve';
import type { Effect, Layer, Span } from './composition';
import type { FilmDraft } from './drafts';
import { MOVE_CHANNELS, type Film, type Join, type Shot } from './film';

/** Moving what is said in frames when the frame they are counted from moves, or when the time between them is another. */

/** Says to which frame a frame goes; it never goes back where that went on. */
export type FrameMap = (frame: number) => number;

/** A channel with its keys where their frames go. */
export const moved = (channel: Channel, at: FrameMap): Draft<Channel> =>
  (typeof channel === 'number' ? channel : moveKeys(channel, new Set(channel.map((k) => k.frame)), at)) as Draft<Channel>;

function retimeTiming(time: Draft<Timing>, at: FrameMap): void {
  time.speed = moved(time.speed, at);
  time.anchor = Math.round(at(time.anchor));
}

function retimeSpan(span: Draft<Span> | undefined, at: FrameMap): void {
  if (span === undefined) return;
  const length = span.last - span.first;
  span.first = Math.round(at(span.first));
  // a span of a frame stays one
  span.last = length === 0 ? span.first : Math.max(span.first, Math.round(at(span.last)));
}

function retimeMotion(motion: Draft<Motion>, at: FrameMap): void {
  for (const name of MOTION_CHANNELS) motion[name] = moved(motion[name], at);
}

function retimeEffects(effects: Draft<Effect>[], at: FrameMap): void {
  for (const effect of effects) {
    retimeSpan(effect.span, at);
    for (const [name, channel] of Object.entries(effect.params)) effect.params[name] = moved(channel, at);
  }
}

function retimeLayer(layer: Draft<Layer>, at: FrameMap): void {
  retimeMotion(layer.motion, at);
  layer.opacity = moved(layer.opacity, at);
  retimeSpan(layer.span, at);
  if (layer.time !== undefined) retimeTiming(layer.time, at);
  if (layer.source.kind === 'melt') {
    layer.source.warp = moved(layer.source.warp, at);
    layer.source.mix = moved(layer.source.mix, at);
  }
  retimeEffects(layer.effects, at);
}

/** Moves all keys, spans and anchors of what a join is made of. */
export function retimeComposition(
  { layers, carriers, camera, finish }: Pick<Draft<Join>, 'layers' | 'carriers' | 'camera' | 'finish'>,
  at: FrameMap,
): void {
  for (const layer of layers) retimeLayer(layer, at);
  for (const carrier of carriers) retimeMotion(carrier.motion, at);
  if (camera !== undefined) for (const name of CAMERA_CHANNELS) camera[name] = moved(camera[name], at);
  retimeEffects(finish, at);
}

/**
 * Effects of the film stay with the shots they begin on: `starts` are where those began before the reel was changed. What began after the
 * first `trimmed.by` frames of a shot that lost these comes earlier by as much.
 */
export function keepWithShots(
  film: FilmDraft,
  starts: ReadonlyMap<string, number>,
  trimmed: { readonly shotId: string; readonly by: number } | null = null,
): void {
  const now = startsOfShots(film);
  for (const effect of film.finish ?? []) {
    if (effect.span === undefined) continue;
    // the shot that the effect began on: the last one to start before it
    const { first } = effect.span;
    const [shot, before] = [...starts].filter(([, start]) => start <= first).at(-1) ?? [];
    const lost = trimmed !== null && shot === trimmed.shotId && first >= before! + trimmed.by ? trimmed.by : 0;
    const by = shot === undefined || !now.has(shot) ? 0 : now.get(shot)! - before! - lost;
    if (by !== 0) retimeEffects([effect], (frame) => frame + by);
  }
}

/** Film frames on which shots begin, in their order. */
export function startsOfShots({ shots }: Pick<Film, 'shots'>): ReadonlyMap<string, number> {
  let start = 0;
  return new Map(
    shots.map((s) => {
      const here: [string, number] = [s.id, start];
      start += s.length;
      return here;
    }),
  );
}

/** Moves all keys that are counted from a shot's first frame. */
export function retimeShotClock(shot: Draft<Shot>, at: FrameMap): void {
  if (shot.time !== undefined) retimeTiming(shot.time, at);
  if (shot.move !== undefined) for (const name of MOVE_CHANNELS) shot.move[name] = moved(shot.move[name], at);
  if (shot.sound !== undefined) shot.sound.level = moved(shot.sound.level, at);
}

/** The shot's first frame has moved later by `by` film frames: its speed, its movement and its sound stay with its pictures. */
export const shiftShotClock = (shot: Draft<Shot>, by: number): void => retimeShotClock(shot, (frame) => frame - by);

/** The cut has moved later by `by` film frames: all that is counted from it stays where it is on the film's clock. */
export function shiftJoinClock(join: Draft<Join>, by: number): void {
  retimeComposition(join, (frame) => frame - by);
  for (const { source } of join.layers) if (source.kind === 'medium') source.frame += by;
  if (join.sound !== undefined) join.sound.at -= by;
  for (const hit of join.hits ?? []) hit.at -= by;
}
