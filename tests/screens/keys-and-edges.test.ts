import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { unzipSync } from 'fflate';
import { By, Key } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readTruth, type Truth } from '../../demo/truth';
import type { Browser } from './browser';
import type { Demo } from './demo';
import { openDemoPage, type DemoPage } from './demo-page';

/** The join after the wind-up figure before green, and the tram that is still to be joined. */
const FIGURE = 'One into the other';
const TO_TRY = 'Tram wipe, to try';
const FIGURE_FRAME = 30;
const WIDTH = 1280;

let folder: string;
let opened: DemoPage | undefined;
let demo: Demo;
let page: Browser;

beforeAll(async () => {
  opened = await openDemoPage();
  ({ folder, demo, page } = opened);
});
afterAll(async () => {
  await opened?.close();
});

async function openMask(joinName: string, mediumFrame: number): Promise<void> {
  const frame = demo.leavingFrame(joinName, mediumFrame);
  await page.driver.get(demo.joinUrl(joinName, { step: 'mask', view: 'leaving', frame }));
  await page.stageShows(`leaving, frame ${frame}`);
}

/** Red of the stage's picture at the truth's size, 0..255: in the matte view, its coverage. */
async function shownMatte(truth: Truth): Promise<Buffer> {
  const text = await page.script<string>(
    `const c = document.querySelector('canvas[data-stage]'), small = document.createElement('canvas');
     small.width = arguments[0]; small.height = arguments[1];
     const g = small.getContext('2d'); g.imageSmoothingQuality = 'high'; g.drawImage(c, 0, 0, small.width, small.height);
     const rgba = g.getImageData(0, 0, small.width, small.height).data; let text = '';
     for (let i = 0; i < rgba.length; i += 4) text += String.fromCharCode(rgba[i]);
     return btoa(text)`,
    truth.matteWidth,
    truth.matteHeight,
  );
  return Buffer.from(text, 'base64');
}

/** Region overlap of two mattes over their first `rows` rows. */
function overlap(a: Uint8Array, b: Uint8Array, width: number, rows: number): number {
  let both = 0;
  let either = 0;
  for (let i = 0; i < width * rows; i++) {
    if (a[i]! >= 128 && b[i]! >= 128) both++;
    if (a[i]! >= 128 || b[i]! >= 128) either++;
  }
  return both / either;
}

async function viewMatte(joinName: string, mediumFrame: number): Promise<void> {
  await page.click('Matte');
  await page.stageShows(`matte, frame ${demo.leavingFrame(joinName, mediumFrame)}`);
}

describe('a colour key', () => {
  it('takes the green out after one click on it, close to the truth', async () => {
    await openMask(FIGURE, FIGURE_FRAME);
    await page.choose('Add a matte', 'Colour key on Figure a');
    await page.until(`return document.querySelector('[data-picks-colour]') !== null`, 'the picker is there');
    const at = await page.onStage(200, 300, WIDTH);
    await page.clickAt(at.x, at.y);
    await page.until(
      `const v = document.querySelector('input[type=color]').value; return parseInt(v.slice(3, 5), 16) > 1.5 * parseInt(v.slice(1, 3), 16)`,
      'the colour is taken',
    );
    await viewMatte(FIGURE, FIGURE_FRAME);
    const truth = readTruth('figure-a');
    // the wooden stand is not part of the figure; above it everything must agree
    const rows = Math.floor(0.72 * truth.matteHeight);
    expect(overlap(await shownMatte(truth), truth.matte(FIGURE_FRAME), truth.matteWidth, rows)).toBeGreaterThan(0.95);
  });

  it('goes out as numbered pictures, and comes in again as a matte', async () => {
    await page.unfold('Files of the matte');
    await page.click('Matte out');
    await page.until(`return document.body.textContent.includes('waits under Export')`, 'it is on its way');
    const exportsUrl = `${demo.server.url}/api/films/${demo.filmId}/exports`;
    interface Entry {
      readonly id: string;
      readonly name: string;
      readonly frames: number | null;
    }
    let done: Entry | undefined;
    for (const began = Date.now(); done === undefined && Date.now() - began < 60_000; await new Promise((r) => setTimeout(r, 300)))
      done = ((await (await fetch(exportsUrl)).json()) as Entry[]).find((e) => e.frames !== null);
    expect(done?.name).toMatch(/Figure a, colour key\.zip$/);
    const zip = new Uint8Array(await (await fetch(`${demo.server.url}/api/exports/${done!.id}`)).arrayBuffer());
    const names = Object.keys(unzipSync(zip));
    expect(names).toHaveLength(done!.frames!);
    expect(names[0]).toMatch(/^\d{5}\.png$/);

    const path = join(folder, 'matte.zip');
    writeFileSync(path, zip);
    await page.click('Leaving');
    await page.choose('Add a matte', 'Strokes on Figure a');
    await page.until(`return document.querySelector('input[aria-label="File with the frames of a matte"]') !== null`, 'files can come in');
    await (await page.driver.findElement(By.css('input[aria-label="File with the frames of a matte"]'))).sendKeys(path);
    await page.until(
      `return document.querySelector('[aria-label^="Undo: Imported frames of"]') !== null`,
      'the frames are there, and can be taken back',
      60_000,
    );
    await viewMatte(FIGURE, FIGURE_FRAME);
    const truth = readTruth('figure-a');
    const rows = Math.floor(0.72 * truth.matteHeight);
    expect(overlap(await shownMatte(truth), truth.matte(FIGURE_FRAME), truth.matteWidth, rows)).toBeGreaterThan(0.94);
  });

  it('comes in from pictures chosen themselves, onto the frames that their names say', async () => {
    const pictures = unzipSync(new Uint8Array(readFileSync(join(folder, 'matte.zip'))));
    const chosen = Object.keys(pictures)
      .sort()
      .slice(0, 3)
      .map((name) => {
        writeFileSync(join(folder, name), pictures[name]!);
        return join(folder, name);
      });
    await page.click('Leaving');
    await page.choose('Add a matte', 'Strokes on Figure a');
    await page.until(`return document.querySelector('[data-matte-mark]') === null`, 'the new matte has no frames yet');
    await (await page.driver.findElement(By.css('input[aria-label="File with the frames of a matte"]'))).sendKeys(chosen.join('\n'));
    await page.until(`return /Matte on 3 frames, 0 by hand/.test(document.body.innerText)`, 'three frames are there', 60_000);
  });

  it('says what is wrong with a file that holds no pictures', async () => {
    const path = join(folder, 'no-matte.mkv');
    writeFileSync(path, 'this is no video');
    await (await page.driver.findElement(By.css('input[aria-label="File with the frames of a matte"]'))).sendKeys(path);
    await page.until(`return document.body.textContent.includes('The import failed')`, 'it says so', 30_000);
  });
});

describe('a brightness key', () => {
  /** Share of the picture that the matte covers on the frame shown. */
  const shown = (): Promise<number> =>
    page.script(
      `const c = document.querySelector('canvas[data-stage]'), d = c.getContext('2d').getImageData(0, 0, c.width, c.height).data;
       let sum = 0; for (let i = 0; i < d.length; i += 4) sum += d[i]; return (4 * sum) / d.length / 255`,
    );
  const setThreshold = async (percent: string): Promise<void> => {
    const field = await page.find('input[aria-label="Threshold"]');
    await field.click();
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), percent, Key.ENTER);
    await page.until(`return document.querySelector('input[aria-label="Threshold"]').value === '${percent}'`, 'the threshold is set');
  };

  it('sweeps through the picture from one keyframe to the other, and is still chosen after a reload', async () => {
    await openMask(TO_TRY, 10);
    await page.choose('Add a matte', 'Brightness key on Street tram');
    await setThreshold('110');
    await page.click('Add a keyframe');
    await openChosen(30);
    await setThreshold('-10');
    await page.click('Matte');
    const covers: number[] = [];
    for (const at of [10, 15, 20, 25, 30]) {
      await openChosen(at, 'matte');
      covers.push(await shown());
    }
    expect(covers[0]).toBeLessThan(0.01);
    expect(covers[4]).toBeGreaterThan(0.99);
    for (let i = 1; i < covers.length; i++) expect(covers[i]).toBeGreaterThan(covers[i - 1]!);
  });

  /** Another frame by its address, with the matte that the address holds now. */
  async function openChosen(mediumFrame: number, view = 'leaving'): Promise<void> {
    const matte = await page.until<string>(`return new URLSearchParams(location.search).get('matte')`, 'the address has the matte');
    const frame = demo.leavingFrame(TO_TRY, mediumFrame);
    await page.driver.get(demo.joinUrl(TO_TRY, { step: 'mask', view, frame, matte }));
    await page.stageShows(`${view}, frame ${frame}`);
  }
});

describe('a picture too dark to see', () => {
  it('is shown brighter on the stage, its pixels the same', async () => {
    const pixel = await page.pixel(300, 300, WIDTH);
    await page.click('Show the picture brighter, on this stage only');
    await page.until(`return getComputedStyle(document.querySelector('canvas[data-stage]')).filter === 'brightness(2)'`, 'it is brighter');
    expect(await page.pixel(300, 300, WIDTH)).toEqual(pixel);
  });
});

describe('paint on the matte itself', () => {
  it('adds to it and takes from it where the picture has no say', async () => {
    await openMask(TO_TRY, 20);
    await page.choose('Add a matte', 'Strokes on Street tram');
    await page.until(`return document.querySelector('[data-painter]') !== null`, 'the painter is there');
    await page.click('Paint in');
    const [a, b] = [await page.onStage(300, 300, WIDTH), await page.onStage(700, 300, WIDTH)];
    await page.drag(a, b);
    await page.until(`return document.querySelector('[data-matte-mark=hand]') !== null`, 'the frame is stored', 30_000);
    const cover = (): Promise<number> => page.script(`return Number(document.querySelector('canvas[data-matte]').dataset.cover)`);
    const painted = await cover();
    // a stroke of 400 px with the brush's width of 28 px
    expect(painted).toBeCloseTo((400 * 28 + Math.PI * 14 * 14) / (1280 * 720), 2.6);
    await page.click('Paint out');
    await page.drag(await page.onStage(500, 200, WIDTH), await page.onStage(500, 400, WIDTH));
    await page.until(
      `return Number(document.querySelector('canvas[data-matte]').dataset.cover) < ${painted} - 0.0005`,
      'less is covered',
      30_000,
    );
  });
});

describe('hair', () => {
  it('is painted over, told from colour, and taken back by name', async () => {
    await openMask(TO_TRY, 46);
    await page.choose('Add a matte', 'Strokes on Street tram');
    const stroke = async (...points: readonly (readonly [number, number])[]): Promise<void> =>
      page.drag(...(await Promise.all(points.map(([x, y]) => page.onStage(x, y, WIDTH)))));
    const soft = (): Promise<number> =>
      page.script(
        `const id = document.querySelector('[data-matte-id]').dataset.matteId, film = location.pathname.split('/')[2];
         return fetch('/api/films/' + film + '/mattes/' + id + '/46').then(async (r) => {
           const bytes = new Uint8Array(await r.arrayBuffer()); return bytes.filter((v) => v > 25 && v < 230).length / bytes.length })`,
      );
    await stroke([900, 160], [1240, 180]);
    await stroke([880, 560], [1230, 600]);
    await stroke([900, 330], [1230, 360]);
    await page.click('Drop');
    await stroke([150, 120], [180, 600], [420, 640]);
    await page.until(`return document.querySelector('[data-matte-mark=hand]') !== null`, 'the matte is cut', 30_000);
    await page.until(`return /^saved/.test(document.querySelector('[data-testid="save-state"]')?.textContent ?? '')`, 'it is saved');
    const before = await soft();
    await page.click('Hair');
    await stroke([390, 200], [420, 560]);
    await page.until(`return document.querySelector('[aria-label^="Undo: Painted over hair"]') !== null`, 'it is named');
    await page.until(`return document.querySelector('[data-stroke=hair]') !== null`, 'the stroke shows');
    for (const began = Date.now(); (await soft()) === before && Date.now() - began < 30_000;) await new Promise((r) => setTimeout(r, 200));
    expect(await soft()).toBeGreaterThan(before);
    await page.chord([Key.CONTROL], 'z');
    await page.until(`return document.querySelector('[data-stroke=hair]') === null`, 'the stroke is gone');
    for (const began = Date.now(); (await soft()) !== before && Date.now() - began < 30_000;) await new Promise((r) => setTimeout(r, 200));
    expect(await soft()).toBe(before);
  });
});

describe('the trailing edge', () => {
  it('is found without a click, and the hole behind it agrees with the truth', async () => {
    await openMask(TO_TRY, 84);
    await page.choose('Add a matte', 'Outline on Street tram');
    await page.click('Find the trailing edge');
    await page.until(`return document.querySelectorAll('[data-grip=point]').length === 11`, 'the outline is there', 120_000);
    expect(await page.script<string>(`return document.body.textContent`)).toMatch(/covers the whole picture from \d+ to \d+/);
    const truth = readTruth('street-tram');
    for (const frame of [78, 84, 90]) {
      await openMask(TO_TRY, frame);
      await page.script(
        `[...document.querySelectorAll('section[aria-label=Layers] button')].filter((b) => b.textContent.startsWith('Street tram, outline')).at(-1).click()`,
      );
      await viewMatte(TO_TRY, frame);
      const hole = await shownMatte(truth);
      const free = truth.matte(frame).map((v) => 255 - v);
      let wrong = 0;
      for (let i = 0; i < free.length; i++) wrong += Math.abs(hole[i]! - free[i]!) / 255;
      // the blur of the tram's edge alone is 3 % of the frame
      expect(wrong / free.length).toBeLessThan(0.03);
    }
    expect(await page.consoleErrors()).toEqual([]);
  }, 240_000);
});
