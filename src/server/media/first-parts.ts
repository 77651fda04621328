import { readdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { mediumFile, mediumFolder, type MediumFile } from '../base/data-folder';
import { run } from '../base/processes';
import { countFrames } from '../video/ffmpeg';

/** Frames after which the first part of a medium can be used. */
const FIRST = 240;
/** Each next part holds so many times as much, so that all of them together cost little. */
const GROWS = 2;
/** Seconds that giving out a part may take: nothing is decoded. */
const LIMIT = 120;
/** What is shown of a part goes on being read for a while after the whole is there, ms. */
const KEPT_MS = 30_000;

const PART = /^part-\d+\.webm$/;

/** Gives out the beginning of a proxy while the rest is still being made. */
export class FirstParts {
  private readonly id: string;
  private readonly growing: string;
  private readonly expected: number;
  private readonly give: (file: MediumFile, frames: number) => Promise<void>;
  private due = FIRST;
  private made = 0;
  private making: Promise<void> | null = null;

  /** `growing` is the file that is being written; `expected` how many frames it will have. `give` is called with each part. */
  constructor(id: string, growing: string, expected: number, give: (file: MediumFile, frames: number) => Promise<void>) {
    this.id = id;
    this.growing = growing;
    this.expected = expected;
    this.give = give;
  }

  /** So many frames are written. What is nearly all is waited for. */
  reached(frames: number): void {
    if (this.making !== null || frames < this.due || this.expected < GROWS * frames) return;
    this.due = GROWS * frames;
    this.making = this.make()
      .catch((error: unknown) => console.error('A first part could not be given out:', error))
      .finally(() => (this.making = null));
  }

  /** Waits for a part that is being made. */
  async ended(): Promise<void> {
    await this.making;
  }

  private async make(): Promise<void> {
    const file: MediumFile = `part-${++this.made}.webm`;
    const path = mediumFile(this.id, file);
    await run('ffmpeg', ['-v', 'error', '-nostdin', '-y', '-copyts', '-i', this.growing, '-c', 'copy', '-f', 'webm', path], {
      seconds: LIMIT,
    });
    const frames = await countFrames(path);
    if (frames > 0) await this.give(file, frames);
  }
}

/** Takes away the parts of a medium, at once or once nobody reads them any more. */
export async function removeParts(id: string, when: 'now' | 'soon' = 'now'): Promise<void> {
  if (when === 'soon') {
    setTimeout(() => void removeParts(id), KEPT_MS).unref();
    return;
  }
  const entries = await readdir(mediumFolder(id)).catch(() => []); // it may be gone itself by then
  await Promise.all(entries.filter((e) => PART.test(e)).map((e) => rm(join(mediumFolder(id), e), { force: true })));
}
