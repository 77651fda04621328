import { describe, expect, it } from 'vitest';
import { silence, type Stereo } from '../../core/sound/samples';
import { readLooped } from './looped';
import { PlayClock } from './play-clock';
import { blocksPast } from './player';

describe('PlayClock', () => {
  it('follows the sound for two minutes without drifting from it, however the page’s own clock runs', () => {
    let page = 0;
    const device = (): number => 5 + page * 1.003; // a device that runs 0.3 % fast
    const clock = new PlayClock(() => page);
    page = 0.1;
    clock.follow(device, device() + 0.04);
    const began = device() + 0.04;
    let worst = 0;
    for (; page < 120; page += 1 / 60) {
      const seconds = clock.seconds();
      worst = Math.max(worst, Math.abs(seconds - Math.max(0, device() - began)));
    }
    expect(worst).toBeLessThan(1e-9);
    expect(clock.followsSound).toBe(true);
  });

  it('begins without sound when none comes, and never jumps back when it does', () => {
    let page = 10;
    const clock = new PlayClock(() => page);
    expect(clock.seconds()).toBe(0);
    page += 0.5;
    expect(clock.seconds()).toBe(0);
    page += 0.2;
    clock.seconds();
    page += 1;
    expect(clock.seconds()).toBeCloseTo(1);
    clock.follow(() => 0, 0);
    page += 1;
    expect(clock.seconds()).toBeCloseTo(2);
    expect(clock.followsSound).toBe(false);
  });

  it('goes on by itself when the device stands still', () => {
    let page = 0;
    let device = 0;
    const clock = new PlayClock(() => page);
    clock.follow(() => device, 0);
    for (; page < 1; page += 0.05, device = page) clock.seconds();
    const before = clock.seconds();
    for (let i = 0; i < 20; i++, page += 0.05) clock.seconds();
    expect(clock.seconds()).toBeGreaterThan(before + 0.9);
    expect(clock.seconds()).toBeLessThan(before + 1.1);
  });
});

describe('readLooped', () => {
  const read = (from: number, count: number): Promise<Stereo> => {
    const out = silence(count);
    for (let i = 0; i < count; i++) out.left[i] = from + i;
    return Promise.resolve(out);
  };

  it('lays a span end to end, either way', async () => {
    expect([...(await readLooped(read, { from: 10, to: 14 }, 12, 7)).left]).toEqual([12, 13, 10, 11, 12, 13, 10]);
    expect([...(await readLooped(read, { from: 10, to: 14 }, 7, 5)).left]).toEqual([11, 12, 13, 10, 11]);
  });
});

describe('blocksPast', () => {
  it('counts the blocks that a page which was held up cannot be heard playing any more', () => {
    expect([-0.5, 0, 0.19, 0.2, 2.5].map(blocksPast)).toEqual([0, 0, 0, 1, 12]);
  });
});
