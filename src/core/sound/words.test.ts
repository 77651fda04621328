import { describe, expect, it } from 'vitest';
import { speak } from './test-sounds';
import { findSilences, findWord } from './words';

const SAID = ['sali', 'temu', 'milasu', 'aleta', 'uma'];
const OTHER = ['lumi', 'asetu', 'milasu', 'tali'];
const ms = (a: number, b: number): number => Math.abs(1000 * (a - b));

describe('findWord', () => {
  const mine = speak(SAID, { pitch: 110, pace: 1, seed: 4 });
  const word = mine.spans[2]!;

  it.each([
    ['another pitch', { pitch: 160, pace: 1, seed: 7 }],
    ['faster', { pitch: 118, pace: 1.25, seed: 8 }],
    ['slower', { pitch: 100, pace: 0.8, seed: 9 }],
    ['a smaller voice', { pitch: 190, pace: 1.1, size: 1.12, seed: 10 }],
  ])('finds what both say within 30 ms: %s', (_, speaker) => {
    const theirs = speak(OTHER, speaker);
    const truth = theirs.spans[2]!;
    const found = findWord(mine.sound, word, theirs.sound)!;
    expect([ms(found.b.start, truth.start) < 30, ms(found.b.end, truth.end) < 30]).toEqual([true, true]);
    // the place to cut lies inside, as far into the word in both
    expect(found.cutA).toBeGreaterThan(word.start);
    expect(found.cutA).toBeLessThan(word.end);
    const share = (at: number, { start, end }: { start: number; end: number }): number => (at - start) / (end - start);
    expect(Math.abs(share(found.cutA, word) - share(found.cutB, truth))).toBeLessThan(0.08);
  });

  it('finds a word in its own take where it is, and says that it is the same', () => {
    const found = findWord(mine.sound, word, mine.sound)!;
    expect([ms(found.b.start, word.start) < 8, ms(found.b.end, word.end) < 8]).toEqual([true, true]);
    expect(found.likeness).toBeGreaterThan(0.95);
    const elsewhere = findWord(mine.sound, word, speak(['tuse', 'ilem'], { pitch: 120, pace: 1, seed: 2 }).sound)!;
    expect(elsewhere.likeness).toBeLessThan(0.75);
  });

  it('has no answer where the other is too short', () => {
    expect(findWord(mine.sound, word, new Float32Array(100))).toBeNull();
  });
});

describe('findSilences', () => {
  it('gives the pauses with their edges within 25 ms', () => {
    const { sound, spans } = speak(['sala', 'lumi'], { pitch: 120, pace: 0.3, seed: 3 });
    const found = findSilences(sound);
    expect(ms(found[0]!.end, spans[0]!.start)).toBeLessThan(25);
    expect(found.some((s) => ms(s.start, spans[0]!.end) < 25 && ms(s.end, spans[1]!.start) < 25)).toBe(true);
    expect(findSilences(new Float32Array(0))).toEqual([]);
  });
});
