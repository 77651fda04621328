import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Film } from '../../src/core/film/film';
import { placedJoins } from '../../src/core/film/timing';
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
  /** Film frame of the cut of a join. */
  cutOf(joinName: string): Promise<number>;
  /** The stage's pixels, every seventh, red green blue. */
  pixels(): Promise<number[]>;
  /** Opens a join at Move and gives the stage's pixels on a frame. */
  show(joinName: string, view: string, frame: number): Promise<number[]>;
  close(): Promise<void>;
}

/** Mean difference of two rows of pixels, 0..255. */
export const apart = (a: readonly number[], b: readonly number[]): number =>
  a.reduce((sum, v, i) => sum + Math.abs(v - b[i]!), 0) / a.length;

export async function openDemoPage(): Promise<DemoPage> {
  const folder = mkdtempSync(join(tmpdir(), 'irimi-screens-'));
  const demo = await openDemo(folder);
  const page = await Browser.open(folder);
  const film = async (): Promise<Film> => {
    await page.until(`return /^saved/.test(document.querySelector('[data-testid="save-state"]')?.textContent ?? '')`, 'it is saved');
    return ((await (await fetch(`${demo.server.url}/api/films/${demo.filmId}`)).json()) as { film: Film }).film;
  };
  const pixels = (): Promise<number[]> =>
    page.script(
      `const c = document.querySelector('canvas[data-stage]');
       return Array.from(c.getContext('2d').getImageData(0, 0, c.width, c.height).data.filter((_, i) => i % 28 < 3))`,
    );
  return {
    folder,
    demo,
    page,
    film,
    cutOf: async (name) => placedJoins(await film()).find((p) => p.join.name === name)!.cut,
    pixels,
    async show(name, view, frame) {
      await page.driver.get(demo.joinUrl(name, { step: 'move', view, frame }));
      await page.stageShows(`${view}, frame ${frame}`);
      return pixels();
    },
    undoIs: (name) => page.until(`return document.querySelector('[aria-label^="Undo: ${name}"]') !== null`, `${name} can be taken back`),
    async close() {
      await page.close();
      await demo.close();
      rmSync(folder, { recursive: true, force: true });
    },
  };
}
