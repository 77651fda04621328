import { Key } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { kindOf, type Film } from '../../src/core/film/film';
import { KIND_NAMES } from '../../src/core/recipes/kinds';
import { openDemoPage, type DemoPage } from './demo-page';

/** Playing while the page has no time: sound blocks come late, and whatever ends the playing finds them so. */

const HELD_MS = 2500;

let opened: DemoPage;
let film: Film;
beforeAll(async () => {
  opened = await openDemoPage();
  const { server, filmId } = opened.demo;
  ({ film } = (await (await fetch(`${server.url}/api/films/${filmId}`)).json()) as { film: Film });
});
afterAll(async () => {
  await opened?.close();
});

/** The ways in which playing ends. */
const ENDS: Readonly<Record<string, () => Promise<unknown>>> = {
  K: () => opened.page.keys('k'),
  Space: () => opened.page.keys(' '),
  'a step': () => opened.page.keys(Key.ARROW_RIGHT),
  leaving: () => opened.page.script(`document.querySelector('a[href^="/films/"]').click()`),
};

describe('a page whose thread is held for a while as it plays', () => {
  it.each(['cut', ...KIND_NAMES].map((kind, i) => [kind, Object.keys(ENDS)[i % 4]!] as const))(
    'goes on in a %s, and stops by %s',
    async (kind, end) => {
      const { page, demo } = opened;
      // a kind that the film has none of is made from a plain cut
      const isThere = film.joins.some((j) => kindOf(j) === kind);
      const { name } = film.joins.find((j) => kindOf(j) === (isThere ? kind : 'cut'))!;
      await page.driver.get(demo.joinUrl(name, { step: isThere ? 'move' : 'pair', view: 'result' }));
      if (!isThere) await page.chooseKind(kind);
      await page.find('canvas[data-stage]');
      await page.until(`return document.querySelector('canvas[data-stage]').dataset.drawn !== ''`, 'a frame is shown', 60_000);
      await page.keys(' ');
      await page.plays(true);
      await page.holdThread(HELD_MS);
      await page.plays(true);
      await ENDS[end]!();
      await page.plays(false);
      // what is left of late blocks would end the page now
      await page.script(`return document.body.offsetWidth`);
      expect(await page.script(`return document.querySelector('[data-failed]') === null`)).toBe(true);
      expect(await page.script(`return document.querySelector('canvas[data-stage]') !== null`)).toBe(true);
      expect(await page.consoleErrors()).toEqual([]);
    },
    120_000,
  );
});
