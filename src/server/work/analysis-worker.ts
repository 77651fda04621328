import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import { picturesIn, type AnalysisReply, type AnalysisRequest } from '../../workers/analysis-protocol';
import { rootFolder } from '../base/data-folder';
import { AppError } from '../base/errors';

/** Threads kept for the next job. What has run a while is compiled well; a new thread takes seconds to get as fast. */
const MOST_IDLE = 2;
const idle: Thread[] = [];

/** A worker thread that answers one request at a time. */
class Thread {
  readonly worker: Worker;
  readonly ended: Promise<void>;
  isUsable = true;
  private waiting: { readonly resolve: (reply: AnalysisReply) => void; readonly reject: (error: Error) => void } | null = null;

  constructor() {
    // built beside the pages; written plainly, the bundler would look for it among its own modules
    const thread: Worker = Reflect.construct(Worker, [join(rootFolder(), 'dist/analysis.mjs')]);
    this.worker = thread;
    this.worker.on('message', (reply: AnalysisReply) => this.waiting?.resolve(reply));
    this.worker.on('error', (error: Error) => this.fail(error));
    this.ended = new Promise((resolve) =>
      this.worker.once('exit', () => {
        this.fail(new Error('the analysis stopped by itself'));
        resolve();
      }),
    );
  }

  async ask(request: AnalysisRequest): Promise<AnalysisReply> {
    try {
      return await new Promise<AnalysisReply>((resolve, reject) => {
        this.waiting = { resolve, reject };
        this.worker.postMessage(
          request,
          picturesIn(request).map((p) => p.data.buffer as ArrayBuffer),
        );
      });
    } finally {
      this.waiting = null;
    }
  }

  /**
   * Lets the thread end by itself: one that is ended from outside while its code is still being compiled can take the
   * whole process with it.
   */
  async end(): Promise<void> {
    this.isUsable = false;
    this.worker.ref();
    this.worker.postMessage({ kind: 'end' } satisfies AnalysisRequest);
    await this.ended;
  }

  private fail(error: Error): void {
    this.isUsable = false;
    this.waiting?.reject(error);
  }
}

/** A worker thread that analyses pictures for one job. One request at a time. */
export class AnalysisWorker {
  private readonly thread: Thread;
  private readonly signal: AbortSignal;

  constructor(signal: AbortSignal) {
    this.signal = signal;
    const waiting = idle.findLastIndex((t) => t.isUsable);
    this.thread = waiting < 0 ? new Thread() : idle.splice(waiting, 1)[0]!;
    this.thread.worker.ref();
  }

  /** The pictures of `request` go over to the worker and are lost here. @throws AppError with what the worker says is wrong, or the abort's reason. */
  async ask(request: AnalysisRequest): Promise<AnalysisReply> {
    this.signal.throwIfAborted();
    const reply = await this.thread.ask(request);
    this.signal.throwIfAborted();
    if (reply.kind === 'failed') throw new AppError('bad-request', reply.reason);
    return reply;
  }

  /** The job is done: the thread forgets it and waits for the next one, without keeping the process alive. */
  async close(): Promise<void> {
    if (!this.thread.isUsable) return;
    await this.thread.ask({ kind: 'rest' });
    if (idle.length >= MOST_IDLE) return this.thread.end();
    this.thread.worker.unref();
    idle.push(this.thread);
  }
}

/** Ends the threads that wait for a job, before the process ends. */
export async function endIdleAnalysis(): Promise<void> {
  await Promise.all(idle.splice(0).map((t) => (t.isUsable ? t.end() : t.ended)));
}
