import type { FlowField } from '../../flow/field';
import type { Region } from '../../flow/flow-field';
import { matchLayer } from '../../flow/match-layer';
import { squaredDistances } from '../../image/distance';
import { createPlane, type Plane } from '../../image/pixels';
import { pastePlane } from '../../image/plane';
import type { Frame } from './anchor';
import { explain } from './explain';
import { likelyStart } from './likely-start';
import { areaOf, pixelsInReach, whole } from './subject-region';

/** A thing in front is at most so wide, as a share of the subject's size, and of the picture's width. */
const NARROW_OF_SUBJECT = 0.5;
const NARROW_OF_PICTURE = 0.12;
/** Fewer pixels than these are no thing. */
const LEAST_PIXELS = 40;
/** What is taken for a thing fits its own motion so much better than the background's, and differs from that by so many squared steps. */
const OWN_MOTION = 0.7;
const LEAST_GAIN = 12;
/** Squared colour difference, beside noise, up to which it is still the thing. */
const STILL_IT = 160;

/** What is known on the next frame of a thing in front of the subject: one a pixel of the region. */
export interface SeenInFront {
  /** 1 where the thing is. */
  readonly there: Uint8Array;
  /** 1 where the subject goes on that no frame has shown: the thing has hidden it ever since. */
  readonly unseen: Uint8Array;
}

/**
 * A narrow thing in front of the subject on the frame its matte was given on: a slit in it, or a bay. It is followed by a motion of its own, so
 * that it stays out of the matte, and what it gives free is looked at afresh.
 */
export class InFront {
  /** On the current frame. */
  private mask: Plane;
  private unseen: Plane;
  private flow: FlowField | null = null;

  private constructor(mask: Plane) {
    this.mask = mask;
    this.unseen = mask;
  }

  /** What lies within the outline of a matte and is not covered; null where that is nothing. */
  static of(alpha: Plane): InFront | null {
    const { width, height } = alpha;
    const radius = Math.min(NARROW_OF_PICTURE * width, NARROW_OF_SUBJECT * Math.sqrt(areaOf(alpha))) / 2;
    const inside = Uint8Array.from(alpha.data, (v) => (v >= 0.5 ? 1 : 0));
    const distances = new Float32Array(inside.length);
    squaredDistances(inside, 1, width, height, distances);
    const around = Uint8Array.from(distances, (d) => (d <= radius * radius ? 1 : 0));
    squaredDistances(around, 0, width, height, distances);
    const mask = createPlane(width, height);
    let count = 0;
    for (let i = 0; i < inside.length; i++)
      if (inside[i] === 0 && around[i] === 1 && distances[i]! > radius * radius) {
        mask.data[i] = 1;
        count++;
      }
    return count < LEAST_PIXELS ? null : new InFront(mask);
  }

  /** Whether it moves as the background does not: else it is the background, seen through a gap of the subject. */
  isOwn(frame: Frame, next: Frame, background: FlowField): boolean {
    const own = this.missOf(frame, next, this.follow(frame, next));
    const behind = this.missOf(frame, next, background);
    return own < OWN_MOTION * behind && behind - own > LEAST_GAIN;
  }

  /** The subject with what the thing hides of it. */
  with({ width, height, data }: Plane): Plane {
    return { width, height, data: data.map((v, i) => Math.max(v, this.unseen.data[i]!)) };
  }

  /** Where it is on the next frame, and what of the subject, which goes there by `subject`, it has hidden so far. */
  look(frame: Frame, next: Frame, subject: FlowField, region: Region, noise: number): SeenInFront {
    const flow = this.follow(frame, next);
    this.flow = flow;
    const own = explain(frame.features, next.features, flow, this.mask, this.mask, region, pixelsInReach(region, [this.mask, flow]));
    const hidden = explain(
      frame.features,
      next.features,
      subject,
      this.unseen,
      this.unseen,
      region,
      pixelsInReach(region, [this.unseen, subject]),
    );
    const limit = STILL_IT + 4 * noise;
    return {
      there: Uint8Array.from(own.cover.data, (v, i) => (v > 0.5 && own.shown[i] === 1 && own.miss.data[i]! < limit ? 1 : 0)),
      unseen: Uint8Array.from(hidden.cover.data, (v) => (v > 0.5 ? 1 : 0)),
    };
  }

  /** Goes on to the frame that was looked at, of which `inside` has become the subject; false when nothing is left of it. */
  goOn({ there, unseen }: SeenInFront, inside: Uint8Array, region: Region): boolean {
    const [width, height] = [region.right - region.left, region.bottom - region.top];
    const placed = (marked: (i: number) => boolean): Plane => {
      const part = createPlane(width, height);
      for (let i = 0; i < inside.length; i++) part.data[i] = inside[i] === 0 && marked(i) ? 1 : 0;
      const out = createPlane(this.mask.width, this.mask.height);
      pastePlane(part, out, region.left, region.top);
      return out;
    };
    this.mask = placed((i) => there[i] === 1 || unseen[i] === 1);
    this.unseen = placed((i) => unseen[i] === 1);
    return areaOf(this.mask) >= LEAST_PIXELS;
  }

  private follow(frame: Frame, next: Frame): FlowField {
    const start = likelyStart(frame.coarse, this.mask, next.coarse, this.flow);
    return matchLayer(frame.match, this.mask, next.match, { finest: 0, start });
  }

  /** Mean squared colour difference of the thing on the next frame, where a motion takes it. */
  private missOf(frame: Frame, next: Frame, motion: FlowField): number {
    const region = whole(this.mask);
    const wanted = pixelsInReach(region, [this.mask, motion]);
    const { miss, cover, shown } = explain(frame.features, next.features, motion, this.mask, this.mask, region, wanted);
    let [sum, count] = [0, 0];
    for (let i = 0; i < miss.data.length; i++) {
      if (cover.data[i]! < 0.5 || shown[i] === 0) continue;
      sum += Math.min(STILL_IT * 4, miss.data[i]!);
      count++;
    }
    return count === 0 ? Infinity : sum / count;
  }
}
