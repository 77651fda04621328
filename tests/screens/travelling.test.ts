import { readFileSync, readdirSync } from 'node:fs';
import { join as joinPath } from 'node:path';
import { Key } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Join } from '../../src/core/film/film';
import type { OwnRecipe } from '../../src/core/recipes/own-recipe';
import type { Browser } from './browser';
import type { Demo } from './demo';
import { apart, openDemoPage, type DemoPage } from './demo-page';

let opened: DemoPage | undefined;
let demo: Demo;
let page: Browser;
let film: DemoPage['film'];
let undoIs: DemoPage['undoIs'];
let cutOf: DemoPage['cutOf'];
let show: DemoPage['show'];
beforeAll(async () => {
  opened = await openDemoPage();
  ({ demo, page, film, undoIs, cutOf, show } = opened);
  await page.driver.get(demo.filmUrl({ frame: 0 }));
});
afterAll(async () => {
  await opened?.close();
});

const joinOf = async (name: string): Promise<Join> => (await film()).joins.find((j) => j.name === name)!;
const openPair = (name: string): Promise<unknown> => page.driver.get(demo.joinUrl(name, { step: 'pair', view: 'result' }));
const setNumber = async (label: string, value: string): Promise<void> => {
  const field = await page.find(`input[aria-label="${label}"]`);
  await field.sendKeys(Key.chord(Key.CONTROL, 'a'), value, Key.ENTER);
};
/** Colours of a film pixel of what the stage shows. */
const near = (a: readonly number[], b: readonly number[]): boolean => a.every((v, i) => Math.abs(v - b[i]!) < 14);

describe('panels on the beat', () => {
  const NAME = 'Back to the street';

  it('are made from a plain cut: slices of the first picture land until it is whole, and the shot runs', async () => {
    await openPair(NAME);
    await page.chooseKind('panels on the beat');
    await undoIs('Made it panels on the beat');
    const cut = await cutOf(NAME);
    await page.driver.get(demo.joinUrl(NAME, { step: 'move', view: 'result', frame: cut - 14 }));
    await page.click('frames');
    await undoIs('Panels on the beat: every');
    await setNumber('Panels', '4');
    await undoIs('Panels on the beat: panels');
    expect(await joinOf(NAME)).toMatchObject({ before: 24, after: 0, recipe: { settings: { count: 4, on: 'frames' } } });
    // two of four have landed
    const half = cut - 13;
    await show(NAME, 'entering', cut);
    const [newLeft, newRight] = [await page.pixel(300, 500, 1280), await page.pixel(1000, 500, 1280)];
    await show(NAME, 'leaving', half);
    const oldRight = await page.pixel(1000, 500, 1280);
    await show(NAME, 'result', half);
    expect(near(await page.pixel(300, 500, 1280), newLeft)).toBe(true);
    expect(near(await page.pixel(1000, 500, 1280), oldRight)).toBe(true);
    expect(near(newRight, oldRight)).toBe(false);
    expect(apart(await show(NAME, 'result', cut - 1), await show(NAME, 'entering', cut))).toBeLessThan(3);
    expect(await page.consoleErrors()).toEqual([]);
  }, 120_000);

  it('have effects whose spans are dragged under the weave', async () => {
    const cut = await cutOf(NAME);
    await page.driver.get(demo.joinUrl(NAME, { step: 'blend', view: 'result', frame: cut - 20 }));
    await page.stageShows(`result, frame ${cut - 20}`);
    await page.script(
      `[...document.querySelectorAll('section[aria-label=Layers] button')].find((b) => b.textContent.startsWith('Panel 1')).click()`,
    );
    const bar = await page.find('[aria-label="Shake, Panel 1: last frame"]');
    const before = Number(await bar.getAttribute('aria-valuenow'));
    await bar.sendKeys(Key.ARROW_RIGHT);
    await undoIs('Span of shake');
    const shake = (await joinOf(NAME)).layers.find((l) => l.name === 'Panel 1')!.effects.find((e) => e.kind === 'shake')!;
    expect(shake.span!.last + cut).toBe(before + 1);
    await page.chord([Key.CONTROL], 'z');
  }, 60_000);
});

describe('a held cut-out', () => {
  const NAME = 'Figures';

  it('is made from a plain cut: a subject painted in the next shot lands frozen over the leaving one', async () => {
    await openPair(NAME);
    await page.chooseKind('held cut-out');
    await undoIs('Made it a held cut-out');
    const cut = await cutOf(NAME);
    await page.driver.get(demo.joinUrl(NAME, { step: 'move', view: 'result', frame: cut - 1 }));
    // the figure's own outline is there: it is offered first
    const { recipe } = await joinOf(NAME);
    expect(recipe).toMatchObject({ kind: 'held cut-out', settings: { way: 'lands', side: 'entering' } });
    await show(NAME, 'entering', cut);
    const figure = await page.pixel(640, 420, 1280);
    await show(NAME, 'leaving', cut - 1);
    const [old, ground] = [await page.pixel(640, 420, 1280), await page.pixel(80, 650, 1280)];
    await show(NAME, 'result', cut - 1);
    expect(near(await page.pixel(640, 420, 1280), figure)).toBe(true);
    expect(near(figure, old)).toBe(false);
    expect(near(await page.pixel(80, 650, 1280), ground)).toBe(true);
  }, 120_000);

  it('pulls back as well: the leaving shot is seen through the hole until it closes', async () => {
    await page.driver.get(demo.joinUrl(NAME, { step: 'move', view: 'result' }));
    await page.find('select[aria-label="Style"]');
    await page.select('select[aria-label="Style"]', 'pulls back');
    await undoIs('Held cut-out: style');
    await setNumber('Over', '20');
    await undoIs('Held cut-out over 20 frames');
    await page.driver.wait(async () => (await joinOf(NAME)).carriers.length === 1, 10_000, 'the hole is measured');
    const cut = await cutOf(NAME);
    expect(apart(await show(NAME, 'result', cut - 20), await show(NAME, 'leaving', cut - 20))).toBeLessThan(2);
    expect(apart(await show(NAME, 'result', cut - 1), await show(NAME, 'entering', cut))).toBeLessThan(4);
    const middle = await show(NAME, 'result', cut - 10);
    expect(apart(middle, await show(NAME, 'leaving', cut - 10))).toBeGreaterThan(8);
  }, 120_000);
});

describe('tiles in space', () => {
  const NAME = 'To the bench';

  it('are made from a plain cut: the frame folds, the camera goes on, and the next tile opens', async () => {
    await openPair(NAME);
    await page.chooseKind('tiles in space');
    await undoIs('Made it tiles in space');
    const cut = await cutOf(NAME);
    const { before, after } = await joinOf(NAME);
    expect(apart(await show(NAME, 'result', cut - before), await show(NAME, 'leaving', cut - before))).toBeLessThan(1.5);
    await show(NAME, 'result', cut - 18);
    expect(near(await page.pixel(40, 40, 1280), [16, 20, 34])).toBe(true);
    await show(NAME, 'entering', cut);
    const centre = await page.pixel(640, 400, 1280);
    await show(NAME, 'result', cut);
    expect(near(await page.pixel(640, 400, 1280), centre)).toBe(true);
    expect(near(await page.pixel(40, 40, 1280), [16, 20, 34])).toBe(true);
    expect(apart(await show(NAME, 'result', cut + after), await show(NAME, 'entering', cut + after))).toBeLessThan(0.01);
  }, 120_000);
});

describe('a drop through', () => {
  const NAME = 'To the loft';

  it('is made from a plain cut and laid together by a point marked in each', async () => {
    await openPair(NAME);
    await page.chooseKind('drop through');
    await undoIs('Made it a drop through');
    const cut = await cutOf(NAME);
    await page.driver.get(demo.joinUrl(NAME, { step: 'move', view: 'result', frame: cut }));
    const { leavingShotId, enteringShotId } = await joinOf(NAME);
    const { shots } = await film();
    const nameOf = (id: string): string => shots.find((s) => s.id === id)!.name;
    for (const [side, id, y] of [
      ['leaving', leavingShotId, 600],
      ['entering', enteringShotId, 100],
    ] as const) {
      await page.click(`Mark in ${nameOf(id)}`);
      await page.stageShows(`${side}, frame ${side === 'leaving' ? cut - 1 : cut}`);
      const at = await page.onStage(640, y, 1280);
      await page.clickAt(at.x, at.y);
      await undoIs('Marked a point of interest');
    }
    await page.click('From the points');
    await undoIs('Drop through: what falls');
    const { settings } = (await joinOf(NAME)).recipe as Extract<Join['recipe'], { kind: 'drop through' }>;
    expect(Math.abs(settings.pin!.y - 500)).toBeLessThan(4);
    await show(NAME, 'leaving', cut);
    const above = await page.pixel(640, 700, 1280);
    await show(NAME, 'result', cut);
    // what lay below has gone up
    expect(near(await page.pixel(640, 700, 1280), above)).toBe(false);
    const { before, after } = await joinOf(NAME);
    expect(apart(await show(NAME, 'result', cut - before - 1), await show(NAME, 'leaving', cut - before - 1))).toBeLessThan(0.01);
    expect(apart(await show(NAME, 'result', cut + after), await show(NAME, 'entering', cut + after))).toBeLessThan(0.01);
  }, 120_000);
});

describe('a bridge', () => {
  const NAME = 'Up to the dome, to try';

  it('is made from a plain cut: the nearer shot is found in the wider one, and one camera goes from the one to the other', async () => {
    await openPair(NAME);
    await page.chooseKind('bridge');
    await undoIs('Made it a bridge');
    const cut = await cutOf(NAME);
    await page.driver.get(demo.joinUrl(NAME, { step: 'move', view: 'result', frame: cut }));
    await page.until(`return document.querySelector('[data-way]')?.innerText.includes('Say where')`, 'it says what it lacks');
    await page.click('From the pictures');
    await undoIs('Bridge: the same in both');
    const made = await joinOf(NAME);
    const { settings } = made.recipe as Extract<Join['recipe'], { kind: 'bridge' }>;
    expect(settings.pin!.scale).toBeGreaterThan(0.17);
    expect(settings.pin!.scale).toBeLessThan(0.27);
    expect(Math.hypot(settings.pin!.x - 33, settings.pin!.y + 100)).toBeLessThan(25);
    const [from, to] = [cut - made.before, cut + made.after];
    expect(apart(await show(NAME, 'result', from - 1), await show(NAME, 'leaving', from - 1))).toBeLessThan(0.01);
    expect(apart(await show(NAME, 'result', to), await show(NAME, 'entering', to))).toBeLessThan(0.01);
    // half way the dome is larger than in the one and smaller than in the other
    const middle = await show(NAME, 'result', Math.round((from + to) / 2));
    expect(apart(middle, await show(NAME, 'leaving', Math.round((from + to) / 2)))).toBeGreaterThan(4);
    expect(apart(middle, await show(NAME, 'entering', Math.round((from + to) / 2)))).toBeGreaterThan(4);
  }, 120_000);
});

describe('a recipe of one’s own', () => {
  it('is saved from a join, laid on another and on several at once, exported, deleted and imported again', async () => {
    await openPair('The cart comes');
    await page.click('Save as a recipe…');
    const name = await page.find('input[aria-label="Name of the recipe"]');
    await name.sendKeys(Key.chord(Key.CONTROL, 'a'), 'Comes from the left');
    await page.click('Save');
    await page.until(`return document.querySelector('[role=dialog]') === null`, 'it is saved');
    await openPair('An empty desk');
    await page.click('Choose the kind of join…');
    await page.find('[data-own-recipe="Comes from the left"]');
    await page.click('Apply here');
    await undoIs('Applied Comes from the left');
    await page.until(`return document.querySelector('[data-told]')?.innerText.includes('Paint over “Handcart”')`, 'it is told what lacks');
    expect((await joinOf('An empty desk')).recipe).toMatchObject({
      kind: 'arrive',
      settings: { matteId: expect.any(String) as string, distancePx: 620 },
    });

    await page.driver.get(demo.filmUrl({ frame: 0 }));
    for (const one of ['A lantern', 'Under the moon']) await (await page.find(`input[aria-label="Choose ${one}"]`)).click();
    await page.click('Apply to 2 joins');
    await undoIs('Applied Comes from the left to 2 joins');
    expect(await page.script(`return document.querySelector('ul[aria-label="What did not fit"]').children.length`)).toBe(2);
    expect([(await joinOf('A lantern')).recipe?.kind, (await joinOf('Under the moon')).recipe?.kind]).toEqual(['arrive', 'arrive']);
    await page.chord([Key.CONTROL], 'z');

    await openPair('An empty desk');
    await page.click('Choose the kind of join…');
    await page.click('Export Comes from the left');
    const file = joinPath(opened!.folder, 'Comes from the left.json');
    await page.driver.wait(() => readdirSync(opened!.folder).includes('Comes from the left.json'), 10_000, 'the file is there');
    expect((JSON.parse(readFileSync(file, 'utf8')) as OwnRecipe).format).toBe('irimi recipe');
    await page.click('Delete Comes from the left');
    await page.until(`return document.querySelector('[data-own-recipe]') === null`, 'it is deleted');
    await (await page.find('input[aria-label="Import recipes"]')).sendKeys(file);
    await page.find('[data-own-recipe="Comes from the left"]');
    await page.keys(Key.ESCAPE);
    expect(await page.consoleErrors()).toEqual([]);
  }, 120_000);
});

describe('layers', () => {
  it('are copied from one join to another', async () => {
    await page.driver.get(demo.joinUrl('The cart comes', { step: 'blend', view: 'result' }));
    await page.until(`return document.querySelector('section[aria-label=Layers] button') !== null`, 'the layers are there');
    await page.script(
      `[...document.querySelectorAll('section[aria-label=Layers] button')].find((b) => b.textContent.startsWith('Handcart')).click()`,
    );
    await page.click('Copy Handcart');
    // another join without a reload, as by its link
    await page.script(`document.querySelector('a[href^="/films/"]').click()`);
    await page.until(`return document.querySelector('section[aria-label=Shelf]') !== null`, 'the reel is open');
    await page.script(
      `[...document.querySelectorAll('section[aria-label=Details] a')].find((a) => a.textContent.startsWith('A lantern')).click()`,
    );
    await page.until(`return document.querySelector('section[aria-label=Layers] button') !== null`, 'the bench is open');
    await page.chord([Key.CONTROL], 'v');
    await undoIs('Pasted the layer Handcart');
    expect((await joinOf('A lantern')).layers[0]).toMatchObject({ name: 'Handcart', source: { kind: 'entering' } });
  }, 60_000);
});

describe('what Check finds', () => {
  it('is listed on the reel for all joins, gone through by keys, and mended by a click', async () => {
    // the hole behind the tram is made too small: a strip of the street stays along its edge
    const NAME = 'Tram wipe';
    const cut = await cutOf(NAME);
    await page.driver.get(demo.joinUrl(NAME, { step: 'mask', view: 'result', frame: cut }));
    await setNumber('Grow', '-30');
    await page.driver.get(demo.joinUrl(NAME, { step: 'check', view: 'result', frame: cut + 8 }));
    await page.until(`return document.body.innerText.includes('what was cut out still shows')`, 'the leak is found', 60_000);
    await page.chord([Key.SHIFT], Key.ARROW_LEFT);
    await page.chord([Key.SHIFT], Key.ARROW_RIGHT);
    await page.until(`return document.querySelector('[data-found-marks]') !== null`, 'its place is marked on the picture');
    const mend = await page.script<string>(
      `return [...document.querySelectorAll('button')].map((b) => b.innerText).find((t) => t.startsWith('Let the hole grow'))`,
    );
    await page.click(mend);
    await undoIs(mend);
    const layers = (await joinOf(NAME)).layers.flatMap((l) => l.mattes);
    expect(layers.every((u) => u.growPx > -30)).toBe(true);

    await page.chord([Key.CONTROL], 'z');
    await page.until(`return /^saved/.test(document.querySelector('[data-testid="save-state"]').textContent)`, 'it is saved');
    await page.driver.get(demo.filmUrl({ frame: 0 }));
    await page.click('Look through all joins');
    await page.until(`return document.querySelector('[data-findings-of="Tram wipe"]') !== null`, 'the joins are looked through', 120_000);
    await page.keys(Key.ESCAPE);
    await page.chord([Key.SHIFT], Key.ARROW_DOWN);
    const frame = Number(await page.script(`return document.querySelector('input[aria-label="Frame"]').value`));
    expect(frame).toBeGreaterThan(0);
  }, 240_000);
});

describe('a zoom that goes on from the one before', () => {
  const NAME = 'Dial to moon';
  const goesOn = async (): Promise<boolean> => {
    const { recipe } = await joinOf(NAME);
    return recipe?.kind === 'zoom through' && recipe.settings.goesOn;
  };
  const label = 'Continues from the previous zoom';

  it('no longer does once its beginning is typed, and asks before it takes that back', async () => {
    const { before } = await joinOf(NAME);
    expect(await goesOn()).toBe(true);
    await openPair(NAME);
    await setNumber('Before the cut', '5');
    await undoIs('Changed the overlap: it no longer continues from the previous one');
    expect(await goesOn()).toBe(false);
    await page.driver.get(demo.joinUrl(NAME, { step: 'move', view: 'result' }));
    await page.click(label);
    await page.click('Leave it');
    expect(await joinOf(NAME)).toMatchObject({ before: 5 });
    expect(await goesOn()).toBe(false);
    await page.click(label);
    await page.click('Continue from it');
    await undoIs('Zoom through: continues from the previous zoom');
    expect(await joinOf(NAME)).toMatchObject({ before, recipe: { settings: { goesOn: true } } });
    await page.click(label);
    expect(await goesOn()).toBe(false);
  });
});
