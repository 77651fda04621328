import { silence, type Stereo } from '../../core/sound/samples';

/** A span that is played over and over, samples. */
export interface LoopSpan {
  readonly from: number;
  readonly to: number;
}

export type ReadMix = (from: number, count: number) => Promise<Stereo>;

/** Reads samples that run on past the ends of a loop as if it were laid end to end. */
export async function readLooped(read: ReadMix, { from, to }: LoopSpan, at: number, count: number): Promise<Stereo> {
  const length = Math.max(1, to - from);
  const out = silence(count);
  for (let done = 0; done < count;) {
    const place = ((((at + done - from) % length) + length) % length) + from;
    const part = Math.min(count - done, to - place);
    const { left, right } = await read(place, part);
    out.left.set(left, done);
    out.right.set(right, done);
    done += part;
  }
  return out;
}
