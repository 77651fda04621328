/** Does the same thing no more than once in a while, however often it is asked for. */
export class Paced {
  private readonly restMs: number;
  /** For each key what is under way, with its rest, and what follows it. */
  private readonly now = new Map<string, Promise<void>>();
  private readonly next = new Map<string, Promise<void>>();

  constructor(restMs: number) {
    this.restMs = restMs;
  }

  /** Does `task`, or the one that waits already for `key`, as soon as an earlier one has ended and rested; ends when that has ended. */
  ask(key: string, task: () => Promise<void>): Promise<void> {
    const waiting = this.next.get(key);
    if (waiting !== undefined) return waiting;
    const now = this.now.get(key);
    if (now === undefined) return this.begin(key, task);
    const following = now.then(() => {
      this.next.delete(key);
      return this.begin(key, task);
    });
    this.next.set(key, following);
    return following;
  }

  private begin(key: string, task: () => Promise<void>): Promise<void> {
    const done = task();
    const rested = done
      .catch(() => undefined) // whoever asked is told
      .then(() => new Promise<void>((resolve) => setTimeout(resolve, this.restMs)))
      .then(() => void this.now.delete(key));
    this.now.set(key, rested);
    return done;
  }
}
