import { expect, it } from 'vitest';
import { createFilm } from '../../core/film/film';
import type { MediumFacts, ShelfMedium, SoundFacts } from '../../core/film/media-facts';
import { rational } from '../../core/geometry/rational';
import { PLAIN_VIEW, shelfRows, shownOnShelf, type ShelfView } from './shelf-view';

const RATE = rational(24, 1);
const medium = (id: string, name: string, frames: number | null, bytes: number): ShelfMedium => ({
  ...{ id, name, bytes, status: 'ready', error: null, progress: 1 },
  facts:
    frames === null ? null : ({ name: name.split('.')[0]!, kind: frames === 1 ? 'still' : 'video', frames, rate: RATE } as MediumFacts),
  sound: frames === null ? ({ name: name.split('.')[0]!, samples: 96_000 } as SoundFacts) : null,
});
const SHELF = [medium('a', 'Take 10.mp4', 24, 5), medium('b', 'Take 9.mp4', 240, 9), medium('c', 'Card.png', 1, 2), medium('d', 'Band.wav', null, 7), medium('e', 'Gone.mp4', 5, 1)]; // prettier-ignore
const FILM = {
  ...createFilm('f', 160, 90, RATE),
  shots: [{ id: 's', mediumId: 'b', name: 'Take 9', inFrame: 0, length: 10 }],
  offShelf: ['e'],
};
const shown = (view: Partial<ShelfView>): string =>
  shownOnShelf(FILM, SHELF, { ...PLAIN_VIEW, ...view }).map((m) => m.id).join(''); // prettier-ignore

it('shows what is meant, in the order asked for, and nothing that was taken off', () => {
  expect(shown({})).toBe('abcd');
  expect(shown({ sort: 'name' })).toBe('dcba');
  expect(shown({ sort: 'length' })).toBe('bdac');
  expect(shown({ sort: 'size of the file' })).toBe('bdac');
  expect(shown({ filter: 'video' })).toBe('ab');
  expect(shown({ filter: 'stills' })).toBe('c');
  expect(shown({ filter: 'sound' })).toBe('d');
  expect(shown({ filter: 'used' })).toBe('b');
  expect(shown({ filter: 'unused' })).toBe('acd');
  expect(shown({ sought: 'TAKE' })).toBe('ab');
  expect(shown({ sought: '9 take' })).toBe('b');
  expect(shown({ sought: 'nothing' })).toBe('');
});

const BINNED = { ...FILM, bins: [{ id: 'y', name: 'Bin 10', mediumIds: ['b'] }, { id: 'x', name: 'Bin 2', mediumIds: ['a', 'e'] }, { id: 'z', name: 'Empty', mediumIds: [] }] }; // prettier-ignore
const rows = (view: Partial<ShelfView>, shut: readonly string[] = []): string => {
  const whole = { ...PLAIN_VIEW, ...view };
  return shelfRows(BINNED, shownOnShelf(BINNED, SHELF, whole), whole, new Set(shut)).map((r) => r.key).join(''); // prettier-ignore
};

it('lays bins first, each with what is in it unless it is shut', () => {
  expect(rows({})).toBe('xaybzcd');
  expect(rows({}, ['x'])).toBe('xybzcd');
});

it('shows only bins that hold what is looked for, and opens them', () => {
  expect(rows({ sought: 'take 10' }, ['x'])).toBe('xa');
  expect(rows({ filter: 'sound' })).toBe('d');
});
