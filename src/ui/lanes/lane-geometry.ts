import { alongSegment, channelAt, speedAt, type Channel, type Spacing } from '../../core/motion/curve';
import { keysOf } from '../../core/motion/key-edits';
import { shownHandle } from '../../core/motion/eases';

/** Heights of a lane's parts, in CSS pixels. */
export const CLOSED = 26;
export const VALUE = 72;
export const RIBBON = 34;
export const OPEN = VALUE + RIBBON;
const PAD = 9;
/** A ribbon at full speed is so thick to both sides. */
const THICK = 14;

/** How values lie in the height of a lane; a flat channel lies in the middle. */
export interface ValueScale {
  readonly low: number;
  readonly high: number;
  y(value: number): number;
  value(y: number): number;
}

export function valueScale(channel: Channel, spacing: Spacing): ValueScale {
  const values = typeof channel === 'number' ? [channel] : channel.map((k) => k.value);
  let low = values.reduce((a, b) => Math.min(a, b), Infinity);
  let high = values.reduce((a, b) => Math.max(a, b), -Infinity);
  if (typeof channel !== 'number')
    for (let i = 0; i + 1 < channel.length; i++)
      alongSegment(channel[i]!, channel[i + 1]!, spacing, 6, (v) => {
        if (v < low) low = v;
        if (v > high) high = v;
      });
  const range = high - low;
  const span = range < 1e-9 ? Math.max(1, Math.abs(high)) : range;
  const bottom = range < 1e-9 ? low - span / 2 : low;
  return {
    low,
    high,
    y: (value) => VALUE - PAD - ((value - bottom) / span) * (VALUE - 2 * PAD),
    value: (y) => bottom + ((VALUE - PAD - y) / (VALUE - 2 * PAD)) * span,
  };
}

/** Pixels between two points of a drawn curve. */
const STEP_PX = 4;

/** The value as a line over the frames in sight. */
export function valuePath(
  channel: Channel,
  spacing: Spacing,
  scale: ValueScale,
  toX: (time: number) => number,
  from: number,
  to: number,
  cell: number,
): string {
  const step = STEP_PX / cell;
  const inSight = keysOf(channel).filter((k) => k.frame > from && k.frame < to);
  const after = new Set(keysOf(channel).flatMap((k, i, all) => (all[i - 1]?.out === 'hold' ? [k.frame] : [])));
  const times = inSight.map((k) => k.frame);
  for (let t = from; t <= to; t += step) times.push(t);
  times.sort((a, b) => a - b);
  let path = '';
  let before = NaN;
  for (const t of times) {
    const y = scale.y(channelAt(channel, t, 0, spacing));
    // a hold goes up or down at once
    if (Number.isFinite(before) && after.has(t)) path += `L${toX(t)} ${before}`;
    path += `${path === '' ? 'M' : 'L'}${toX(t)} ${y}`;
    before = y;
  }
  return path;
}

/** The speed as a ribbon about a line, as thick as the rate of change is high. */
export function ribbonPath(
  channel: Channel,
  spacing: Spacing,
  toX: (time: number) => number,
  from: number,
  to: number,
  cell: number,
): string {
  if (typeof channel === 'number' || channel.length < 2) return '';
  const fastest = fastestOf(channel, spacing);
  if (fastest === 0) return '';
  const middle = VALUE + RIBBON / 2;
  const upper: string[] = [];
  const lower: string[] = [];
  for (let t = from; t <= to; t += STEP_PX / cell) {
    const thick = (THICK * Math.abs(speedAt(channel, t, spacing))) / fastest;
    upper.push(`${toX(t)} ${middle - thick}`);
    lower.unshift(`${toX(t)} ${middle + thick}`);
  }
  return `M${upper.join('L')}L${lower.join('L')}Z`;
}

function fastestOf(channel: Exclude<Channel, number>, spacing: Spacing): number {
  let most = 0;
  for (let i = 0; i + 1 < channel.length; i++)
    alongSegment(channel[i]!, channel[i + 1]!, spacing, 9, (_, speed) => {
      if (Math.abs(speed) > most) most = Math.abs(speed);
    });
  return most;
}

/** Where the handles of a key show: times and heights. */
export function handlesOf(
  channel: Channel,
  index: number,
  scale: ValueScale,
): { readonly side: 'into' | 'out'; readonly time: number; readonly y: number }[] {
  const keys = keysOf(channel);
  const key = keys[index];
  if (key === undefined) return [];
  const shown: { side: 'into' | 'out'; time: number; y: number }[] = [];
  const [before, after] = [keys[index - 1], keys[index + 1]];
  const into = shownHandle(key.into);
  const out = shownHandle(key.out);
  if (before !== undefined && before.out !== 'hold' && into !== null) {
    const time = key.frame - into[0] * (key.frame - before.frame);
    shown.push({ side: 'into', time, y: scale.y(key.value) - into[1] * (scale.y(key.value) - scale.y(before.value)) });
  }
  if (after !== undefined && out !== null) {
    const time = key.frame + out[0] * (after.frame - key.frame);
    shown.push({ side: 'out', time, y: scale.y(key.value) + out[1] * (scale.y(after.value) - scale.y(key.value)) });
  }
  return shown;
}

/** The handle that lies at a time and height, as shares. */
export function handleAt(
  channel: Channel,
  index: number,
  side: 'into' | 'out',
  time: number,
  y: number,
  scale: ValueScale,
): readonly [number, number] | null {
  const keys = keysOf(channel);
  const key = keys[index];
  const other = side === 'into' ? keys[index - 1] : keys[index + 1];
  if (key === undefined || other === undefined) return null;
  const share = Math.max(0, Math.min(1, Math.abs(time - key.frame) / Math.abs(other.frame - key.frame)));
  const rise = scale.y(other.value) - scale.y(key.value);
  const toward = side === 'into' ? time < key.frame : time > key.frame;
  return [toward ? share : 0, Math.abs(rise) < 1 ? 0 : Math.max(-20, Math.min(20, (y - scale.y(key.value)) / rise))];
}
