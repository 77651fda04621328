import { Key } from 'selenium-webdriver';
import { describe, it } from 'vitest';
import { clipCount, clipsAre, demo, frameIs, goTo, has, inBoth, moves, page, playing, press, pressAll, says, undoIs } from './pressing';

describe('every key of the sheet does what it says', () => {
  it('on the reel', async () => {
    await page.driver.get(demo.filmUrl({ frame: 80 }));
    await page.stageShows('film, frame 80');
    const widthOfReel = (): Promise<number> => page.script(`return document.querySelector('[data-empty]').clientWidth - 36`);
    const reelIs = (width: number): Promise<unknown> =>
      page.until(
        `return Math.abs(document.querySelector('[data-empty]').clientWidth - 36 - ${width}) < 3`,
        `the reel is ${Math.round(width)} pixels wide`,
      );
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
      ...Object.fromEntries(
        (
          [
            ['slipEarlier', 'Slipped Shop pan'],
            ['slipLater', 'Slipped Shop pan'],
            ['slideLater', 'Slid Shop pan'],
            ['rollEarlier', 'Rolled the cut of Tram wipe'],
            ['rollLater', 'Rolled the cut of Tram wipe'],
          ] as const
        ).map(([id, name]) => [
          id,
          async () => {
            await press(id);
            await undoIs(name);
            await press('undo');
          },
        ]),
      ),
      // the shot behind it has nothing before its start
      slideEarlier: async () => {
        await press('slideEarlier');
        await says('Shop pan is at its end: there is nothing more that way.');
        await press('slideLater');
        await press('slideEarlier');
        await undoIs('Slid Shop pan');
        await press('undo');
        await press('undo');
      },
      reelIn: async () => {
        const before = await widthOfReel();
        await press('reelIn');
        await reelIs(1.5 * before);
        await has('[data-overview]', 'the overview of the film');
      },
      reelOut: async () => {
        const before = await widthOfReel();
        await press('reelOut');
        await reelIs(before / 1.5);
      },
      reelWhole: async () => {
        await press('reelIn');
        await has('[data-overview]', 'the overview of the film');
        await press('reelWhole');
        await page.until(`return document.querySelector('[data-overview]') === null`, 'all of it is in sight');
      },
      nextMarker: async () => {
        await goTo(120);
        await press('markHere');
        await moves('nextMarker', 90, 120)();
      },
      previousMarker: async () => {
        await moves('previousMarker', 150, 120)();
        await press('undo');
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
          .doubleClick(await page.find('[role=group][aria-label="moonrise.webm"] p'))
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
});
