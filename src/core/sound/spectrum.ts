import FFT from 'fft.js';

/** Power spectra of windowed pieces of a sound, and their sums over bands that are even to the ear. */
export class Spectra {
  readonly size: number;
  private readonly fft: FFT;
  private readonly window: Float32Array;
  private readonly input: number[];
  private readonly output: number[];
  /** Power of each bin of the last piece, `size / 2 + 1` of them. */
  readonly power: Float32Array;

  /** `size`: samples of a piece, a power of two. */
  constructor(size: number) {
    this.size = size;
    this.fft = new FFT(size);
    this.window = Float32Array.from({ length: size }, (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * (i + 0.5)) / size));
    this.input = new Array<number>(size).fill(0);
    this.output = this.fft.createComplexArray() as number[];
    this.power = new Float32Array(size / 2 + 1);
  }

  /** Spectrum of the piece that begins at `from`; outside the sound there is silence. */
  at(sound: Float32Array, from: number): Float32Array {
    const { input, output, window, size, power } = this;
    for (let i = 0; i < size; i++) input[i] = (sound[from + i] ?? 0) * window[i]!;
    this.fft.realTransform(output, input);
    for (let k = 0; k < power.length; k++) power[k] = (output[2 * k]! ** 2 + output[2 * k + 1]! ** 2) / size;
    return power;
  }
}

const melOf = (hertz: number): number => 2595 * Math.log10(1 + hertz / 700);
const hertzOf = (mel: number): number => 700 * (10 ** (mel / 2595) - 1);

/** Triangular filters, evenly spaced in mel between two frequencies (Davis & Mermelstein 1980). */
export class MelBands {
  readonly count: number;
  private readonly first: Int32Array;
  private readonly weights: readonly Float32Array[];

  constructor(count: number, size: number, rate: number, lowHertz: number, highHertz: number) {
    this.count = count;
    const [bottom, top] = [lowHertz, highHertz].map(melOf) as [number, number];
    const edges = Array.from({ length: count + 2 }, (_, i) => hertzOf(bottom + ((top - bottom) * i) / (count + 1)));
    const binHertz = rate / size;
    this.first = new Int32Array(count);
    this.weights = Array.from({ length: count }, (_, b) => {
      const [low, middle, high] = [edges[b]!, edges[b + 1]!, edges[b + 2]!];
      const first = Math.max(0, Math.floor(low / binHertz));
      const last = Math.min(size / 2, Math.ceil(high / binHertz));
      this.first[b] = first;
      const weights = Float32Array.from({ length: last - first + 1 }, (_, i) => {
        const hertz = (first + i) * binHertz;
        return Math.max(0, Math.min((hertz - low) / (middle - low), (high - hertz) / (high - middle)));
      });
      // a band narrower than a bin hears the nearest one
      if (weights.every((w) => w === 0)) weights[Math.max(0, Math.min(weights.length - 1, Math.round(middle / binHertz) - first))] = 1;
      return weights;
    });
  }

  /** Sums of power, written to `out`. */
  of(power: Float32Array, out: Float32Array): void {
    for (let b = 0; b < this.count; b++) {
      const weights = this.weights[b]!;
      const first = this.first[b]!;
      let sum = 0;
      for (let i = 0; i < weights.length; i++) sum += weights[i]! * power[first + i]!;
      out[b] = sum;
    }
  }
}
