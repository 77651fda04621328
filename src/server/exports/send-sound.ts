import { open, rename, rm } from 'node:fs/promises';
import type { Film, Media } from '../../core/film/film';
import type { Sounds } from '../../core/film/media-facts';
import { Mixer } from '../../core/sound/mixer';
import { planSound, type SoundPlan } from '../../core/sound/plan-sound';
import { packPairs, sampleOfFrame } from '../../core/sound/samples';
import { encodeWave } from '../video/ffmpeg';
import { SoundFiles } from '../media/sound-files';
import { partialsOf } from './partials';

/** Samples that are mixed at one time. */
const BLOCK = 65_536;

/** What of a film is sent out: film frames `from` … `to`. */
export interface SoundTask {
  readonly film: Film;
  readonly media: Media;
  readonly sounds: Sounds;
  readonly from: number;
  readonly to: number;
  readonly signal: AbortSignal;
}

/** The plan of what is heard of a task, or null where that is nothing at all. */
export function soundOfTask({ film, media, sounds, from, to }: SoundTask): SoundPlan | null {
  const plan = planSound(film, media, sounds);
  const first = sampleOfFrame(film.rate, from);
  const last = sampleOfFrame(film.rate, to);
  return plan.voices.some((v) => v.from < last && v.to > first) ? plan : null;
}

/** Mixes a span of a film into a file of 16-bit pairs at `SOUND_RATE`, exact to the sample; the file is the caller's to take away. */
export async function mixToFile(
  plan: SoundPlan,
  { film, from, to, signal }: SoundTask,
  path: string,
  onProgress: (fraction: number) => void = () => undefined,
): Promise<void> {
  const files = new SoundFiles();
  const out = await open(path, 'w');
  const mixer = new Mixer(plan, files.read);
  const last = sampleOfFrame(film.rate, to);
  const first = sampleOfFrame(film.rate, from);
  try {
    for (let at = first; at < last; at += BLOCK) {
      signal.throwIfAborted();
      await out.writeFile(new Uint8Array(packPairs(await mixer.block(at, Math.min(BLOCK, last - at))).buffer));
      onProgress((at - first) / (last - first));
    }
  } finally {
    await out.close();
    await files.close();
  }
}

/** Sends the sound of a film out alone, as a WAV file that appears once it is whole. */
export async function sendSound(task: SoundTask, output: string, onProgress: (fraction: number) => void): Promise<void> {
  const [partial, mixed] = partialsOf(output);
  try {
    await mixToFile(planSound(task.film, task.media, task.sounds), task, mixed, onProgress);
    await encodeWave(mixed, partial, task.signal);
    await rename(partial, output);
  } finally {
    await rm(mixed, { force: true });
    await rm(partial, { force: true });
  }
}
