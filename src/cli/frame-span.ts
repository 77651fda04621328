import { countVideoFrames, type Probe } from '../server/video/ffmpeg';
import { UsageError, wholeNumber } from './usage';

/** The frame something is given on, and the first and last that it is taken to. */
export interface FrameSpan {
  readonly frame: number;
  readonly from: number;
  readonly to: number;
  /** The video's last frame as far as that is known; at least `to`, infinite where it surely goes on. */
  readonly last: number;
}

/** An end that lies this many seconds before that which the file tells of itself is taken as there. */
const SURELY_SECONDS = 2;

export function frameNumber(text: string | undefined, name: string, most: number): number {
  const n = wholeNumber(text, name, 0);
  if (n > most) throw new UsageError(`${name} ${n}: the last frame possible is ${most}`);
  return n;
}

/**
 * Reads --frame, --from and --to, which are the whole video without them. Its frames are counted, by decoding it once,
 * only where they have to be.
 * @throws UsageError
 */
export async function readFrameSpan(
  given: { frame: string; from?: string; to?: string },
  video: string,
  probed: Probe,
): Promise<FrameSpan> {
  const end = given.to === undefined ? Infinity : wholeNumber(given.to, '--to', 0);
  const surely = ((probed.duration - SURELY_SECONDS) * probed.rate.numerator) / probed.rate.denominator;
  const last = end < surely ? Infinity : (await countVideoFrames(video, probed)) - 1;
  const frame = frameNumber(given.frame, '--frame', last);
  const from = given.from === undefined ? 0 : frameNumber(given.from, '--from', frame);
  const to = given.to === undefined ? last : frameNumber(given.to, '--to', last);
  if (to < frame) throw new UsageError(`--to ${to}: the frame given is ${frame}, later than that`);
  return { frame, from, to, last };
}
