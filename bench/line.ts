/** One measured thing. Ratios compare runs on the same machine at the same time; absolute figures do not travel. */
export interface Line {
  readonly what: string;
  readonly value: string;
  /** What it is compared with, and that one's figure. */
  readonly against: string;
}

/** Median of `runs` timings of `work` in milliseconds, after one that warms up. */
export async function medianMs(runs: number, work: () => unknown): Promise<number> {
  await work();
  const times: number[] = [];
  for (let i = 0; i < runs; i++) {
    const began = performance.now();
    await work();
    times.push(performance.now() - began);
  }
  return times.sort((a, b) => a - b)[Math.floor(runs / 2)]!;
}
