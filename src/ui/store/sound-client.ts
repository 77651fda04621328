import type { Film } from '../../core/film/film';
import type { MediumFacts, Sounds } from '../../core/film/media-facts';
import { silence, type Stereo } from '../../core/sound/samples';
import type { SecondsSpan, SharedWord } from '../../core/sound/words';
import type { SoundReply, SoundRequest } from '../../workers/sound-protocol';
import { WorkerChannel } from './worker-channel';

/** Asks the sound worker. */
export class SoundClient {
  private readonly channel = new WorkerChannel<SoundRequest, SoundReply>(
    new Worker(new URL('../../workers/sound.worker.ts', import.meta.url), { type: 'module' }),
    'The sound worker',
  );

  /** What is heard from now on. */
  setFilm(film: Film, media: ReadonlyMap<string, MediumFacts>, sounds: Sounds): void {
    // mattes and tracks make no sound, and may be large
    const heard: Film = { ...film, mattes: [], tracks: [], joins: film.joins.map((j) => ({ ...j, layers: [], carriers: [], finish: [] })) };
    this.channel.tell({
      kind: 'film',
      url: new URL('/api/media/', location.href).href,
      film: heard,
      media: [...media.values()],
      sounds: [...sounds.values()],
    });
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
    const reply = await this.channel.ask({ kind: 'word', a, aWithin, span, b, bWithin });
    return reply?.kind === 'word' ? reply.word : null;
  }

  async silences(mediumId: string, within: SecondsSpan): Promise<readonly SecondsSpan[]> {
    const reply = await this.channel.ask({ kind: 'silences', mediumId, within });
    return reply?.kind === 'silences' ? reply.spans : [];
  }

  close(): void {
    this.channel.close();
  }

  private async sound(request: Parameters<typeof this.channel.ask>[0]): Promise<Stereo> {
    const reply = await this.channel.ask(request);
    return reply?.kind === 'sound' ? reply : silence(0);
  }
}
