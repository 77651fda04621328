import { monoOf, silence, type Stereo } from './samples';

/**
 * Sound at another speed in its own pitch, by overlapping pieces each of which goes on as the one before it sounded
 * (waveform-similarity overlap-add, Verhelst & Roelands 1993). Between half and twice the recorded speed, either way; silent beyond.
 */
export const SLOWEST = 0.5;
export const FASTEST = 2;

/** Samples from one piece to the next; a piece is twice as long. */
const HOP = 1024;
/** How far a piece may lie from where it is due, samples. */
const REACH = 512;
/** Pieces after which one is laid where it is due, so that any place can be begun at. */
const ANCHORS = 1024;
/** Places are first compared by every so many-th sample. */
const COARSE = 8;

/** Medium samples `from` … `from + count`; nothing is heard outside the medium. */
export type ReadMono = (from: number, count: number) => Promise<Stereo>;

interface Piece {
  /** Medium sample at its middle. */
  readonly at: number;
  /** Which way it runs; 0: silent. */
  readonly way: -1 | 0 | 1;
}

const SILENT: Piece = { at: 0, way: 0 };

/** The pieces of one voice, laid as they are asked for and kept. */
export class Stretched {
  private readonly pieces: Piece[] = [];
  private readonly placeAt: (sample: number) => number;
  private readonly read: ReadMono;

  /** `placeAt`: medium sample wanted at an output sample; output samples count from 0. */
  constructor(placeAt: (sample: number) => number, read: ReadMono) {
    this.placeAt = placeAt;
    this.read = read;
  }

  /** Output samples `from` … `from + count`; the same whatever was asked before. */
  async block(from: number, count: number): Promise<Stereo> {
    const out = silence(count);
    for (let k = Math.floor(from / HOP); k <= Math.floor((from + count - 1) / HOP) + 1; k++) {
      const { at, way } = await this.piece(k);
      if (way === 0) continue;
      const sound = await this.read(way === 1 ? at - HOP : at - HOP + 1, 2 * HOP);
      const middle = k * HOP - from;
      for (let i = Math.max(0, middle - HOP); i < Math.min(count, middle + HOP); i++) {
        const j = i - middle;
        const weight = 0.5 + 0.5 * Math.cos((Math.PI * j) / HOP);
        const index = way === 1 ? j + HOP : HOP - 1 - j;
        out.left[i] = out.left[i]! + weight * sound.left[index]!;
        out.right[i] = out.right[i]! + weight * sound.right[index]!;
      }
    }
    return out;
  }

  private async piece(k: number): Promise<Piece> {
    const first = Math.max(0, Math.floor(k / ANCHORS) * ANCHORS);
    for (let i = first; i <= k; i++) this.pieces[i] ??= await this.lay(i, i === first ? null : this.pieces[i - 1]!);
    return this.pieces[k] ?? SILENT;
  }

  private async lay(k: number, before: Piece | null): Promise<Piece> {
    const due = Math.round(this.placeAt(k * HOP));
    const speed = (this.placeAt(k * HOP + HOP / 2) - this.placeAt(k * HOP - HOP / 2)) / HOP;
    if (!(Math.abs(speed) >= SLOWEST - 1e-6 && Math.abs(speed) <= FASTEST + 1e-6)) return SILENT;
    const way = speed > 0 ? 1 : -1;
    if (before === null || before.way !== way) return { at: due, way };
    const goesOn = before.at + way * HOP;
    const low = Math.min(goesOn, due - REACH) - HOP;
    const high = Math.max(goesOn, due + REACH) + HOP;
    const sound = monoOf(await this.read(low, high - low));
    return { at: low + bestPlace(sound, goesOn - low, due - low), way };
  }
}

/** The place within reach of `due` whose surroundings are most like those of `wanted`; both indices into `sound`. */
function bestPlace(sound: Float32Array, wanted: number, due: number): number {
  let best = due;
  const search = (from: number, to: number, step: number, stride: number): void => {
    let most = -Infinity;
    for (let at = from; at <= to; at += step) {
      const likeness = likenessAt(sound, wanted, at, stride);
      if (likeness > most) [most, best] = [likeness, at];
    }
  };
  // as it went on, where that is near enough, is as like as can be
  if (Math.abs(wanted - due) <= REACH && likenessAt(sound, wanted, wanted, COARSE) > 0.999) return wanted;
  search(due - REACH, due + REACH, COARSE, COARSE);
  const near = best;
  search(Math.max(due - REACH, near - COARSE), Math.min(due + REACH, near + COARSE), 1, 3);
  return best;
}

/** Normalised correlation of what lies around two places. */
function likenessAt(sound: Float32Array, a: number, b: number, stride: number): number {
  let product = 0;
  let powerA = 1e-9;
  let powerB = 1e-9;
  for (let j = -HOP; j < HOP; j += stride) {
    const p = sound[a + j]!;
    const q = sound[b + j]!;
    product += p * q;
    powerA += p * p;
    powerB += q * q;
  }
  return product / Math.sqrt(powerA * powerB);
}
