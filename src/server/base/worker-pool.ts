import { join } from 'node:path';
import { Piscina } from 'piscina';
import type { ComposeTask } from '../../workers/compose';
import { rootFolder } from './data-folder';

const THREADS = 2;
/** Threads end after they had nothing to do for so long. */
const IDLE_MS = 20_000;

const shared = globalThis as { irimiPool?: Piscina };

/** The worker threads of this process: one pool for the drawing of what is sent out and the looking into sounds. */
export function workerPool(): Piscina {
  return (shared.irimiPool ??= new Piscina({
    filename: join(rootFolder(), 'dist/compose.mjs'),
    minThreads: 0,
    maxThreads: THREADS,
    idleTimeout: IDLE_MS,
  }));
}

/** Draws one frame; gives the number of pixels that nothing covers fully. */
export const compose = (task: ComposeTask): Promise<number> => workerPool().run(task) as Promise<number>;
