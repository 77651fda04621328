import { between, flowPair, type FlowPair } from '../flow/between';
import type { FlowQuality } from '../flow/dense-flow';
import { createImage, type Image } from '../image/pixels';

/** How much more neighbours hold together than where one picture follows another: what melts is not the same thing. */
export const HELD_TOGETHER = 30;

/**
 * Melts one moving picture into another: frame by frame the motion that leads from one to the other, found from that of the frame
 * before so that it stays steady, and the picture part of the way along it. Where both directions do not agree it fades.
 */
export class FlowMorph {
  private readonly quality: FlowQuality;
  private before: FlowPair | null = null;

  constructor(quality: FlowQuality) {
    this.quality = quality;
  }

  /**
   * The picture `warped` (0..1) of the way from the shapes of `a` to those of `b`, its colours `mixed` of the way. Both are of one size.
   * @throws RangeError when they are not
   */
  next(a: Image, b: Image, warped: number, mixed = warped): Image {
    const pair = flowPair(a, b, this.quality, this.before, HELD_TOGETHER);
    this.before = pair;
    return between(pair, warped, { mixed, by: 'agreement' });
  }
}

/** How far along frame `i` of `count` between two pictures lies, both ends left out. */
export const shareOf = (i: number, count: number): number => (i + 1) / (count + 1);

/** A picture as it was, with `made` where `coverage` (0..255, one number a pixel) says so. */
export function within(plain: Image, made: Image, coverage: Uint8Array): Image {
  const out = createImage(plain.width, plain.height);
  for (let i = 0, p = 0; i < coverage.length; i++, p += 4) {
    const share = coverage[i]! / 255;
    for (let k = 0; k < 4; k++) out.data[p + k] = plain.data[p + k]! + share * (made.data[p + k]! - plain.data[p + k]!);
  }
  return out;
}
