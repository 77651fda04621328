import { execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Key } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Film } from '../../src/core/film/film';
import { placedJoins } from '../../src/core/film/timing';
import { edgesOfPassing, ROUGH_TAKES, roughFrame, writeRoughTake, type RoughTake } from '../fixtures/rough-footage';
import { Browser, By } from './browser';
import { Server } from './server';

// Someone's own files: brought in, laid on the reel, joined in three ways and sent out, all in the pages.

const [WIDTH, HEIGHT] = [480, 270];
/** In order on the reel, each with how many frames of it are shown. */
const REEL = [
  ['street', 40],
  ['meadow', 50],
  ['garden', 50],
  ['large', 40],
] as const;
const takeNamed = (name: string): RoughTake => ROUGH_TAKES.find((t) => t.name === name)!;

const folder = mkdtempSync(join(tmpdir(), 'irimi-rough-'));
let server: Server;
let page: Browser;
let filmId = '';

beforeAll(async () => {
  mkdirSync(join(folder, 'takes'));
  for (const [name] of REEL) await writeRoughTake(takeNamed(name), join(folder, 'takes'));
  server = await Server.start(join(folder, 'data'));
  page = await Browser.open(folder);
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
const openJoin = async (at: number, query: Record<string, string>): Promise<void> => {
  const { id } = (await film()).joins[at]!;
  await page.driver.get(`${server.url}/films/${filmId}/joins/${id}?${new URLSearchParams(query).toString()}`);
  await page.find('canvas[data-stage]');
};
const says = (text: string): Promise<unknown> =>
  page.until(`return document.body.innerText.includes(${JSON.stringify(text)})`, `the page says ${text}`);
const type = async (field: string, value: string): Promise<void> => {
  await (await page.find(`input[aria-label="${field}"]`)).sendKeys(Key.chord(Key.CONTROL, 'a'), value, Key.ENTER);
};
/** Mean colour of the stage between two places across, 0 to 1, of a frame of the result. */
const stageMean = async (frame: number, from: number, to: number): Promise<number[]> => {
  await page.stageShows(`result, frame ${frame}`);
  return page.script(
    `const c = document.querySelector('canvas[data-stage]'), x = Math.round(c.width * arguments[0]), w = Math.round(c.width * arguments[1]) - x;
     const { data } = c.getContext('2d').getImageData(x, 0, w, c.height), sum = [0, 0, 0];
     for (let i = 0; i < data.length; i++) if (i % 4 < 3) sum[i % 4] += data[i];
     return sum.map((v) => (4 * v) / data.length)`,
    from,
    to,
  );
};
const truthMean = (name: string, frame: number, from: number, to: number): number[] => {
  const rgb = roughFrame(takeNamed(name), frame);
  const sum = [0, 0, 0];
  let n = 0;
  for (let y = 0; y < HEIGHT; y++)
    for (let x = Math.round(from * WIDTH); x < to * WIDTH; x++, n++) for (let c = 0; c < 3; c++) sum[c]! += rgb[3 * (y * WIDTH + x) + c]!;
  return sum.map((v) => v / n);
};
const apart = (a: readonly number[], b: readonly number[]): number => Math.max(...a.map((v, i) => Math.abs(v - b[i]!)));

describe('files of one’s own', () => {
  it('come in, lie on the reel and are trimmed', async () => {
    await page.driver.get(server.url);
    await (await page.find('input[aria-label="Name of the new film"]')).sendKeys('Rushes');
    await (await page.find('select[aria-label="Frame size"]')).sendKeys('1280');
    await page.click('Begin');
    await page.find('section[aria-label="Reel"]');
    filmId = (await page.driver.getCurrentUrl()).split('?')[0]!.split('/').pop()!;
    await page.script(
      `window.cards = new Set();
       new MutationObserver(() => {
         for (const [text] of document.body.innerText.matchAll(/Preparing… \\d+ %/g)) window.cards.add(text);
       }).observe(document.body, { subtree: true, childList: true, characterData: true })`,
    );
    const paths = REEL.map(([name]) => join(folder, 'takes', `${name}.${takeNamed(name).ending}`));
    await (await page.find('[data-testid="file-chooser"]')).sendKeys(paths.join('\n'));
    for (const [name, length] of REEL) {
      const title = name[0]!.toUpperCase() + name.slice(1);
      await page.until(`return document.querySelector('[aria-label="Add ${title} to the reel"]') !== null`, `${name} is ready`, 60_000);
      await page.click(`Add ${title} to the reel`);
      await page.until(
        `return document.querySelectorAll('[data-shot]').length === ${REEL.findIndex(([n]) => n === name) + 1}`,
        'it lies there',
      );
      const shots = await page.driver.findElements(By.css('[data-shot]'));
      await shots.at(-1)!.click();
      const field = await page.find(`section[aria-label="${title}"] input[aria-label="Length"]`);
      await field.click();
      await field.sendKeys(Key.chord(Key.CONTROL, 'a'), String(length), Key.ENTER);
    }
    expect(await page.script<number>('return window.cards.size')).toBeGreaterThan(1);
    expect((await film()).shots.map((s) => s.length)).toEqual(REEL.map(([, length]) => length));
  }, 120_000);

  it('are joined by a wipe whose edge is found: behind what passes is the next shot', async () => {
    await openJoin(0, { step: 'pair', view: 'result', frame: '30' });
    const room = await page.find('input[aria-label="Handles after trimming"]');
    await room.click();
    await room.sendKeys(Key.chord(Key.CONTROL, 'a'), '14', Key.ENTER);
    await page.click('Trim both ends by');
    // all of it without a pointer, from the reel on
    await page.driver.get(`${server.url}/films/${filmId}?frame=25`);
    await page.find('[data-shot]');
    let presses = 0;
    const press = async (...keys: string[]): Promise<void> => {
      presses += keys.length;
      await page.keys(...keys);
    };
    const tabTo = async (name: string): Promise<void> => {
      for (let n = 0; n < 25 && !(await page.focused()).startsWith(name); n++) await press(Key.TAB);
      expect(await page.focused()).toMatch(new RegExp(`^${name}`));
    };
    await press(Key.ENTER);
    await page.until(`return location.pathname.includes('/joins/')`, 'the join is open');
    await page.find('canvas[data-stage]');
    await press('r');
    await page.find('[role=dialog] [data-kind]');
    await tabTo('Wipe past');
    await press(Key.ENTER);
    await page.find('[aria-label^="Undo: Made it a wipe past"]');
    await press('2');
    await page.named('Find the trailing edge');
    await press(Key.TAB, Key.ENTER); // past the header to the panel
    await tabTo('Find the trailing edge');
    await press(Key.ENTER);
    await press('m');
    await page.until(`return document.body.textContent.includes('It covers the whole picture')`, 'it is found', 60_000);
    presses++;
    await page.chord([Key.CONTROL], 'e');
    await page.find('[role=dialog]');
    await tabTo('Export ');
    await press(Key.ENTER);
    await page.until(`return document.querySelector('[role=dialog] a[download]') !== null`, 'the file is there', 60_000);
    await press(Key.ESCAPE);
    expect(presses).toBeLessThan(60);
    console.log(`a wipe made and exported with ${presses} presses`);
    // what was found stands in the list where it was asked for: the marker is newer
    await (await page.find('[aria-label^="Undo: Added a marker"]')).click();
    await page.find('[aria-label^="Undo: Found the trailing edge"]');
    const stored = await film();
    const [placed] = placedJoins(stored);
    const take = takeNamed('street');
    const right = (frame: number): number => edgesOfPassing(take, frame)[1] / WIDTH;
    // its edge leans: the lowest of it comes first
    const LEAN = 0.04;
    const frame = Array.from({ length: 40 }, (_, f) => f).find((f) => right(f) < 0.6)!;
    await openJoin(0, { step: 'move', view: 'result', frame: String(frame) });
    const shown = stored.shots[1]!.inFrame + frame - placed!.cut;
    expect(apart(await stageMean(frame, right(frame) + 0.1, 1), truthMean('meadow', shown, right(frame) + 0.1, 1))).toBeLessThan(10);
    expect(apart(await stageMean(frame, 0, right(frame) - 0.2), truthMean('street', frame, 0, right(frame) - 0.2))).toBeLessThan(10);
    expect(placed!.from).toBe(Array.from({ length: 40 }, (_, f) => f).find((f) => right(f) - LEAN < 1));
  }, 120_000);

  it('are joined by a dissolve: half of each in its middle', async () => {
    await openJoin(1, { step: 'pair', view: 'result' });
    await page.chooseKind('dissolve');
    const stored = await film();
    const { from, to, cut } = placedJoins(stored)[1]!;
    const frame = Math.round((from + to - 1) / 2);
    await openJoin(1, { step: 'move', view: 'result', frame: String(frame) });
    const mean = await stageMean(frame, 0.1, 0.9);
    const [meadow, garden] = stored.shots.slice(1, 3);
    const a = truthMean('meadow', Math.floor(meadow!.inFrame + meadow!.length + frame - cut), 0.1, 0.9);
    const b = truthMean('garden', Math.floor(((garden!.inFrame + frame - cut) * 25) / 24), 0.1, 0.9);
    expect(apart(mean, a.map((v, i) => (v + b[i]!) / 2))).toBeLessThan(10); // prettier-ignore
  }, 120_000);

  it('are joined by panels, and the whole film goes out with all its frames and nothing found wrong', async () => {
    await openJoin(2, { step: 'pair', view: 'result' });
    await page.chooseKind('panels on the beat');
    const { from, cut, join: panels } = placedJoins(await film())[2]!;
    expect(cut - from).toBeGreaterThan(10);
    await says(`Made it panels on the beat. The overlap has ${panels.before} frames`);
    await page.click('Export');
    await page.click('The whole film');
    await page.click('MP4, H.264');
    await page.until(
      `return !document.querySelector('[role=dialog]').textContent.includes('Looking for holes')`,
      'it is looked through',
      90_000,
    );
    expect(await page.script(`return document.querySelector('[role=dialog]').textContent`)).not.toMatch(
      /\bholes?\b|no picture|never covers/,
    );
    const frames = (await film()).shots.reduce((sum, s) => sum + s.length, 0);
    const before = await page.script<string[]>(`return [...document.querySelectorAll('[role=dialog] a[download]')].map((a) => a.href)`);
    await page.click(`Export ${frames} frames`);
    const url = await page.until<string>(
      `return [...document.querySelectorAll('[role=dialog] a[download]')].map((a) => a.href).find((h) => !arguments[0].includes(h))`.replace(
        'arguments[0]',
        JSON.stringify(before),
      ),
      'the file is there',
      110_000,
    );
    const bytes = Buffer.from(await (await fetch(url)).arrayBuffer());
    const counted = execFileSync('ffprobe', ['-v', 'error', '-count_packets', '-select_streams', 'v', '-show_entries', 'stream=nb_read_packets', '-of', 'csv=p=0', '-'], { input: bytes }); // prettier-ignore
    expect(Number(counted.toString())).toBe(frames);
    expect(await page.consoleErrors()).toEqual([]);
  }, 240_000);

  it('keep an overlap that is typed, and give it back when it is asked for', async () => {
    const { before } = (await film()).joins[2]!;
    await openJoin(2, { step: 'pair', view: 'result' });
    await type('Before the cut', String(before - 5));
    await says('The overlap stays as you set it.');
    await openJoin(2, { step: 'move', view: 'result' });
    await type('Panels', '3');
    expect((await film()).joins[2]!.before).toBe(before - 5);
    await says('The overlap stays as you set it.');
    await page.click('As the settings ask');
    await page.until(`return !document.body.innerText.includes('The overlap stays as you set it.')`, 'it follows again');
    expect((await film()).joins[2]!.before).not.toBe(before - 5);
  }, 120_000);

  it('play on while the page has no time, and stop when told to', async () => {
    for (const [url, end] of [
      [`${server.url}/films/${filmId}?frame=20`, 'k'],
      [`${server.url}/films/${filmId}/joins/${(await film()).joins[0]!.id}?step=move&view=result`, ' '],
    ] as const) {
      await page.driver.get(url);
      await page.find('canvas[data-stage]');
      await page.until(`return document.querySelector('canvas[data-stage]').dataset.drawn !== ''`, 'a frame is shown');
      await page.keys(' ');
      await page.plays(true);
      await page.holdThread(2500);
      await page.plays(true);
      await page.keys(end);
      await page.plays(false);
      expect(await page.script(`return document.querySelector('[data-failed]') === null`)).toBe(true);
    }
    expect(await page.consoleErrors()).toEqual([]);
  }, 120_000);

  it('can be worked on without a pointer: a stop a row, the focus given back, nothing for axe', async () => {
    await page.driver.get(`${server.url}/films/${filmId}?frame=20`);
    await page.find('[role=toolbar] button');
    expect(await page.rowsOfManyStops()).toEqual([]);
    expect(await page.findingsOfDialog('Export')).toEqual([]);
    for (const [step, dialog] of [
      ['pair', 'Choose the kind of join…'],
      ['move', 'Keyboard shortcuts (?)'],
    ] as const) {
      await openJoin(0, { step, view: 'result' });
      await page.find('[role=toolbar] button');
      expect(await page.rowsOfManyStops()).toEqual([]);
      expect(await page.findingsOfDialog(dialog)).toEqual([]);
    }
    expect(await page.findingsOfMenu('Add a layer, a carrier or the camera')).toEqual([]);
  }, 120_000);

  it('are joined by a move that continues from the previous one, which asks before it changes what was typed', async () => {
    const LABEL = 'Continues from the previous bridge';
    for (const [at, leaving, entering] of [
      [1, 'Meadow', 'Garden'],
      [2, 'Garden', 'Large'],
    ] as const) {
      await openJoin(at, { step: 'pair', view: 'result' });
      await page.chooseKind('bridge');
      const { cut } = placedJoins(await film())[at]!;
      await openJoin(at, { step: 'move', view: 'result', frame: String(cut) });
      for (const name of [leaving, entering]) {
        await page.click(`Mark in ${name}`);
        const place = await page.onStage(name === leaving ? 800 : 640, 400, 1280);
        await page.clickAt(place.x, place.y);
        await page.find('[aria-label^="Undo: Marked a point of interest"]');
      }
      await page.click('From the points');
      await type('Size', '40');
      await type('Over', '12');
    }
    const now = async (): Promise<{ length: number; goesOn: unknown }> => {
      const { before, after, recipe } = (await film()).joins[2]!;
      return { length: before + after, goesOn: (recipe?.settings as { goesOn: boolean }).goesOn };
    };
    expect(await now()).toEqual({ length: 12, goesOn: false });
    await page.click(LABEL);
    await says('It then starts where the previous one ends');
    await page.click('Leave it');
    expect(await now()).toEqual({ length: 12, goesOn: false });
    await page.click(LABEL);
    await page.click('Continue from it');
    await page.find(`[aria-label^="Undo: Bridge: continues from the previous bridge"]`);
    expect((await now()).goesOn).toBe(true);
    expect((await now()).length).toBeGreaterThan(12);
  }, 120_000);
});
