/** How a keyframe leaves towards the next one: round pips are eased, bars straight, squares hold. */
export type Ease = 'soft both' | 'straight' | 'hold';

export const EASES: readonly Ease[] = ['soft both', 'straight', 'hold'];

/** Where between two keys a thing is: the share of the way at `t` in 0..1 of the time. */
export function easeShare(ease: Ease, t: number): number {
  switch (ease) {
    case 'hold':
      return t < 1 ? 0 : 1;
    case 'straight':
      return t;
    case 'soft both':
      return t * t * (3 - 2 * t);
  }
}

export interface Keyed {
  readonly frame: number;
  readonly ease: Ease;
}

/** The keys around a frame and the eased share between them; before the first and after the last both are the same key. */
export interface Between<K> {
  readonly from: K;
  readonly to: K;
  readonly share: number;
}

/** Finds the keys around `frame`; null without keys. `keys` rise strictly by frame. */
export function keysAround<K extends Keyed>(keys: readonly K[], frame: number): Between<K> | null {
  const first = keys[0];
  if (first === undefined) return null;
  let from = first;
  for (const key of keys) {
    if (key.frame > frame) {
      if (key === first) return { from: first, to: first, share: 0 };
      return { from, to: key, share: easeShare(from.ease, (frame - from.frame) / (key.frame - from.frame)) };
    }
    from = key;
  }
  return { from, to: from, share: 0 };
}

export interface ValueKey extends Keyed {
  readonly value: number;
}

/** A number that may change over time: constant, or keyframes whose frames rise strictly. */
export type Channel = number | readonly ValueKey[];

/** The channel's value at `frame`; an empty list of keys counts as `fallback`. */
export function channelAt(channel: Channel, frame: number, fallback = 0): number {
  if (typeof channel === 'number') return channel;
  const around = keysAround(channel, frame);
  return around === null ? fallback : around.from.value + (around.to.value - around.from.value) * around.share;
}

/** The channel with `value` at `frame`: a constant becomes that, keys get one there, which leaves as the one before it does. */
export function withValueAt(channel: Channel, frame: number, value: number): Channel {
  if (typeof channel === 'number') return value;
  const { ease } = channel.findLast((k) => k.frame <= frame) ?? channel[0] ?? { ease: 'soft both' as const };
  return [...channel.filter((k) => k.frame !== frame), { frame, ease, value }].sort((a, b) => a.frame - b.frame);
}
