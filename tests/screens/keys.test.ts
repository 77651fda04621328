import { readdirSync } from 'node:fs';
import { Key } from 'selenium-webdriver';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { COMMANDS, commandsOf, type CommandId, type Room } from '../../src/ui/commands/commands';
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

const KEYS: Readonly<Record<string, string>> = {
  Space: ' ',
  Left: Key.ARROW_LEFT,
  Right: Key.ARROW_RIGHT,
  Up: Key.ARROW_UP,
  Down: Key.ARROW_DOWN,
  PageUp: Key.PAGE_UP,
  PageDown: Key.PAGE_DOWN,
  Home: Key.HOME,
  End: Key.END,
  Delete: Key.DELETE,
  Escape: Key.ESCAPE,
  F2: Key.F2,
  Enter: Key.ENTER,
  Shift: Key.SHIFT,
  Ctrl: Key.CONTROL,
  Alt: Key.ALT,
  '−': '-',
};

/** Presses the first key of a command, as it stands in the table. */
async function press(id: CommandId): Promise<void> {
  const [shown] = COMMANDS[id].keys as readonly [string];
  const parts = shown === '+' ? ['+'] : shown.split('+');
  const key = KEYS[parts.at(-1)!] ?? parts.at(-1)!.toLowerCase();
  await page.chord(
    parts.slice(0, -1).map((p) => KEYS[p]!),
    key,
  );
}

const frameIs = (frame: number): Promise<unknown> =>
  page.until(`return document.querySelector('input[aria-label="Frame"]').value === '${frame}'`, `the playhead is on ${frame}`);
const goTo = async (frame: number): Promise<void> => {
  await press('typeFrame');
  await page.keys(String(frame), Key.ENTER);
  await frameIs(frame);
};
const has = (css: string, what: string): Promise<unknown> =>
  page.until(`return document.querySelector(${JSON.stringify(css)}) !== null`, what);
const says = (text: string): Promise<unknown> =>
  page.until(`return document.body.innerText.includes(${JSON.stringify(text)})`, `the page says ${text}`);
const playing = (): Promise<unknown> => has('[aria-label="Pause (Space)"]', 'it plays');
const standing = (): Promise<unknown> => has('[aria-label="Play (Space)"]', 'it stands');
const undoIs = (name: string): Promise<unknown> => has(`[aria-label^="Undo: ${name}"]`, `${name} can be taken back`);
const tab = (name: string): string => `[role=tab][aria-selected=true][data-value="${name}"]`;
const zoom = (): Promise<string> => page.script(`return document.querySelector('[data-zoom]').textContent`);
const clipCount = (): Promise<number> => page.script(`return document.querySelectorAll('[data-clip]').length`);
const clipsAre = (count: number): Promise<unknown> =>
  page.until(`return document.querySelectorAll('[data-clip]').length === ${count}`, `${count} sounds lie in lanes`);
const zoomChanges = async (from: string): Promise<void> =>
  void (await page.until(`return document.querySelector('[data-zoom]').textContent !== ${JSON.stringify(from)}`, 'the zoom changes'));

/** Presses a command's key where it means something, and sees what comes of it. */
type Check = () => Promise<unknown>;

const moves =
  (id: CommandId, from: number, to: number): Check =>
  async () => {
    await goTo(from);
    await press(id);
    await frameIs(to);
  };
const inBoth: Partial<Record<CommandId, Check>> = {
  playOrStop: async () => {
    await press('playOrStop');
    await playing();
    await press('playOrStop');
    await standing();
  },
  playBack: async () => {
    await press('playBack');
    await playing();
  },
  stop: async () => {
    await press('stop');
    await standing();
  },
  playOn: async () => {
    await press('playOn');
    await playing();
    await press('stop');
  },
  stepBack: moves('stepBack', 90, 89),
  stepOn: moves('stepOn', 90, 91),
  tenBack: moves('tenBack', 90, 80),
  tenOn: moves('tenOn', 90, 100),
  findCommand: async () => {
    await press('findCommand');
    await page.find('[cmdk-input]');
    await page.keys('tram wipe');
    await has('[cmdk-item][data-selected=true]', 'something is found');
    await page.keys(Key.ESCAPE);
    await page.until(`return document.querySelector('[cmdk-input]') === null`, 'it is closed');
  },
  export: async () => {
    await press('export');
    await page.find('[role=dialog]');
    await page.keys(Key.ESCAPE);
    await page.until(`return document.querySelector('[role=dialog]') === null`, 'it is closed');
  },
  savePicture: async () => {
    await goTo(85);
    await press('savePicture');
    await page.driver.wait(
      () => readdirSync(opened!.folder).some((f) => f.startsWith('Small Hours, frame 85')),
      20_000,
      'the picture is there',
    );
  },
  keepPicture: async () => {
    await press('keepPicture');
    await says('Small Hours, frame 85 is on the shelf as a still.');
  },
  typeFrame: async () => goTo(85),
  soundOnOff: async () => {
    await press('soundOnOff');
    await has('[aria-label="Sound on (V)"]', 'it is silent');
    await press('soundOnOff');
    await has('[aria-label="Sound off (V)"]', 'it is heard');
  },
  markHere: async () => {
    await press('markHere');
    await undoIs('Added a marker');
    await press('undo');
    await page.until(`return document.querySelector('[data-mark=marker], [data-marker]') === null`, 'it is taken back');
  },
  zoomIn: async () => {
    const before = await zoom();
    await press('zoomIn');
    await zoomChanges(before);
  },
  zoomOut: async () => {
    await press('fitFrame');
    const before = await zoom();
    await press('zoomOut');
    await zoomChanges(before);
  },
  fitFrame: async () => {
    await press('fitFrame');
    const fit = await zoom();
    await press('zoomIn');
    await zoomChanges(fit);
    await press('fitFrame');
    await page.until(`return document.querySelector('[data-zoom]').textContent === '${fit}'`, 'it fits again');
  },
  keySheet: async () => {
    await press('keySheet');
    await has('[role=dialog] [data-command]', 'the sheet is there');
    await page.keys(Key.ESCAPE);
    await page.until(`return document.querySelector('[role=dialog]') === null`, 'the sheet is gone');
  },
};

/** Every key of the sheet of a room, in an order in which each finds what it works on. */
async function pressAll(room: Room, checks: Partial<Record<CommandId, Check>>): Promise<void> {
  expect(Object.keys(checks).sort()).toEqual([...commandsOf(room)].sort());
  for (const [id, check] of Object.entries(checks)) {
    try {
      await check();
    } catch (error) {
      throw new Error(`${id} (${COMMANDS[id as CommandId].keys[0]}): ${(error as Error).message}`);
    }
  }
}

describe('every key of the sheet does what it says', () => {
  it('on the reel', async () => {
    await page.driver.get(demo.filmUrl({ frame: 80 }));
    await page.stageShows('film, frame 80');
    const chosen = (name: string): Promise<unknown> => has(`[data-shot][aria-pressed=true][aria-label^="${name}"]`, `${name} is chosen`);
    await pressAll('reel', {
      ...inBoth,
      first: moves('first', 90, 0),
      last: async () => {
        await press('last');
        await page.until(`return Number(document.querySelector('input[aria-label="Frame"]').value) > 1000`, 'the end');
      },
      previousCut: moves('previousCut', 100, 86),
      nextCut: moves('nextCut', 80, 86),
      chooseNoShot: async () => {
        await press('chooseNoShot');
        await page.until(`return document.querySelector('[data-shot][aria-pressed=true]') === null`, 'nothing is chosen');
      },
      nextShot: async () => {
        await goTo(10);
        await press('nextShot');
        await chosen('Street tram');
        await press('nextShot');
        await chosen('Shop pan');
        await frameIs(86);
      },
      previousShot: async () => {
        await press('previousShot');
        await chosen('Street tram');
        await press('nextShot');
        await chosen('Shop pan');
      },
      trimStart: async () => {
        await goTo(96);
        await press('trimStart');
        await has('[aria-label="Shop pan 74 frames"]', 'the shot is shorter');
      },
      undo: async () => {
        await press('undo');
        await has('[aria-label="Shop pan 84 frames"]', 'the shot is as long as before');
      },
      redo: async () => {
        await press('redo');
        await has('[aria-label="Shop pan 74 frames"]', 'the shot is shorter again');
        await press('undo');
      },
      trimEnd: async () => {
        await goTo(130);
        await press('trimEnd');
        await has('[aria-label="Shop pan 45 frames"]', 'the shot ends at the playhead');
        await press('undo');
      },
      moveLater: async () => {
        await press('moveLater');
        await undoIs('Moved Shop pan');
      },
      moveEarlier: async () => {
        await press('moveEarlier');
        await page.until(
          `return [...document.querySelectorAll('[data-shot]')][1].getAttribute('aria-label').startsWith('Shop pan')`,
          'it is back',
        );
      },
      snapOnOff: async () => {
        await press('snapOnOff');
        await has('[aria-pressed=false][title$="(N)"]', 'edges are drawn to nothing');
        await press('snapOnOff');
        await has('[aria-pressed=true][title$="(N)"]', 'edges are drawn');
      },
      split: async () => {
        await goTo(100);
        await page.script(`document.querySelector('[data-clip]').focus()`);
        const before = await clipCount();
        await press('split');
        await clipsAre(before + 1);
        await press('undo');
        await clipsAre(before);
      },
      duplicate: async () => {
        const before = await clipCount();
        await press('duplicate');
        await clipsAre(before + 1);
        await press('undo');
        await clipsAre(before);
      },
      tapBeat: async () => {
        await press('playOn');
        await playing();
        for (let i = 0; i < 3; i++) {
          await press('tapBeat');
          await page.driver.sleep(300);
        }
        await press('stop');
        await undoIs('Tapped beats');
        await press('undo');
        await page.script(`document.querySelectorAll('[data-shot]')[1].focus()`);
        await chosen('Shop pan');
      },
      removeShot: async () => {
        await press('removeShot');
        await undoIs('Removed Shop pan from the reel');
        await press('undo');
      },
      rename: async () => {
        await page.script(`document.querySelectorAll('[data-shot]')[1].focus()`);
        await chosen('Shop pan');
        await press('rename');
        await page.keys('Window', Key.ENTER);
        await undoIs('Renamed Shop pan to Window');
        await press('undo');
        await page.script(`document.querySelectorAll('[data-shot]')[1].focus()`);
      },
      turnOff: async () => {
        await press('turnOff');
        await has('[aria-label^="Shop pan"][aria-label$="off"]', 'the shot is off');
        await press('turnOff');
        await undoIs('Turned Shop pan on');
      },
      swapWithNext: async () => {
        await press('swapWithNext');
        await undoIs('Swapped Shop pan with the next');
        await has('[data-aside]', 'its joins are put aside');
        await press('undo');
        await page.until(`return document.querySelector('[data-aside]') === null`, 'they are back');
      },
      markIn: async () => {
        await page.driver
          .actions()
          .doubleClick(await page.find('li[aria-label="moonrise.webm"] p'))
          .perform();
        await page.stageShows('media Moonrise, frame 0');
        await page.keys(Key.PAGE_DOWN);
        await page.stageShows('media Moonrise, frame 10');
        await press('markIn');
      },
      markOut: async () => {
        for (let n = 0; n < 4; n++) await page.keys(Key.ARROW_RIGHT);
        await page.stageShows('media Moonrise, frame 14');
        await press('markOut');
        await says('10 to 14: 5 frames');
      },
      layOver: async () => {
        await press('layOver');
        await undoIs('Laid over Moonrise');
        await press('undo');
      },
      layAtEnd: async () => {
        await press('layAtEnd');
        await undoIs('Added Moonrise');
        await press('undo');
      },
      layInsert: async () => {
        await press('layInsert');
        await undoIs('Inserted Moonrise');
        await press('undo');
        await page.keys(Key.ESCAPE);
        await page.until(`return document.querySelector('[data-testid="marked-span"]') === null`, 'the film is back on the stage');
        await page.script(`document.querySelectorAll('[data-shot]')[1].focus()`);
      },
      copyShots: async () => {
        await press('copyShots');
        await page.until(`return document.body.innerText.includes('Copied Shop pan.')`, 'it is copied');
      },
      pasteShots: async () => {
        await goTo(80);
        await press('pasteShots');
        await undoIs('Pasted Shop pan');
        await press('undo');
      },
      cutShots: async () => {
        await page.script(`document.querySelectorAll('[data-shot]')[1].focus()`);
        await press('cutShots');
        await undoIs('Removed Shop pan from the reel');
        await goTo(80);
        await press('pasteShots');
        await undoIs('Pasted Shop pan');
        await page.until(`return document.querySelector('[data-aside]') === null`, 'its joins are laid on again');
      },
      chooseAll: async () => {
        await press('chooseAll');
        await page.until(`return document.querySelector('[data-shot][aria-pressed=false]') === null`, 'all are selected');
      },
      chooseToEnd: async () => {
        await page.script(`document.querySelectorAll('[data-shot]')[1].focus()`);
        await press('chooseNoShot');
        await goTo(90);
        await press('chooseToEnd');
        await has('[data-shot][aria-pressed=false][aria-label^="Street tram"]', 'what is before it is not selected');
        await has('[data-shot][aria-pressed=true][aria-label^="Shop pan"]', 'it is selected');
        await press('chooseNoShot');
      },
      openJoin: async () => {
        await goTo(60);
        await press('openJoin');
        await page.until(`return location.pathname.includes('/joins/')`, 'the join is opened');
        // in the middle of its overlap, not where the playhead of the reel was
        await frameIs(84);
      },
      nextFinding: async () => {
        // the next shot has no pictures before its first
        await page.driver.get(demo.joinUrl('A lantern', { step: 'pair', view: 'result' }));
        const field = await page.find('input[aria-label="Before the cut"]');
        await field.sendKeys(Key.chord(Key.CONTROL, 'a'), '6', Key.ENTER);
        await undoIs('Changed the overlap');
        await page.driver.get(demo.filmUrl({ frame: 0 }));
        await page.click('Look through all joins');
        await page.until(`return document.querySelector('[data-findings-of="A lantern"]') !== null`, 'it is found', 90_000);
        await goTo(10);
        await press('nextFinding');
        await page.until(`return Number(document.querySelector('input[aria-label="Frame"]').value) > 10`, 'what was found');
      },
      previousFinding: async () => {
        const at = Number(await page.script(`return document.querySelector('input[aria-label="Frame"]').value`));
        await goTo(at + 5);
        await press('previousFinding');
        await frameIs(at);
        await press('undo');
      },
    });
  }, 240_000);

  it('on the bench', async () => {
    await page.driver.get(demo.joinUrl('Tram wipe', { step: 'mask', view: 'leaving', frame: 82 }));
    await page.stageShows('leaving, frame 82');
    const choosePoint = async (): Promise<void> => {
      await press('chooseNothing');
      const at = await page.script<{ x: number; y: number }>(
        `const well = document.querySelector('canvas[data-stage]').parentElement.parentElement.getBoundingClientRect();
         const grips = [...document.querySelectorAll('[data-grip=point]')].map((g) => g.getBoundingClientRect());
         const g = grips.find((b) => b.x > well.x + 5 && b.right < well.right - 5 && b.y > well.y + 5 && b.bottom < well.bottom - 5);
         return { x: g.x + g.width / 2, y: g.y + g.height / 2 }`,
      );
      await page.clickAt(at.x, at.y);
      await has('input[aria-label="Down, from the centre"]', 'a point is chosen');
    };
    const nudges =
      (id: CommandId): Check =>
      async () => {
        await choosePoint();
        await press(id);
        await undoIs('Nudged outline points');
        await press('undo');
        await page.until(`return document.querySelector('[aria-label^="Undo: Nudged"]') === null`, 'it is taken back');
      };
    const lays =
      (id: CommandId): Check =>
      async () => {
        await press(id);
        await undoIs('Nudged the picture of');
        await press('undo');
        await page.until(`return document.querySelector('[aria-label^="Undo: Nudged the picture"]') === null`, 'it is taken back');
      };
    await pressAll('bench', {
      ...inBoth,
      chooseKind: async () => {
        await press('chooseKind');
        await has('[role=dialog] [data-kind]', 'the kinds are shown');
        await page.keys(Key.ESCAPE);
        await page.until(`return document.querySelector('[role=dialog]') === null`, 'they are closed');
      },
      first: async () => {
        await press('first');
        await page.until(
          `return /Start of the overlap/.test(document.querySelector('[role=slider][aria-valuenow="' + document.querySelector('input[aria-label="Frame"]').value + '"]')?.getAttribute('aria-label'))`,
          'the start',
        );
      },
      last: async () => {
        await press('last');
        await page.until(
          `return Number(document.querySelector('[aria-label="End of the overlap"]').getAttribute('aria-valuenow')) - 1 === Number(document.querySelector('input[aria-label="Frame"]').value)`,
          'the end',
        );
      },
      pair: async () => {
        await press('pair');
        await has(tab('pair'), 'Pair');
      },
      track: async () => {
        await press('track');
        await has(tab('track'), 'Track');
      },
      move: async () => {
        await press('move');
        await has(tab('move'), 'Move');
      },
      blend: async () => {
        await press('blend');
        await has(tab('blend'), 'Blend');
      },
      copyLayer: async () => {
        await page.script(`document.querySelector('section[aria-label=Layers] li button').click()`);
        await has('section[aria-label=Layers] button[aria-pressed=true]', 'a layer is selected');
        await press('copyLayer');
      },
      pasteLayer: async () => {
        await press('pasteLayer');
        await undoIs('Pasted the layer');
        await press('undo');
        await page.script(`document.querySelector('section[aria-label=Layers] button[aria-pressed=true]')?.click()`);
      },
      check: async () => {
        await press('check');
        await has(tab('check'), 'Check');
      },
      overlay: async () => {
        await press('overlay');
        await has(tab('overlay'), 'the overlay');
      },
      difference: async () => {
        await press('difference');
        await has(tab('difference'), 'the difference');
      },
      weaveForm: async () => {
        const button = 'button[aria-label$=" weave (W)"]';
        const before = await page.script<string>(`return document.querySelector('${button}').getAttribute('aria-label')`);
        await press('weaveForm');
        await has(`${button}:not([aria-label="${before}"])`, 'the weave has its other form');
        await press('weaveForm');
        await has(`button[aria-label="${before}"]`, 'and the one before');
      },
      lastView: async () => {
        await press('lastView');
        await has(tab('overlay'), 'the view before');
      },
      mask: async () => {
        await press('mask');
        await has(tab('mask'), 'Mask');
        await page.click('Leaving');
        await goTo(82);
        await page.stageShows('leaving, frame 82');
      },
      layLeft: lays('layLeft'),
      layRight: lays('layRight'),
      layUp: lays('layUp'),
      layDown: lays('layDown'),
      slideLater: async () => {
        await press('slideLater');
        await undoIs('Moved entering shot 1 frame later');
      },
      slideEarlier: async () => {
        await press('slideEarlier');
        await undoIs('Moved entering shot 1 frame earlier');
      },
      ghosts: async () => {
        const before = await page.script<boolean>(`return document.querySelector('input[type=checkbox]').checked`);
        await press('ghosts');
        await page.until(`return document.querySelector('input[type=checkbox]').checked !== ${before}`, 'the ghosts come or go');
      },
      nudgeUp: nudges('nudgeUp'),
      nudgeDown: nudges('nudgeDown'),
      nudgeUpFar: nudges('nudgeUpFar'),
      nudgeDownFar: nudges('nudgeDownFar'),
      removePoints: async () => {
        await choosePoint();
        await press('removePoints');
        await undoIs('Removed an outline point');
        await press('undo');
      },
      undo: async () => {
        await choosePoint();
        await press('nudgeUp');
        await undoIs('Nudged outline points');
        await press('undo');
        await has('[aria-label^="Redo: Nudged"]', 'it can be brought back');
      },
      redo: async () => {
        await press('redo');
        await undoIs('Nudged outline points');
        await press('undo');
      },
      chooseNothing: async () => {
        await choosePoint();
        await press('chooseNothing');
        await says('Choose a point to type its place');
      },
      previousMark: async () => {
        await goTo(84);
        await press('previousMark');
        await page.until(`return Number(document.querySelector('input[aria-label="Frame"]').value) < 84`, 'a mark before');
      },
      nextMark: async () => {
        await press('nextMark');
        await page.until(`return Number(document.querySelector('input[aria-label="Frame"]').value) > 75`, 'a mark after');
      },
      keyHere: async () => {
        await page.driver.get(demo.joinUrl('Through the loupe', { step: 'mask', view: 'leaving', frame: 200 }));
        await page.stageShows('leaving, frame 200');
        await page.script(
          `[...document.querySelectorAll("section[aria-label=Layers] button")].find((b) => b.textContent.startsWith('Loupe glass')).click()`,
        );
        await has('[data-grip=point]', 'its points are there');
        await press('keyHere');
        await undoIs('Keyframe at 200');
        await press('undo');
      },
      closeOutline: async () => {
        await page.choose('Add a matte', 'Outline on Bench loupe');
        for (const [x, y] of [
          [300, 200],
          [700, 250],
          [500, 500],
        ] as const) {
          const at = await page.onStage(x, y, 1280);
          await page.clickAt(at.x, at.y);
        }
        await press('closeOutline');
        await undoIs('Closed the outline');
      },
      swapPaint: async () => {
        await page.choose('Add a matte', 'Strokes on Bench loupe');
        await has('[data-painter]', 'the painter is there');
        await press('swapPaint');
        await has('[role=radio][aria-checked=true][data-value="drop"]', 'it drops');
        await press('swapPaint');
        await has('[role=radio][aria-checked=true][data-value="keep"]', 'it keeps');
      },
      largerBrush: async () => {
        await press('largerBrush');
        await page.until(`return Number(document.querySelector('input[aria-label="Brush"]').value) > 30`, 'the brush is larger');
      },
      smallerBrush: async () => {
        await press('smallerBrush');
        await page.until(`return Number(document.querySelector('input[aria-label="Brush"]').value) < 30`, 'the brush is smaller');
      },
      carryOn: async () => {
        await page.drag(await page.onStage(560, 330, 1280), await page.onStage(640, 360, 1280));
        await has('[data-matte-mark=hand]', 'the matte is cut');
        await press('carryOn');
        await page.until(`return document.querySelectorAll('[data-matte-mark]').length === 2`, 'it is carried one frame on', 60_000);
      },
      carryToEnd: async () => {
        await press('carryToEnd');
        await page.until(`return document.querySelectorAll('[data-matte-mark]').length > 4`, 'it is carried on and on', 60_000);
      },
    });
    expect(await page.consoleErrors()).toEqual([]);
  }, 300_000);
});

describe('Space', () => {
  it('plays wherever the last click was, and presses what the keyboard has come to', async () => {
    await page.driver.get(demo.joinUrl('Tram wipe', { step: 'mask', view: 'result', frame: 84 }));
    await page.stageShows('result, frame 84');
    const clicks: (() => Promise<unknown>)[] = [
      () =>
        page
          .script(`document.querySelector('[aria-label="Result, frame 84"]').scrollIntoView()`)
          .then(async () => (await page.find('[aria-label="Result, frame 84"]')).click()),
      () => page.click('Leaving'),
      async () => (await page.find(`[role=tab][data-value="pair"]`)).click(),
      () => page.click('One frame on (→)'),
      async () => (await page.find(`[role=tab][data-value="move"]`)).click(),
      async () => (await page.find('input[type=checkbox]')).click(),
      async () => (await page.find('button[aria-label^="Hide "]')).click(),
    ];
    for (const click of clicks) {
      await click();
      const at = await page.script<string>(`return document.querySelector('input[aria-label="Frame"]').value`);
      await page.keys(' ');
      await playing();
      await page.keys(' ');
      await standing();
      expect(at).not.toBe('');
    }
    // and with the keyboard alone, a button is a button
    await page.script(`document.querySelector('[aria-label="One frame on (→)"]').focus()`);
    await page.keys(Key.TAB, Key.chord(Key.SHIFT, Key.TAB));
    await goTo(84);
    await page.script(`document.querySelector('[aria-label="One frame on (→)"]').focus()`);
    await page.keys(Key.TAB);
    await page.chord([Key.SHIFT], Key.TAB);
    await page.keys(' ');
    await frameIs(85);
  });

  it('is a space where something is typed', async () => {
    await page.driver.get(demo.joinUrl('Tram wipe', { step: 'mask', view: 'leaving', frame: 82 }));
    await page.stageShows('leaving, frame 82');
    const name = await page.find('input[aria-label="Name of the matte"]');
    await name.click();
    await name.sendKeys(Key.END, ' x');
    await standing();
    expect(await name.getAttribute('value')).toMatch(/ x$/);
  });
});

it('takes the playhead to a timecode that is typed, and keeps the focus on the cells of the weave', async () => {
  const code = await page.find('input[aria-label="Timecode"]');
  await code.click();
  await code.sendKeys(Key.chord(Key.CONTROL, 'a'), '3:10', Key.ENTER);
  await frameIs(82);
  await page.script(`document.querySelector('[data-weave-cell="current"]').focus()`);
  await page.keys(Key.ARROW_RIGHT, Key.ARROW_RIGHT);
  await frameIs(84);
  expect(await page.script(`return document.activeElement.getAttribute('aria-label')`)).toBe('Leaving, frame 84');
});

it('folds a section away and remembers it', async () => {
  await page.find('[data-section="Keyframes"]').then((e) => e.click());
  await page.until(`return !document.body.innerText.includes('Moving points on another frame makes a keyframe there')`, 'it is folded');
  await page.driver.navigate().refresh();
  await page.find('[data-section="Keyframes"]');
  expect(await page.script(`return document.body.innerText.includes('Moving points on another frame')`)).toBe(false);
});
