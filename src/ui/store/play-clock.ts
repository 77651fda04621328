/** Seconds that a device's clock may stand still before the picture goes on without it. */
const PATIENCE = 0.4;
/** Seconds of silence after which playing begins all the same, when no sound has come. */
const LONGEST_WAIT = 0.6;

/**
 * How long has been played: by the sound while its device keeps time, so that the picture follows it; by the page's own clock before
 * any sound has come, and where there is no device. Never goes back.
 */
export class PlayClock {
  private readonly now: () => number;
  /** What the sound's device says, and when by it playing began; null until sound was begun. */
  private device: { readonly time: () => number; readonly began: number } | null = null;
  private readonly openedAt: number;
  /** Where the page's own clock took over: its time, and what had been played by then. */
  private own: { readonly at: number; readonly played: number } | null = null;
  private last = 0;
  private seen = { device: -Infinity, at: 0 };

  /** `now`: the page's clock, seconds. */
  constructor(now: () => number) {
    this.now = now;
    this.openedAt = now();
  }

  /** Sound begins at `began` of the device's own clock. */
  follow(time: () => number, began: number): void {
    if (this.device !== null || this.own !== null) return;
    this.device = { time, began };
    this.seen = { device: time(), at: this.now() };
  }

  /** Whether the picture follows the sound. */
  get followsSound(): boolean {
    return this.device !== null && this.own === null;
  }

  /** Seconds played. */
  seconds(): number {
    const now = this.now();
    if (this.own === null) {
      if (this.device === null) {
        if (now - this.openedAt > LONGEST_WAIT) this.own = { at: now, played: 0 };
      } else {
        const time = this.device.time();
        if (time > this.seen.device) this.seen = { device: time, at: now };
        else if (now - this.seen.at > PATIENCE) this.own = { at: this.seen.at, played: this.last };
        if (this.own === null) this.last = Math.max(this.last, time - this.device.began);
      }
    }
    if (this.own !== null) this.last = Math.max(this.last, this.own.played + now - this.own.at);
    return Math.max(0, this.last);
  }
}
