import { gainsOf, type SoundPlan, type Voice } from './plan-sound';
import { silence, type Stereo } from './samples';
import { Stretched } from './stretch';

/** Samples `from` … `from + count` of a medium; those it does not have are silence. */
export type ReadSound = (mediumId: string, from: number, count: number) => Promise<Stereo>;

/**
 * Mixes what a plan says. The page and sending out both work by it, so that what is heard is what is sent. A block is the same
 * whatever was asked for before.
 */
export class Mixer {
  private readonly plan: SoundPlan;
  private readonly read: ReadSound;
  private readonly stretched = new Map<Voice, Stretched>();

  constructor(plan: SoundPlan, read: ReadSound) {
    this.plan = plan;
    this.read = read;
  }

  /** Film samples `from` … `from + count`; outside the film it is silent. May exceed full scale. */
  async block(from: number, count: number): Promise<Stereo> {
    const out = silence(count);
    const first = Math.max(0, from);
    const last = Math.min(this.plan.samples, from + count);
    const gains = new Float32Array(count);
    for (const voice of this.plan.voices) {
      const begins = Math.max(first, voice.from);
      const length = Math.min(last, voice.to) - begins;
      if (length <= 0) continue;
      const sound = await this.soundOf(voice, begins, length);
      gainsOf(voice, this.plan.rate, begins, length, gains);
      const at = begins - from;
      for (let i = 0; i < length; i++) {
        out.left[at + i] = out.left[at + i]! + gains[i]! * sound.left[i]!;
        out.right[at + i] = out.right[at + i]! + gains[i]! * sound.right[i]!;
      }
    }
    return out;
  }

  private soundOf(voice: Voice, from: number, count: number): Promise<Stereo> {
    if (voice.plainAt !== null) return this.read(voice.mediumId, voice.plainAt + from - voice.from, count);
    let stretched = this.stretched.get(voice);
    if (stretched === undefined) {
      stretched = new Stretched(
        (sample) => voice.placeAt(voice.from + sample),
        (at, n) => this.read(voice.mediumId, at, n),
      );
      this.stretched.set(voice, stretched);
    }
    return stretched.block(from - voice.from, count);
  }
}
