import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readTruth, type Truth } from '../../demo/truth';
import { Browser } from './browser';
import { openDemo, type Demo } from './demo';

/** First film frame of the street shot that is still to be joined. */
const SHOT_START = 186;
const WIDTH = 1280;

let folder: string;
let demo: Demo;
let page: Browser;
let truth: Truth;

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'irimi-mattes-'));
  demo = await openDemo(folder);
  page = await Browser.open();
  truth = readTruth('street-tram');
});
afterAll(async () => {
  await page?.close();
  await demo?.close();
  rmSync(folder, { recursive: true, force: true });
});

const frameOf = (mediumFrame: number): number => SHOT_START + mediumFrame;

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

describe('a matte cut by strokes', () => {
  it('follows the strokes while they are painted, close to the truth', async () => {
    await page.driver.get(demo.joinUrl(2, { step: 'mask', view: 'leaving', frame: frameOf(46) }));
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
});
