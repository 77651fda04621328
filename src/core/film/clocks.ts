import type { Draft } from 'immer';
import { CAMERA_CHANNELS, MOTION_CHANNELS, type Motion, type Timing } from '../motion/motion';
import { shiftChannel } from '../motion/key-edits';
import type { Channel } from '../motion/curve';
import type { Effect, Span } from './composition';
import { MOVE_CHANNELS, type Join, type Shot } from './film';

/** Moving what is said in frames when the frame they are counted from moves. */

const shifted = (channel: Channel, by: number): Draft<Channel> => shiftChannel(channel, -by) as Draft<Channel>;

function shiftTiming(time: Draft<Timing>, by: number): void {
  time.speed = shifted(time.speed, by);
  time.anchor -= by;
}

function shiftSpan(span: Draft<Span> | undefined, by: number): void {
  if (span === undefined) return;
  span.first -= by;
  span.last -= by;
}

function shiftMotion(motion: Draft<Motion>, by: number): void {
  for (const name of MOTION_CHANNELS) motion[name] = shifted(motion[name], by);
}

function shiftEffects(effects: Draft<Effect>[], by: number): void {
  for (const effect of effects) {
    shiftSpan(effect.span, by);
    for (const [name, channel] of Object.entries(effect.params)) effect.params[name] = shifted(channel, by);
  }
}

/** The shot's first frame has moved later by `by` film frames: its speed, its movement and its sound stay with its pictures. */
export function shiftShotClock(shot: Draft<Shot>, by: number): void {
  if (shot.time !== undefined) shiftTiming(shot.time, by);
  if (shot.move !== undefined) for (const name of MOVE_CHANNELS) shot.move[name] = shifted(shot.move[name], by);
  if (shot.sound !== undefined) shot.sound.level = shifted(shot.sound.level, by);
}

/** The cut has moved later by `by` film frames: all that is counted from it stays where it is on the film's clock. */
export function shiftJoinClock(join: Draft<Join>, by: number): void {
  for (const layer of join.layers) {
    shiftMotion(layer.motion, by);
    layer.opacity = shifted(layer.opacity, by);
    shiftSpan(layer.span, by);
    if (layer.time !== undefined) shiftTiming(layer.time, by);
    if (layer.source.kind === 'medium') layer.source.frame += by;
    if (layer.source.kind === 'melt') {
      layer.source.warp = shifted(layer.source.warp, by);
      layer.source.mix = shifted(layer.source.mix, by);
    }
    shiftEffects(layer.effects, by);
  }
  for (const carrier of join.carriers) shiftMotion(carrier.motion, by);
  if (join.camera !== undefined) for (const name of CAMERA_CHANNELS) join.camera[name] = shifted(join.camera[name], by);
  shiftEffects(join.finish, by);
  if (join.sound !== undefined) join.sound.at -= by;
  for (const hit of join.hits ?? []) hit.at -= by;
}
