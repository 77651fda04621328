import { execFileSync } from 'node:child_process';
import { copyFileSync, existsSync, mkdirSync, mkdtempSync, readdirSync, rmSync, unlinkSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Key } from 'selenium-webdriver';
import { afterAll, beforeAll, expect, it } from 'vitest';
import type { Film } from '../../src/core/film/film';
import { makeNumberedVideo } from '../fixtures/numbered-video';
import { ROUGH_TAKES, writeRoughTake } from '../fixtures/rough-footage';
import { Browser, By } from './browser';
import { Server } from './server';

// Order on the shelf, files that come twice or get lost, and where else the picture can be looked at. On files that nobody drew.

const folder = mkdtempSync(join(tmpdir(), 'irimi-shelf-'));
const takes = join(folder, 'takes');
let server: Server;
let page: Browser;
let filmId = '';

beforeAll(async () => {
  mkdirSync(takes);
  for (const name of ['meadow', 'garden'])
    await writeRoughTake(
      ROUGH_TAKES.find((t) => t.name === name)!,
      takes,
    );
  // the same pictures at the same size, in another file
  execFileSync('ffmpeg', [
    '-v',
    'error',
    '-i',
    join(takes, 'meadow.mp4'),
    '-vf',
    'hue=s=0',
    '-c:v',
    'libx264',
    '-qp',
    '12',
    join(takes, 'graded.mp4'),
  ]);
  mkdirSync(join(takes, 'numbered'));
  execFileSync('ffmpeg', [
    '-v',
    'error',
    '-i',
    join(takes, 'garden.mp4'),
    '-frames:v',
    '12',
    '-vf',
    'scale=320:-2',
    join(takes, 'numbered', 'step_%03d.png'),
  ]);
  server = await Server.start(join(folder, 'data'));
  page = await Browser.open(folder);
  await page.driver.get(server.url);
  await (await page.find('input[aria-label="Name of the new film"]')).sendKeys('Order');
  await page.click('Begin');
  await page.find('section[aria-label="Reel"]');
  filmId = (await page.driver.getCurrentUrl()).split('?')[0]!.split('/').pop()!;
}, 200_000);
afterAll(async () => {
  await page?.close();
  await server?.stop();
  rmSync(folder, { recursive: true, force: true });
});

const film = async (): Promise<Film> => {
  await page.until(`return /^saved/.test(document.querySelector('[data-testid="save-state"]')?.textContent ?? '')`, 'it is saved');
  return ((await (await fetch(`${server.url}/api/films/${filmId}`)).json()) as { film: Film }).film;
};
const undoIs = (name: string): Promise<unknown> => page.find(`[aria-label^="Undo: ${name}"]`);
const bring = async (...files: string[]): Promise<void> =>
  (await page.find('[data-testid="file-chooser"]')).sendKeys(files.map((f) => join(takes, f)).join('\n'));
const ready = (name: string): Promise<unknown> =>
  page.until(`return document.querySelector('[aria-label="Add ${name} to the reel"]') !== null`, `${name} is ready`, 60_000);
const card = (file: string): Promise<Awaited<ReturnType<typeof page.find>>> => page.find(`[aria-label=Media] [aria-label="${file}"]`);
const menuOf = async (css: string, item: string): Promise<void> => {
  await page.driver
    .actions()
    .contextClick(await page.find(css))
    .perform();
  await page.find('[role=menuitem]');
  await page.script(`[...document.querySelectorAll('[role=menuitem]')].find((e) => e.textContent.startsWith(arguments[0])).click()`, item);
};
const says = (text: string): Promise<unknown> =>
  page.until(`return document.body.innerText.includes(arguments[0] ?? ${JSON.stringify(text)})`, `the page says ${text}`);
const mediaAre = (count: number): Promise<unknown> =>
  page.until(`return document.querySelectorAll('[aria-label=Media] [role=group]').length === ${count}`, `${count} media are on the shelf`);

it('knows a file again by what is in it, whatever it is called', async () => {
  await bring('meadow.mp4', 'garden.mp4');
  await ready('Meadow');
  await ready('Garden');
  copyFileSync(join(takes, 'meadow.mp4'), join(takes, 'other name.mp4'));
  await bring('other name.mp4');
  await says('other name.mp4 is on the shelf already, as Meadow.');
  await mediaAre(2);
  await page.click('Import it again');
  await ready('Other name');
  await menuOf('[aria-label="other name.mp4"]', 'Remove from the shelf');
  await mediaAre(2);
}, 120_000);

it('uses the first part of a file while the rest is prepared', async () => {
  await makeNumberedVideo(join(takes, 'long.mp4'), { width: 960, height: 540, frames: 1200, rate: '24' });
  await bring('long.mp4');
  await says('frames can be used already.');
  await page.click('Add Long to the reel');
  const { shots } = await film();
  expect(shots[0]!.length).toBeLessThan(1200);
  const frame = await page.find('input[aria-label="Frame"]');
  await frame.sendKeys(Key.chord(Key.CONTROL, 'a'), '131', Key.ENTER);
  await page.stageShows('film, frame 131');
  const number = await page.script<number>(
    `const c = document.querySelector('canvas[data-stage]'), x = c.getContext('2d');
     let n = 0;
     for (let bit = 0; bit < 12; bit++) if (x.getImageData(Math.round(c.width * (bit % 6 + 0.5) / 6), Math.round(c.height * (Math.floor(bit / 6) + 0.5) / 2), 1, 1).data[0] > 125) n |= 1 << bit;
     return n`,
  );
  expect(number).toBe(131);
  await page.until(`return document.querySelector('[aria-label="Preparing long.mp4"]') === null`, 'all of it is ready', 90_000);
  expect(await (await card('long.mp4')).getText()).toMatch(/1200 fr/);
  await page.chord([Key.CONTROL], 'z');
  await page.until(`return document.querySelector('[data-shot]') === null`, 'the reel is empty');
  await menuOf('[aria-label="long.mp4"]', 'Remove from the shelf');
  await mediaAre(2);
}, 180_000);

it('asks at which rate numbered pictures run', async () => {
  await bring(...readdirSync(join(takes, 'numbered')).map((f) => join('numbered', f)));
  await page.find('[role=dialog] select');
  await page.select('[role=dialog] select', '50');
  await (await page.find('[role=dialog] button[type=submit]')).click();
  await ready('Step');
  expect(await (await card('step.zip')).getText()).toMatch(/50 fps · 12 fr/);
}, 60_000);

it('keeps media in bins, several at once, and takes it back', async () => {
  await (await card('meadow.mp4')).findElement(By.css('p')).click();
  await page.driver
    .actions()
    .keyDown(Key.CONTROL)
    .click(await (await card('garden.mp4')).findElement(By.css('p')))
    .keyUp(Key.CONTROL)
    .perform();
  await menuOf('[aria-label="garden.mp4"]', 'Put in a new bin');
  await (await page.find('input[aria-label="Name of bin Bin 1"]')).sendKeys(Key.chord(Key.CONTROL, 'a'), 'Outside', Key.ENTER);
  const { bins } = await film();
  expect(bins!.map((b) => [b.name, b.mediumIds.length])).toEqual([['Outside', 2]]); // prettier-ignore
  await page.click('Bin Outside, 2 inside');
  await mediaAre(1);
  await page.click('Bin Outside, 2 inside');
  await mediaAre(3);
  await menuOf('[aria-label="garden.mp4"]', 'Rename…');
  await (await page.find('input[aria-label="Name of Garden"]')).sendKeys(Key.chord(Key.CONTROL, 'a'), 'Roses', Key.ENTER);
  await undoIs('Renamed Garden to Roses');
  await ready('Roses');
  await page.chord([Key.CONTROL], 'z');
  await ready('Garden');
}, 60_000);

it('puts a file in the place of another everywhere, with its bin', async () => {
  await page.click('Add Meadow to the reel');
  await page.click('Add Garden to the reel');
  const before = await film();
  await menuOf('[aria-label="meadow.mp4"]', 'Use another in its place');
  await (await page.find('[role=dialog] input[type=file]')).sendKeys(join(takes, 'graded.mp4'));
  await page.until(`return document.querySelector('[role=dialog] input[type=radio]:checked') !== null`, 'the new file is chosen', 60_000);
  await page.click('Use it');
  await undoIs('Used Graded in place of Meadow');
  const after = await film();
  expect(after.shots[0]!.mediumId).not.toBe(before.shots[0]!.mediumId);
  expect(after.shots.map((s) => s.length)).toEqual(before.shots.map((s) => s.length));
  expect(after.joins).toEqual(before.joins);
  expect(after.offShelf).toContain(before.shots[0]!.mediumId);
  await page.keys(Key.HOME);
  await page.stageShows('film, frame 0');
  const [r, g, b] = await page.pixel(640, 360, 1280);
  expect(Math.max(r, g, b) - Math.min(r, g, b)).toBeLessThan(4);
  await page.chord([Key.CONTROL], 'z');
}, 90_000);

it('says when a file is gone, and takes it back when it is the same', async () => {
  const { shots } = await film();
  const original = join(folder, 'data', 'media', shots[1]!.mediumId, 'original');
  expect(existsSync(original)).toBe(true);
  unlinkSync(original);
  await page.driver.navigate().refresh();
  const chooser = '[data-lost] input[type=file]';
  await (await page.find(chooser)).sendKeys(join(takes, 'meadow.mp4'));
  await says('meadow.mp4 is not the file that garden.mp4 was imported from.');
  await (await page.find(chooser)).sendKeys(join(takes, 'garden.mp4'));
  await page.until(`return document.querySelector('[data-lost]') === null`, 'it is whole again');
  expect(existsSync(original)).toBe(true);
}, 60_000);

it('chooses shots by a box, and gives markers colours and notes', async () => {
  await page.click('Add Garden to the reel');
  const { x, y } = await page.script<{ x: number; y: number }>(
    `const r = document.querySelector('[data-testid="new-lane"]').getBoundingClientRect(), s = document.querySelectorAll('[data-shot]')[1].getBoundingClientRect();
     return { x: s.left, y: r.top + 12 }`,
  );
  await page.drag({ x: x + 30, y }, { x: x + 90, y: y - 20 }, { x: 1270, y: 610 });
  expect(await page.script(`return document.querySelectorAll('[data-shot][aria-pressed=true]').length`)).toBe(2);
  await page.keys(Key.ESCAPE, 'm');
  await undoIs('Added a marker');
  await menuOf('[data-marker]', 'Colour sea');
  await menuOf('[data-marker]', 'Name, colour and note…');
  await (await page.find('input[aria-label="Note on Mark 1"]')).sendKeys('the turn', Key.ENTER);
  await undoIs('Note on Mark 1');
  expect((await film()).markers).toMatchObject([{ name: 'Mark 1', tint: 'sea', note: 'the turn' }]);
}, 60_000);

it('names spans of media, and marks them again', async () => {
  await page.driver
    .actions()
    .doubleClick(await (await card('garden.mp4')).findElement(By.css('p')))
    .perform();
  await page.find('section[aria-label="Looking at Garden"]');
  await page.keys(Key.PAGE_DOWN, 'i', Key.PAGE_DOWN, 'o');
  await page.click('Name this span');
  await undoIs('Named a span of Garden');
  const marked = (): Promise<string> => page.script(`return document.querySelector('[data-testid="marked-span"]').textContent`);
  const span = await marked();
  await page.keys(Key.HOME, 'i');
  expect(await marked()).toBe(span);
  await page.keys(Key.PAGE_DOWN, Key.PAGE_DOWN, Key.PAGE_DOWN, 'o');
  expect(await marked()).not.toBe(span);
  await page.click('mark');
  expect(await marked()).toBe(span);
  await page.keys(Key.ESCAPE);
}, 60_000);

it('shows the stage alone in a second window, and follows it', async () => {
  const main = await page.driver.getWindowHandle();
  await page.click('The stage in a second window (Shift W)');
  await page.driver.wait(async () => (await page.driver.getAllWindowHandles()).length === 2, 10_000, 'a second window');
  const other = (await page.driver.getAllWindowHandles()).find((h) => h !== main)!;
  await page.keys(Key.HOME);
  for (const frame of [0, 1]) {
    if (frame === 1) await page.keys(Key.ARROW_RIGHT);
    await page.stageShows(`film, frame ${frame}`);
    const stage = await page.pixel(300, 300, 1280);
    await page.driver.switchTo().window(other);
    await page.until(`return document.querySelector('canvas').dataset.drawn === 'film, frame ${frame}'`, 'it follows');
    const seen = await page.script<number[]>(
      `const c = document.querySelector('canvas'); return [...c.getContext('2d').getImageData(Math.round(300 * c.width / 1280), Math.round(300 * c.width / 1280), 1, 1).data].slice(0, 3)`,
    );
    expect(seen).toEqual(stage);
    await page.driver.switchTo().window(main);
  }
  await page.driver.switchTo().window(other);
  await page.driver.close();
  await page.driver.switchTo().window(main);
}, 60_000);

it('has no findings of axe in settings, and in the sheet that replaces media', async () => {
  expect(await page.findingsOfDialog('Settings (Ctrl ,)')).toEqual([]);
  await menuOf('[aria-label="garden.mp4"]', 'Use another in its place');
  await page.find('[role=dialog]');
  expect(await page.axeFindings()).toEqual([]);
  await page.keys(Key.ESCAPE);
  // the file that was refused, and no more
  expect((await page.consoleErrors()).filter((e) => !/uploads.*status of 4/.test(e))).toEqual([]);
}, 60_000);
