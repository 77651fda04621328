import { SOUND_RATE } from '../../core/film/sound';
import { type Stereo } from '../../core/sound/samples';
import { Stretched } from '../../core/sound/stretch';
import { readLooped, type LoopSpan, type ReadMix } from './looped';
import { PlayClock } from './play-clock';

/** Samples of a block that is given to the device at one time, and how far ahead blocks are given, seconds. */
const BLOCK = 9600;
const AHEAD = 0.8;
const LOOK_MS = 80;
/** Seconds from the first block's being there to its being heard. */
const LEAD = 0.04;
/** Samples that one peak of the meter stands for. */
const METER_STEP = 480;
const FADE_SECONDS = 0.004;

/** Loudest of both channels at a time of the device's clock, 0..1 and above. */
interface MeterPeak {
  readonly at: number;
  readonly left: number;
  readonly right: number;
}

/** Plays sound in blocks through the page's audio device; without one, everything but the sound goes on. */
export class SoundPlayer {
  private context: AudioContext | null = null;
  private out: GainNode | null = null;
  private stopPlaying: () => void = () => undefined;
  private peaks: MeterPeak[] = [];
  private loudness = 1;

  /** Share of full loudness that is heard; nothing of it is sent out. */
  setLoudness(loudness: number): void {
    this.loudness = loudness;
    if (this.out !== null) this.out.gain.value = loudness;
  }

  private opened(): { readonly context: AudioContext; readonly out: GainNode } | null {
    if (typeof AudioContext === 'undefined') return null;
    if (this.context === null || this.out === null) {
      this.context = new AudioContext({ sampleRate: SOUND_RATE, latencyHint: 'interactive' });
      this.out = new GainNode(this.context, { gain: this.loudness });
      this.out.connect(this.context.destination);
    }
    if (this.context.state === 'suspended') void this.context.resume();
    return { context: this.context, out: this.out };
  }

  /**
   * Plays from a sample on, round and round in `loop`, at `speed` (negative: backwards). Between half and twice as fast it keeps its
   * pitch; beyond it is silent. Whatever played before stops.
   * @returns the clock that the picture follows
   */
  play(read: ReadMix, at: number, speed: number, loop: LoopSpan): PlayClock {
    this.stop();
    const clock = new PlayClock(() => performance.now() / 1000);
    const device = this.opened();
    if (device === null) return clock;
    const { context, out } = device;
    const looped = (from: number, count: number): Promise<Stereo> => readLooped(read, loop, from, count);
    const stretched = speed === 1 ? null : new Stretched((n) => at + n * speed, looped);
    const sources = new Set<AudioBufferSourceNode>();
    let given = 0;
    let began: number | null = null;
    let isAsking = false;
    const isStopped = { now: false };
    const give = async (): Promise<void> => {
      if (isAsking) return;
      isAsking = true;
      try {
        while (!isStopped.now && (began === null || began + given / SOUND_RATE < context.currentTime + AHEAD)) {
          // what is past when the page gets to it, having been held up, is not heard any more
          if (began !== null) given += BLOCK * blocksPast(context.currentTime - (began + given / SOUND_RATE));
          const block = await (stretched === null ? looped(at + given, BLOCK) : stretched.block(given, BLOCK));
          if (isStopped.now) return;
          if (began === null) {
            began = context.currentTime + LEAD;
            const latency = context.outputLatency || context.baseLatency || 0;
            clock.follow(() => context.currentTime, began + latency);
          }
          this.schedule(context, out, block, began + given / SOUND_RATE, sources);
          given += BLOCK;
        }
      } finally {
        isAsking = false;
      }
    };
    // what cannot be fetched is not heard; the next look asks again, and the picture goes on by its own clock
    const look = (): void => void give().catch(() => undefined);
    const timer = setInterval(look, LOOK_MS);
    look();
    this.stopPlaying = () => {
      isStopped.now = true;
      clearInterval(timer);
      for (const source of sources) source.stop();
      sources.clear();
      this.peaks = [];
    };
    return clock;
  }

  /** Plays one sound once, with its edges softened. */
  async once(sound: Promise<Stereo>): Promise<void> {
    const device = this.opened();
    if (device === null) return;
    this.stop();
    const sources = new Set<AudioBufferSourceNode>();
    const isStopped = { now: false };
    this.stopPlaying = () => {
      isStopped.now = true;
      for (const source of sources) source.stop();
    };
    const { left, right } = await sound;
    if (isStopped.now || left.length === 0) return;
    soften(left);
    soften(right);
    this.schedule(device.context, device.out, { left, right }, device.context.currentTime + 0.01, sources);
  }

  stop(): void {
    this.stopPlaying();
    this.stopPlaying = () => undefined;
  }

  /** The loudest of what was heard since the last time this was asked, both channels. */
  meter(): { readonly left: number; readonly right: number } {
    const now = this.context?.currentTime ?? 0;
    let [left, right] = [0, 0];
    while (this.peaks.length > 0 && this.peaks[0]!.at <= now) {
      const peak = this.peaks.shift()!;
      left = Math.max(left, peak.left);
      right = Math.max(right, peak.right);
    }
    return { left, right };
  }

  close(): void {
    this.stop();
    void this.context?.close();
    this.context = null;
  }

  private schedule(context: AudioContext, out: GainNode, { left, right }: Stereo, due: number, sources: Set<AudioBufferSourceNode>): void {
    const late = Math.max(0, context.currentTime - due);
    // a source that is never started could not be stopped either
    if (late >= left.length / SOUND_RATE) return;
    const buffer = new AudioBuffer({ length: left.length, numberOfChannels: 2, sampleRate: SOUND_RATE });
    buffer.copyToChannel(left, 0);
    buffer.copyToChannel(right, 1);
    const source = new AudioBufferSourceNode(context, { buffer });
    source.connect(out);
    sources.add(source);
    source.onended = () => sources.delete(source);
    source.start(Math.max(due, context.currentTime), late);
    for (let i = 0; i < left.length; i += METER_STEP) {
      let [l, r] = [0, 0];
      for (let j = i; j < Math.min(left.length, i + METER_STEP); j++) {
        l = Math.max(l, Math.abs(left[j]!));
        r = Math.max(r, Math.abs(right[j]!));
      }
      this.peaks.push({ at: due + i / SOUND_RATE, left: l, right: r });
    }
  }
}

/** Whole blocks that lie in the past, `late` seconds after the first of them was due. */
export const blocksPast = (late: number): number => Math.max(0, Math.floor((late * SOUND_RATE) / BLOCK));

function soften(sound: Float32Array): void {
  const length = Math.min(Math.round(FADE_SECONDS * SOUND_RATE), sound.length >> 1);
  for (let i = 0; i < length; i++) {
    sound[i] = (sound[i]! * i) / length;
    sound[sound.length - 1 - i] = (sound[sound.length - 1 - i]! * i) / length;
  }
}
