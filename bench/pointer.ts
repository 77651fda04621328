import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Browser } from '../tests/screens/browser';
import { openDemo } from '../tests/screens/demo';
import type { Line } from './line';

const MOVES = 40;

/** From a pointer move that drags an outline to the new picture on the stage, in the real page. */
export async function benchPointer(): Promise<Line[]> {
  const folder = mkdtempSync(join(tmpdir(), 'irimi-bench-'));
  const demo = await openDemo(folder);
  const page = await Browser.open();
  try {
    await page.driver.get(demo.joinUrl('Tram wipe', { step: 'mask', view: 'result', frame: 84 }));
    await page.stageShows('result, frame 84');
    await page.until(`return document.querySelectorAll('[data-grip="point"]').length === 11`, 'the outline shows');
    await page.until(
      `return document.querySelectorAll('section[aria-label="Weave"] canvas:not([data-drawn])').length === 0`,
      'the weave is drawn',
      60_000,
    );
    const times = await page.driver.executeAsyncScript<number[]>(
      `const done = arguments[arguments.length - 1], moves = arguments[0];
       const grip = [...document.querySelectorAll('[data-grip="point"]')][4], svg = grip.closest('svg'), box = grip.getBoundingClientRect();
       const stage = document.querySelector('canvas[data-stage]'), context = stage.getContext('2d');
       let x = box.left + box.width / 2; const y = box.top + box.height / 2;
       svg.setPointerCapture = () => undefined;
       const fire = (type, target) => target.dispatchEvent(new PointerEvent(type, { bubbles: true, cancelable: true, clientX: x, clientY: y, button: 0, buttons: 1, pointerId: 1 }));
       fire('pointerdown', grip);
       const drawImage = context.drawImage.bind(context); let arrived = () => undefined;
       context.drawImage = (...a) => { drawImage(...a); arrived(); };
       (async () => {
         const times = [];
         for (let i = 0; i < moves; i++) {
           x += 3;
           const began = performance.now();
           await new Promise((r) => { arrived = r; fire('pointermove', svg); });
           times.push(performance.now() - began);
           await new Promise(requestAnimationFrame);
         }
         fire('pointercancel', svg);
         done(times);
       })();`,
      MOVES,
    );
    times.sort((a, b) => a - b);
    return [
      {
        what: 'pointer move to new picture on the stage, median (960×540)',
        value: `${times[Math.floor(MOVES / 2)]!.toFixed(1)} ms`,
        against: `nine of ten within ${times[Math.floor(0.9 * MOVES)]!.toFixed(1)} ms`,
      },
    ];
  } finally {
    await page.close();
    await demo.close();
    rmSync(folder, { recursive: true, force: true });
  }
}
