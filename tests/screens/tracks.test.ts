import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readTruth, type Truth } from '../../demo/truth';
import type { Film } from '../../src/core/film/film';
import type { Browser } from './browser';
import type { Demo } from './demo';
import { openDemoPage, type DemoPage } from './demo-page';

/** The street shot before this join is still to be joined. */
const TO_TRY = 'Tram wipe, to try';
const WIDTH = 1280;
const RIGHT = '\uE014';

let opened: DemoPage | undefined;
let demo: Demo;
let page: Browser;
let truth: Truth;

beforeAll(async () => {
  opened = await openDemoPage();
  ({ demo, page } = opened);
  truth = readTruth('street-tram');
});
afterAll(async () => {
  await opened?.close();
});

const frameOf = (mediumFrame: number): number => demo.leavingFrame(TO_TRY, mediumFrame);

describe('a region to follow', () => {
  const choosePoint = async (): Promise<void> => {
    await page.until(`return document.querySelector('select[aria-label=Region]') !== null`, 'regions can be chosen');
    const point = await page.script<string>(
      `return [...document.querySelector('select[aria-label=Region]').options].find((o) => o.text === 'Point 1').value`,
    );
    await page.select('select[aria-label=Region]', point);
  };

  /** Where the point is on the page. */
  const pointShown = (): Promise<{ x: number; y: number }> =>
    page.until(
      `const c = document.querySelector('[data-point] [data-region]')?.getBoundingClientRect();
       return c === undefined ? null : { x: c.left + c.width / 2, y: c.top + c.height / 2 }`,
      'the point shows',
    );

  it('is marked by dragging a box, followed, and carries an outline', async () => {
    await page.driver.get(demo.joinUrl(TO_TRY, { step: 'track', view: 'leaving', frame: frameOf(10) }));
    await page.stageShows(`leaving, frame ${frameOf(10)}`);
    await page.until(`return document.querySelector('[data-region-editor]') !== null`, 'the editor is there');
    await page.drag(await page.onStage(330, 170, WIDTH), await page.onStage(860, 240, WIDTH));
    await page.until(`return document.querySelectorAll('[data-corner]').length === 4`, 'the region is marked');
    await page.click('Make an outline of the region');
    // one frame on, then one frame back, each no further
    const followed = async (): Promise<number[]> => {
      const film = (await (await fetch(`${demo.server.url}/api/films/${demo.filmId}`)).json()) as { film: Film };
      return film.film.tracks!.find((t) => t.name === 'Region 1')!.frames.map((f) => f.frame);
    };
    const followedTo = async (count: number): Promise<number[]> => {
      for (const began = Date.now(); (await followed()).length < count && Date.now() - began < 90_000;)
        await new Promise((r) => setTimeout(r, 200));
      return followed();
    };
    await page.keys('t');
    expect(await followedTo(1)).toEqual([11]);
    await page.until(`return document.querySelector('[aria-label^="Undo: Followed Region 1"]') !== null`, 'that can be taken back');
    await page.click('Frame back');
    expect(await followedTo(2)).toEqual([9, 11]);
    await page.click('Both ways');
    expect((await followedTo(40)).length).toBeGreaterThan(39);
    await page.until(
      `return document.querySelector('[role=img][aria-label^="Confidence of the followed"]') !== null`,
      'its confidence shows',
    );
    await page.keys(RIGHT);
    await page.stageShows(`leaving, frame ${frameOf(11)}`);
    expect(
      await page.until(`return /Found with confidence (\\d+)/.exec(document.body.textContent)?.[1]`, 'it is found on the next frame'),
    ).toBeTruthy();
    expect(await page.consoleErrors()).toEqual([]);
  }, 180_000);

  it('is marked by a click as a point, beside the region, and followed to where the truth has it', async () => {
    await page.driver.get(demo.joinUrl(TO_TRY, { step: 'track', view: 'leaving', frame: frameOf(10) }));
    await page.stageShows(`leaving, frame ${frameOf(10)}`);
    await page.click('Another');
    const [x, y] = truth.point('window left', 10);
    const at = await page.onStage(x, y, WIDTH);
    await page.clickAt(at.x, at.y);
    await page.until(`return document.querySelector('[data-point]') !== null`, 'the point is marked');
    await page.click('Both ways');
    await page.until(`return document.querySelector('[aria-label^="Undo: Followed Point 1"]') !== null`, 'it is followed', 90_000);
    await page.driver.get(demo.joinUrl(TO_TRY, { step: 'track', view: 'leaving', frame: frameOf(30) }));
    await page.stageShows(`leaving, frame ${frameOf(30)}`);
    await choosePoint();
    const box = await pointShown();
    const expected = await page.onStage(...truth.point('window left', 30), WIDTH);
    expect(Math.hypot(box.x - expected.x, box.y - expected.y)).toBeLessThan(2);
  }, 180_000);

  it('holds the whole shot still on it, on the bench and on the reel', async () => {
    const at = async (mediumFrame: number): Promise<[number, number]> => {
      const frame = demo.leavingFrame(TO_TRY, mediumFrame);
      await page.driver.get(demo.joinUrl(TO_TRY, { step: 'track', view: 'leaving', frame }));
      await page.stageShows(`leaving, frame ${frame}`);
      await choosePoint();
      const box = await pointShown();
      return [box.x, box.y];
    };
    const moving = [await at(10), await at(30)];
    expect(Math.hypot(moving[0]![0] - moving[1]![0], moving[0]![1] - moving[1]![1])).toBeGreaterThan(1);
    await page.click('Hold Street tram still, all of it');
    await page.until(`return document.querySelector('[aria-label^="Undo: Street tram is held still on Point 1"]') !== null`, 'it is held');
    const held = [await at(10), await at(20), await at(30)];
    for (const [x, y] of held) {
      expect(Math.abs(x - moving[0]![0])).toBeLessThan(0.6);
      expect(Math.abs(y - moving[0]![1])).toBeLessThan(0.6);
    }
    // the film's own picture, away from the bench, is held as well: the same picture, sampled where the point is
    const shown = async (mediumFrame: number): Promise<[number, number, number]> => {
      const frame = demo.leavingFrame(TO_TRY, mediumFrame);
      await page.driver.get(demo.filmUrl({ frame }));
      await page.stageShows(`film, frame ${frame}`);
      return page.pixel(...truth.point('window left', 10), WIDTH);
    };
    const [a, b] = [await shown(10), await shown(20)];
    a.forEach((v, c) => expect(Math.abs(v - b[c]!)).toBeLessThan(30));
    expect(await page.consoleErrors()).toEqual([]);
  }, 180_000);
});
