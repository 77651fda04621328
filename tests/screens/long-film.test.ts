import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { addShot } from '../../src/core/film/edits/reel';
import type { Film } from '../../src/core/film/film';
import { makeEdit } from '../../src/core/film/history';
import { readyMedia, type ShelfMedium } from '../../src/core/film/media-facts';
import { openDemoPage, type DemoPage } from './demo-page';

const SHOTS = 300;
/** Frames of the film that is looked at, in its middle. */
const AT = 900;

let opened: DemoPage;
beforeAll(async () => {
  opened = await openDemoPage();
});
afterAll(async () => {
  await opened?.close();
});

/** Makes the film as long as a day's work. */
async function lengthen(): Promise<void> {
  const { server, filmId } = opened.demo;
  const get = async <T>(path: string): Promise<T> => (await (await fetch(`${server.url}/api/films/${filmId}${path}`)).json()) as T;
  const { film, revision } = await get<{ film: Film; revision: number }>('');
  const media = [...readyMedia(await get<ShelfMedium[]>('/media')).values()];
  const made = makeEdit(film, 'Put all of the day on the reel', (d) => {
    while (d.shots.length < SHOTS) addShot(d, media[d.shots.length % media.length]!, d.shots.length, randomUUID);
  })!;
  const answer = await server.send('POST', `films/${filmId}/edits`, { base: revision, id: randomUUID(), edit: made.edit });
  expect([answer.status, await answer.text()]).toEqual([200, expect.any(String)]);
}

/** Seconds until the reel stands there with its picture. */
async function opening(): Promise<number> {
  const { page, demo } = opened;
  await page.driver.get('about:blank');
  const began = Date.now();
  await page.driver.get(demo.filmUrl({ frame: AT }));
  await page.stageShows(`film, frame ${AT}`);
  return (Date.now() - began) / 1000;
}

/** Milliseconds from a step's key until its frame number is painted: the middle of twenty. */
const stepping = (): Promise<number> =>
  opened.page.driver.executeAsyncScript<number>(`
    const done = arguments[0], field = document.querySelector('input[aria-label="Frame"]'), times = [];
    const step = () => {
      if (times.length === 20) return done(times.sort((a, b) => a - b)[10]);
      const was = field.value, began = performance.now();
      window.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowRight', bubbles: true }));
      const look = () => (field.value === was ? requestAnimationFrame(look) : (times.push(performance.now() - began), setTimeout(step, 30)));
      look();
    };
    step();`);

it(`opens a film of ${SHOTS} shots as fast as one of 30, and answers keys in it as fast`, async () => {
  await opening(); // the program itself is loaded
  const [short, shortStep] = [await opening(), await stepping()];
  await lengthen();
  const [long, longStep] = [await opening(), await stepping()];
  expect(await opened.page.script(`return document.querySelectorAll('[data-shot]').length`)).toBeGreaterThan(20);
  console.log(`opening ${short.toFixed(2)} s, ${long.toFixed(2)} s; a step ${shortStep.toFixed(0)} ms, ${longStep.toFixed(0)} ms`);
  expect(long).toBeLessThan(2 * short + 1);
  expect(longStep).toBeLessThan(2 * shortStep + 20);
  expect(await opened.page.consoleErrors()).toEqual([]);
}, 120_000);
