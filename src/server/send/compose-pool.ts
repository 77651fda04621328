import { join } from 'node:path';
import { Piscina } from 'piscina';
import type { ComposeTask } from '../../workers/compose';
import { rootFolder } from '../data-folder';

const THREADS = 2;
/** Threads end after they had nothing to draw for so long. */
const IDLE_MS = 20_000;

const shared = globalThis as { irimiComposers?: Piscina<ComposeTask, number> };

/** The worker threads that draw what is sent out: one pool for all that is sent in this process. */
export function composePool(): Piscina<ComposeTask, number> {
  return (shared.irimiComposers ??= new Piscina<ComposeTask, number>({
    filename: join(rootFolder(), 'dist/compose.mjs'),
    minThreads: 0,
    maxThreads: THREADS,
    idleTimeout: IDLE_MS,
  }));
}
