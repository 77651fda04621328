import { Key } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import { demo, frameIs, goTo, page, playing, standing } from './pressing';

describe('Space', () => {
  it('plays wherever the last click was, and presses what the keyboard has come to', async () => {
    await page.driver.get(demo.joinUrl('Tram wipe', { step: 'mask', view: 'result', frame: 84 }));
    await page.stageShows('result, frame 84');
    const clicks: (() => Promise<unknown>)[] = [
      () =>
        page
          .script(`document.querySelector('[aria-label="Result, frame 84"]').scrollIntoView()`)
          .then(async () => (await page.find('[aria-label="Result, frame 84"]')).click()),
      () => page.click('Leaving'),
      async () => (await page.find(`[role=tab][data-value="pair"]`)).click(),
      () => page.click('One frame on (→)'),
      async () => (await page.find(`[role=tab][data-value="move"]`)).click(),
      async () => (await page.find('input[type=checkbox]')).click(),
      async () => (await page.find('button[aria-label^="Hide "]')).click(),
    ];
    for (const click of clicks) {
      await click();
      const at = await page.script<string>(`return document.querySelector('input[aria-label="Frame"]').value`);
      await page.keys(' ');
      await playing();
      await page.keys(' ');
      await standing();
      expect(at).not.toBe('');
    }
    // and with the keyboard alone, a button is a button
    await page.script(`document.querySelector('[aria-label="One frame on (→)"]').focus()`);
    await page.keys(Key.TAB, Key.chord(Key.SHIFT, Key.TAB));
    await goTo(84);
    await page.script(`document.querySelector('[aria-label="One frame on (→)"]').focus()`);
    await page.keys(Key.TAB);
    await page.chord([Key.SHIFT], Key.TAB);
    await page.keys(' ');
    await frameIs(85);
  });

  it('is a space where something is typed', async () => {
    await page.driver.get(demo.joinUrl('Tram wipe', { step: 'mask', view: 'leaving', frame: 82 }));
    await page.stageShows('leaving, frame 82');
    const name = await page.find('input[aria-label="Name of the matte"]');
    await name.click();
    await name.sendKeys(Key.END, ' x');
    await standing();
    expect(await name.getAttribute('value')).toMatch(/ x$/);
  });
});

it('takes the playhead to a timecode that is typed, and keeps the focus on the cells of the weave', async () => {
  const code = await page.find('input[aria-label="Timecode"]');
  await code.click();
  await code.sendKeys(Key.chord(Key.CONTROL, 'a'), '3:10', Key.ENTER);
  await frameIs(82);
  await page.script(`document.querySelector('[data-weave-cell="current"]').focus()`);
  await page.keys(Key.ARROW_RIGHT, Key.ARROW_RIGHT);
  await frameIs(84);
  expect(await page.script(`return document.activeElement.getAttribute('aria-label')`)).toBe('Leaving, frame 84');
});

it('folds a section away and remembers it', async () => {
  await page.find('[data-section="Keyframes"]').then((e) => e.click());
  await page.until(`return !document.body.innerText.includes('Moving points on another frame makes a keyframe there')`, 'it is folded');
  await page.driver.navigate().refresh();
  await page.find('[data-section="Keyframes"]');
  expect(await page.script(`return document.body.innerText.includes('Moving points on another frame')`)).toBe(false);
});
