import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Film } from '../../src/core/film/film';
import { Browser } from './browser';
import { openDemo, type Demo } from './demo';

/** A page on the demo film, with a server and a folder of their own; what the page saves goes there. */
export interface DemoPage {
  readonly folder: string;
  readonly demo: Demo;
  readonly page: Browser;
  /** The film as it is stored once everything is saved. */
  film(): Promise<Film>;
  /** Waits until a change can be taken back by this name. */
  undoIs(name: string): Promise<unknown>;
  close(): Promise<void>;
}

export async function openDemoPage(): Promise<DemoPage> {
  const folder = mkdtempSync(join(tmpdir(), 'irimi-screens-'));
  const demo = await openDemo(folder);
  const page = await Browser.open(folder);
  return {
    folder,
    demo,
    page,
    async film() {
      await page.until(`return /^saved/.test(document.querySelector('[data-testid="save-state"]')?.textContent ?? '')`, 'it is saved');
      return ((await (await fetch(`${demo.server.url}/api/films/${demo.filmId}`)).json()) as { film: Film }).film;
    },
    undoIs: (name) =>
      page.until(`return document.querySelector('[aria-label^="Take back: ${name}"]') !== null`, `${name} can be taken back`),
    async close() {
      await page.close();
      await demo.close();
      rmSync(folder, { recursive: true, force: true });
    },
  };
}
