import type { FlowField } from '../../flow/field';
import type { Region } from '../../flow/flow-field';
import { createPlane, type Plane } from '../../image/pixels';
import type { BackgroundEvidence } from './evidence';
import { explain } from './explain';

/** What is left of a memory from one frame to the next: it is sampled anew each time, by a motion that is only guessed behind the subject. */
const KEPT = 0.98;

/**
 * The background as it is in view around a subject, and behind it as it was when it was last seen: what a limb uncovers
 * lay open a few frames ago.
 */
export class Backdrop {
  /** What was said of `region` of the frame that is the current one by now; null before anything was asked. */
  private last: { readonly said: BackgroundEvidence; readonly region: Region } | null = null;

  /** Forgets what is behind the subject. */
  forget(): void {
    this.last = null;
  }

  /**
   * What it says of the pixels of `region` on the next frame, whose features are `next` and to which it goes by `motion`.
   * On the current one, whose features are `here`, the subject covers `visible`.
   */
  ask(here: Float32Array, visible: Plane, next: Float32Array, motion: FlowField, region: Region): BackgroundEvidence {
    const { features, known } = this.with(here, visible);
    const pixels = (region.right - region.left) * (region.bottom - region.top);
    const colours = new Float32Array(3 * pixels);
    const all = new Uint8Array(pixels).fill(1);
    const { miss, cover: seen, shown } = explain(features, next, motion, known, known, region, all, colours);
    for (let i = 0; i < pixels; i++) if (shown[i] === 0) seen.data[i] = 0;
    const said = { miss, seen, colours };
    this.last = { said, region };
    return said;
  }

  /** The current frame's features with those of the remembered background where that is known better, and how well it is known, 0..1. */
  private with(here: Float32Array, visible: Plane): { readonly features: Float32Array; readonly known: Plane } {
    const { width, height } = visible;
    const known = createPlane(width, height);
    for (let i = 0; i < known.data.length; i++) known.data[i] = 1 - visible.data[i]!;
    if (this.last === null) return { features: here, known };
    const features = here.slice();
    const { said, region } = this.last;
    for (let y = region.top, o = 0; y < region.bottom; y++) {
      for (let x = region.left, i = y * width + x; x < region.right; x++, i++, o++) {
        const remembered = KEPT * said.seen.data[o]!;
        if (remembered <= known.data[i]!) continue;
        known.data[i] = remembered;
        for (let c = 0; c < 3; c++) features[3 * i + c] = said.colours[3 * o + c]!;
      }
    }
    return { features, known };
  }
}
