import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readTruth, type Truth } from '../../demo/truth';
import type { Browser } from './browser';
import type { Demo } from './demo';
import { openDemoPage, type DemoPage } from './demo-page';

/** The street shot before this join is still to be joined. */
const TO_TRY = 'Tram wipe, to try';
const WIDTH = 1280;
const RIGHT = '\uE014';

let folder: string;
let opened: DemoPage | undefined;
let demo: Demo;
let page: Browser;
let truth: Truth;

beforeAll(async () => {
  opened = await openDemoPage();
  ({ folder, demo, page } = opened);
  truth = readTruth('street-tram');
});
afterAll(async () => {
  await opened?.close();
});

const frameOf = (mediumFrame: number): number => demo.leavingFrame(TO_TRY, mediumFrame);

/** Share of the frame the shown matte covers. */
const coverShown = (): Promise<number> => page.script(`return Number(document.querySelector('canvas[data-matte]')?.dataset.cover || 0)`);

function truthShare(mediumFrame: number): number {
  const matte = truth.matte(mediumFrame);
  let sum = 0;
  for (const v of matte) sum += v / 255;
  return sum / matte.length;
}

/** How well the shown matte agrees with the rendered tram: intersection over union. */
async function agreement(mediumFrame: number): Promise<number> {
  const shown = await page.script<{ width: number; height: number; data: string }>(
    `const id = document.querySelector('[data-matte-id]').dataset.matteId, film = location.pathname.split('/')[2];
     return fetch('/api/films/' + film + '/mattes/' + id + '/' + arguments[0]).then(async (r) => {
       const bytes = new Uint8Array(await r.arrayBuffer()); let text = '';
       for (let i = 0; i < bytes.length; i += 8192) text += String.fromCharCode(...bytes.subarray(i, i + 8192));
       return { width: Number(r.headers.get('x-width')), height: Number(r.headers.get('x-height')), data: btoa(text) };
     })`,
    mediumFrame,
  );
  const found = Buffer.from(shown.data, 'base64');
  const matte = truth.matte(mediumFrame);
  let both = 0;
  let either = 0;
  for (let y = 0; y < shown.height; y++) {
    for (let x = 0; x < shown.width; x++) {
      const a = found[y * shown.width + x]! >= 128;
      const tx = Math.floor(((x + 0.5) * truth.matteWidth) / shown.width);
      const ty = Math.floor(((y + 0.5) * truth.matteHeight) / shown.height);
      const b = matte[ty * truth.matteWidth + tx]! >= 128;
      if (a && b) both++;
      if (a || b) either++;
    }
  }
  return both / either;
}

async function stroke(...points: readonly (readonly [number, number])[]): Promise<void> {
  await page.drag(...(await Promise.all(points.map(([x, y]) => page.onStage(x, y, WIDTH)))));
}

const selectMatte = (name = 'Street tram, subject'): Promise<unknown> =>
  page.script(
    `[...document.querySelectorAll('section[aria-label=Layers] button')].find((b) => b.textContent.startsWith(arguments[0])).click()`,
    name,
  );

/** How opaque the stage's picture is at a film pixel, 0..255. */
const alpha = (x: number, y: number): Promise<number> =>
  page.script(
    `const c = document.querySelector('canvas[data-stage]'), s = c.width / ${WIDTH};
     return c.getContext('2d').getImageData(Math.floor(arguments[0] * s), Math.floor(arguments[1] * s), 1, 1).data[3]`,
    x,
    y,
  );

/** Waits until no carry or the like is under way, and what it has stored is told. */
async function nothingRuns(): Promise<void> {
  await page.driver.wait(async () => {
    const jobs = (await (await fetch(`${demo.server.url}/api/films/${demo.filmId}/jobs`)).json()) as { state: string }[];
    return jobs.every((j) => j.state !== 'queued' && j.state !== 'running');
  }, 60_000);
  await page.until(`return ![...document.querySelectorAll('button')].some((b) => b.textContent.includes('Stop,'))`, 'nothing runs');
}

/** Waits until a number stays the same for a while: what comes one after the other has come. */
async function steady(count: () => Promise<number>): Promise<void> {
  for (let same = 0, last = -1; same < 5;) {
    const now = await count();
    same = now === last ? same + 1 : 0;
    last = now;
    await page.driver.sleep(150);
  }
}

describe('a matte cut by strokes', () => {
  it('follows the strokes while they are painted, close to the truth', async () => {
    await page.driver.get(demo.joinUrl(TO_TRY, { step: 'mask', view: 'leaving', frame: frameOf(46) }));
    await page.stageShows(`leaving, frame ${frameOf(46)}`);
    await page.click('Cut Street tram out by strokes');
    await page.until(`return document.querySelector('[data-painter]') !== null`, 'the painter is there');
    await stroke([900, 160], [1240, 180]);
    await stroke([880, 560], [1230, 600]);
    await stroke([900, 330], [1230, 360]);
    await page.keys('x');
    await stroke([150, 120], [180, 600], [420, 640]);
    await page.until(`return document.querySelector('[data-matte-mark=hand]') !== null`, 'the cut frame is stored');
    expect(Math.abs((await coverShown()) - truthShare(46))).toBeLessThan(0.06);
    expect(await agreement(46)).toBeGreaterThan(0.88);
  });

  it('is taken back and brought back with its strokes', async () => {
    const before = await coverShown();
    await page.chord(['\uE009'], 'z');
    await page.until(`return document.querySelectorAll('[data-stroke=drop]').length === 0`, 'the drop stroke is gone');
    await page.chord(['\uE009', '\uE008'], 'z');
    await page.until(`return document.querySelectorAll('[data-stroke=drop]').length === 1`, 'it is back');
    await page.until(
      `return Math.abs(Number(document.querySelector('canvas[data-matte]').dataset.cover) - ${before}) < 0.002`,
      'so is the matte',
      30_000,
    );
  });

  it('is carried frame by frame, shown in the weave, and corrected on the way', async () => {
    await page.keys('t');
    await page.until(`return document.querySelectorAll('[data-matte-mark]').length === 2`, 'one frame is carried', 60_000);
    await page.keys(RIGHT);
    await page.stageShows(`leaving, frame ${frameOf(47)}`);
    await page.until(`return Number(document.querySelector('canvas[data-matte]').dataset.cover) > 0.3`, 'the carried matte shows');
    expect(await agreement(47)).toBeGreaterThan(0.85);
    const carried = await coverShown();
    // the same, small, in the weave
    const small = await page.until<number>(
      `const c = document.querySelector('[data-matte-mark]:not([data-matte-mark=hand]) canvas[data-drawn=yes]'); if (!c) return 0;
       const d = c.getContext('2d').getImageData(0, 0, c.width, c.height).data;
       let sum = 0; for (let i = 0; i < d.length; i += 4) sum += d[i]; return (4 * sum) / d.length / 255`,
      'the carried matte is in the weave',
    );
    expect(Math.abs(small - carried)).toBeLessThan(0.03);
    // a drop stroke on the carried frame changes it, and makes it one by hand
    await page.keys('[', '[', '[');
    await stroke([1000, 300], [1040, 330]);
    await page.until(`return document.querySelectorAll('[data-matte-mark=hand]').length === 2`, 'the frame is by hand now', 30_000);
    await page.until(
      `return Number(document.querySelector('canvas[data-matte]').dataset.cover) < ${carried - 0.001}`,
      'less is covered',
      30_000,
    );
  });

  it('goes on where a carry was stopped', async () => {
    await page.driver.get(demo.joinUrl(TO_TRY, { step: 'mask', view: 'leaving', frame: frameOf(46) }));
    await page.stageShows(`leaving, frame ${frameOf(46)}`);
    await selectMatte();
    await page.until(`return document.querySelectorAll('[data-matte-mark]').length >= 2`, 'the matte is there');
    await page.click('To overlap start');
    await page.until(`return document.querySelectorAll('[data-matte-mark]').length >= 4`, 'it is on its way', 90_000);
    await page.script(`[...document.querySelectorAll('button')].find((b) => b.textContent.includes('Stop,')).click()`);
    await page.until(
      `return [...document.querySelectorAll('button')].some((b) => b.textContent.includes('Go on to'))`,
      'it can go on',
      30_000,
    );
    const before = await page.script<number>(`return document.querySelectorAll('[data-matte-mark]').length`);
    await page.script(`[...document.querySelectorAll('button')].find((b) => b.textContent.includes('Go on to')).click()`);
    await page.until(`return document.querySelectorAll('[data-matte-mark]').length > ${before}`, 'it goes on', 60_000);
    await page.script(`[...document.querySelectorAll('button')].find((b) => b.textContent.includes('Stop,')).click()`);
    await nothingRuns();
  });

  it('is smoothed over time, and both that and the carry are taken back by name', async () => {
    const marks = (): Promise<number> => page.script<number>(`return document.querySelectorAll('[data-matte-mark]').length`);
    const undoOffers = (name: string): Promise<void> =>
      page.until(`return document.querySelector('[aria-label^="Undo: ${name}"]') !== null`, `undo offers “${name}”`, 60_000);
    const smooth = `[...document.querySelectorAll('button')].find((b) => b.textContent.includes('Smooth over time'))`;
    await page.unfold('Jitter');
    await page.until(`return ${smooth}?.disabled === false`, 'it can be smoothed', 30_000);
    await steady(marks);
    await undoOffers('Carried Street tram, subject');
    const carried = await marks();
    await page.script(`${smooth}.click()`);
    await undoOffers('Smoothed Street tram, subject over time');
    expect(await marks()).toBe(carried);
    await page.chord(['\uE009'], 'z');
    await undoOffers('Carried Street tram, subject');
    await page.chord(['\uE009'], 'z');
    await page.until(`return document.querySelectorAll('[data-matte-mark]').length < ${carried}`, 'the carried frames are gone', 30_000);
    await page.chord(['\uE009', '\uE008'], 'z');
    await page.until(`return document.querySelectorAll('[data-matte-mark]').length === ${carried}`, 'they are back', 30_000);
  });

  it('is used by a layer, and the result shows it', async () => {
    await page.driver.get(demo.joinUrl(TO_TRY, { step: 'mask', view: 'leaving', frame: frameOf(46) }));
    await page.stageShows(`leaving, frame ${frameOf(46)}`);
    await selectMatte();
    await page.until(`return document.querySelector('[aria-label="How Street tram uses the matte"]') !== null`, 'the uses are there');
    await page.select('[aria-label="How Street tram uses the matte"]', 'inside');
    await page.click('Cut-out');
    await page.stageShows(`cut-out, frame ${frameOf(46)}`);
    // the street is see-through, the tram is there
    await page.until(
      `const c = document.querySelector('canvas[data-stage]'); return c.getContext('2d').getImageData(60, 60, 1, 1).data[3] === 0`,
      'the street is cut away',
    );
    expect(await alpha(1000, 160)).toBe(255);
    expect(await alpha(100, 100)).toBe(0);
    // on a colour it stays see-through and the colour lies under it; on the other shot that fills the hole
    await page.click('Colour');
    await page.until(
      `return getComputedStyle(document.querySelector('canvas[data-stage]').parentElement).backgroundColor === 'rgb(79, 122, 91)'`,
      'the colour lies under it',
    );
    await page.click('Other shot');
    await page.until(
      `const c = document.querySelector('canvas[data-stage]'); return c.getContext('2d').getImageData(60, 60, 1, 1).data[3] === 255`,
      'the other shot fills the hole',
    );
    await page.click('Checker');
  });

  it('is combined with an outline: taken away, added, reordered', async () => {
    await page.click('Leaving');
    await page.choose('Add a matte', 'Outline on Street tram');
    await page.until(`return document.body.textContent.includes('Ghosts of the neighbouring keyframes')`, 'the outline can be drawn');
    // the left half of the picture
    for (const [x, y] of [
      [4, 4],
      [640, 4],
      [640, 716],
      [4, 716],
      [4, 4],
    ] as const) {
      const at = await page.onStage(x, y, WIDTH);
      await page.clickAt(at.x, at.y);
    }
    await page.until(`return document.querySelectorAll('[data-grip=point]').length === 4`, 'the outline is closed');
    await page.select('[aria-label="How Street tram uses the matte"]', 'inside');
    const order = 'ol[aria-label^="Mattes of Street tram"]';
    await page.until(`return document.querySelectorAll('${order} li').length === 2`, 'both are listed');
    await page.click('Cut-out');
    const shows = (at: readonly [number, number], wanted: number, what: string): Promise<unknown> =>
      page.until(
        `const c = document.querySelector('canvas[data-stage]'), s = c.width / ${WIDTH};
         return c.getContext('2d').getImageData(Math.floor(${at[0]} * s), Math.floor(${at[1]} * s), 1, 1).data[3] === ${wanted}`,
        what,
      );
    const [tramRight, streetLeft] = [
      [1000, 160],
      [100, 100],
    ] as const;
    await shows(tramRight, 0, 'both together keep nothing of the tram on the right');
    await page.select(`${order} select`, 'subtract');
    await shows(tramRight, 255, 'without the left half the tram is there');
    await shows(streetLeft, 0, 'and the street is not');
    await page.select(`${order} select`, 'add');
    await shows(streetLeft, 255, 'with the left half the street is there too');
    // the other way round, and the tram taken away from the left half
    await page.click('Combine Street tram, outline earlier');
    await page.select(`${order} select`, 'subtract');
    await shows(tramRight, 0, 'the left half has nothing on the right');
    await shows(streetLeft, 255, 'and keeps the street');
    await page.select('[aria-label="How Street tram uses the matte"]', 'none');
    await page.until(`return document.querySelector('${order}') === null`, 'one is left');
  });

  it('has an outline that goes out frame by frame, as JSON and as SVG', async () => {
    const arrives = async (name: string): Promise<string> => {
      const path = join(folder, name);
      for (const began = Date.now(); !existsSync(path) && Date.now() - began < 20_000; await new Promise((r) => setTimeout(r, 100)));
      return readFileSync(path, 'utf8');
    };
    await page.unfold('Files of the matte');
    await page.click('Outline, SVG');
    const svg = await arrives('Street tram, outline.svg');
    expect(svg).toContain('viewBox="0 0 1280 720"');
    const corners = [...svg.match(/<path id="frame-\d+" d="M([^"]+)Z"/)![1]!.matchAll(/(-?[\d.]+) (-?[\d.]+)/g)].map((m) => [
      Number(m[1]),
      Number(m[2]),
    ]);
    // clicked to the pixel of the page, which is more than one of the film
    expect(Math.abs(corners[1]![0]! - 640)).toBeLessThan(2);
    expect(Math.abs(corners[2]![1]! - 716)).toBeLessThan(2);
    await page.click('Outline, JSON');
    const json = JSON.parse(await arrives('Street tram, outline.json')) as {
      closed: boolean;
      frames: { frame: number; points: unknown[] }[];
    };
    expect(json.closed).toBe(true);
    expect(json.frames.length).toBeGreaterThan(1);
    expect(json.frames.every((f) => f.points.length === 4)).toBe(true);
  });

  it('is copied with its stored frames, which then go their own way', async () => {
    await selectMatte();
    const marks = (): Promise<number> => page.script<number>(`return document.querySelectorAll('[data-matte-mark]').length`);
    await page.until(`return document.querySelectorAll('[data-matte-mark]').length > 2`, 'its frames are shown');
    await steady(marks);
    const count = await marks();
    await page.click('Duplicate');
    await page.until(
      `return [...document.querySelectorAll('section[aria-label=Layers] button')].some((b) => b.textContent.startsWith('Street tram, subject, copy'))`,
      'the copy is listed',
    );
    await selectMatte('Street tram, subject, copy');
    await page.until(`return document.querySelectorAll('[data-matte-mark]').length === ${count}`, 'it has the same frames');
    await page.click('Remove');
    await page.until(
      `return ![...document.querySelectorAll('section[aria-label=Layers] button')].some((b) => b.textContent.startsWith('Street tram, subject, copy'))`,
      'the copy is gone',
    );
    await selectMatte();
    expect(await marks()).toBe(count);
    expect(await page.consoleErrors()).toEqual([]);
  });

  it('is settled, then neither painted nor carried until it is opened again', async () => {
    await page.driver.get(demo.joinUrl(TO_TRY, { step: 'mask', view: 'leaving', frame: frameOf(46) }));
    await page.stageShows(`leaving, frame ${frameOf(46)}`);
    await nothingRuns();
    await page.until(`return document.querySelector('[data-painter]') !== null`, 'the painter is there');
    await page.until(`return document.querySelectorAll('[data-matte-mark]').length > 1`, 'its frames are known');
    await steady(() => page.script<number>(`return document.querySelectorAll('[data-matte-mark]').length`));
    await page.click('Lock frames');
    await page.until(`return document.querySelector('[data-matte-mark][aria-label$="locked"]') !== null`, 'the frames are settled');
    await page.until(`return document.querySelector('[data-painter]') !== null`, 'the painter is there');
    await stroke([300, 300], [330, 320]);
    await page.until(`return document.body.textContent.includes('The frames of this matte are locked')`, 'it says so');
    await page.click('Unlock frames');
    await page.until(`return document.querySelector('[data-matte-mark][aria-label$="locked"]') === null`, 'they are open');
  });
});
