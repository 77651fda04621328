import { Key } from 'selenium-webdriver';
import { describe, expect, it } from 'vitest';
import type { CommandId } from '../../src/ui/commands/commands';
import { demo, goTo, has, inBoth, page, press, pressAll, says, tab, undoIs, type Check } from './pressing';

describe('every key of the sheet does what it says', () => {
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
      slideEnteringLater: async () => {
        await press('slideEnteringLater');
        await undoIs('Moved entering shot 1 frame later');
      },
      slideEnteringEarlier: async () => {
        await press('slideEnteringEarlier');
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
