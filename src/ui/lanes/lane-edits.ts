import { changeLane } from '../../core/lanes/lanes';
import { channelAt, type Channel } from '../../core/motion/curve';
import { isSameShape, type EaseShape } from '../../core/motion/eases';
import {
  changeKey,
  easeKeys,
  keysOf,
  moveKeys,
  pasteKeys,
  raiseKeys,
  withKeyAt,
  withoutKeys,
  withSpeed,
} from '../../core/motion/key-edits';
import type { KeyChoice } from '../store/bench-state';
import type { PreviewChange } from '../store/preview';
import type { Lane } from './use-lanes';

/** Changes to keys in several lanes at once, as changes of a film. */

const each =
  (
    joinId: string,
    lanes: readonly Lane[],
    keys: KeyChoice,
    change: (channel: Channel, frames: ReadonlySet<number>, lane: Lane) => Channel,
  ): PreviewChange =>
  (d) => {
    for (const lane of lanes) {
      const frames = keys.get(lane.key);
      if (frames === undefined || frames.size === 0) continue;
      changeLane(d, joinId, lane.target, (channel) => change(channel, frames, lane));
    }
  };

/** Moves chosen keys by whole frames; with `copy` they stay and are laid there as well. */
export const movedBy = (joinId: string, lanes: readonly Lane[], keys: KeyChoice, by: number, copy: boolean): PreviewChange =>
  each(joinId, lanes, keys, (channel, frames) => {
    const moved = moveKeys(channel, frames, (f) => f + by);
    if (!copy || typeof moved === 'number' || by === 0) return moved;
    const stay = keysOf(channel).filter((k) => frames.has(k.frame) && !moved.some((m) => m.frame === k.frame));
    return [...moved, ...stay].sort((a, b) => a.frame - b.frame);
  });

/** Stretches chosen keys in time about `fixed`, all frames of the film's clock. */
export const stretchedBy = (joinId: string, lanes: readonly Lane[], keys: KeyChoice, fixed: number, factor: number): PreviewChange =>
  each(joinId, lanes, keys, (channel, frames, { facts }) =>
    moveKeys(channel, frames, (f) => fixed - facts.origin + (f - (fixed - facts.origin)) * factor),
  );

/** Raises one key of a lane by `by`; the others that are chosen in that lane go along. */
export const raisedBy = (joinId: string, lane: Lane, keys: KeyChoice, by: number): PreviewChange =>
  each(joinId, [lane], keys, (channel, frames) => raiseKeys(channel, frames, by, lane.facts.min, lane.facts.max));

export const deleted = (joinId: string, lanes: readonly Lane[], keys: KeyChoice): PreviewChange =>
  each(joinId, lanes, keys, (channel, frames) => withoutKeys(channel, frames));

export const eased = (joinId: string, lanes: readonly Lane[], keys: KeyChoice, shape: EaseShape): PreviewChange =>
  each(joinId, lanes, keys, (channel, frames) => easeKeys(channel, frames, shape));

export const withHandle =
  (joinId: string, lane: Lane, frame: number, side: 'into' | 'out', handle: readonly [number, number]): PreviewChange =>
  (d) =>
    changeLane(d, joinId, lane.target, (channel) => changeKey(channel, frame, { [side]: handle }));

/** Makes the speed at a time of the lane's own clock `factor` times what it is. */
export const withFactor =
  (joinId: string, lane: Lane, time: number, factor: number): PreviewChange =>
  (d) =>
    changeLane(d, joinId, lane.target, (channel) => {
      const keys = keysOf(channel);
      const i = keys.findLastIndex((k) => k.frame <= time);
      const [from, to] = [keys[i], keys[i + 1]];
      return from === undefined || to === undefined ? channel : withSpeed(keys, i, (time - from.frame) / (to.frame - from.frame), factor);
    });

export const withKey =
  (joinId: string, lane: Lane, time: number): PreviewChange =>
  (d) =>
    changeLane(d, joinId, lane.target, (channel) => withKeyAt(channel, time, channelAt(channel, time, 0, lane.facts.spacing)));

export const pasted =
  (joinId: string, lane: Lane, keys: Parameters<typeof pasteKeys>[1], time: number): PreviewChange =>
  (d) =>
    changeLane(d, joinId, lane.target, (channel) => pasteKeys(channel, keys, time));

/** The shape by which all ways go that leave chosen keys; null where they differ or none leads on. */
export function shapeOf(lanes: readonly Lane[], keys: KeyChoice): EaseShape | null {
  let found: EaseShape | null = null;
  for (const lane of lanes) {
    const list = keysOf(lane.channel);
    for (const [i, key] of list.entries()) {
      const next = list[i + 1];
      if (keys.get(lane.key)?.has(key.frame) !== true || next === undefined) continue;
      const shape = { out: key.out, into: next.into };
      if (found !== null && !isSameShape(found, shape)) return null;
      found = shape;
    }
  }
  return found;
}
