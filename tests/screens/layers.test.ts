import { Key } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Film } from '../../src/core/film/film';
import type { Browser } from './browser';
import type { Demo } from './demo';
import { openDemoPage, type DemoPage } from './demo-page';

let opened: DemoPage | undefined;
let demo: Demo;
let page: Browser;
const NAME = 'The bell';
beforeAll(async () => {
  opened = await openDemoPage();
  ({ demo, page } = opened);
});
afterAll(async () => {
  await opened?.close();
});

const join = async (): Promise<Film['joins'][number]> => {
  await page.until(`return /^saved/.test(document.querySelector('[data-testid="save-state"]')?.textContent ?? '')`, 'it is saved');
  const { film } = (await (await fetch(`${demo.server.url}/api/films/${demo.filmId}`)).json()) as { film: Film };
  return film.joins.find((j) => j.name === NAME)!;
};
const names = async (): Promise<string[]> => (await join()).layers.map((l) => l.name);
const undoIs = (name: string): Promise<unknown> =>
  page.until(`return document.querySelector('[aria-label^="Undo: ${name}"]') !== null`, `${name} can be taken back`);
const row = (name: string): Promise<{ x: number; y: number }> =>
  page.script(
    `const e = [...document.querySelectorAll('section[aria-label=Layers] button')].find((e) => e.textContent.startsWith(arguments[0]));
     e.scrollIntoView({ block: 'nearest' }); const b = e.getBoundingClientRect();
     return { x: b.left + 90, y: b.top + b.height / 2 }`,
    name,
  );
const select = (name: string): Promise<unknown> =>
  page.script(
    `[...document.querySelectorAll('section[aria-label=Layers] button')].find((e) => e.textContent.startsWith(arguments[0])).click()`,
    name,
  );
const ADD = 'Add a layer, a carrier or the camera';

describe('the left panel', () => {
  it('adds layers of every source, duplicates, renames and removes them', async () => {
    // high enough for all layers and carriers to be in sight
    await page.resize(1280, 1200);
    // what was made of it in the demo film is laid aside
    await page.driver.get(demo.joinUrl(NAME, { step: 'pair', view: 'result' }));
    await page.chooseKind('cut');
    await undoIs('Made it a plain cut');
    await page.driver.get(demo.joinUrl(NAME, { step: 'move', view: 'result' }));
    await page.find('section[aria-label="Weave"]');
    await page.choose(ADD, 'A colour');
    await undoIs('Added the layer Colour');
    await page.choose(ADD, 'All beneath');
    await page.choose(ADD, 'Moonrise');
    await page.choose(ADD, 'This frame of Figure b');
    expect((await join()).layers.map((l) => l.source.kind)).toEqual(['held', 'medium', 'all beneath', 'colour', 'leaving', 'entering']);
    await page.click('Duplicate Figure b, held');
    await select('Colour');
    const field = await page.find('input[aria-label="Name of Colour"]');
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), 'Night', Key.ENTER);
    await undoIs('Renamed Colour Night');
    await page.click('Remove Night');
    expect(await names()).not.toContain('Night');
    await page.chord([Key.CONTROL], 'z');
    expect(await names()).toContain('Night');
  });

  it('orders layers by dragging them', async () => {
    const before = await names();
    const [from, to] = [await row('Night'), await row(before[0]!)];
    await page.drag(from, { x: from.x, y: from.y - 20 }, { x: to.x, y: to.y }, { x: to.x, y: to.y - 4 });
    await undoIs('Moved Night in the stack');
    expect((await names()).indexOf('Night')).toBeLessThan(before.indexOf('Night'));
  });

  it('lets a layer ride on a carrier by dropping it there, and the carrier’s move shows', async () => {
    await page.choose(ADD, 'A carrier');
    await undoIs('Added a carrier');
    const [from, to] = [await row('Night'), await row('Carrier')];
    await page.drag(from, { x: from.x, y: from.y + 30 }, to, { x: to.x + 2, y: to.y + 1 });
    await undoIs('Night rides on Carrier');
    const made = await join();
    expect(made.layers.find((l) => l.name === 'Night')!.ridesOn).toBe(made.carriers[0]!.id);
    await page.until(
      `return document.querySelector('section[aria-label=Layers]').textContent.includes('rides on Carrier')`,
      'the row says so',
    );
  });

  it('shows one layer alone, on the stage only', async () => {
    await select('Night');
    await page.click('Show only Night');
    const only = await page.find('[aria-label="Show only Night"][aria-pressed=true]');
    await only.click();
    expect((await join()).layers.every((l) => l.visible)).toBe(true);
  });

  it('keys a number on this frame, and the camera has numbers of its own', async () => {
    await select('Carrier');
    await page.click('Add a keyframe of scale');
    await undoIs('Keyframe of scale of Carrier');
    await page.until(`return document.querySelector('[aria-label=Lanes]').textContent.includes('Carrier · scale')`, 'its lane is there');
    await page.choose(ADD, 'The camera');
    await undoIs('Added the camera');
    const focal = await page.find('input[aria-label="Focal length"]');
    await focal.sendKeys(Key.chord(Key.CONTROL, 'a'), '35', Key.ENTER);
    await undoIs('Focal length of the camera');
    expect((await join()).camera).toMatchObject({ focalMm: 35 });
  });
});

describe('Blend', () => {
  it('sets blend mode and edge of a layer, and adds an effect whose numbers are keyed', async () => {
    await (await page.find('[role=tab][data-value=blend]')).click();
    await select('Night');
    await page.select('select[aria-label="Blend mode"]', 'multiply');
    await undoIs('Blend mode multiply of Night');
    await page.select('select[aria-label="Edge"]', 'mirrored');
    await page.select('section[aria-label="Effects of Night"] select[aria-label="Add an effect"]', 'exposure');
    await undoIs('Added exposure');
    const stops = await page.find('input[aria-label="exposure, light"]');
    await stops.sendKeys(Key.chord(Key.CONTROL, 'a'), '1.5', Key.ENTER);
    await undoIs('exposure, light of Night');
    const night = (await join()).layers.find((l) => l.name === 'Night')!;
    expect(night).toMatchObject({ blend: 'multiply', edges: 'mirrored', effects: [{ kind: 'exposure', params: { stops: 1.5 } }] });
  });
});
