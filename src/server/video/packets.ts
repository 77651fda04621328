import { toNumber, type Rational } from '../../core/geometry/rational';
import { AppError } from '../base/errors';
import { INPUT_GUARD } from './ffmpeg';
import { runLimit, run } from '../base/processes';

/** What is stored of one stream of a file, read without decoding it. Seconds on the file's own clock. */
export interface Packets {
  readonly count: number;
  readonly first: number;
  /** Where the last one ends. */
  readonly end: number;
  /** The first place where times go on by more than `LONGEST_GAP`, or back by as much. */
  readonly jump: { readonly at: number; readonly to: number; readonly after: number } | null;
}

/** Seconds from one picture, or piece of sound, to the next that are taken as they are. */
const LONGEST_GAP = 600;

/** Frames on the even grid that one picture may have to stand for, on average, and frames below which that is of no matter. */
const MOST_REPEATS = 100;
const FEW_FRAMES = 10_000;

/** Goes once through the packets of the first picture or sound of a file. */
export async function scanPackets(path: string, stream: 'v' | 'a', bytes: number, signal?: AbortSignal): Promise<Packets> {
  let count = 0;
  let first = Infinity;
  let end = -Infinity;
  let last: number | null = null;
  let jump: Packets['jump'] = null;
  await run(
    'ffprobe',
    [
      ...['-v', 'error', ...INPUT_GUARD, '-select_streams', stream === 'v' ? 'V:0' : 'a:0'],
      ...['-show_entries', 'packet=pts_time,dts_time,duration_time', '-of', 'compact=p=0', path],
    ],
    {
      ...(signal === undefined ? {} : { signal }),
      seconds: runLimit(bytes),
      onLine(line) {
        count++;
        const [pts, dts, duration] = ['pts_time', 'dts_time', 'duration_time'].map((name) =>
          Number(new RegExp(`(?:^|\\|)${name}=([-\\d.]+)`).exec(line)?.[1] ?? NaN),
        ) as [number, number, number];
        const at = Number.isNaN(pts) ? dts : pts;
        if (Number.isNaN(at)) return;
        if (last !== null && Math.abs(at - last) > LONGEST_GAP) jump ??= { at: last, to: at, after: count - 1 };
        last = at;
        first = Math.min(first, at);
        end = Math.max(end, at + (Number.isNaN(duration) ? 0 : duration));
      },
    },
  );
  return { count, first: Number.isFinite(first) ? first : 0, end: Number.isFinite(end) ? end : 0, jump };
}

const clock = (seconds: number): string => {
  const whole = Math.max(0, Math.round(seconds));
  const two = (n: number): string => String(n).padStart(2, '0');
  return `${Math.floor(whole / 3600)}:${two(Math.floor(whole / 60) % 60)}:${two(whole % 60)}`;
};

/**
 * Refuses what cannot be laid on an even grid in good time: times that jump by hours, and few pictures far apart, which would be made into
 * endless repeats of them.
 * @throws AppError 'unusable-file'
 */
export function requireSteady({ count, first, end, jump }: Packets, what: 'picture' | 'piece of sound', rate: Rational | null): void {
  if (jump !== null)
    throw new AppError(
      'unusable-file',
      `The times in this file jump from ${clock(jump.at)} to ${clock(jump.to)} after ${what} ${jump.after}. Cut out the part that is wanted, and bring that in.`,
    );
  const seconds = end - first;
  const frames = rate === null ? 0 : seconds * toNumber(rate);
  if (frames <= FEW_FRAMES || frames <= MOST_REPEATS * count) return;
  const hours = seconds / 3600;
  throw new AppError(
    'unusable-file',
    `This file holds ${count} ${count === 1 ? 'picture' : 'pictures'} over ${hours.toFixed(hours < 10 ? 1 : 0)} hours: most of it would be repeats of them. Cut out the part that is wanted, and bring that in.`,
  );
}
