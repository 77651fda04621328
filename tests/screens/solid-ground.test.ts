import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Key } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Film } from '../../src/core/film/film';
import { placedJoins } from '../../src/core/film/timing';
import { ROUGH_TAKES, writeRoughTake, writeRoughStill } from '../fixtures/rough-footage';
import { Browser, By } from './browser';
import { Server } from './server';

// A day's work on someone's own files: stills and takes, a reel to cut on, films to keep.

const TAKES = ['meadow', 'garden'] as const;
const folder = mkdtempSync(join(tmpdir(), 'irimi-solid-'));
let server: Server;
let page: Browser;
let filmId = '';

beforeAll(async () => {
  mkdirSync(join(folder, 'takes'));
  mkdirSync(join(folder, 'downloads'));
  for (const name of TAKES)
    await writeRoughTake(
      ROUGH_TAKES.find((t) => t.name === name)!,
      join(folder, 'takes'),
    );
  writeRoughStill(join(folder, 'takes', 'card.png'));
  server = await Server.start(join(folder, 'data'));
  page = await Browser.open(join(folder, 'downloads'));
}, 200_000);
afterAll(async () => {
  await page?.close();
  await server?.stop();
  rmSync(folder, { recursive: true, force: true });
});

const film = async (id = filmId): Promise<Film> => {
  await page.until(`return /^saved/.test(document.querySelector('[data-testid="save-state"]')?.textContent ?? '')`, 'it is saved');
  return ((await (await fetch(`${server.url}/api/films/${id}`)).json()) as { film: Film }).film;
};
const undoIs = (name: string): Promise<unknown> => page.find(`[aria-label^="Undo: ${name}"]`);
const names = async (): Promise<string[]> => (await film()).shots.map((s) => s.name);
const goTo = async (frame: number): Promise<void> => {
  const field = await page.find('input[aria-label="Frame"]');
  await field.sendKeys(Key.chord(Key.CONTROL, 'a'), String(frame), Key.ENTER);
  await page.keys(Key.ESCAPE);
};
const shot = async (n: number): Promise<Awaited<ReturnType<typeof page.find>>> =>
  (await page.driver.findElements(By.css('[data-shot]')))[n]!;
const menu = async (on: Awaited<ReturnType<typeof page.find>>, item: string): Promise<void> => {
  await page.driver.actions().contextClick(on).perform();
  await page.find('[role=menuitem]');
  await page.script(`[...document.querySelectorAll('[role=menuitem]')].find((e) => e.textContent.startsWith(arguments[0])).click()`, item);
};
const ready = (name: string): Promise<unknown> =>
  page.until(`return document.querySelector('[aria-label="Add ${name} to the reel"]') !== null`, `${name} is ready`, 60_000);
/** What a film looks like when it is sent out: the sums of all its decoded frames. */
async function framesOut(id: string): Promise<string> {
  const order = { format: 'mp4', joinId: null, handles: 0 };
  const { id: exportId } = (await (await server.send('POST', `films/${id}/exports`, order)).json()) as { id: string };
  for (const began = Date.now(); Date.now() - began < 90_000; await new Promise((r) => setTimeout(r, 500))) {
    const list = (await (await fetch(`${server.url}/api/films/${id}/exports`)).json()) as { id: string; bytes: number | null }[];
    if (list.find((e) => e.id === exportId)?.bytes != null) {
      const bytes = Buffer.from(await (await fetch(`${server.url}/api/exports/${exportId}`)).arrayBuffer());
      return execFileSync('ffmpeg', ['-v', 'error', '-i', '-', '-an', '-f', 'framemd5', '-'], { input: bytes }).toString();
    }
  }
  throw new Error('the film was not sent out in time');
}

describe('the reel', () => {
  it('takes a still beside takes: it stands as long as it is asked to', async () => {
    await page.driver.get(server.url);
    await (await page.find('input[aria-label="Name of the new film"]')).sendKeys('Rushes');
    await page.select('select[aria-label="Frame size"]', '1280 × 720');
    await page.click('Begin');
    await page.find('section[aria-label="Reel"]');
    filmId = (await page.driver.getCurrentUrl()).split('?')[0]!.split('/').pop()!;
    const paths = [...TAKES.map((t) => `${t}.mp4`), 'card.png'].map((f) => join(folder, 'takes', f));
    await (await page.find('[data-testid="file-chooser"]')).sendKeys(paths.join('\n'));
    for (const name of ['Meadow', 'Garden', 'Card']) {
      await ready(name);
      await page.click(`Add ${name} to the reel`);
    }
    expect((await film()).shots.map((s) => s.length)).toEqual([64, 62, 72]);
    await (await shot(2)).click();
    const field = await page.find('input[aria-label="Length"]');
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), '700', Key.ENTER);
    expect((await film()).shots[2]!.length).toBe(700);
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), '30', Key.ENTER);
    expect((await film()).shots[2]!.length).toBe(30);
    // the picture of the card itself
    await goTo(140);
    await page.stageShows('film, frame 140');
    expect((await page.pixel(640, 360, 1280)).map((v, i) => Math.abs(v - [40, 160, 90][i]!) < 6)).toEqual([true, true, true]);
  }, 120_000);

  it('splits, duplicates, renames and turns shots off, by keys and by the menu', async () => {
    await goTo(30);
    await page.keys('s');
    await undoIs('Split Meadow');
    expect(await names()).toEqual(['Meadow', 'Meadow 2', 'Garden', 'Card']);
    await menu(await shot(1), 'Duplicate');
    await undoIs('Duplicated Meadow 2');
    expect(await names()).toEqual(['Meadow', 'Meadow 2', 'Meadow 3', 'Garden', 'Card']);
    await (await shot(0)).click();
    await page.driver
      .actions()
      .keyDown(Key.SHIFT)
      .click(await shot(2))
      .keyUp(Key.SHIFT)
      .perform();
    await page.keys(Key.DELETE);
    await undoIs('Removed 3 shots from the reel');
    await page.chord([Key.CONTROL], 'z');
    await menu(await shot(3), 'Turn off, leave black');
    await undoIs('Turned Garden off');
    await page.chord([Key.CONTROL], 'z');
    await menu(await shot(2), 'Rename…');
    await page.keys('Far meadow', Key.ENTER);
    await undoIs('Renamed Meadow 3 to Far meadow');
    await page.keys(Key.ESCAPE);
    for (let n = 0; n < 3; n++) await page.chord([Key.CONTROL], 'z');
    expect(await names()).toEqual(['Meadow', 'Garden', 'Card']);
  }, 120_000);

  it('says which finished join an edit put aside, and brings it back', async () => {
    const { id } = (await film()).joins[0]!;
    await page.driver.get(`${server.url}/films/${filmId}/joins/${id}?step=pair&view=result`);
    const room = await page.find('input[aria-label="Handles after trimming"]');
    await room.sendKeys(Key.chord(Key.CONTROL, 'a'), '10', Key.ENTER);
    await page.click('Trim both ends by');
    await page.chooseKind('dissolve');
    await page.driver.get(`${server.url}/films/${filmId}?frame=20`);
    await (await page.find('[data-shot]')).click();
    await page.keys(Key.DELETE);
    await page.until(`return document.body.innerText.includes('Put aside, since its shots part: Meadow → Garden.')`, 'it is said');
    await page.find('[data-aside="Meadow → Garden"]');
    await page.click('Bring back');
    await undoIs('Brought Meadow → Garden back');
    expect(placedJoins(await film())[0]!.join).toMatchObject({ id, recipe: { kind: 'dissolve' } });
  }, 120_000);

  it('lays what was made of a join on another cut', async () => {
    await menu(await page.named('Open join Meadow → Garden'), 'Copy this join');
    // what was copied outlives the page
    await film();
    await page.driver.navigate().refresh();
    await menu(await page.named('Open join Garden → Card'), 'Paste a join here');
    await undoIs('Pasted Meadow → Garden');
    expect(placedJoins(await film()).map((p) => p.join.recipe?.kind)).toEqual(['dissolve', 'dissolve']);
  }, 60_000);

  it('finds anything by what it is called', async () => {
    await page.chord([Key.CONTROL], 'k');
    await page.find('[cmdk-input]');
    await page.keys('card', Key.ENTER);
    await page.until(`return location.pathname.includes('/joins/')`, 'the join with the card is open');
    await page.driver.navigate().back();
    await page.find('section[aria-label="Reel"]');
  }, 60_000);
});

describe('the shelf', () => {
  it('takes numbered pictures as one medium, and lays what is marked of it on the reel', async () => {
    const take = join(folder, 'takes', 'garden.mp4');
    execFileSync('ffmpeg', ['-v', 'error', '-i', take, '-frames:v', '8', '-start_number', '97', join(folder, 'takes', 'pan_%04d.png')]);
    const paths = Array.from({ length: 8 }, (_, i) => join(folder, 'takes', `pan_${String(97 + i).padStart(4, '0')}.png`));
    await (await page.find('[data-testid="file-chooser"]')).sendKeys(paths.join('\n'));
    await page.find('[role=dialog] select');
    await (await page.find('[role=dialog] button[type=submit]')).click();
    await ready('Pan');
    const before = await film();
    await page.driver
      .actions()
      .doubleClick(await page.find('[role=group][aria-label="pan.zip"] p'))
      .perform();
    await page.stageShows('media Pan, frame 0');
    await page.keys(Key.ARROW_RIGHT, Key.ARROW_RIGHT, 'i', Key.ARROW_RIGHT, Key.ARROW_RIGHT, 'o');
    await page.click('At the end');
    await undoIs('Added Pan');
    const { shots } = await film();
    expect(shots.at(-1)).toMatchObject({ inFrame: 2, length: 3 });
    await page.keys(Key.ESCAPE);
    await page.until(`return document.querySelector('[data-testid="marked-span"]') === null`, 'the film is on the stage again');
    await page.chord([Key.CONTROL], 'z');
    expect(await film()).toEqual(before);
    expect(await page.axeFindings()).toEqual([]);
  }, 120_000);
});

describe('a film', () => {
  it('changes its size and rate, keeps what it was, and goes back to that', async () => {
    const before = await film();
    await page.unfold('Film');
    await page.select('select[aria-label="Frames a second"]', '30');
    await undoIs('Rate of the film: 30 fps');
    await page.select('select[aria-label="Frame size"]', '1080 × 1080');
    await undoIs('Size of the film: 1080 × 1080');
    const now = await film();
    expect(now.shots.reduce((sum, s) => sum + s.length, 0) / 30).toBeCloseTo(before.shots.reduce((sum, s) => sum + s.length, 0) / 24, 1);
    await page.click('Versions…');
    await page.until(`return document.querySelectorAll('[aria-label="Versions"] li button').length >= 2`, 'they are kept');
    await page.script(
      `[...document.querySelectorAll('[aria-label="Versions"] li button')].find((b) => b.textContent.startsWith('Before another rate')).click()`,
    );
    await page.find('[role=dialog] canvas[data-drawn=yes]');
    expect(await page.axeFindings()).toEqual([]);
    await page.click('Go back to it');
    await undoIs('Went back to Before another rate');
    expect(await film()).toEqual(before);
  }, 120_000);

  it('is packed, and opened as another that sends out the same frames', async () => {
    await page.click('Save as a package…');
    await page.script(
      `[...document.querySelectorAll('[role=dialog] label')].find((e) => e.textContent.startsWith('Only the frames')).click()`,
    );
    expect(await page.axeFindings()).toEqual([]);
    await page.click('Save the package');
    const file = join(folder, 'downloads', 'Rushes.irimi.zip');
    await page.driver.wait(() => readdirSync(join(folder, 'downloads')).includes('Rushes.irimi.zip'), 30_000, 'the package is there');
    await page.driver.get(server.url);
    await (await page.find('input[aria-label="Open a package of a film"]')).sendKeys(file);
    await page.find('section[aria-label="Reel"]');
    await page.until(`return !location.pathname.includes('${filmId}')`, 'another film is open');
    const opened = (await page.driver.getCurrentUrl()).split('?')[0]!.split('/').pop()!;
    for (const name of ['Meadow', 'Garden', 'Card']) await ready(name);
    expect(await framesOut(opened)).toBe(await framesOut(filmId));
  }, 240_000);

  it('is renamed, duplicated, deleted and brought back on the first page', async () => {
    await page.driver.get(server.url);
    const rows = (): Promise<string[]> => page.script(`return [...document.querySelectorAll('[data-film]')].map((e) => e.dataset.film)`);
    const act = async (name: string, item: string): Promise<void> => {
      await page.click(`What to do with ${name}`);
      await page.find('[role=menuitem]');
      await page.script(`[...document.querySelectorAll('[role=menuitem]')].find((e) => e.textContent === arguments[0]).click()`, item);
    };
    expect(await rows()).toEqual(['Rushes', 'Rushes']);
    await act('Rushes', 'Rename…');
    await (await page.find('input[aria-label="Name of Rushes"]')).sendKeys(Key.chord(Key.CONTROL, 'a'), 'Opened', Key.ENTER);
    await page.find('[data-film="Opened"]');
    await act('Opened', 'Duplicate');
    await page.find('[data-film="Opened copy"]');
    await act('Opened', 'Delete');
    await page.until(`return document.querySelector('[data-film="Opened"]') === null`, 'it is off the list');
    await page.script(`document.querySelector('details').open = true`);
    await page.click('Bring back');
    await page.find('[data-film="Opened"]');
    expect((await rows()).sort()).toEqual(['Opened', 'Opened copy', 'Rushes']);
    expect(await page.axeFindings()).toEqual([]);
    expect(await page.consoleErrors()).toEqual([]);
  }, 120_000);
});
