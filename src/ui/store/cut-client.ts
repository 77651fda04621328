import type { CutReply, CutRequest } from '../../workers/cut-protocol';
import type { StoredCoverage } from '../../core/matte/coverage/stored-coverage';

/** Asks the cutting worker; a newer request makes it drop older ones that wait. */
export class CutClient {
  private readonly worker: Worker;
  private readonly open = new Map<number, { settle: (coverage: StoredCoverage | null) => void; fail: (error: Error) => void }>();
  private jobs = 0;

  constructor() {
    this.worker = new Worker(new URL('../../workers/cut.worker.ts', import.meta.url), { type: 'module' });
    this.worker.onmessage = ({ data }: MessageEvent<CutReply>) => {
      const job = this.open.get(data.job);
      this.open.delete(data.job);
      if (data.kind === 'cut') job?.settle(data.coverage);
      else if (data.kind === 'dropped') job?.settle(null);
      else job?.fail(new Error(data.reason));
    };
    this.worker.onerror = (event) => {
      for (const { fail } of this.open.values()) fail(new Error(event.message || 'The cutting worker stopped. Reload the page.'));
      this.open.clear();
    };
  }

  /** Null when a newer request came first. */
  cut(request: Omit<CutRequest, 'job'>): Promise<StoredCoverage | null> {
    const job = ++this.jobs;
    return new Promise((settle, fail) => {
      this.open.set(job, { settle, fail });
      this.worker.postMessage({ job, ...request } satisfies CutRequest);
    });
  }

  close(): void {
    this.worker.terminate();
  }
}
