/** What a channel needs of a worker. */
export interface WorkerPort {
  onmessage: ((event: MessageEvent) => void) | null;
  onerror: ((event: ErrorEvent) => void) | null;
  postMessage(message: unknown): void;
  terminate(): void;
}

interface AnyReply {
  readonly kind: string;
  readonly job: number;
}

/** Requests that are answered, before they have a number. */
type Asked<Request> = Request extends { readonly job: number } ? Omit<Request, 'job'> : never;
type Told<Request> = Request extends { readonly job: number } ? never : Request;
type Answer<Reply> = Exclude<Reply, { readonly kind: 'failed' | 'dropped' }>;

interface Waiting<Reply> {
  readonly settle: (answer: Answer<Reply> | null) => void;
  readonly fail: (error: Error) => void;
}

/**
 * Speaks with a worker: each request with a number ends in one reply with that number. A reply of the kind `dropped` says that a newer
 * request came first, one of the kind `failed` says why it could not be done.
 */
export class WorkerChannel<Request extends { readonly kind: string }, Reply extends AnyReply> {
  private readonly waiting = new Map<number, Waiting<Reply>>();
  private jobs = 0;
  private readonly worker: WorkerPort;

  /** @param what it does, as in 'The sound worker' */
  constructor(worker: WorkerPort, what: string) {
    this.worker = worker;
    worker.onmessage = ({ data }: MessageEvent<Reply | (AnyReply & { readonly reason: string })>) => {
      const asker = this.waiting.get(data.job);
      this.waiting.delete(data.job);
      if (asker === undefined) return;
      if (data.kind === 'failed') asker.fail(new Error((data as { readonly reason: string }).reason));
      else asker.settle(data.kind === 'dropped' ? null : (data as Answer<Reply>));
    };
    worker.onerror = (event) => {
      const asked = [...this.waiting.values()];
      this.waiting.clear();
      for (const { fail } of asked) fail(new Error(event.message || `${what} stopped. Reload the page.`));
    };
  }

  /** Null when it was dropped for a newer request. @throws Error when it cannot be done, or the worker has stopped */
  ask(request: Asked<Request>): Promise<Answer<Reply> | null> {
    const job = ++this.jobs;
    return new Promise((settle, fail) => {
      this.waiting.set(job, { settle, fail });
      this.worker.postMessage({ ...request, job });
    });
  }

  /** Says something that is not answered. */
  tell(message: Told<Request>): void {
    this.worker.postMessage(message);
  }

  close(): void {
    this.worker.terminate();
  }
}
