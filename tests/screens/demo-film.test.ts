import { mkdtempSync, rmSync } from 'node:fs';
import { get } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Key } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Browser } from './browser';
import { openDemo, type Demo } from './demo';

const folder = mkdtempSync(join(tmpdir(), 'irimi-demo-'));
let demo: Demo;
let page: Browser;

beforeAll(async () => {
  demo = await openDemo(folder);
  page = await Browser.open();
});
afterAll(async () => {
  await page?.close();
  await demo?.close();
  rmSync(folder, { recursive: true, force: true });
});

/** The status of a request with headers that fetch would not let one set. */
const statusFor = (path: string, headers: Record<string, string>): Promise<number> =>
  new Promise((resolve, reject) => {
    const request = get(`${demo.server.url}${path}`, { headers }, (answer) => {
      answer.resume();
      resolve(answer.statusCode!);
    });
    request.on('error', reject);
  });

describe('the demo film', () => {
  it('is on the first page, and nothing for axe', async () => {
    await page.driver.get(demo.server.url);
    await page.named('Begin');
    expect(await page.axeFindings()).toEqual([]);
  });

  it('shows the opacity of a keyed layer as it is, and changes one key of it', async () => {
    await page.driver.get(demo.joinUrl('The cart comes', { step: 'blend', view: 'result', frame: 536 }));
    await page.stageShows('result, frame 536');
    await page.script(
      `[...document.querySelectorAll('section[aria-label=Layers] button')].find((b) => b.textContent.startsWith('Yard')).click()`,
    );
    const field = await page.find('input[aria-label="opacity"]');
    const shown = Number(await field.getAttribute('value'));
    expect(shown).toBeGreaterThan(0);
    expect(shown).toBeLessThan(100);
    await field.click();
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), '50', Key.ENTER);
    await page.until(`return document.querySelector('[aria-label^="Undo: opacity of Yard at 536"]') !== null`, 'it is a key');
    const { film } = (await (await fetch(`${demo.server.url}/api/films/${demo.filmId}`)).json()) as {
      film: { joins: { layers: { name: string; opacity: unknown }[] }[] };
    };
    const yard = film.joins.flatMap((j) => j.layers).find((l) => l.name === 'Yard')!;
    expect(yard.opacity).toHaveLength(3);
    await page.chord([Key.CONTROL], 'z');
  });

  it('opens on the reel with its joins, and nothing for axe', async () => {
    await page.driver.get(demo.filmUrl({ frame: 80 }));
    await page.stageShows('film, frame 80');
    expect(await page.script<string>(`return document.querySelector('section[aria-label="Details"]').textContent`)).toMatch(
      /Tram wipe\D*\d+ fr.*Tram wipe, to try.*plain cut/,
    );
    expect(await page.axeFindings()).toEqual([]);
  });

  it.each(['pair', 'mask', 'move', 'blend', 'check'])(
    'opens the tram wipe at %s without scrolling the page, and nothing for axe',
    async (step) => {
      await page.driver.get(demo.joinUrl('Tram wipe', { step, view: 'result', frame: 84 }));
      await page.stageShows('result, frame 84');
      expect(
        await page.script(
          `return document.documentElement.scrollHeight <= innerHeight && document.documentElement.scrollWidth <= innerWidth`,
        ),
      ).toBe(true);
      expect(await page.axeFindings()).toEqual([]);
    },
  );

  it.each([
    [1280, 800],
    [1024, 768],
  ])('cuts no label of the tram wipe off in a window of %i × %i', async (width, height) => {
    await page.resize(width, height);
    await page.driver.get(demo.joinUrl('Tram wipe', { step: 'mask', view: 'leaving', frame: 84 }));
    await page.stageShows('leaving, frame 84');
    const cut = await page.script<string[]>(
      `return [...document.querySelectorAll('section *, header *')]
         .filter((e) => e.children.length === 0 && e.textContent.trim() !== '' && e.clientWidth > 0 && e.scrollWidth > e.clientWidth + 1)
         .map((e) => e.textContent)`,
    );
    expect(cut).toEqual([]);
    // the frame counter is whole, and nothing lies over it
    const hit = await page.script<string>(
      `const b = [...document.querySelectorAll('section[aria-label=Transport] span')].find((e) => /^of \\d+$/.test(e.textContent)).getBoundingClientRect();
       return document.elementFromPoint(b.right - 2, b.top + b.height / 2).textContent`,
    );
    expect(hit).toMatch(/^of \d+$/);
    await page.resize(1280, 800);
  });

  it('keeps the panel of a painted matte within two heights of its pane, and remembers what is folded', async () => {
    await page.driver.get(demo.joinUrl('The cart comes', { step: 'mask', view: 'entering', frame: 546 }));
    await page.find('[data-section="Carry through time"]');
    const [long, shown] = await page.script<[number, number]>(
      `const p = document.querySelector('section[aria-label="Mask controls"] > div'); return [p.scrollHeight, p.clientHeight]`,
    );
    expect(long).toBeLessThan(2 * shown);
  });

  it('has nothing to fix in the wipe, and every view can be seen', async () => {
    await page.driver.get(demo.joinUrl('Tram wipe', { step: 'check', view: 'result', frame: 84 }));
    await page.until(`return /All \\d+ frames of the overlap are covered/.test(document.body.textContent)`, 'the check is clean');
    for (const view of ['Leaving', 'Entering', 'Matte', 'Cut-out', 'Overlay', 'Difference', 'Side by side', 'Split']) {
      await page.click(view);
      await page.stageShows(`${view.toLowerCase()}, frame 84`);
    }
  });

  it('shows the tram on the left and the shop on the right in the middle of the wipe', async () => {
    await page.click('Entering');
    await page.stageShows('entering, frame 84');
    const shop = await page.pixel(1000, 300, 1280);
    await page.click('Result');
    await page.stageShows('result, frame 84');
    expect(await page.pixel(1000, 300, 1280)).toEqual(shop);
  });

  it('plays the join, showing nearly every frame once it has been drawn', async () => {
    await page.script(`document.activeElement.blur()`);
    await page.keys(' ');
    // two rounds: the first draws, the second shows what is kept
    await page.until(
      `return !document.querySelector('[aria-label="Pause (Space)"]') ? false : (window.began ??= Date.now(), Date.now() - window.began > 5000)`,
      'it has played for a while',
    );
    const note = await page.script<string>(`return [...document.querySelectorAll('[role="status"]')].map((e) => e.textContent).join(' ')`);
    await page.keys(' ');
    const shown = /showing (\d+) of 24/.exec(note);
    expect(shown === null ? 24 : Number(shown[1])).toBeGreaterThan(10);
  });

  it('looks the same after going from the bench to the reel and back', async () => {
    await page.click('Small Hours');
    await page.find('section[aria-label="Reel"]');
    await page.click('Open join Tram wipe');
    await page.find('section[aria-label="Weave"]');
    expect(await page.consoleErrors()).toEqual([]);
  });

  it('says so when what the address names is not there', async () => {
    await page.driver.get(`${demo.server.url}/films/nothing-here`);
    await page.until(`return document.body.textContent.includes('There is no such film here')`, 'the missing film is told');
    await page.driver.get(`${demo.server.url}/films/${demo.filmId}/joins/nothing-here`);
    await page.until(`return document.body.textContent.includes('This join is not on the reel')`, 'the missing join is told');
  });
});

describe('the server', () => {
  const api = (path: string, init?: RequestInit): Promise<Response> => fetch(`${demo.server.url}/api/${path}`, init);
  const own = (headers: Record<string, string> = {}): Record<string, string> => ({
    origin: demo.server.url,
    'content-type': 'application/json',
    ...headers,
  });

  it.each([
    ['a body that is no JSON', `films/FILM/edits`, { method: 'POST', body: '{' }, 400],
    [
      'a body that is not said to be JSON',
      `films/FILM/edits`,
      { method: 'POST', body: '{}', headers: { 'content-type': 'text/plain' } },
      400,
    ],
    ['an edit without patches', `films/FILM/edits`, { method: 'POST', body: '{"base":0,"edit":{"name":"x"},"id":"e"}' }, 400],
    ['an id with a path in it', `films/..%2f..%2fetc`, {}, 400],
    ['a file of a medium that is none of its own', `media/abc/original`, {}, 404],
    ['an export that is not there', `exports/abc`, {}, 404],
    [
      'a request from another site',
      `films`,
      { method: 'POST', body: '{"name":"x"}', headers: { origin: 'http://elsewhere.example' } },
      403,
    ],
    ['a read for another site', `films`, { headers: { 'sec-fetch-site': 'cross-site' } }, 403],
    ['a change without an origin', `films`, { method: 'POST', body: '{"name":"x"}', headers: { origin: '' } }, 403],
    [
      'an upload without a name',
      `films/FILM/uploads`,
      { method: 'POST', headers: { 'tus-resumable': '1.0.0', 'upload-length': '5' } },
      400,
    ],
    [
      'an upload to a film that is not there',
      `films/none/uploads`,
      { method: 'POST', headers: { 'tus-resumable': '1.0.0', 'upload-length': '5', 'upload-metadata': 'filename YS5tcDQ=' } },
      404,
    ],
    [
      'an upload larger than the disk',
      `films/FILM/uploads`,
      { method: 'POST', headers: { 'tus-resumable': '1.0.0', 'upload-length': '900000000000000', 'upload-metadata': 'filename YS5tcDQ=' } },
      413,
    ],
  ])('answers %s with a clear refusal', async (_, path, init: RequestInit, status) => {
    const headers = own(init.headers as Record<string, string>);
    if (headers.origin === '') delete headers.origin;
    const response = await api(path.replace('FILM', demo.filmId), { ...init, headers });
    expect(response.status).toBe(status);
    expect(((await response.json()) as { message: string }).message.length).toBeGreaterThan(10);
  });

  it('answers no other name than its own, not to read and not for a page', async () => {
    for (const path of ['/api/films', '/', `/films/${demo.filmId}`])
      expect(
        await statusFor(path, { host: `rebound.example:${demo.server.port}`, origin: `http://rebound.example:${demo.server.port}` }),
      ).toBe(403);
    expect(await statusFor('/api/films', { host: `localhost:${demo.server.port}` })).toBe(200);
  });

  it('stops reading a body that is larger than it may be, whatever it says of its length', async () => {
    let sent = 0;
    const body = new ReadableStream<Uint8Array>({
      pull(controller) {
        sent += 2 ** 20;
        controller.enqueue(new Uint8Array(2 ** 20).fill(32));
        if (sent > 400 * 2 ** 20) controller.close();
      },
    });
    const init = { method: 'POST', body, headers: own(), duplex: 'half' } as RequestInit;
    const status = await api('films', init).then(
      (r) => r.status,
      () => 413, // the connection may be closed before the answer is read
    );
    expect(status).toBe(413);
    expect(sent).toBeLessThan(120 * 2 ** 20);
  });

  it('lets pages run no script but their own, in no frame of another page', async () => {
    const page = await fetch(demo.filmUrl());
    const policy = page.headers.get('content-security-policy')!;
    expect(policy).toMatch(/frame-ancestors 'none'/);
    expect(/script-src[^;]*/.exec(policy)![0]).not.toContain('unsafe-inline');
    const media = (await (await api(`films/${demo.filmId}/media`)).json()) as { id: string }[];
    expect((await api(`media/${media[0]!.id}/poster.jpg`)).headers.get('cross-origin-resource-policy')).toBe('same-origin');
  });

  it('serves parts of a file', async () => {
    const media = (await (await api(`films/${demo.filmId}/media`)).json()) as { id: string }[];
    const whole = Buffer.from(await (await api(`media/${media[0]!.id}/proxy.webm`)).arrayBuffer());
    const part = await api(`media/${media[0]!.id}/proxy.webm`, { headers: { range: 'bytes=100-199' } });
    expect(part.status).toBe(206);
    expect(part.headers.get('content-range')).toBe(`bytes 100-199/${whole.length}`);
    expect(Buffer.from(await part.arrayBuffer())).toEqual(whole.subarray(100, 200));
    expect((await api(`media/${media[0]!.id}/proxy.webm`, { headers: { range: `bytes=${whole.length}-` } })).status).toBe(416);
  });
});
