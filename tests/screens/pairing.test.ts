import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Film } from '../../src/core/film/film';
import type { Browser } from './browser';
import type { Demo } from './demo';
import { apart, openDemoPage, type DemoPage } from './demo-page';

let opened: DemoPage | undefined;
let demo: Demo;
let page: Browser;
let film: DemoPage['film'];
let undoIs: DemoPage['undoIs'];
let cutOf: DemoPage['cutOf'];
let show: DemoPage['show'];
let pixels: DemoPage['pixels'];
beforeAll(async () => {
  opened = await openDemoPage();
  ({ demo, page, film, undoIs, cutOf, show, pixels } = opened);
  await page.driver.get(demo.filmUrl({ frame: 0 }));
});
afterAll(async () => {
  await opened?.close();
});

describe('a melt', () => {
  const NAME = 'Two takes, one word';

  it('shows neither shot nor a mere fade of both in its middle, and each of them at its ends', async () => {
    const { before, after } = (await film()).joins.find((j) => j.name === NAME)!;
    expect(before + after).toBe(8);
    const cut = await cutOf(NAME);
    const middle = cut - before + 4;
    const [leaving, entering, result] = [
      await show(NAME, 'leaving', middle),
      await show(NAME, 'entering', middle),
      await show(NAME, 'result', middle),
    ];
    const fade = leaving.map((v, i) => (v + entering[i]!) / 2);
    expect(apart(result, leaving)).toBeGreaterThan(1);
    expect(apart(result, entering)).toBeGreaterThan(1);
    expect(apart(result, fade)).toBeGreaterThan(0.4);
    const first = cut - before;
    expect(apart(await show(NAME, 'result', first - 1), await show(NAME, 'leaving', first - 1))).toBeLessThan(0.01);
    const last = cut + after;
    expect(apart(await show(NAME, 'result', last), await show(NAME, 'entering', last))).toBeLessThan(0.01);
    // near its ends it is near them
    const early = await show(NAME, 'result', first);
    expect(apart(early, await show(NAME, 'leaving', first))).toBeLessThan(apart(early, await show(NAME, 'entering', first)));
  }, 120_000);

  it('is made from a plain cut by its card, and its length follows the number', async () => {
    await page.driver.get(demo.joinUrl('Lantern to kettle', { step: 'pair', view: 'result' }));
    await page.chooseKind('cut');
    await undoIs('Made it a plain cut');
    await page.chooseKind('melt');
    await undoIs('Made it a melt');
    await page.driver.get(demo.joinUrl('Lantern to kettle', { step: 'move', view: 'result' }));
    const field = await page.find('input[aria-label="Over"]');
    await field.clear();
    await field.sendKeys('4\n');
    await undoIs('Melt over 4 frames');
    const made = (await film()).joins.find((j) => j.name === 'Lantern to kettle')!;
    expect([made.before + made.after, made.recipe?.kind, made.layers.map((l) => l.source.kind)]).toEqual([4, 'melt', ['melt']]);
  }, 60_000);

  it('has a strip of where both shots are most alike, by which the cut is rolled', async () => {
    await page.until(`return document.querySelectorAll('[data-roll]:not(:disabled)').length > 4`, 'the strip is there', 60_000);
    const before = (await film()).shots.map((s) => s.length);
    await page.script(`document.querySelector('[data-roll="2"]').click()`);
    await undoIs('Rolled the cut 2 frames later');
    const after = (await film()).shots.map((s) => s.length);
    expect(after.reduce((a, b) => a + b)).toBe(before.reduce((a, b) => a + b));
    expect(after).not.toEqual(before);
  }, 90_000);
});

describe('a feature morph', () => {
  const NAME = 'The bell';
  const draw = async (points: readonly (readonly [number, number])[], isClosed: boolean): Promise<void> => {
    for (const [x, y] of isClosed ? [...points, points[0]!] : points) {
      const at = await page.onStage(x, y, 1280);
      await page.clickAt(at.x, at.y);
    }
    await page.until(`return /saved/.test(document.querySelector('[data-testid="save-state"]').textContent)`, 'it is saved');
  };

  it('is made from a plain cut by lines drawn in both', async () => {
    const cut = await cutOf(NAME);
    await page.driver.get(demo.joinUrl(NAME, { step: 'pair', view: 'result', frame: cut }));
    await page.chooseKind('feature morph');
    await undoIs('Made it a feature morph');
    await page.followWay();
    await page.stageShows(`leaving, frame ${cut - 1}`);
    await draw(
      [
        [560, 60],
        [720, 60],
        [720, 290],
        [560, 290],
      ],
      true,
    );
    await page.driver.get(demo.joinUrl(NAME, { step: 'move', view: 'leaving', frame: cut }));
    await page.click('Draw the line in Bell tower');
    await page.stageShows(`entering, frame ${cut}`);
    await draw(
      [
        [260, 120],
        [420, 120],
        [420, 350],
        [260, 350],
      ],
      true,
    );
    const { joins } = await film();
    const join = joins.find((j) => j.name === NAME)!;
    expect(join.recipe).toMatchObject({ kind: 'feature morph', settings: { pairs: [{}] } });
    // what the lines enclose has gone to the middle between them: a fade leaves it where it was
    const middle = cut - join.before + Math.floor((join.before + join.after) / 2);
    const [a, b, made] = [await show(NAME, 'leaving', middle), await show(NAME, 'entering', middle), await show(NAME, 'result', middle)];
    expect(
      apart(
        made,
        a.map((v, i) => (v + b[i]!) / 2),
      ),
    ).toBeGreaterThan(2);
    const before = cut - join.before - 1;
    expect(apart(await show(NAME, 'result', before), await show(NAME, 'leaving', before))).toBeLessThan(0.01);
  }, 120_000);

  it('shows its lines alone, paired and warped', async () => {
    const { before, after } = (await film()).joins.find((j) => j.name === NAME)!;
    const middle = (await cutOf(NAME)) - before + Math.floor((before + after) / 2);
    const boxOf = async (view: string): Promise<{ readonly left: number; readonly threads: number }> => {
      await show(NAME, view, middle);
      await page.find(`[data-feature-lines="${view}"] path`);
      const [left, threads] = await page.script<[number, number]>(
        `const b = document.querySelector('[data-feature-lines] path').getBoundingClientRect();
         return [b.left, document.querySelectorAll('[data-thread]').length]`,
      );
      return { left, threads };
    };
    const [alone, other, warped, paired] = [
      await boxOf('leaving'),
      await boxOf('entering'),
      await boxOf('result'),
      await boxOf('side by side'),
    ];
    expect(warped.left).toBeGreaterThan(other.left + 20);
    expect(warped.left).toBeLessThan(alone.left - 20);
    expect(paired.threads).toBeGreaterThan(3);
  }, 60_000);

  it('has lines that motion carries along', async () => {
    const cut = await cutOf(NAME);
    const { mattes } = await film();
    const line = mattes.find((m) => m.name === 'Line 1, Figure b')!;
    await page.driver.get(demo.joinUrl(NAME, { step: 'mask', view: 'leaving', frame: cut - 1, matte: line.id }));
    await page.click('On to its end');
    await undoIs('Carried the outline over');
    const carried = (await film()).mattes.find((m) => m.id === line.id)!.outline.keys;
    expect(carried.length).toBeGreaterThan(1);
    // the figure turns its head, its place is the same
    const [from, to] = [carried[0]!.points[0]!, carried.at(-1)!.points[0]!];
    expect(Math.hypot(from.x - to.x, from.y - to.y)).toBeLessThan(40);
    expect(await page.consoleErrors()).toEqual([]);
  }, 60_000);
});

describe('an arrival', () => {
  const NAME = 'One into the other';

  it('is made from a plain cut: the subject comes in over the leaving shot and stands before its own ground follows', async () => {
    await page.driver.get(demo.joinUrl(NAME, { step: 'pair', view: 'result' }));
    await page.chooseKind('cut');
    await undoIs('Made it a plain cut');
    await page.chooseKind('arrive');
    await undoIs('Made it an arrival');
    const made = (await film()).joins.find((j) => j.name === NAME)!;
    expect(made.recipe).toMatchObject({ kind: 'arrive', settings: { arrivesIn: 10 } });
    const cut = await cutOf(NAME);
    const [from, to] = [cut - made.before, cut + made.after];
    await page.driver.get(demo.joinUrl(NAME, { step: 'move', view: 'result', frame: from + 5 }));
    const field = await page.find('input[aria-label="During the last"]');
    await field.clear();
    await field.sendKeys('4\n');
    await undoIs('Arrive: during the last');
    // its blue coat is still that of the leaving figure when it begins, and the red one covers it when the other has arrived
    await show(NAME, 'result', from);
    const [coat, cloth] = [await page.pixel(640, 330, 1280), await page.pixel(120, 300, 1280)];
    await show(NAME, 'result', from + 10);
    const [dress, clothThen] = [await page.pixel(640, 330, 1280), await page.pixel(120, 300, 1280)];
    expect(coat[2]).toBeGreaterThan(coat[0]);
    expect(dress[0]).toBeGreaterThan(dress[2] + 40);
    expect(Math.max(...cloth.map((v, i) => Math.abs(v - clothThen[i]!)))).toBeLessThan(12);
    expect(apart(await show(NAME, 'result', to), await show(NAME, 'entering', to))).toBeLessThan(0.01);
    expect(await page.consoleErrors()).toEqual([]);
  }, 120_000);
});

describe('a dissolve', () => {
  const NAME = 'Figures';

  it('is made from a plain cut: half of each in its middle', async () => {
    await page.driver.get(demo.joinUrl(NAME, { step: 'pair', view: 'result' }));
    await page.chooseKind('dissolve');
    await undoIs('Made it a dissolve');
    const { before, after } = (await film()).joins.find((j) => j.name === NAME)!;
    const cut = await cutOf(NAME);
    // the middle one of an odd number of frames lies half way
    const middle = cut - before + Math.floor((before + after) / 2);
    const share = 1 - (middle - (cut - before) + 1) / (before + after + 1);
    const [a, b, made] = [await show(NAME, 'leaving', middle), await show(NAME, 'entering', middle), await show(NAME, 'result', middle)];
    const wanted = a.map((v, i) => share * v + (1 - share) * b[i]!);
    expect(apart(made, wanted)).toBeLessThan(1.5);
  }, 60_000);
});

describe('the match map', () => {
  const NAME = 'Lantern to kettle';

  it('compares all frames of both shots, and cuts where its best pair says, laid over each other', async () => {
    await page.driver.get(demo.joinUrl(NAME, { step: 'pair', view: 'overlay' }));
    await page.click('Look for the best cuts');
    await page.until(`return document.querySelector('[data-match-map]')?.dataset.drawn === 'yes'`, 'the map is drawn', 90_000);
    const [pair] = await page.script<string[]>(`return [...document.querySelectorAll('[data-pair]')].map((e) => e.dataset.pair)`);
    const [a, b] = pair!.split(' ').map(Number) as [number, number];
    await page.script(`[...document.querySelectorAll('[data-pair] button')].find((e) => e.textContent === 'Cut and lay over').click()`);
    await undoIs(`Cut from frame ${a} to frame ${b}, laid over each other`);
    const { shots, joins } = await film();
    const join = joins.find((j) => j.name === NAME)!;
    const [leaving, entering] = [join.leavingShotId, join.enteringShotId].map((id) => shots.find((s) => s.id === id)!) as [
      Film['shots'][number],
      Film['shots'][number],
    ];
    // shots may begin between two frames of their medium
    expect(Math.abs(leaving.inFrame + leaving.length - 1 - a)).toBeLessThan(1);
    expect(Math.abs(entering.inFrame - b)).toBeLessThan(1);
    expect(entering.framing).toMatchObject({ scale: expect.any(Number) as number });
  }, 150_000);

  it('is there at once when it is opened again, with the motion of both shots', async () => {
    await page.driver.navigate().refresh();
    await page.until(`return document.querySelectorAll('[data-motion-chart]').length === 2`, 'both charts are there', 30_000);
    expect(await page.consoleErrors()).toEqual([]);
  }, 60_000);
});

describe('where the eye is', () => {
  const NAME = 'Under the moon';

  it('is marked in both shots by a click, and brought together with no border in sight', async () => {
    const cut = await cutOf(NAME);
    await page.driver.get(demo.joinUrl(NAME, { step: 'pair', view: 'result', frame: cut }));
    await page.click('Mark in Moonrise');
    await page.stageShows(`leaving, frame ${cut - 1}`);
    const first = await page.onStage(860, 250, 1280);
    await page.clickAt(first.x, first.y);
    await undoIs('Marked a point of interest in Moonrise');
    await page.click('Mark in Hill wide');
    await page.stageShows(`entering, frame ${cut}`);
    const second = await page.onStage(500, 420, 1280);
    await page.clickAt(second.x, second.y);
    await undoIs('Marked a point of interest in Hill wide');
    await page.click('Bring together');
    await undoIs('Brought the points together');
    const { shots, joins } = await film();
    const join = joins.find((j) => j.name === NAME)!;
    expect(join.interest).toHaveLength(2);
    const { framing } = shots.find((s) => s.id === join.enteringShotId)!;
    expect(framing).toMatchObject({ turn: 0 });
    expect((framing as { scale: number }).scale).toBeGreaterThan(1);
    // the place that was clicked now shows where the other one is, and nothing is bare
    await page.driver.get(demo.joinUrl(NAME, { step: 'pair', view: 'entering', frame: cut }));
    await page.stageShows(`entering, frame ${cut}`);
    const ring = await page.script<{ x: number; y: number }>(
      `const b = document.querySelector('[data-eye=entering] circle').getBoundingClientRect(); return { x: b.left + b.width / 2, y: b.top + b.height / 2 }`,
    );
    const there = await page.onStage(860, 250, 1280);
    expect(Math.hypot(ring.x - there.x, ring.y - there.y)).toBeLessThan(2.5);
    for (const [x, y] of [
      [2, 2],
      [1277, 717],
    ] as const)
      expect(Math.max(...(await page.pixel(x, y, 1280)))).toBeGreaterThan(0);
  }, 90_000);

  it('is told by the pictures themselves where they show the same', async () => {
    await page.driver.get(demo.joinUrl('Two takes, one word', { step: 'pair', view: 'overlay' }));
    await page.click('From the pictures');
    await undoIs('Laid Mender take 2 over Mender take 1');
    const { shots } = await film();
    const { framing } = shots.find((s) => s.name === 'Mender take 2')!;
    const { scale, turn, x, y } = framing as { scale: number; turn: number; x: number; y: number };
    expect(Math.abs(scale - 1)).toBeLessThan(0.02);
    expect(Math.abs(turn)).toBeLessThan(0.5);
    expect(Math.hypot(x, y)).toBeLessThan(20);
    expect(await page.consoleErrors()).toEqual([]);
  }, 60_000);
});

describe('a camera move for a shot that stands still', () => {
  const NAME = 'Under the moon';
  const stored = async (name: string): Promise<Film['shots'][number]> => (await film()).shots.find((s) => s.name === name)!;

  it('is drawn by a drag over the picture, with no border in sight', async () => {
    const cut = await cutOf(NAME);
    await page.driver.get(demo.joinUrl(NAME, { step: 'pair', view: 'entering', frame: cut }));
    await page.stageShows(`entering, frame ${cut}`);
    const still = await pixels();
    await page.click('Draw it on the picture');
    await page.find('[data-way-drawer]');
    await page.drag(await page.onStage(500, 400, 1280), await page.onStage(700, 360, 1280));
    await undoIs('Camera move of Hill wide');
    const { move, length } = await stored('Hill wide');
    const goal = (channel: NonNullable<typeof move>['x']): number => (typeof channel === 'number' ? channel : channel.at(-1)!.value);
    expect(Math.abs(goal(move!.x) + 200)).toBeLessThan(6);
    expect(Math.abs(goal(move!.y) - 40)).toBeLessThan(6);
    const last = cut + length - 1;
    const moved = await show(NAME, 'entering', last);
    expect(apart(moved, still)).toBeGreaterThan(5);
    for (const [x, y] of [
      [2, 2],
      [1277, 717],
      [2, 717],
      [1277, 2],
    ] as const)
      expect(Math.max(...(await page.pixel(x, y, 1280)))).toBeGreaterThan(0);
  }, 60_000);

  it('is taken from the other shot, and taken away again', async () => {
    await page.driver.get(demo.joinUrl('Tram wipe', { step: 'pair', view: 'result' }));
    await page.click('Copy its move');
    await undoIs('Camera move of Shop pan');
    const taken = await stored('Shop pan');
    expect(Object.values(taken.move!).some((c) => typeof c !== 'number')).toBe(true);
    await page.click('Delete it');
    await undoIs('No camera move of Shop pan');
    expect((await stored('Shop pan')).move).toBeUndefined();
  }, 90_000);
});

describe('what is known of both shots', () => {
  it('marks the moments of their motion on weave and reel', async () => {
    await page.driver.get(demo.joinUrl('To the loft', { step: 'pair', view: 'result' }));
    await page.click('Look for the best cuts');
    await page.until(`return document.querySelectorAll('[data-motion-chart]').length === 2`, 'the motion of both is known', 60_000);
    await page.click('Mark the moments');
    await undoIs('Marked the moments');
    const { mediumMarkers = [] } = await film();
    expect(new Set(mediumMarkers.map((m) => m.mediumId)).size).toBe(2);
    expect(mediumMarkers.map((m) => m.name)).toContain('most motion');
    await page.find('[aria-label="Weave"] [data-mark="medium marker"]');
    await page.driver.get(demo.filmUrl({ frame: 0 }));
    await page.find('[data-mark="medium marker"]');
  }, 120_000);

  it('has guides over every view, and forgets them when they are hidden', async () => {
    await page.driver.get(demo.joinUrl('Two takes, one word', { step: 'pair', view: 'split' }));
    const thirds = `[...document.querySelectorAll('[role=menuitemcheckbox]')].find((e) => e.textContent.startsWith('Thirds'))`;
    await page.click('Guides');
    await page.until(`return ${thirds} !== undefined`, 'the guides to choose from');
    await page.script(`${thirds}.click()`);
    await page.find('[data-guides]');
    const [lines, guides, frame] = await page.script<[number, { left: number; width: number }, { left: number; width: number }]>(
      `const box = (e) => { const b = e.getBoundingClientRect(); return { left: Math.round(b.left), width: Math.round(b.width) } };
       return [document.querySelectorAll('[data-guides] line').length, box(document.querySelector('[data-guides]')), box(document.querySelector('canvas[data-stage]'))]`,
    );
    expect(lines).toBe(6);
    expect(guides).toEqual(frame);
    await page.script(`${thirds}.click()`);
    await page.until(`return document.querySelector('[data-guides]') === null`, 'they are gone');
  }, 60_000);

  it('shows which frames of a melt are ready', async () => {
    const { before, after } = (await film()).joins.find((j) => j.name === 'Two takes, one word')!;
    await page.driver.get(demo.joinUrl('Two takes, one word', { step: 'pair', view: 'result' }));
    await page.until(`return document.querySelectorAll('[data-ready]').length === ${before + after}`, 'all are ready', 110_000);
  }, 120_000);

  it('lays shots over each other by their mattes', async () => {
    const NAME = 'Up to the dome';
    const cut = await cutOf(NAME);
    for (const [view, x, y, size] of [
      ['leaving', 640, 380, 60],
      ['entering', 600, 300, 120],
    ] as const) {
      await page.driver.get(demo.joinUrl(NAME, { step: 'mask', view, frame: view === 'leaving' ? cut - 1 : cut }));
      await page.choose('Add a matte', view === 'leaving' ? 'Outline on Hill wide' : 'Outline on Dome close');
      await page.stageShows(`${view}, frame ${view === 'leaving' ? cut - 1 : cut}`);
      for (const [dx, dy] of [
        [-1, -1],
        [1, -1],
        [1, 1],
        [-1, 1],
        [-1, -1],
      ] as const) {
        const at = await page.onStage(x + dx * size, y + dy * size, 1280);
        await page.clickAt(at.x, at.y);
      }
      await page.until(`return /saved/.test(document.querySelector('[data-testid="save-state"]').textContent)`, 'it is saved');
    }
    await page.driver.get(demo.joinUrl(NAME, { step: 'pair', view: 'overlay', frame: cut }));
    await page.click('From both mattes');
    await undoIs('Laid Dome close over Hill wide');
    const { framing } = await stored('Dome close');
    const { scale, x, y } = framing as { scale: number; x: number; y: number };
    expect(Math.abs(scale - 0.5)).toBeLessThan(0.02);
    expect(Math.hypot(x - (0 + 20), y - (20 + 30))).toBeLessThan(6);
    expect(await page.consoleErrors()).toEqual([]);
  }, 90_000);
  const stored = async (name: string): Promise<Film['shots'][number]> => (await film()).shots.find((s) => s.name === name)!;
});
