import { describe, expect, it } from 'vitest';
import { COMMANDS, commandsOf, hint, keyOf, keyText, type Room } from './commands';

const press = (key: string, held: Partial<Record<'shiftKey' | 'ctrlKey' | 'metaKey' | 'altKey', boolean>> = {}): string =>
  keyOf({ key, shiftKey: false, ctrlKey: false, metaKey: false, altKey: false, ...held });

describe('keyOf', () => {
  it('tells a letter from the same with Shift, and takes signs as they are typed', () => {
    expect(press('t')).toBe('T');
    expect(press('T', { shiftKey: true })).toBe('Shift+T');
    expect(press('?', { shiftKey: true })).toBe('?');
    expect(press('[', { altKey: true })).toBe('[');
    expect(press('z', { ctrlKey: true })).toBe('Ctrl+Z');
    expect(press('Z', { metaKey: true, shiftKey: true })).toBe('Ctrl+Shift+Z');
    expect(press(' ')).toBe('Space');
    expect(press('ArrowLeft', { shiftKey: true })).toBe('Shift+Left');
  });
});

it.each<Room>(['reel', 'bench'])('gives no key of the %s to two commands', (room) => {
  const keys = commandsOf(room).flatMap((id) => [...COMMANDS[id].keys] as string[]);
  expect(keys.filter((k, i) => keys.indexOf(k) !== i)).toEqual([]);
});

it('says keys as they stand on the keyboard', () => {
  expect(keyText('zoomIn')).toBe('+');
  expect(keyText('carryToEnd')).toBe('Shift T');
  expect(hint('stepBack')).toBe('One frame back (←)');
});
