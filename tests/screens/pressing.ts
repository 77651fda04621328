import { readdirSync } from 'node:fs';
import { Key } from 'selenium-webdriver';
import { afterAll, beforeAll, expect } from 'vitest';
import { COMMANDS, commandsOf, type CommandId, type Room } from '../../src/ui/commands/commands';
import type { Browser } from './browser';
import type { Demo } from './demo';
import { openDemoPage, type DemoPage } from './demo-page';

// Pressing keys on the demo film. A file of tests that imports this has a page of its own.

export let opened: DemoPage | undefined;
export let demo: Demo;
export let page: Browser;
beforeAll(async () => {
  opened = await openDemoPage();
  ({ demo, page } = opened);
});
afterAll(async () => {
  await opened?.close();
});

export const KEYS: Readonly<Record<string, string>> = {
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
export async function press(id: CommandId): Promise<void> {
  const [shown] = COMMANDS[id].keys as readonly [string];
  const parts = shown === '+' ? ['+'] : shown.split('+');
  const key = KEYS[parts.at(-1)!] ?? parts.at(-1)!.toLowerCase();
  await page.chord(
    parts.slice(0, -1).map((p) => KEYS[p]!),
    key,
  );
}

export const frameIs = (frame: number): Promise<unknown> =>
  page.until(`return document.querySelector('input[aria-label="Frame"]').value === '${frame}'`, `the playhead is on ${frame}`);
export const goTo = async (frame: number): Promise<void> => {
  await press('typeFrame');
  await page.keys(String(frame), Key.ENTER);
  await frameIs(frame);
};
export const has = (css: string, what: string): Promise<unknown> =>
  page.until(`return document.querySelector(${JSON.stringify(css)}) !== null`, what);
export const says = (text: string): Promise<unknown> =>
  page.until(`return document.body.innerText.includes(${JSON.stringify(text)})`, `the page says ${text}`);
export const playing = (): Promise<unknown> => has('[aria-label="Pause (Space)"]', 'it plays');
export const standing = (): Promise<unknown> => has('[aria-label="Play (Space)"]', 'it stands');
export const undoIs = (name: string): Promise<unknown> => has(`[aria-label^="Undo: ${name}"]`, `${name} can be taken back`);
export const tab = (name: string): string => `[role=tab][aria-selected=true][data-value="${name}"]`;
export const zoom = (): Promise<string> => page.script(`return document.querySelector('[data-zoom]').textContent`);
export const clipCount = (): Promise<number> => page.script(`return document.querySelectorAll('[data-clip]').length`);
export const clipsAre = (count: number): Promise<unknown> =>
  page.until(`return document.querySelectorAll('[data-clip]').length === ${count}`, `${count} sounds lie in lanes`);
export const zoomChanges = async (from: string): Promise<void> =>
  void (await page.until(`return document.querySelector('[data-zoom]').textContent !== ${JSON.stringify(from)}`, 'the zoom changes'));

/** Presses a command's key where it means something, and sees what comes of it. */
export type Check = () => Promise<unknown>;

export const moves =
  (id: CommandId, from: number, to: number): Check =>
  async () => {
    await goTo(from);
    await press(id);
    await frameIs(to);
  };
export const inBoth: Partial<Record<CommandId, Check>> = {
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
  settings: async () => {
    await press('settings');
    await has('[role=dialog] section[aria-label="Time"]', 'the settings are there');
    await has('[role=dialog] :focus', 'the keyboard is in them');
    await page.driver.sleep(300); // a hand is slower than that
    await page.keys(Key.ESCAPE);
    await page.until(`return document.querySelector('[role=dialog]') === null`, 'they are closed');
  },
  switchClock: async () => {
    const clock = (): Promise<string> => page.script(`return document.querySelector('[data-testid="timecode"]').value`);
    await goTo(85);
    expect(await clock()).toBe('00:00:03:13');
    await press('switchClock');
    await page.until(`return document.querySelector('[data-testid="timecode"]').value === '85'`, 'frames are told');
    await press('switchClock');
    await page.until(`return document.querySelector('[data-testid="timecode"]').value === '3.54 s'`, 'seconds are told');
    await press('switchClock');
    expect(await clock()).toBe('00:00:03:13');
  },
  fullScreen: async () => {
    await press('fullScreen');
    await page.until(`return document.fullscreenElement?.querySelector('[data-stage]') != null`, 'the stage fills the screen');
    await press('fullScreen');
    await page.until(`return document.fullscreenElement === null`, 'it is back in its place');
  },
  secondWindow: async () => {
    const shown = await page.script<string>(`return document.querySelector('[data-stage]').dataset.drawn`);
    const main = await page.driver.getWindowHandle();
    await press('secondWindow');
    await page.driver.wait(async () => (await page.driver.getAllWindowHandles()).length === 2, 10_000, 'a second window');
    await page.driver.switchTo().window((await page.driver.getAllWindowHandles()).find((h) => h !== main)!);
    await page.until(`return document.querySelector('canvas')?.dataset.drawn === ${JSON.stringify(shown)}`, 'it shows the stage');
    await page.driver.close();
    await page.driver.switchTo().window(main);
  },
  keySheet: async () => {
    await press('keySheet');
    await has('[role=dialog] [data-command]', 'the sheet is there');
    await page.keys(Key.ESCAPE);
    await page.until(`return document.querySelector('[role=dialog]') === null`, 'the sheet is gone');
  },
};

/** Every key of the sheet of a room, in an order in which each finds what it works on. */
export async function pressAll(room: Room, checks: Partial<Record<CommandId, Check>>): Promise<void> {
  expect(Object.keys(checks).sort()).toEqual([...commandsOf(room)].sort());
  for (const [id, check] of Object.entries(checks)) {
    try {
      await check();
    } catch (error) {
      throw new Error(`${id} (${COMMANDS[id as CommandId].keys[0]}): ${(error as Error).message}`);
    }
  }
}
