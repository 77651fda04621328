import type { MatteFrame } from '../../core/film/matte-frame';
import type { StoredCoverage } from '../../core/matte/coverage/stored-coverage';
import { call, messageOf, ownHeaders } from './api';
import { Paced } from './paced';

/** A matte that is being carried changes many times a second; its list of frames is fetched at most so often. */
const REFRESH_MS = 250;

/** Stored coverage of a film's mattes on the server. */
export class MatteStore {
  private readonly filmId: string;
  /** Tells what frames a matte has. */
  private readonly onFrames: (matteId: string, frames: readonly MatteFrame[]) => void;
  /** Does what asks the server for news, which is not told when it cannot be reached. */
  private readonly quietly: (work: () => Promise<void>) => Promise<void>;
  private readonly refreshes = new Paced(REFRESH_MS);

  constructor(
    filmId: string,
    onFrames: (matteId: string, frames: readonly MatteFrame[]) => void,
    quietly: (work: () => Promise<void>) => Promise<void>,
  ) {
    this.filmId = filmId;
    this.onFrames = onFrames;
    this.quietly = quietly;
  }

  /** Fetches anew what frames a matte has; done when they are there as they are now or later. */
  refresh(matteId: string): Promise<void> {
    return this.refreshes.ask(matteId, () =>
      this.quietly(async () => this.onFrames(matteId, await call<MatteFrame[]>('GET', `/api/films/${this.filmId}/mattes/${matteId}`))),
    );
  }

  /** Stores what a hand has painted on one frame. */
  async put(matteId: string, frame: number, coverage: StoredCoverage, madeFrom: string): Promise<void> {
    const { width, height, data } = coverage;
    const query = new URLSearchParams({ width: String(width), height: String(height), madeFrom });
    const response = await fetch(`/api/films/${this.filmId}/mattes/${matteId}/${frame}?${query}`, {
      method: 'PUT',
      headers: ownHeaders(),
      body: new Uint8Array(data),
    });
    if (!response.ok) throw new Error(messageOf(await response.text()));
  }

  /** Coverage of one frame; null where there is none. */
  async coverage(matteId: string, frame: number, which: 'coverage' | 'base'): Promise<StoredCoverage | null> {
    const response = await fetch(`/api/films/${this.filmId}/mattes/${matteId}/${frame}?which=${which}`);
    if (!response.ok) throw new Error('The matte could not be fetched.');
    if (response.status === 204) return null;
    return {
      width: Number(response.headers.get('x-width')),
      height: Number(response.headers.get('x-height')),
      data: new Uint8Array(await response.arrayBuffer()),
    };
  }
}
