import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Key } from 'selenium-webdriver';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { packPairs } from '../../src/core/sound/samples';
import { drums } from '../../src/core/sound/test-sounds';
import { clicksOf, flashesOf, makeClickFilm } from '../fixtures/clicks';
import { Browser } from './browser';
import { Server } from './server';

// One film from silence to a file, in order: each test goes on where the one before stopped.

const RATE = 24;
const BEAT = 60 / 120;
const FIRST_BEAT = 0.3;
const folder = mkdtempSync(join(tmpdir(), 'irimi-sound-'));
const file = (name: string): string => join(folder, name);
let server: Server;
let page: Browser;
let filmId = '';

interface Clip {
  readonly name: string;
  readonly start: number;
  readonly from: number;
  readonly length: number;
  readonly level: unknown;
}
interface StoredFilm {
  readonly shots: { readonly length: number }[];
  readonly soundLanes?: { readonly clips: Clip[] }[];
  readonly beats?: { readonly seconds: number[]; readonly beatsPerMinute: number }[];
  readonly markers?: { readonly frame: number }[];
}
const saved = (): Promise<boolean> =>
  page.until(`return /^saved/.test(document.querySelector('[data-testid="save-state"]')?.textContent ?? '')`, 'the change is saved');
async function stored(): Promise<StoredFilm> {
  await saved();
  return ((await (await fetch(`${server.url}/api/films/${filmId}`)).json()) as { film: StoredFilm }).film;
}
const clips = async (): Promise<Clip[]> => ((await stored()).soundLanes ?? []).flatMap((l) => l.clips);
const has = (css: string, what: string): Promise<unknown> =>
  page.until(`return document.querySelector(${JSON.stringify(css)}) !== null`, what, 60_000);
const boxOf = (css: string): Promise<{ left: number; top: number; width: number; height: number }> =>
  page.script(
    `const b = document.querySelector(arguments[0]).getBoundingClientRect();
     return { left: b.left, top: b.top, width: b.width, height: b.height }`,
    css,
  );
/** Pixels of a film frame on the reel. */
const perFrame = async (): Promise<number> => (await boxOf('[data-shot]')).width / (await stored()).shots[0]!.length;

beforeAll(async () => {
  makeClickFilm(file('flashes one.mkv'), { seconds: 4, rate: RATE, flashes: [24, 48] });
  makeClickFilm(file('flashes two.mkv'), { seconds: 4, rate: RATE, flashes: [20, 44, 68] });
  const beaten = drums({ seconds: 10, tempoAt: () => 60 / BEAT, first: FIRST_BEAT });
  const sound = Float32Array.from(beaten.sound);
  writeFileSync(file('drums.raw'), packPairs({ left: sound, right: sound }));
  execFileSync('ffmpeg', ['-v', 'error', '-f', 's16le', '-ar', '48000', '-ac', '2', '-i', file('drums.raw'), file('drums.wav')]);
  server = await Server.start(file('data'));
  page = await Browser.open(folder);
  filmId = ((await (await server.send('POST', 'films', { name: 'Heard' })).json()) as { id: string }).id;
  await page.driver.get(`${server.url}/films/${filmId}`);
  const chooser = await page.find('[data-testid="file-chooser"]');
  await chooser.sendKeys([file('flashes one.mkv'), file('flashes two.mkv'), file('drums.wav')].join('\n'));
}, 60_000);
afterAll(async () => {
  await page?.close();
  await server?.stop();
  rmSync(folder, { recursive: true, force: true });
});

it('shows a sound alone as a card with its wave, which plays there', async () => {
  await has('[data-testid="sound-face"] [data-wave]', 'the wave is drawn');
  expect(await page.script<string>(`return document.querySelector('[role=group][aria-label="drums.wav"]').textContent`)).toMatch(/Drums/);
  await page.click('Play Drums');
  await page.named('Stop Drums');
  await page.click('Stop Drums');
  await page.named('Play Drums');
});

it('shows each shot’s own sound under it', async () => {
  for (const name of ['Flashes one', 'Flashes two']) {
    await page.named(`Add ${name} to the reel`);
    await page.click(`Add ${name} to the reel`);
  }
  await page.until(`return document.querySelectorAll('[data-shot]').length === 2`, 'two shots');
  await page.until(`return document.querySelectorAll('[aria-label="Sound"] [data-wave]').length === 2`, 'two waves');
});

it('takes a sound from the shelf into a lane where it is dropped, drawn to the cut', async () => {
  const scale = await perFrame();
  const shot = await boxOf('[data-shot]');
  // 6 pixels after the cut: near enough to be drawn to it
  await page.script(
    `const transfer = new DataTransfer();
     const fire = (target, type, x, y) => target.dispatchEvent(new DragEvent(type, { bubbles: true, cancelable: true, dataTransfer: transfer, clientX: x, clientY: y }));
     const card = document.querySelector('[role=group][aria-label="drums.wav"]'), lane = document.querySelector('[data-testid="new-lane"]');
     const y = lane.getBoundingClientRect().top + 5;
     fire(card, 'dragstart', 10, 10);
     fire(lane, 'dragover', arguments[0], y);
     fire(lane, 'drop', arguments[0], y);
     fire(card, 'dragend', arguments[0], y);`,
    Math.round(shot.left + 96 * scale + 6),
  );
  await has('[data-clip]', 'it lies in a lane');
  expect(await clips()).toMatchObject([{ name: 'Drums', start: 96, from: 0, length: 10 * RATE, level: 0 }]);
});

it('moves it by dragging, and to the start by its number', async () => {
  const [scale, box] = [await perFrame(), await boxOf('[data-clip]')];

  const at = { x: box.left + 60, y: box.top + box.height - 5 };
  await page.drag(at, { x: at.x - 40 * scale, y: at.y });
  await has('[aria-label^="Undo: Moved Drums"]', 'it is moved');
  expect(Math.abs((await clips())[0]!.start - 56)).toBeLessThan(1.5);
  const start = await page.find('input[aria-label="Starts on frame"]');
  await start.clear();
  await start.sendKeys('0\n');
  await page.until(
    `return document.querySelector('[data-clip]').getAttribute('aria-label').includes('from frame 0,')`,
    'it begins the film',
  );
});

it('finds its beats and draws them on the reel', async () => {
  await page.unfold('Beats');
  await page.click('Find beats');
  await has('[data-testid="tempo"]', 'the tempo is told');
  expect(await page.script<string>(`return document.querySelector('[data-testid="tempo"]').textContent`)).toMatch(
    /^(119|120)\.\d a minute/,
  );
  await has('[data-mark=beat], [data-mark=downbeat]', 'beats are drawn');
  const [beats] = (await stored()).beats!;
  for (const at of beats!.seconds) expect(Math.abs(((at - FIRST_BEAT + BEAT / 2) % BEAT) - BEAT / 2)).toBeLessThan(0.03);
});

it('draws a cut to a beat while its end is trimmed, and not when snapping is off', async () => {
  const beat = Math.round((await stored()).beats![0]!.seconds.find((s) => s > 3)! * RATE);
  const scale = await perFrame();
  const drag = async (frame: number, px: number): Promise<number> => {
    const shot = await boxOf('[data-shot]');
    const grip = await boxOf('[data-shot] [data-trim=end]');
    const from = { x: grip.left + grip.width / 2, y: grip.top + grip.height / 2 };
    const length = (await stored()).shots[0]!.length;
    await page.drag(from, { x: shot.left + frame * scale + px + (from.x - shot.left - length * scale), y: from.y });
    return (await stored()).shots[0]!.length;
  };
  expect(await drag(beat, 5)).toBe(beat);
  await page.keys('n');
  const off = Math.max(1, Math.ceil(5 / scale));
  expect(await drag(beat + off, 0)).toBe(beat + off);
  await page.keys('n');
  expect(await drag(beat, 4)).toBe(beat);
});

it('keeps music in time when shots change places', async () => {
  const before = await clips();
  const lengths = (await stored()).shots.map((shot) => shot.length);
  await page.script(`document.querySelectorAll('[data-shot]')[1].focus()`);
  await page.chord([Key.ALT], Key.ARROW_LEFT);
  await has('[aria-label^="Undo: Moved Flashes two"]', 'the second shot comes first');
  expect((await stored()).shots.map((shot) => shot.length)).toEqual(lengths.toReversed());
  expect(await clips()).toEqual(before);
  await page.chord([Key.CONTROL], 'z');
  await has('[aria-label^="Redo: Moved Flashes two"]', 'it is taken back');
});

it('puts a marker under the playhead', async () => {
  await page.keys('m');
  await has('[data-marker]', 'a flag stands on the ruler');
  expect((await stored()).markers).toHaveLength(1);
});

it('lowers it to half, and sends out what is heard: exact in WAV, in step in WebM', async () => {
  const { shots } = await stored();
  await (await page.find('[data-clip]')).click();
  const level = await page.find('input[aria-label="Level"]');
  await level.clear();
  await level.sendKeys('-60\n');
  await page.until(`return document.querySelector('[aria-label^="Undo: Level of Drums"]') !== null`, 'it is lowered');
  await saved();
  await page.click('Export');
  const frames = shots.reduce((sum, s) => sum + s.length, 0);
  const send = async (format: string, end: string): Promise<string> => {
    await page.click(format);
    await page.click(`Export ${frames} frames`);
    const href = await page.until<string>(
      `return [...document.querySelectorAll('ul[aria-label="Exported"] li')].find((li) => li.textContent.includes('${end}') && li.querySelector('a[download]'))?.querySelector('a').href`,
      `${end} is ready`,
      90_000,
    );
    writeFileSync(file(`sent${end}`), Buffer.from(await (await fetch(href)).arrayBuffer()));
    return file(`sent${end}`);
  };
  const wav = await send('WAV, sound alone', '.wav');
  const cut = shots[0]!.length;
  const expected = [24, 48, cut + 20, cut + 44, cut + 68].map((f) => f / RATE);
  expect(clicksOf(wav)).toEqual(expected);
  expect(readFileSync(wav).length).toBeGreaterThanOrEqual(((frames * 48_000) / RATE) * 4);
  const webm = await send('WebM, VP9', '.webm');
  const [clicks, flashes] = [clicksOf(webm), flashesOf(webm)];
  expect(flashes).toHaveLength(expected.length);
  flashes.forEach((at, i) => expect(Math.abs(clicks[i]! - at)).toBeLessThan(0.001));
  expect(await page.consoleErrors()).toEqual([]);
});
