import type { StoredCoverage } from '../../core/matte/coverage/stored-coverage';
import type { CutReply, CutRequest } from '../../workers/cut-protocol';
import { WorkerChannel } from './worker-channel';

/** Asks the cutting worker; a newer request makes it drop older ones that wait. */
export class CutClient {
  private readonly channel = new WorkerChannel<CutRequest, CutReply>(
    new Worker(new URL('../../workers/cut.worker.ts', import.meta.url), { type: 'module' }),
    'The cutting worker',
  );

  /** Null when a newer request came first. */
  async cut(request: Omit<CutRequest, 'job' | 'kind'>): Promise<StoredCoverage | null> {
    return (await this.channel.ask({ kind: 'cut', ...request }))?.coverage ?? null;
  }

  close(): void {
    this.channel.close();
  }
}
