import { execFileSync, spawnSync } from 'node:child_process';
import { join } from 'node:path';
import { Key } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Film } from '../../src/core/film/film';
import { makeNumberedVideo, numbersOf } from '../fixtures/numbered-video';
import type { Browser } from './browser';
import type { Demo } from './demo';
import { openDemoPage, type DemoPage } from './demo-page';

let opened: DemoPage | undefined;
let demo: Demo;
let page: Browser;
beforeAll(async () => {
  opened = await openDemoPage();
  ({ demo, page } = opened);
});
afterAll(async () => {
  await opened?.close();
});

const film = async (): Promise<Film> =>
  ((await (await fetch(`${demo.server.url}/api/films/${demo.filmId}`)).json()) as { film: Film }).film;
const joinNamed = async (name: string): Promise<Film['joins'][number]> => (await film()).joins.find((j) => j.name === name)!;
const undoIs = (name: string): Promise<unknown> =>
  page.until(`return document.querySelector('[aria-label^="Undo: ${name}"]') !== null`, `${name} can be taken back`, 30_000);
const stroke = async (...points: readonly (readonly [number, number])[]): Promise<void> =>
  page.drag(...(await Promise.all(points.map(([x, y]) => page.onStage(x, y, 1280)))));

/** Renders frames of the film from its originals and says on which of them pixels are bare. */
function bareFrames(from: number, to: number, out: string): string {
  const done = spawnSync(process.execPath, ['dist/cli.mjs', 'render', 'Small Hours', out, '--from', String(from), '--to', String(to)], {
    env: { ...process.env, IRIMI_ROOT: process.cwd(), IRIMI_DATA: opened!.folder, IRIMI_CALLER: opened!.folder },
    encoding: 'utf8',
  });
  expect(done.status, done.stderr).toBe(0);
  return done.stdout + done.stderr;
}

/** RGB of a file's frame, small. */
const small = (path: string, frame: number): Buffer =>
  execFileSync('ffmpeg', [
    '-v',
    'error',
    '-i',
    path,
    '-vf',
    `select=eq(n\\,${frame}),scale=64:36:flags=area`,
    '-frames:v',
    '1',
    '-f',
    'rawvideo',
    '-pix_fmt',
    'rgb24',
    '-',
  ]);

describe('a zoom through', () => {
  const NAME = 'Under the moon';

  it('is made from strokes in a few actions: the bench leads from the choice to the painting, the carrying and the result', async () => {
    const frame = demo.leavingFrame(NAME, 119);
    await page.driver.get(demo.joinUrl(NAME, { step: 'pair', view: 'result' }));
    await page.find('section[aria-label="Weave"]');
    // actions: open the sheet, choose, confirm, and go where the first thing is done
    await page.chooseKind('zoom through');
    await page.followWay();
    await page.stageShows(`leaving, frame ${frame}`);
    await page.until(`return document.querySelector('[data-way]')?.textContent.includes('Paint over the hole')`, 'it says what to do');
    await page.until(`return document.querySelector('[data-painter]') !== null`, 'the painter is there');
    const truth = JSON.parse(execFileSync('cat', ['demo/truth/moonrise.points.json'], { encoding: 'utf8', maxBuffer: 1e8 })) as {
      points: Record<string, [number, number]>[];
    };
    const [x, y] = truth.points[119]!['moon centre'] ?? Object.values(truth.points[119]!)[0]!;
    // three strokes: two on the moon, one on the sky around it
    await stroke([x - 40, y], [x + 40, y]);
    await stroke([x, y - 40], [x, y + 40]);
    await page.keys('x');
    await stroke([x - 260, y - 20], [x - 250, y + 120]);
    await page.until(`return document.querySelector('[data-matte-mark=hand]') !== null`, 'the moon is cut out', 30_000);
    await page.until(
      `return /carry it back/.test(document.querySelector('[data-way]')?.textContent ?? '')`,
      'it asks for the carry',
      30_000,
    );
    // and one press for the carry: ten actions in all
    await page.click('To overlap start');
    await page.until(`return document.querySelector('[data-way]') === null`, 'nothing is lacking', 120_000);
    // nobody is led away from where the carry was asked for
    expect(await page.script(`return document.querySelector('[role="tab"][data-value="mask"]').ariaSelected`)).toBe('true');
    await page.until(`return /^saved/.test(document.querySelector('[data-testid="save-state"]')?.textContent ?? '')`, 'it is saved');
    const made = await joinNamed(NAME);
    expect(made.recipe).toMatchObject({ kind: 'zoom through' });
    expect(made.carriers.map((c) => c.name)).toEqual(['Zoom']);
    expect(made.layers).toHaveLength(3);
  }, 300_000);

  it('leaves no pixel of any frame empty, and ends on the entering shot as it is', async () => {
    const now = await film();
    const made = now.joins.find((j) => j.name === NAME)!;
    const at = now.shots.findIndex((s) => s.id === made.enteringShotId);
    const cut = now.shots.slice(0, at).reduce((sum, s) => sum + s.length, 0);
    const out = join(opened!.folder, 'zoom.webm');
    const said = bareFrames(cut - made.before, cut + made.after + 1, out);
    expect(said).not.toMatch(/nothing covers|empty|hole/i);
    await page.driver.get(demo.joinUrl(NAME, { step: 'check', view: 'result', frame: cut - 1 }));
    await page.until(`return document.body.textContent.includes('No issues')`, 'Check finds nothing', 60_000);
    // the last frame of the move and the first after it show the same shot, one picture apart
    const [last, next] = [small(out, made.before + made.after - 1), small(out, made.before + made.after)];
    const apart = last.reduce((sum, v, i) => sum + Math.abs(v - next[i]!), 0) / last.length;
    expect(apart).toBeLessThan(3);
  }, 120_000);

  it('is solved anew at once when a setting changes, as one step to take back', async () => {
    await (await page.find('[role=tab][data-value=move]')).click();
    const before = (await joinNamed(NAME)).carriers[0]!.motion.scale;
    const field = await page.find('input[aria-label="Room left around"]');
    await field.click();
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), '40', Key.ENTER);
    await undoIs('Zoom through: room left around');
    const least = (before as unknown as { value: number }[])[1]!.value * 1.2;
    await page.driver.wait(async () => {
      const roomy = (await joinNamed(NAME)).carriers[0]!.motion.scale as unknown as { value: number }[];
      return roomy[1]!.value > least;
    }, 20_000);
    await page.chord([Key.CONTROL], 'z');
    await page.until(`return document.querySelector('input[aria-label="Room left around"]').value === '6'`, 'it is taken back');
  });
});

describe('the curves under the weave', () => {
  it('are bent by a handle and by the ribbon of their speed, and keep their end values', async () => {
    await page.driver.get(demo.joinUrl('Through the loupe', { step: 'move', view: 'result', frame: 270 }));
    await page.stageShows('result, frame 270');
    // what carries the join is selected at first
    await (await page.find('[aria-label=Lanes] button[aria-expanded=false]')).click();
    const keys = async (): Promise<{ frame: number; value: number; out: unknown; into: unknown }[]> =>
      (await joinNamed('Through the loupe')).carriers[0]!.motion.scale as never;
    const before = await keys();
    const ribbon = await page.until<{ x: number; y: number }>(
      `const b = document.querySelector('[data-ribbon]')?.getBoundingClientRect(); const v = document.querySelector('[data-testid="weave-scroll"]').getBoundingClientRect();
       return b ? { x: v.left + v.width / 2, y: b.top + b.height / 2 } : null`,
      'the lane is open',
    );
    await page.drag(ribbon, { x: ribbon.x, y: ribbon.y - 30 });
    await undoIs('Speed of scale of Zoom');
    const faster = await keys();
    expect(faster.map((k) => [k.frame, k.value])).toEqual(before.map((k) => [k.frame, k.value]));
    expect([faster[0]!.out, faster[1]!.into]).not.toEqual([before[0]!.out, before[1]!.into]);
    // the bench says that a hand has changed what the recipe made
    await page.until(`return document.body.textContent.includes('You edited something')`, 'it says so');
    await page.chord([Key.CONTROL], 'z');
    await page.until(`return !document.body.textContent.includes('You edited something')`, 'it is taken back');
    // a key by the keyboard
    const pip = await page.find('[data-lanes] [role=button][aria-label^="Keyframe of Zoom, scale at 262"]');
    await page.script(`arguments[0].focus()`, pip);
    await page.keys(Key.ARROW_RIGHT);
    await undoIs('Moved keyframes');
    await page.chord([Key.CONTROL], 'z');
  });

  it('follow what is dragged on the stage: the selected layer goes along, keyed where it was keyed', async () => {
    await page.script(
      `[...document.querySelectorAll('section[aria-label=Layers] button')].find((b) => b.textContent.startsWith('Around')).click()`,
    );
    await page.find('[data-move-overlay] [data-grip=move]');
    const at = await page.onStage(200, 200, 1280);
    await page.drag(at, { x: at.x + 30, y: at.y + 12 });
    await undoIs('Moved Around the hole');
    const layer = (await joinNamed('Through the loupe')).layers.find((l) => l.name === 'Around the hole')!;
    expect(typeof layer.motion.x).toBe('number');
    expect(Math.abs(layer.motion.x as number)).toBeGreaterThan(10);
    await page.chord([Key.CONTROL], 'z');
  });
});

describe('a ramp', () => {
  it('shows the pictures that the area under its curve says, in the file that is sent out', async () => {
    const video = join(opened!.folder, 'numbers.mp4');
    await makeNumberedVideo(video, { width: 320, height: 180, frames: 120, rate: '24' });
    await page.driver.get(demo.server.url);
    await (await page.find('input[aria-label="Name of the new film"]')).sendKeys('Ramps');
    await page.click('Begin');
    await page.find('section[aria-label="Reel"]');
    await (await page.find('[data-testid="file-chooser"]')).sendKeys(video);
    await page.until(
      `return /120 fr/.test(document.querySelector('[role=group][aria-label="numbers.mp4"]')?.textContent ?? '')`,
      'the video is ready',
      60_000,
    );
    await page.click('Add Numbers to the reel');
    await (await page.find('[data-shot]')).click();
    const length = await page.find('input[aria-label="Length"]');
    await length.click();
    await length.sendKeys(Key.chord(Key.CONTROL, 'a'), '40', Key.ENTER);
    await page.script(`[...document.querySelectorAll('input[type=checkbox]')].find((i) => i.ariaLabel === 'Length follows').click()`);
    await page.select('select[aria-label="Speed"]', 'ramp up');
    await undoIs('Speed: ramp up');
    await page.until(`return document.querySelector('[data-lanes] [data-ribbon]') !== null`, 'the ramp lies under the shot as a lane');
    await page.until(`return /^saved/.test(document.querySelector('[data-testid="save-state"]')?.textContent ?? '')`, 'it is saved');
    const out = join(opened!.folder, 'ramp.webm');
    execFileSync(process.execPath, ['dist/cli.mjs', 'render', 'Ramps', out], {
      env: { ...process.env, IRIMI_ROOT: process.cwd(), IRIMI_DATA: opened!.folder, IRIMI_CALLER: opened!.folder },
      stdio: 'ignore',
    });
    const shown = await numbersOf(out, 320, 180);
    // from 1 to 3 in 39 frames by a smooth step: the area is n + 2·∫(3t² − 2t³) with t = n/39
    const area = (n: number): number => n + 2 * 39 * ((n / 39) ** 3 - (n / 39) ** 4 / 2);
    expect(shown).toEqual(Array.from({ length: 40 }, (_, n) => Math.floor(area(n) + 1e-6)));
    // backwards from the end of it: read without opening the file anew for each frame
    await page.select('select[aria-label="Speed"]', 'backwards');
    await undoIs('Speed: backwards');
  }, 180_000);
});
