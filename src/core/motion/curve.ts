/** How a keyframe of an outline leaves towards the next one: round pips are eased, bars straight, squares hold. */
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

/** A Bézier handle as shares 0..1 of the time to the neighbour and, freely, of the way to its value. */
export type Handle = readonly [time: number, value: number];
/** How a curve comes into a key, and how it leaves: by a handle, on the straight line, or (leaving) not at all until the next key. */
export type Into = 'straight' | Handle;
export type Out = 'straight' | 'hold' | Handle;

/** One key of a channel. Frames are whole; `into` and `out` say how the curve arrives and leaves. */
export interface ValueKey {
  readonly frame: number;
  readonly value: number;
  readonly into: Into;
  readonly out: Out;
}

/** A number that may change over time: constant, or keys whose frames rise strictly. */
export type Channel = number | readonly ValueKey[];

/** What lies between two keys: sizes and zooms go by equal factors, so that equal steps look equal; all else by equal steps. */
export type Spacing = 'steps' | 'factors';

const THIRD: Handle = [1 / 3, 1 / 3];
const clampShare = (v: number): number => Math.max(0, Math.min(1, v));

/** The inner control points of the segment as times and shares of the way; null where it holds. */
function controls(from: ValueKey, to: ValueKey): readonly [number, number, number, number] | null {
  if (from.out === 'hold') return null;
  const [t1, v1] = from.out === 'straight' ? THIRD : from.out;
  const [t2, v2] = to.into === 'straight' ? THIRD : to.into;
  return [clampShare(t1), v1, 1 - clampShare(t2), 1 - v2];
}

const bezier = (p1: number, p2: number, u: number): number => {
  const w = 1 - u;
  return 3 * w * w * u * p1 + 3 * w * u * u * p2 + u * u * u;
};
const bezierSlope = (p1: number, p2: number, u: number): number => {
  const w = 1 - u;
  return 3 * w * w * p1 + 6 * w * u * (p2 - p1) + 3 * u * u * (1 - p2);
};

/** The curve's parameter at a share `t` of the time: Newton, kept between bounds that close in by halves. Times rise since handles stay within. */
function parameterAt(t1: number, t2: number, t: number): number {
  let low = 0;
  let high = 1;
  let u = t;
  for (let round = 0; round < 60; round++) {
    const miss = bezier(t1, t2, u) - t;
    if (Math.abs(miss) < 1e-13) return u;
    if (miss > 0) high = u;
    else low = u;
    const slope = bezierSlope(t1, t2, u);
    const next = slope > 1e-9 ? u - miss / slope : NaN;
    u = next > low && next < high ? next : (low + high) / 2;
  }
  return u;
}

/** The key at or before `frame` and the one after it; the same one twice outside the keys. */
function around(keys: readonly ValueKey[], frame: number): readonly [ValueKey, ValueKey] | null {
  let low = 0;
  let high = keys.length - 1;
  if (high < 0) return null;
  if (frame < keys[0]!.frame) return [keys[0]!, keys[0]!];
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (keys[middle]!.frame <= frame) low = middle;
    else high = middle - 1;
  }
  return [keys[low]!, keys[Math.min(low + 1, keys.length - 1)]!];
}

const isFactors = (spacing: Spacing, a: number, b: number): boolean => spacing === 'factors' && a > 0 && b > 0;

function mixed(spacing: Spacing, a: number, b: number, share: number): number {
  return isFactors(spacing, a, b) ? a * (b / a) ** share : a + (b - a) * share;
}

/** The channel's value at `frame`, which may fall between two; outside its keys the nearest holds. Without keys it is `fallback`. */
export function channelAt(channel: Channel, frame: number, fallback = 0, spacing: Spacing = 'steps'): number {
  if (typeof channel === 'number') return channel;
  const pair = around(channel, frame);
  if (pair === null) return fallback;
  const [from, to] = pair;
  if (from === to || frame === from.frame) return from.value;
  const points = controls(from, to);
  if (points === null) return from.value;
  const u = parameterAt(points[0], points[2], (frame - from.frame) / (to.frame - from.frame));
  return mixed(spacing, from.value, to.value, bezier(points[1], points[3], u));
}

/** The channel's speed at `frame`: change of value a frame or, by factors, the change of its logarithm. On a key, the speed it leaves with. */
export function speedAt(channel: Channel, frame: number, spacing: Spacing = 'steps'): number {
  if (typeof channel === 'number') return 0;
  const pair = around(channel, frame);
  if (pair === null || pair[0] === pair[1]) return 0;
  const [from, to] = pair;
  if (frame < from.frame) return 0;
  const points = controls(from, to);
  if (points === null) return 0;
  const length = to.frame - from.frame;
  const u = parameterAt(points[0], points[2], (frame - from.frame) / length);
  const way = isFactors(spacing, from.value, to.value) ? Math.log(to.value / from.value) : to.value - from.value;
  // where the handle is as short as nothing, the slope is that of what follows closely
  const near = Math.max(1e-4, Math.min(1 - 1e-4, u));
  return ((bezierSlope(points[1], points[3], near) / Math.max(1e-9, bezierSlope(points[0], points[2], near))) * way) / length;
}

/** Values and speeds along the way from one key to the next, at `count` places even in the curve's own parameter: cheap, and close enough to draw by. */
export function alongSegment(
  from: ValueKey,
  to: ValueKey,
  spacing: Spacing,
  count: number,
  visit: (value: number, speed: number) => void,
): void {
  const points = controls(from, to);
  if (points === null) return visit(from.value, 0);
  const [t1, v1, t2, v2] = points;
  const length = to.frame - from.frame;
  const way = isFactors(spacing, from.value, to.value) ? Math.log(to.value / from.value) : to.value - from.value;
  for (let i = 0; i < count; i++) {
    const u = Math.max(1e-3, Math.min(1 - 1e-3, i / (count - 1)));
    const speed = (bezierSlope(v1, v2, u) / Math.max(1e-6, bezierSlope(t1, t2, u))) * (way / length);
    visit(mixed(spacing, from.value, to.value, bezier(v1, v2, u)), speed);
  }
}

/** The area under a segment from its first key to parameter `u`, in shares of its time: a polynomial, term by term. */
function areaTo([t1, v1, t2, v2]: readonly [number, number, number, number], u: number): number {
  // value and time as polynomials c1·u + c2·u² + c3·u³
  const value = [3 * v1, 3 * (v2 - 2 * v1), 1 + 3 * (v1 - v2)];
  const time = [3 * t1, 3 * (t2 - 2 * t1), 1 + 3 * (t1 - t2)];
  let sum = 0;
  for (let i = 0; i < 3; i++)
    for (let j = 0; j < 3; j++) sum += (value[i]! * time[j]! * (j + 1) * u ** (i + 1 + (j + 1))) / (i + 1 + (j + 1));
  return sum;
}

function segmentArea(from: ValueKey, to: ValueKey, frame: number): number {
  const length = to.frame - from.frame;
  const points = controls(from, to);
  if (points === null) return from.value * (frame - from.frame);
  const share = (frame - from.frame) / length;
  const u = share >= 1 ? 1 : parameterAt(points[0], points[2], share);
  return length * (from.value * share + (to.value - from.value) * areaTo(points, u));
}

/** The area under the channel from frame `a` to frame `b`, in closed form; negative backwards. Spaced by steps. */
export function areaUnder(channel: Channel, a: number, b: number): number {
  if (typeof channel === 'number') return channel * (b - a);
  return areaFromFirst(channel, b) - areaFromFirst(channel, a);
}

function areaFromFirst(keys: readonly ValueKey[], frame: number): number {
  const first = keys[0];
  if (first === undefined) return 0;
  if (frame <= first.frame) return first.value * (frame - first.frame);
  let sum = 0;
  for (let i = 0; i + 1 < keys.length; i++) {
    const [from, to] = [keys[i]!, keys[i + 1]!];
    if (frame <= to.frame) return sum + segmentArea(from, to, frame);
    sum += segmentArea(from, to, to.frame);
  }
  const last = keys.at(-1)!;
  return sum + last.value * (frame - last.frame);
}
