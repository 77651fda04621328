import { describe, expect, it } from 'vitest';
import { grown } from './grown';

/** A mask from rows of text, # for 1. */
const mask = (...rows: string[]): Uint8Array<ArrayBuffer> => Uint8Array.from([...rows.join('')].map((c) => (c === '#' ? 1 : 0)));

describe('grown', () => {
  it('reaches what hangs together with the start, and nothing else', () => {
    const from = mask('#....', '.....', '.....');
    const through = mask('.##.#', '..#.#', '#....');
    expect(grown(from, through, 5)).toEqual(mask('###..', '..#..', '.....'));
  });

  it('goes neither over corners nor from the end of a row to the start of the next', () => {
    expect(grown(mask('#..', '...'), mask('...', '.##'), 3)).toEqual(mask('#..', '...'));
    expect(grown(mask('..#', '...'), mask('...', '#..'), 3)).toEqual(mask('..#', '...'));
  });

  it('keeps the start where it may not grow, and changes neither mask', () => {
    const [from, through] = [mask('#.', '..'), mask('..', '.#')];
    expect(grown(from, through, 2)).toEqual(mask('#.', '..'));
    expect(grown(mask('..', '..'), through, 2)).toEqual(mask('..', '..'));
    expect([from, through]).toEqual([mask('#.', '..'), mask('..', '.#')]);
  });
});
