import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Key } from 'selenium-webdriver';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { makeNumberedVideo } from '../fixtures/numbered-video';
import { Browser } from './browser';
import { Server } from './server';

let folder: string;
let server: Server;
let page: Browser;
let filmId: string;
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'irimi-shelf-'));
  server = await Server.start(join(folder, 'data'));
  page = await Browser.open(folder);
  filmId = ((await (await server.send('POST', 'films', { name: 'Shelf' })).json()) as { id: string }).id;
  await makeNumberedVideo(join(folder, 'short.mp4'), { width: 160, height: 90, frames: 24, rate: '24' });
  for (const name of ['long-one.mkv', 'long-two.mkv', 'long-three.mkv']) {
    const source = ['-f', 'lavfi', '-i', 'testsrc2=size=1920x1080:rate=25', '-frames:v', '250'];
    execFileSync('ffmpeg', ['-v', 'error', '-y', ...source, '-c:v', 'mpeg4', '-q:v', '5', join(folder, name)]);
  }
  await page.driver.get(`${server.url}/films/${filmId}`);
});
afterAll(async () => {
  await page?.close();
  await server?.stop();
  rmSync(folder, { recursive: true, force: true });
});

const choose = async (...names: string[]): Promise<void> =>
  (await page.find('[data-testid="file-chooser"]')).sendKeys(names.map((n) => join(folder, n)).join('\n'));
const has = (css: string, what: string): Promise<unknown> => page.until(`return document.querySelector('${css}') !== null`, what, 60_000);
const gone = (css: string, what: string): Promise<unknown> => page.until(`return document.querySelector('${css}') === null`, what, 60_000);

it('takes a medium off the shelf so that it can be taken back', async () => {
  await choose('short.mp4');
  await has('[aria-label="Add Short to the reel"]', 'it is ready');
  await page.click('Remove short.mp4 from the shelf');
  await gone('[role=group][aria-label="short.mp4"]', 'its card is gone');
  await has('[aria-label^="Undo: Removed Short from the shelf"]', 'it can be taken back');
  await page.driver.navigate().refresh();
  await has('[aria-label^="Undo: Removed Short from the shelf"]', 'after a reload too');
  await gone('[role=group][aria-label="short.mp4"]', 'and it is still gone');
  await page.chord([Key.CONTROL], 'z');
  await has('[aria-label="Add Short to the reel"]', 'it is back, and ready');
});

it('prepares two at once, and lets one that waits and one that is prepared be stopped', async () => {
  await choose('long-one.mkv', 'long-two.mkv', 'long-three.mkv');
  await page.until(
    `return [...document.querySelectorAll('li')].filter((e) => e.textContent.includes('Preparing…')).length === 2 &&
            [...document.querySelectorAll('li')].some((e) => e.textContent.includes('Queued'))`,
    'two are prepared, one waits',
    60_000,
  );
  const of = (what: string): Promise<string> =>
    page.script(
      `return [...document.querySelectorAll('[role=group][aria-label]')].find((e) => e.textContent.includes(arguments[0])).getAttribute('aria-label')`,
      what,
    );
  const waiting = await of('Queued');
  await page.click(`Stop preparing ${waiting}`);
  await gone(`[role=group][aria-label="${waiting}"]`, 'the one that waited is gone');
  const running = await of('Preparing…');
  await page.click(`Stop preparing ${running}`);
  await gone(`[role=group][aria-label="${running}"]`, 'the one that was prepared is gone');
  expect(await page.consoleErrors()).toEqual([]);
}, 120_000);

it('says that the server is gone, although nothing waits to be saved', async () => {
  const { port } = server;
  await server.stop('SIGKILL');
  await page.until(`return /no connection/.test(document.querySelector('[data-testid="save-state"]').textContent)`, 'it says so');
  server = await Server.start(join(folder, 'data'), port);
  await page.until(`return /^saved/.test(document.querySelector('[data-testid="save-state"]').textContent)`, 'and that it is back');
});
