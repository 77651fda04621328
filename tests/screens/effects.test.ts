import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { placedJoins } from '../../src/core/film/timing';
import type { Browser } from './browser';
import type { Demo } from './demo';
import { apart, openDemoPage, type DemoPage } from './demo-page';

let opened: DemoPage | undefined;
let demo: Demo;
let page: Browser;
let film: DemoPage['film'];
let undoIs: DemoPage['undoIs'];
let pixels: DemoPage['pixels'];
beforeAll(async () => {
  opened = await openDemoPage();
  ({ demo, page, film, undoIs, pixels } = opened);
  await page.driver.get(demo.filmUrl({ frame: 0 }));
});
afterAll(async () => {
  await opened?.close();
});

const NAME = 'The cart comes';
/** The stage's pixels, every seventh, red green blue, once the result shows on a frame. */
const shown = async (frame: number): Promise<number[]> => {
  await page.driver.get(demo.joinUrl(NAME, { step: 'blend', view: 'result', frame }));
  await page.stageShows(`result, frame ${frame}`);
  return pixels();
};
/** Adds an effect to what is laid over a place: the layer selected, the join or the film. */
const add = async (section: string, kind: string): Promise<void> => {
  await page.script(
    `const s = [...document.querySelectorAll('section')].find((e) => e.getAttribute('aria-label') === arguments[0]).querySelector('select[aria-label="Add an effect"]');
     Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, 'value').set.call(s, arguments[1]); s.dispatchEvent(new Event('change', { bubbles: true }))`,
    section,
    kind,
  );
};

describe('effects', () => {
  it('lie on a layer alone: a shadow of the cart falls on what lies under it, and nowhere once it has died away', async () => {
    const { from, to, cut } = placedJoins(await film()).find((p) => p.join.name === NAME)!;
    const [early, late] = [from + 2, to - 1];
    const [before, beforeLate] = [await shown(early), await shown(late)];
    await page.script(
      `[...document.querySelectorAll('section[aria-label=Layers] button')].find((b) => b.textContent.startsWith('Handcart')).click()`,
    );
    await page.find('section[aria-label="Effects of Handcart"]');
    await add('Effects of Handcart', 'drop shadow');
    await undoIs('Added drop shadow');
    const shaded = await shown(early);
    expect(apart(shaded, before)).toBeGreaterThan(0.3);
    // a shadow only darkens
    expect(shaded.reduce((most, v, i) => Math.max(most, v - before[i]!), 0)).toBeLessThanOrEqual(2);
    await page.script(
      `[...document.querySelectorAll('section[aria-label=Layers] button')].find((b) => b.textContent.startsWith('Handcart')).click()`,
    );
    await page.click('Fades out over');
    await undoIs('Drop shadow fades out');
    const { layers } = (await film()).joins.find((j) => j.name === NAME)!;
    const amount = layers.find((l) => l.name === 'Handcart')!.effects[0]!.params['amount'];
    expect(amount).toMatchObject([
      { frame: from - cut, value: 0.6 },
      { frame: from - cut + 8, value: 0 },
    ]);
    expect(apart(await shown(late), beforeLate)).toBeLessThan(0.05);
  }, 90_000);

  it('lie over a whole join: each of them changes the picture, and taking it back brings that back', async () => {
    const { from } = placedJoins(await film()).find((p) => p.join.name === NAME)!;
    const plain = await shown(from + 9);
    for (const kind of ['shake', 'glow', 'flash', 'drawn sketch', 'flip']) {
      await shown(from + 9);
      await add('Effects on the join', kind);
      await undoIs(`Added ${kind}`);
      expect(apart(await shown(from + 9), plain), kind).toBeGreaterThan(0.1);
      await page.script(`document.querySelector('[aria-label^="Undo: Added ${kind}"]').click()`);
      expect(apart(await shown(from + 9), plain)).toBeLessThan(0.01);
    }
    expect(await page.consoleErrors()).toEqual([]);
  }, 150_000);
});
