import type { Film } from '../../core/film/film';
import type { MediumFacts, Sounds } from '../../core/film/media-facts';
import { silence, type Stereo } from '../../core/sound/samples';
import type { SecondsSpan, SharedWord } from '../../core/sound/words';
import type { SoundReply, SoundRequest } from '../../workers/sound-protocol';

type Unsent = SoundRequest extends infer R ? (R extends { readonly job: number } ? Omit<R, 'job'> : never) : never;

/** Asks the sound worker. */
export class SoundClient {
  private readonly worker: Worker;
  private readonly open = new Map<number, { readonly settle: (reply: SoundReply) => void; readonly fail: (error: Error) => void }>();
  private jobs = 0;

  constructor() {
    this.worker = new Worker(new URL('../../workers/sound.worker.ts', import.meta.url), { type: 'module' });
    this.worker.onmessage = ({ data }: MessageEvent<SoundReply>) => {
      const waits = this.open.get(data.job);
      this.open.delete(data.job);
      if (data.kind === 'failed') waits?.fail(new Error(data.reason));
      else waits?.settle(data);
    };
    this.worker.onerror = (event) => {
      for (const { fail } of this.open.values()) fail(new Error(event.message || 'The sound worker stopped. Reload the page.'));
      this.open.clear();
    };
  }

  /** What is heard from now on. */
  setFilm(film: Film, media: ReadonlyMap<string, MediumFacts>, sounds: Sounds): void {
    // mattes and tracks make no sound, and may be large
    const heard: Film = { ...film, mattes: [], tracks: [], joins: film.joins.map((j) => ({ ...j, layers: [], carriers: [], finish: [] })) };
    const request: SoundRequest = {
      kind: 'film',
      url: new URL('/api/media/', location.href).href,
      film: heard,
      media: [...media.values()],
      sounds: [...sounds.values()],
    };
    this.worker.postMessage(request);
  }

  /** Film samples as they are heard. */
  mix(from: number, count: number): Promise<Stereo> {
    return this.sound({ kind: 'mix', from, count });
  }

  /** Samples of a medium. */
  medium(mediumId: string, from: number, count: number): Promise<Stereo> {
    return this.sound({ kind: 'medium', mediumId, from, count });
  }

  async word(a: string, aWithin: SecondsSpan, span: SecondsSpan, b: string, bWithin: SecondsSpan): Promise<SharedWord | null> {
    const reply = await this.ask({ kind: 'word', a, aWithin, span, b, bWithin });
    return reply.kind === 'word' ? reply.word : null;
  }

  async silences(mediumId: string, within: SecondsSpan): Promise<readonly SecondsSpan[]> {
    const reply = await this.ask({ kind: 'silences', mediumId, within });
    return reply.kind === 'silences' ? reply.spans : [];
  }

  close(): void {
    this.worker.terminate();
  }

  private async sound(request: Unsent): Promise<Stereo> {
    const reply = await this.ask(request);
    return reply.kind === 'sound' ? reply : silence(0);
  }

  private ask(request: Unsent): Promise<SoundReply> {
    const job = ++this.jobs;
    return new Promise((settle, fail) => {
      this.open.set(job, { settle, fail });
      this.worker.postMessage({ ...request, job });
    });
  }
}
