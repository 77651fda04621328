import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { Paced } from './paced';

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

it('does a thing at once, then no more than once in a while, however often it is asked', async () => {
  const paced = new Paced(100);
  const task = vi.fn(() => Promise.resolve());
  await paced.ask('a', task);
  const asked = [paced.ask('a', task), paced.ask('a', task), paced.ask('a', task)];
  await vi.advanceTimersByTimeAsync(99);
  expect(task).toHaveBeenCalledTimes(1);
  await vi.advanceTimersByTimeAsync(2);
  await Promise.all(asked);
  expect(task).toHaveBeenCalledTimes(2);
});

it('keeps what has other keys apart', async () => {
  const paced = new Paced(100);
  const task = vi.fn(() => Promise.resolve());
  await Promise.all([paced.ask('a', task), paced.ask('b', task)]);
  expect(task).toHaveBeenCalledTimes(2);
});

it('tells whoever asked of a failure, and goes on with the next', async () => {
  const paced = new Paced(100);
  await expect(paced.ask('a', () => Promise.reject(new Error('gone')))).rejects.toThrow('gone');
  const next = vi.fn(() => Promise.resolve());
  const asked = paced.ask('a', next);
  await vi.advanceTimersByTimeAsync(101);
  await asked;
  expect(next).toHaveBeenCalledTimes(1);
});
