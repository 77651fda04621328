import { afterEach, expect, it, vi } from 'vitest';
import { newId } from './new-id';

afterEach(() => vi.unstubAllGlobals());

const UUID = /^[0-9a-f]{8}-[0-9a-f]{4}-4[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/;

it('gives ids of the same form with and without the browser’s own way', () => {
  expect(newId()).toMatch(UUID);
  vi.stubGlobal('crypto', { getRandomValues: (bytes: Uint8Array) => bytes.fill(171) });
  expect(newId()).toMatch(UUID);
});

it('gives each only once', () => {
  vi.stubGlobal('crypto', { getRandomValues: crypto.getRandomValues.bind(crypto) });
  expect(new Set(Array.from({ length: 1000 }, newId)).size).toBe(1000);
});
