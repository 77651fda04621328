import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import { picturesIn, type AnalysisReply, type AnalysisRequest } from '../workers/analysis-protocol';
import { rootFolder } from './data-folder';
import { AppError } from './errors';

/** A worker thread that analyses pictures for one job. One request at a time. */
export class AnalysisWorker {
  private readonly worker: Worker;
  private readonly signal: AbortSignal;
  private readonly ended: Promise<void>;
  private waiting: { readonly resolve: (reply: AnalysisReply) => void; readonly reject: (error: Error) => void } | null = null;

  constructor(signal: AbortSignal) {
    this.signal = signal;
    // built beside the pages; written plainly, the bundler would look for it among its own modules
    const thread: Worker = Reflect.construct(Worker, [join(rootFolder(), 'dist/analysis.mjs')]);
    this.worker = thread;
    this.worker.on('message', (reply: AnalysisReply) => this.waiting?.resolve(reply));
    this.worker.on('error', (error: Error) => this.waiting?.reject(error));
    this.ended = new Promise((resolve) =>
      this.worker.once('exit', () => {
        this.waiting?.reject(new Error('the analysis stopped by itself'));
        resolve();
      }),
    );
  }

  /** The pictures of `request` go over to the worker and are lost here. @throws AppError with what the worker says is wrong, or the abort's reason. */
  async ask(request: AnalysisRequest): Promise<AnalysisReply> {
    this.signal.throwIfAborted();
    const reply = await new Promise<AnalysisReply>((resolve, reject) => {
      this.waiting = { resolve, reject };
      this.worker.postMessage(
        request,
        picturesIn(request).map((p) => p.data.buffer as ArrayBuffer),
      );
    });
    this.waiting = null;
    this.signal.throwIfAborted();
    if (reply.kind === 'failed') throw new AppError('bad-request', reply.reason);
    return reply;
  }

  /**
   * Lets the thread end by itself once it has answered: one that is ended from outside while its code is still being
   * compiled can take the whole process with it.
   */
  async close(): Promise<void> {
    this.worker.postMessage({ kind: 'end' } satisfies AnalysisRequest);
    await this.ended;
  }
}
