import { channelAt, type Channel, type Into, type Out, type Spacing, type ValueKey } from './curve';
import type { EaseShape } from './eases';

/** Changes to the keys of a channel; each gives a new one. */

const byFrame = (a: ValueKey, b: ValueKey): number => a.frame - b.frame;

export const keysOf = (channel: Channel): readonly ValueKey[] => (typeof channel === 'number' ? [] : channel);

/** The channel with `value` at `frame`: a constant becomes that, keys get one there, which leaves and is reached as those beside it are. */
export function withValueAt(channel: Channel, frame: number, value: number): Channel {
  return typeof channel === 'number' ? value : withKeyAt(channel, frame, value);
}

/** The channel with a key at `frame`, also where it was constant. */
export function withKeyAt(channel: Channel, frame: number, value: number): readonly ValueKey[] {
  const keys = keysOf(channel);
  const known = keys.find((k) => k.frame === frame);
  const beside = keys.findLast((k) => k.frame <= frame) ?? keys[0];
  const after = keys.find((k) => k.frame > frame) ?? keys.at(-1);
  const key: ValueKey = {
    frame,
    value,
    into: known?.into ?? after?.into ?? [1 / 3, 0],
    out: known?.out ?? beside?.out ?? [1 / 3, 0],
  };
  return [...keys.filter((k) => k.frame !== frame), key].sort(byFrame);
}

/** A key where there is none, with the value the channel has there; without the key where there is one. A last key leaves its value constant. */
export function toggleKeyAt(channel: Channel, frame: number, spacing: Spacing = 'steps'): Channel {
  return keysOf(channel).some((k) => k.frame === frame)
    ? withoutKeys(channel, new Set([frame]))
    : withKeyAt(channel, frame, channelAt(channel, frame, 0, spacing));
}

/** The channel without the keys on these frames; without any left it is constant at the value of the first of them. */
export function withoutKeys(channel: Channel, frames: ReadonlySet<number>): Channel {
  const keys = keysOf(channel);
  const left = keys.filter((k) => !frames.has(k.frame));
  return left.length > 0 ? left : (keys[0]?.value ?? channel);
}

/**
 * The keys on `frames` moved to where `place` says, rounded to whole frames; a key in the way gives way. Handles are shares, so shapes
 * stay. Two that would meet keep a frame between them.
 */
export function moveKeys(channel: Channel, frames: ReadonlySet<number>, place: (frame: number) => number): Channel {
  const keys = keysOf(channel);
  const moved: ValueKey[] = [];
  for (const key of keys.filter((k) => frames.has(k.frame))) {
    const frame = Math.max(Math.round(place(key.frame)), (moved.at(-1)?.frame ?? -Infinity) + 1);
    moved.push({ ...key, frame });
  }
  if (moved.length === 0) return channel;
  const taken = new Set(moved.map((k) => k.frame));
  return [...keys.filter((k) => !frames.has(k.frame) && !taken.has(k.frame)), ...moved].sort(byFrame);
}

/** The keys on `frames` with `by` added to their values, kept in a range. */
export const raiseKeys = (channel: Channel, frames: ReadonlySet<number>, by: number, least = -Infinity, most = Infinity): Channel =>
  typeof channel === 'number'
    ? channel
    : channel.map((k) => (frames.has(k.frame) ? { ...k, value: Math.max(least, Math.min(most, k.value + by)) } : k));

/** One key changed. */
export const changeKey = (channel: Channel, frame: number, change: Partial<Omit<ValueKey, 'frame'>>): Channel =>
  typeof channel === 'number' ? channel : channel.map((k) => (k.frame === frame ? { ...k, ...change } : k));

/** The ways that leave the keys on `frames` go by `ease`. */
export function easeKeys(channel: Channel, frames: ReadonlySet<number>, { out, into }: EaseShape): Channel {
  if (typeof channel === 'number') return channel;
  return channel.map((k, i) => {
    const before = channel[i - 1];
    return {
      ...k,
      out: frames.has(k.frame) && i + 1 < channel.length ? out : k.out,
      into: before !== undefined && frames.has(before.frame) ? into : k.into,
    };
  });
}

/** Keys pasted so that the first lies at `frame`; what the channel has between the first and the last pasted one goes. */
export function pasteKeys(channel: Channel, keys: readonly ValueKey[], frame: number): Channel {
  const [first, last] = [keys[0], keys.at(-1)];
  if (first === undefined || last === undefined) return channel;
  const shift = frame - first.frame;
  const pasted = keys.map((k) => ({ ...k, frame: k.frame + shift }));
  return [...keysOf(channel).filter((k) => k.frame < frame || k.frame > last.frame + shift), ...pasted].sort(byFrame);
}

/** The channel with its keys later by `by` frames. */
/** All values `factor` times as large; handles are shares, so shapes stay. */
export const scaleChannel = (channel: Channel, factor: number): Channel =>
  typeof channel === 'number' ? channel * factor : channel.map((k) => ({ ...k, value: k.value * factor }));

export const shiftChannel = (channel: Channel, by: number): Channel =>
  typeof channel === 'number' ? channel : channel.map((k) => ({ ...k, frame: k.frame + by }));

/**
 * The segment from key `i` to the next with its speed at the share `at` of its time made `factor` times what it is: handles move, end values
 * never do. Pulling near an end moves that end's handle, in the middle both.
 */
export function withSpeed(keys: readonly ValueKey[], i: number, at: number, factor: number): readonly ValueKey[] {
  const [from, to] = [keys[i], keys[i + 1]];
  if (from === undefined || to === undefined) return keys;
  const bound = (v: number): number => Math.max(0, Math.min(1, v));
  const bent = (handle: Into | Out, weight: number): readonly [number, number] => {
    const [time, value] = handle === 'straight' || handle === 'hold' ? [1 / 3, 1 / 3] : handle;
    const rate = (value / Math.max(1e-3, time)) * factor ** weight;
    // a slope is turned into a handle of the same length; from rest it starts at a twentieth of the straight line's
    const slope = rate === 0 ? (factor > 1 ? 0.05 * weight * factor : 0) : rate;
    return [time, bound(slope * time)];
  };
  const [start, end] = [bound(1.5 - 2 * at), bound(2 * at - 0.5)];
  return keys.map((k, j) => (j === i ? { ...k, out: bent(k.out, start) } : j === i + 1 ? { ...k, into: bent(k.into, end) } : k));
}
