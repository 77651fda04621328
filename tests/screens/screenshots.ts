import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Key } from 'selenium-webdriver';
import { Browser, By } from './browser';
import { openDemo } from './demo';

/** The street shot before this join is still to be joined. */
const TO_TRY = 'Tram wipe, to try';
const out = process.argv[2] ?? 'docs/screenshots';
mkdirSync(out, { recursive: true });
const folder = mkdtempSync(join(tmpdir(), 'irimi-pictures-'));
const demo = await openDemo(folder);
const page = await Browser.open();

/** Waits until nothing is drawn any more. */
async function settled(caption: string): Promise<void> {
  await page.stageShows(caption);
  await page.until(
    `return document.querySelectorAll('canvas:not([data-drawn]):not([data-matte]):not([data-chart])').length === 0`,
    'everything is drawn',
    60_000,
  );
  await page.until(`return [...document.images].every((i) => i.complete) && document.fonts.status === 'loaded'`, 'pictures are there');
}

async function take(name: string, url: string, caption: string): Promise<void> {
  await page.driver.get(url);
  await settled(caption);
  await page.screenshot(join(out, `${name}.png`));
}

/** The first page, the shelf as a list, a menu, trimming, and versions. */
async function solidGround(): Promise<void> {
  await page.driver.get(demo.server.url);
  await page.find('[data-film]');
  await page.click('What to do with Small Hours');
  await page.script(`[...document.querySelectorAll('[role=menuitem]')].find((e) => e.textContent === 'Duplicate').click()`);
  await page.until(`return document.querySelectorAll('[data-film]').length === 2`, 'it is duplicated', 60_000);
  await page.until(`return [...document.images].every((i) => i.complete)`, 'pictures are there');
  await page.screenshot(join(out, 'films.png'));
  await page.driver.get(demo.filmUrl({ frame: 80 }));
  await settled('film, frame 80');
  await page.click('Show a list');
  const shots = await page.driver.findElements(By.css('[data-shot]'));
  await page.driver.actions().contextClick(shots[2]).perform();
  await page.find('[role=menuitem]');
  await page.screenshot(join(out, 'shot-menu.png'));
  await page.keys(Key.ESCAPE);
  await page.click('Show pictures');
  const grip = (await page.driver.findElements(By.css('[data-trim=end]')))[1]!;
  const held = page.driver.actions({ async: true });
  await held.move({ origin: grip }).press().move({ origin: grip, x: -9, y: 0 }).perform();
  await page.find('[data-testid="trim-pictures"] canvas');
  await page.driver.sleep(1500);
  await page.screenshot(join(out, 'trimming.png'));
  await page.driver.actions({ async: true }).release().perform();
  await page.chord([Key.CONTROL], 'z');
  await page.click('Dark theme');
  await page.unfold('Film');
  await page.click('Versions…');
  await (await page.find('input[aria-label="Name of the version"]')).sendKeys('First cut', Key.ENTER);
  await page.script(`setTimeout(() => document.querySelector('[aria-label="Versions"] li button').click(), 800)`);
  await page.find('[role=dialog] canvas[data-drawn=yes]');
  await page.screenshot(join(out, 'versions.png'));
  await page.keys(Key.ESCAPE);
  await page.click('Light theme');
}

try {
  await take('reel', demo.filmUrl({ frame: 80 }), 'film, frame 80');
  await page.script(`document.querySelector('[data-clip]').focus()`);
  await page.unfold('Beats');
  await settled('film, frame 80');
  await page.screenshot(join(out, 'reel-sound.png'));
  const melted = demo.leavingFrame('Two takes, one word', 57);
  await take('bench-melt', demo.joinUrl('Two takes, one word', { step: 'move', view: 'result', frame: melted }), `result, frame ${melted}`);
  await page.until(`return document.querySelectorAll('[data-roll]:not(:disabled)').length > 20`, 'the strip is there', 60_000);
  await settled(`result, frame ${melted}`);
  await page.screenshot(join(out, 'bench-melt.png'));
  await page.driver.get(demo.joinUrl('Lantern to kettle', { step: 'pair', view: 'overlay' }));
  await page.click('Look for the best cuts');
  await page.until(`return document.querySelector('[data-match-map]')?.dataset.drawn === 'yes'`, 'the map is drawn', 90_000);
  await page.script(`document.querySelector('[data-section="Match map"]').scrollIntoView()`);
  await page.until(
    `return document.querySelectorAll('canvas:not([data-drawn]):not([data-matte]):not([data-chart])').length === 0`,
    'drawn',
    60_000,
  );
  await page.screenshot(join(out, 'match-map.png'));
  await take('bench-mask', demo.joinUrl('Tram wipe', { step: 'mask', view: 'leaving', frame: 82 }), 'leaving, frame 82');
  await take(
    'bench-strokes',
    demo.joinUrl(TO_TRY, { step: 'mask', view: 'leaving', frame: demo.leavingFrame(TO_TRY, 46) }),
    `leaving, frame ${demo.leavingFrame(TO_TRY, 46)}`,
  );
  await page.click('Cut Street tram out by strokes');
  const stroke = async (...points: readonly (readonly [number, number])[]): Promise<void> =>
    page.drag(...(await Promise.all(points.map(([x, y]) => page.onStage(x, y, 1280)))));
  await page.until(`return document.querySelector('[data-painter]') !== null`, 'the painter is there');
  for (const y of [170, 345, 580]) await stroke([900, y], [1235, y + 20]);
  await page.keys('x');
  await stroke([150, 120], [180, 600], [330, 640]);
  await page.until(`return document.querySelector('[data-matte-mark=hand]') !== null`, 'the matte is cut', 60_000);
  await page.click('To overlap start');
  await page.until(`return document.querySelectorAll('[data-matte-mark]').length > 8`, 'it is carried', 120_000);
  await page.screenshot(join(out, 'bench-strokes.png'));
  await take(
    'bench-track',
    demo.joinUrl(TO_TRY, { step: 'track', view: 'leaving', frame: demo.leavingFrame(TO_TRY, 14) }),
    `leaving, frame ${demo.leavingFrame(TO_TRY, 14)}`,
  );
  await stroke([345, 172], [838, 232]);
  await page.click('Both ways');
  await page.until(
    `return document.querySelector('[role=img][aria-label^="Confidence of the followed"]') !== null`,
    'it is followed',
    240_000,
  );
  await settled(`leaving, frame ${demo.leavingFrame(TO_TRY, 14)}`);
  await page.screenshot(join(out, 'bench-track.png'));
  const zoomed = demo.leavingFrame('Through the loupe', 104);
  await take('bench-move', demo.joinUrl('Through the loupe', { step: 'move', view: 'result', frame: zoomed }), `result, frame ${zoomed}`);
  await page.script(`document.querySelector('[aria-label=Lanes] button[aria-expanded=false]').click()`);
  await page.script(`document.querySelector('[data-lanes] [role=button][aria-label^="Keyframe of Zoom, pivot x"]').focus()`);
  await settled(`result, frame ${zoomed}`);
  await page.screenshot(join(out, 'bench-move.png'));
  await page.script(
    `[...document.querySelectorAll('section[aria-label=Layers] button')].find((b) => b.textContent.startsWith('Piece')).click()`,
  );
  await page.click('Blend5');
  await page.select('select[aria-label="Add an effect"]', 'directional blur');
  await settled(`result, frame ${zoomed}`);
  await page.screenshot(join(out, 'bench-blend.png'));
  const tiled = demo.leavingFrame('Second tile', 86);
  await take('tiles', demo.joinUrl('Second tile', { step: 'move', view: 'result', frame: tiled }), `result, frame ${tiled}`);
  await page.unfold('From above');
  await page.script(`document.querySelector('[data-section="From above"]').scrollIntoView()`);
  await settled(`result, frame ${tiled}`);
  await page.screenshot(join(out, 'tiles.png'));
  await page.driver.get(demo.joinUrl('Through the loupe, to try', { step: 'pair', view: 'result' }));
  await page.click('Choose the kind of join…');
  await page.find('[role=dialog] [data-kind="zoom through"]');
  await page.until(
    `return document.querySelectorAll('[role=dialog] canvas:not([data-drawn])').length === 0`,
    'the kinds are drawn',
    60_000,
  );
  await page.screenshot(join(out, 'kinds-of-join.png'));
  await take('bench-pair', demo.joinUrl('Tram wipe', { step: 'pair', view: 'overlay', frame: 84 }), 'overlay, frame 84');
  await page.driver.get(demo.joinUrl('Tram wipe', { step: 'mask', view: 'result', frame: 94 }));
  const grow = await page.find('input[aria-label="Grow"]');
  await grow.sendKeys(Key.chord(Key.CONTROL, 'a'), '-30', Key.ENTER);
  await page.driver.get(demo.joinUrl('Tram wipe', { step: 'check', view: 'result', frame: 88 }));
  await page.until(`return document.body.innerText.includes('still shows')`, 'the leak is found', 60_000);
  await settled('result, frame 88');
  await page.screenshot(join(out, 'check-findings.png'));
  await page.click('Export');
  await page.until(
    `return [...document.querySelectorAll('button')].some((b) => /^Export \\d+ frames$/.test(b.textContent))`,
    'the dialog is open',
  );
  await page.click(
    await page.script<string>(
      `return [...document.querySelectorAll('button')].find((b) => /^Export \\d+ frames$/.test(b.textContent)).textContent`,
    ),
  );
  await page.until(`return document.querySelector('a[download]') !== null`, 'a file is finished', 90_000);
  await page.click('The whole film');
  await page.click(
    await page.script<string>(
      `return [...document.querySelectorAll('button')].find((b) => /^Export \\d+ frames$/.test(b.textContent)).textContent`,
    ),
  );
  await page.until(
    `return Number(document.querySelector('[role=dialog] [role=progressbar]')?.ariaValueNow) > 4`,
    'the film is on its way',
    90_000,
  );
  await page.screenshot(join(out, 'export.png'));
  await page.keys(Key.ESCAPE);
  await solidGround();
} finally {
  await page.close();
  await demo.close();
  rmSync(folder, { recursive: true, force: true });
}
