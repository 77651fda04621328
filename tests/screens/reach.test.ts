import { Key } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { openDemoPage, type DemoPage } from './demo-page';

/** What can be come by without a pointer, and how soon. */

let opened: DemoPage;
beforeAll(async () => {
  opened = await openDemoPage();
});
afterAll(async () => {
  await opened?.close();
});

/** The main action of each step, and the ways past what comes before it. */
const MAIN: Readonly<Record<string, string>> = {
  pair: 'Choose the kind of join…',
  mask: 'Find the trailing edge again',
  track: 'Regions and points',
  move: 'Overlap follows the hole',
  blend: 'Add an effect',
  check: 'Issues in this join',
};

/** Opens a step of the tram's wipe with nothing focused. */
async function open(step: string): Promise<void> {
  const { page, demo } = opened;
  await page.driver.get(demo.joinUrl('Tram wipe', { step, view: step === 'mask' ? 'leaving' : 'result', frame: 84 }));
  await page.stageShows(`${step === 'mask' ? 'leaving' : 'result'}, frame 84`);
  await page.find('nav[aria-label="Skip to"] a');
}

/** Presses Tab up to `most` times until the focus is on something of this name. @returns how often; null when it never was */
async function tabsTo(name: string, most: number): Promise<number | null> {
  for (let n = 1; n <= most; n++) {
    await opened.page.keys(Key.TAB);
    if ((await opened.page.focused()) === name) return n;
  }
  return null;
}

describe('by keyboard alone', () => {
  it.each(Object.entries(MAIN))('the main action of %s is at most 15 Tabs away', async (step, name) => {
    const { page } = opened;
    await open(step);
    await page.keys(Key.TAB);
    expect(await opened.page.focused()).toMatch(/^Skip to /);
    await page.keys(Key.ENTER);
    expect(await tabsTo(name, 14)).not.toBeNull();
  });

  it('each toolbar and list is one stop, whose arrows go from one to the next', async () => {
    const { page, demo } = opened;
    for (const url of [demo.joinUrl('Through the loupe', { step: 'mask', view: 'leaving' }), demo.filmUrl({ frame: 80 })]) {
      await page.driver.get(url);
      await page.find('canvas[data-stage]');
      await page.find('[role=toolbar] button');
      expect(await page.rowsOfManyStops()).toEqual([]);
    }
    await page.keys(Key.TAB, Key.TAB, Key.ENTER); // to the stage
    expect(await tabsTo('Zoom out (−)', 6)).not.toBeNull();
    await page.keys(Key.ARROW_RIGHT);
    expect(await opened.page.focused()).toBe('Zoom in (+)');
    await page.keys(Key.END);
    expect(await opened.page.focused()).toMatch(/second window/i);
    await page.keys(Key.HOME, Key.TAB);
    expect(await opened.page.focused()).not.toBe('Zoom in (+)');
  });

  it('arrows step through frames after a click on a button of a toolbar', async () => {
    const { page } = opened;
    await open('move');
    await page.click('One frame on (→)');
    await page.stageShows('result, frame 85');
    await page.keys(Key.ARROW_RIGHT);
    await page.stageShows('result, frame 86');
  });
});

describe('menus and dialogs', () => {
  it.each(['Add a layer, a carrier or the camera', 'Add a matte'])('have nothing for axe, and give the focus back: %s', async (menu) => {
    await open('move');
    expect(await opened.page.findingsOfMenu(menu)).toEqual([]);
  });

  it.each([
    ['Choose the kind of join…', 'pair'],
    ['Save as a recipe…', 'pair'],
    ['Keyboard shortcuts (?)', 'move'],
    ['Export', 'check'],
  ])('have nothing for axe, and give the focus back: %s', async (name, step) => {
    await open(step);
    expect(await opened.page.findingsOfDialog(name)).toEqual([]);
  });
});
