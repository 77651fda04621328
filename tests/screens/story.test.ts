import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Key } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { makeNumberedVideo, numbersOf, readNumber } from '../fixtures/numbered-video';
import { Browser } from './browser';
import { Server } from './server';

// One newcomer's story, in order: each test goes on where the one before stopped.

const [WIDTH, HEIGHT] = [640, 360];
const folder = mkdtempSync(join(tmpdir(), 'irimi-story-'));
const file = (name: string): string => join(folder, name);
let server: Server;
let page: Browser;
let filmUrl = '';
let filmId = '';

interface StoredFilm {
  film: {
    shots: { id: string; name: string; inFrame: number; length: number }[];
    joins: { id: string; before: number; after: number; recipe?: { kind: string } }[];
    mattes: { outline: { closed: boolean; keys: { frame: number; points: { x: number; y: number; outX: number }[] }[] } }[];
  };
  revision: number;
}
const stored = async (): Promise<StoredFilm> => (await (await fetch(`${server.url}/api/films/${filmId}`)).json()) as StoredFilm;
const saved = (): Promise<boolean> =>
  page.until(`return /^saved/.test(document.querySelector('[data-testid="save-state"]')?.textContent ?? '')`, 'the change is saved');

beforeAll(async () => {
  await Promise.all([
    makeNumberedVideo(file('first shot.mp4'), { width: WIDTH, height: HEIGHT, frames: 60, rate: '24' }),
    makeNumberedVideo(file('second_shot.mp4'), { width: WIDTH, height: HEIGHT, frames: 72, rate: '24' }),
  ]);
  writeFileSync(file('notes.mp4'), 'shopping: lamp oil, string');
  server = await Server.start(file('data'));
  page = await Browser.open(folder);
});
afterAll(async () => {
  await page?.close();
  await server?.stop();
  rmSync(folder, { recursive: true, force: true });
});

describe('gathering', () => {
  it('begins a film', async () => {
    await page.driver.get(server.url);
    await (await page.find('input[aria-label="Name of the new film"]')).sendKeys('Story');
    await (await page.find('select[aria-label="Frame size"]')).sendKeys('1280');
    await page.click('Begin');
    await page.find('section[aria-label="Reel"]');
    filmUrl = (await page.driver.getCurrentUrl()).split('?')[0]!;
    filmId = filmUrl.split('/').pop()!;
    expect(await page.script<string>('return document.body.textContent')).toContain('Drop video, sound and still files here');
  });

  it('brings files in and shows what they hold; one that is no video says so on its card', async () => {
    const chooser = await page.find('[data-testid="file-chooser"]');
    await chooser.sendKeys([file('first shot.mp4'), file('second_shot.mp4'), file('notes.mp4')].join('\n'));
    const card = (name: string): Promise<string> =>
      page.until(
        `return document.querySelector('[role=group][aria-label=${JSON.stringify(name)}]')?.textContent.match(/ fr|neither video/) ? document.querySelector('[role=group][aria-label=${JSON.stringify(name)}]').textContent : ''`,
        `${name} is ready`,
        60_000,
      );
    expect(await card('first shot.mp4')).toMatch(/First shot.*640×360 · 24 fps · 60 fr/);
    expect(await card('second_shot.mp4')).toMatch(/Second shot.*72 fr/);
    expect(await card('notes.mp4')).toMatch(/This file is neither video nor sound/);
  });

  it('scrubs a card under the pointer', async () => {
    const box = await page.script<{ x: number; y: number; w: number }>(
      `const b = document.querySelector('[data-testid="poster"]').getBoundingClientRect(); return { x: b.left, y: b.top + b.height / 2, w: b.width }`,
    );
    await page.driver
      .actions({ async: true })
      .move({ x: Math.round(box.x + box.w * 0.75), y: Math.round(box.y), duration: 0 })
      .perform();
    const frame = await page.until<string>(
      `return document.querySelector('[data-testid="poster"] span.font-mono')?.textContent`,
      'a frame number shows',
    );
    expect(Math.abs(Number(frame) - 45)).toBeLessThanOrEqual(1);
  });
});

describe('the reel', () => {
  it('takes shots from the shelf', async () => {
    await page.click('Add First shot to the reel');
    await page.click('Add Second shot to the reel');
    await page.until(`return document.querySelectorAll('[data-shot]').length === 2`, 'two shots lie on the reel');
    await saved();
    expect((await stored()).film.shots.map((s) => s.length)).toEqual([60, 72]);
  });

  it('shows the frame under the playhead: the number burnt in is the number asked for', async () => {
    for (const [frame, number] of [
      [0, 0],
      [37, 37],
      [59, 59],
      [60, 0],
      [131, 71],
    ] as const) {
      await page.driver.get(`${filmUrl}?frame=${frame}`);
      await page.stageShows(`film, frame ${frame}`);
      const { width, height, data } = await page.script<{ width: number; height: number; data: number[] }>(
        `const c = document.querySelector('canvas[data-stage]'); return { width: c.width, height: c.height, data: Array.from(c.getContext('2d').getImageData(0, 0, c.width, c.height).data.filter((_, i) => i % 4 === 0)) }`,
      );
      expect(readNumber({ width, height, data }, 1)).toBe(number);
    }
  });

  it('steps with the arrows and plays with Space', async () => {
    await page.driver.get(`${filmUrl}?frame=10`);
    await page.stageShows('film, frame 10');
    await page.keys(Key.ARROW_RIGHT, Key.ARROW_RIGHT, Key.ARROW_LEFT);
    await page.stageShows('film, frame 11');
    await page.keys(' ');
    await page.until(`return Number(document.querySelector('canvas[data-stage]').dataset.drawn.split(' ').pop()) > 20`, 'it plays');
    await page.keys(' ');
  });

  it('moves a shot by dragging it past another, and trims an end', async () => {
    const box = (n: number) =>
      page.script<{ left: number; right: number; y: number }>(
        `const b = document.querySelectorAll('[data-shot]')[${n}].getBoundingClientRect(); return { left: b.left, right: b.right, y: b.top + 20 }`,
      );
    const [first, second] = [await box(0), await box(1)];
    await page.drag({ x: first.left + 60, y: first.y }, { x: second.right - 40, y: second.y });
    await saved();
    expect((await stored()).film.shots.map((s) => s.name)).toEqual(['Second shot', 'First shot']);
    await page.chord([Key.CONTROL], 'z');
    await saved();
    expect((await stored()).film.shots.map((s) => s.name)).toEqual(['First shot', 'Second shot']);
    const again = await box(0);
    const perFrame = (again.right - again.left) / 60;
    await page.drag({ x: again.right - 3, y: again.y }, { x: again.right - 3 - 20 * perFrame, y: again.y });
    await saved();
    expect((await stored()).film.shots[0]!.length).toBe(40);
    // room before the second shot's first picture, for the overlap
    const later = await box(1);
    await page.drag({ x: later.left + 3, y: later.y }, { x: later.left + 3 + (24 * (later.right - later.left)) / 72, y: later.y });
    await saved();
    const trimmed = (await stored()).film.shots[1]!;
    expect(trimmed.inFrame).toBe(24);
    expect(trimmed.inFrame + trimmed.length).toBe(72);
  });
});

describe('the bench', () => {
  it('opens a join from its knot', async () => {
    await page.click('Open join First shot → Second shot');
    await page.find('section[aria-label="Weave"]');
    await page.until(
      `return document.querySelectorAll('section[aria-label="Weave"] canvas[data-drawn="yes"]').length > 20`,
      'the weave shows frames',
    );
  });

  it('makes it a wipe past and asks for an outline', async () => {
    await page.chooseKind('wipe past');
    await saved();
    expect((await stored()).film.joins[0]!.recipe?.kind).toBe('wipe past');
    await page.keys('2');
    await page.until(`return document.body.textContent.includes('to set the first point')`, 'the next step is told');
  });

  it('draws an outline that reaches beyond the frame, with a curve, and closes it', async () => {
    const frame30 = await page.script<string>(`return [...document.querySelectorAll('[aria-label="Leaving, frame 30"]')].length + ''`);
    expect(frame30).toBe('1');
    await (await page.find('[aria-label="Leaving, frame 30"]')).click();
    await page.stageShows('leaving, frame 30');
    await page.click('Look beyond the frame');
    // the film is 1280 wide; the outline starts right of the frame
    const corners = [
      [1300, -60],
      [1500, -60],
      [1500, 780],
      [1300, 780],
    ] as const;
    for (const [x, y] of corners) {
      const at = await page.onStage(x, y, 1280);
      await page.clickAt(at.x, at.y);
    }
    const curve = await page.onStage(1290, 360, 1280);
    await page.drag(curve, { x: curve.x, y: curve.y - 30 });
    await page.until(`return document.querySelectorAll('[data-grip="point"]').length === 5`, 'five points are drawn');
    const first = await page.onStage(1300, -60, 1280);
    await page.clickAt(first.x, first.y);
    await saved();
    const { outline } = (await stored()).film.mattes[0]!;
    expect(outline.closed).toBe(true);
    expect(outline.keys).toHaveLength(1);
    expect(outline.keys[0]!.frame).toBe(30);
    // medium pixels from the centre: the medium is half as large as the film
    expect(Math.abs(outline.keys[0]!.points[0]!.x - (1300 - 640) / 2)).toBeLessThan(2);
    expect(outline.keys[0]!.points[4]!.outX).not.toBeNaN();
  });

  it('makes a keyframe by moving points on another frame, and the result shows the entering shot there', async () => {
    await page.script(`document.querySelector('[data-testid="weave-scroll"]').scrollLeft = 36 * 48`);
    await (await page.find('[aria-label="Leaving, frame 46"]')).click();
    await page.stageShows('leaving, frame 46');
    // choose the three points of the left side with a box, then drag one of them across the frame
    const from = await page.onStage(1180, -110, 1280);
    const to = await page.onStage(1340, 830, 1280);
    await page.drag(from, to);
    await page.until(
      `return document.querySelectorAll('[data-grip="point"]').length === 5 && [...document.querySelectorAll('circle[fill="#23211c"]')].length >= 3`,
      'three points are chosen',
    );
    const grip = await page.onStage(1300, -60, 1280);
    const target = await page.onStage(-60, -60, 1280);
    await page.drag(grip, target);
    await saved();
    const { film } = await stored();
    expect(film.mattes[0]!.outline.keys.map((k) => k.frame)).toEqual([30, 46]);
    // the overlap has followed the hole
    expect(film.joins[0]!.before + film.joins[0]!.after).toBeGreaterThan(10);
    // nothing is lacking any more, and nobody is led away: the same step, frame and view, and nothing plays
    await page.until(`return document.querySelector('[data-way]') === null`, 'nothing is lacking');
    await page.stageShows('leaving, frame 46');
    expect(await page.script(`return document.querySelector('[role="tab"][data-value="mask"]').ariaSelected`)).toBe('true');
    expect(await page.script(`return document.querySelector('[aria-label="Pause (Space)"]')`)).toBeNull();
    await page.click('Result');
    await page.stageShows('result, frame 46');
    await page.script(`document.querySelector('[data-testid="weave-scroll"]').scrollLeft = 30 * 48`);
    await (await page.find('[aria-label="Result, frame 38"]')).click();
    await page.stageShows('result, frame 38');
  });

  it('shows both shots in one frame of the result, exactly where the outline lies', async () => {
    const inResult = await page.pixel(1100, 180, 1280);
    const leftInResult = await page.pixel(60, 180, 1280);
    await page.click('Entering');
    await page.stageShows('entering, frame 38');
    expect(await page.pixel(1100, 180, 1280)).toEqual(inResult);
    await page.click('Leaving');
    await page.stageShows('leaving, frame 38');
    expect(await page.pixel(60, 180, 1280)).toEqual(leftInResult);
    expect(await page.pixel(1100, 180, 1280)).not.toEqual(inResult);
  });

  it('nudges a chosen point with the arrows, and takes that back by name', async () => {
    await page.click('Fit the frame (0)');
    const points = async () => (await stored()).film.mattes[0]!.outline.keys;
    const before = await points();
    await page.keys('f');
    await page.keys('46', Key.ENTER);
    await (await page.find('[aria-label="Leaving, frame 46"]')).click();
    await page.stageShows('leaving, frame 46');
    await page.click('Look beyond the frame');
    const grip = await page.onStage(-60, -60, 1280);
    await page.clickAt(grip.x, grip.y);
    await page.keys(Key.ARROW_LEFT, Key.ARROW_LEFT);
    await saved();
    await page.until(
      `return document.querySelector('[aria-label^="Undo: Nudged outline points"]') !== null`,
      'the undo button names the nudge',
    );
    const after = await points();
    expect(after[1]!.points[0]!.x).toBeCloseTo(before[1]!.points[0]!.x - 2, 6);
    expect(after[1]!.points[1]!.x).toBeCloseTo(before[1]!.points[1]!.x, 6);
    await page.chord([Key.CONTROL], 'z');
    await page.chord([Key.CONTROL], 'z');
    await saved();
    expect(await points()).toEqual(before);
  });

  it('changes the feather by typing a sum, and the matte gets soft', async () => {
    await page.click('Matte');
    const field = await page.find('input[aria-label="Feather"]');
    await field.click();
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), '120/2', Key.ENTER);
    await saved();
    expect(await page.script(`return document.querySelector('input[aria-label="Feather"]').value`)).toBe('60');
    await (await page.find('[aria-label="Result, frame 38"]')).click();
    await page.stageShows('matte, frame 38');
    await page.until(
      `const c = document.querySelector('canvas[data-stage]'), d = c.getContext('2d').getImageData(0, 180, c.width, 1).data; let soft = 0; for (let i = 0; i < d.length; i += 4) if (d[i] > 20 && d[i] < 235) soft++; return soft > 40`,
      'the edge is a ramp',
    );
  });

  it('moves and copies keyframes in the weave', async () => {
    const frames = async () => (await stored()).film.mattes[0]!.outline.keys.map((k) => k.frame);
    const pip = await page.script<{ x: number; y: number }>(
      `const b = document.querySelector('[aria-label="Keyframe at 46"]').getBoundingClientRect(); return { x: b.left + b.width / 2, y: b.top + b.height / 2 }`,
    );
    await page.drag(pip, { x: pip.x - 2 * 48, y: pip.y });
    await saved();
    expect(await frames()).toEqual([30, 44]);
    await page.chord([Key.CONTROL], 'z');
    await saved();
    expect(await frames()).toEqual([30, 46]);
  });

  it('slides the entering shot in time by dragging its row, and says when handles are missing', async () => {
    await page.keys('1');
    const before = (await stored()).film.shots[1]!.inFrame;
    const cell = await page.script<{ x: number; y: number }>(
      `const b = document.querySelector('[aria-label="Entering, frame 38"]').getBoundingClientRect(); return { x: b.left + 20, y: b.top + 12 }`,
    );
    await page.drag(cell, { x: cell.x + 3 * 48, y: cell.y });
    await saved();
    expect((await stored()).film.shots[1]!.inFrame).toBe(before - 3);
    await page.until(
      `return document.querySelector('[aria-label^="Undo: Moved entering shot 3 frames later"]') !== null`,
      'the edit has a name',
    );
    const field = await page.find('input[aria-label="First frame after the cut"]');
    await field.click();
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), '2', Key.ENTER);
    await saved();
    await page.until(
      `return /has no picture on the first \\d+ frames of the overlap/.test(document.body.textContent)`,
      'the missing handles are said in words',
    );
    await page.keys('6');
    await page.until(`return /of the picture is empty/.test(document.body.textContent)`, 'the empty pixels are found');
    await page.chord([Key.CONTROL], 'z');
    await page.chord([Key.CONTROL], 'z');
    await saved();
    await page.until(`return !/of the picture is empty/.test(document.body.textContent)`, 'nothing is empty any more');
  });
});

describe('nothing is lost', () => {
  it('slips the leaving shot under its cut by dragging its row, and rolls the cut by its grip', async () => {
    const shots = async (): Promise<readonly (readonly [number, number])[]> => {
      await saved();
      return (await stored()).film.shots.map((s) => [s.inFrame, s.length] as const);
    };
    const before = await shots();
    const middleOf = async (css: string): Promise<{ x: number; y: number }> => {
      const box = await (await page.find(css)).getRect();
      return { x: Math.round(box.x + box.width / 2), y: Math.round(box.y + box.height / 2) };
    };
    const from = await middleOf('[data-weave-cell="current"][aria-label^="Leaving"]');
    await page.drag(from, { x: from.x - 2 * 48, y: from.y });
    await page.until(`return document.querySelector('[aria-label^="Undo: Moved leaving shot 2 frames earlier"]') !== null`, 'it slipped');
    const slipped = await shots();
    expect(slipped[0]).toEqual([before[0]![0] + 2, before[0]![1]]);
    expect(slipped[1]).toEqual(before[1]);
    await page.chord([Key.CONTROL], 'z');
    await page.until(`return document.querySelector('[aria-label^="Redo: Moved leaving shot"]') !== null`, 'it is taken back');
    const cut = await middleOf('[role="slider"][aria-label="Cut"]');
    await page.drag(cut, { x: cut.x - 3 * 48, y: cut.y });
    await page.until(`return document.querySelector('[aria-label^="Undo: Rolled the cut 3 frames earlier"]') !== null`, 'it rolled');
    const rolled = await shots();
    expect(rolled[0]).toEqual([before[0]![0], before[0]![1] - 3]);
    expect(rolled[1]).toEqual([before[1]![0] - 3, before[1]![1] + 3]);
    await page.chord([Key.CONTROL], 'z');
    await page.until(`return document.querySelector('[aria-label^="Redo: Rolled"]') !== null`, 'it is taken back');
  });

  it('lands on the same spot after a reload, with undo still there', async () => {
    const address = await page.until<string>(`return location.search.includes('step=check') && location.href`, 'the address follows');
    await page.driver.navigate().refresh();
    await page.find('section[aria-label="Weave"]');
    expect((await page.driver.getCurrentUrl()).split('&frame')[0]).toBe(address.split('&frame')[0]);
    await page.until(`return document.querySelector('[aria-label^="Undo: Changed the feather"]') !== null`, 'undo survives the reload');
  });

  it('keeps changes made while the server is gone, and sends them when it is back', async () => {
    const { port } = server;
    const before = (await stored()).revision;
    await server.stop('SIGKILL');
    await page.chord([Key.CONTROL], 'z');
    await page.until(
      `return /not saved: no connection/.test(document.querySelector('[data-testid="save-state"]').textContent)`,
      'the lost connection is told',
    );
    server = await Server.start(file('data'), port);
    await saved();
    expect((await stored()).revision).toBe(before + 1);
    await page.driver.navigate().refresh();
    await page.until(`return document.querySelector('[aria-label^="Redo: Changed the feather"]') !== null`, 'redo survives the restart');
  });

  it('does not apply a change made on an older film, and says so', async () => {
    const { film, revision } = await stored();
    const other = {
      name: 'Renamed elsewhere',
      kind: 'edit',
      target: null,
      patches: [{ op: 'replace', path: ['name'], value: 'Story two' }],
      inverse: [{ op: 'replace', path: ['name'], value: 'Story' }],
    };
    // the page hears of this at once and takes the newer film over
    const answer = await server.send('POST', `films/${filmId}/edits`, { base: revision, edit: other, id: 'one' });
    expect(answer.status).toBe(200);
    await page.until(`return document.querySelector('nav[aria-label="Place"]').textContent.includes('Story two')`, 'the newer film shows');
    const late = await server.send('POST', `films/${filmId}/edits`, { base: revision, edit: other, id: 'two' });
    expect(late.status).toBe(409);
    expect(film.shots).toHaveLength(2);
  });
});

describe('sending out', () => {
  it('sends the join with handles to a file with every frame once', async () => {
    await page.click('Export');
    await page.until(
      `return [...document.querySelectorAll('button')].some((b) => /^Export \\d+ frames$/.test(b.textContent))`,
      'the dialog counts the frames',
    );
    const text = await page.script<string>(
      `return [...document.querySelectorAll('button')].find((b) => /^Export \\d+ frames$/.test(b.textContent)).textContent`,
    );
    const frames = Number(/\d+/.exec(text)![0]);
    await page.click(text);
    const href = await page.until<string>(`return document.querySelector('a[download]')?.href`, 'the file can be downloaded', 90_000);
    const response = await fetch(href);
    expect(response.headers.get('content-disposition')).toContain('.webm');
    writeFileSync(file('sent.webm'), Buffer.from(await response.arrayBuffer()));
    const probed = JSON.parse(
      execFileSync('ffprobe', ['-v', 'error', '-count_frames', '-show_streams', '-of', 'json', file('sent.webm')], { encoding: 'utf8' }),
    ) as { streams: Record<string, string>[] };
    expect(probed.streams[0]).toMatchObject({
      codec_name: 'vp9',
      width: 1280,
      height: 720,
      r_frame_rate: '24/1',
      nb_read_frames: String(frames),
    });
    // before the overlap the leaving shot, after it the entering one
    const { film } = await stored();
    const join = film.joins[0]!;
    const from = film.shots[0]!.length - join.before - 12;
    const numbers = await numbersOf(file('sent.webm'), 640, 360);
    expect(numbers.slice(0, 12)).toEqual(Array.from({ length: 12 }, (_, i) => from + i));
    const after = film.shots[1]!.inFrame + join.after;
    expect(numbers.slice(-12)).toEqual(Array.from({ length: 12 }, (_, i) => after + i));
  });

  it('can be stopped, and a stopped one offers no file', async () => {
    await page.click('The whole film');
    await page.click('MP4, H.264');
    const label = await page.script<string>(
      `return [...document.querySelectorAll('button')].find((b) => /^Export \\d+ frames$/.test(b.textContent)).textContent`,
    );
    await page.click(label);
    await page.click('Stop');
    await page.until(
      `return /Stopped; nothing was written|\\d+ frames · /.test(document.querySelector('ul[aria-label="Exported"] li').textContent)`,
      'it has stopped',
    );
    expect(await page.script<string>(`return document.querySelector('ul[aria-label="Exported"] li').textContent`)).toMatch(/Stopped/);
  });

  it('sends the whole film as MP4', async () => {
    const label = await page.script<string>(
      `return [...document.querySelectorAll('button')].find((b) => /^Export \\d+ frames$/.test(b.textContent)).textContent`,
    );
    await page.click(label);
    const href = await page.until<string>(
      `return [...document.querySelectorAll('ul[aria-label="Exported"] li')].find((li) => li.textContent.includes('.mp4') && li.querySelector('a[download]'))?.querySelector('a').href`,
      'the film is ready',
      90_000,
    );
    writeFileSync(file('film.mp4'), Buffer.from(await (await fetch(href)).arrayBuffer()));
    const { film } = await stored();
    const length = film.shots.reduce((sum, s) => sum + s.length, 0);
    expect((await numbersOf(file('film.mp4'), 640, 360)).length).toBe(length);
  });
});
