import { beforeEach, expect, it } from 'vitest';
import { chooseShots, toggleShot, useReelChoice } from './reel-choice';

const chosen = (): readonly (string | null)[] => {
  const { shotId, alsoShots } = useReelChoice.getState();
  return [shotId, ...alsoShots];
};
beforeEach(() => chooseShots([]));

it('adds shots to those chosen, and takes them out again', () => {
  toggleShot('a');
  toggleShot('b');
  toggleShot('c');
  expect(chosen()).toEqual(['a', 'b', 'c']);
  toggleShot('b');
  expect(chosen()).toEqual(['a', 'c']);
  // the first of them went: the next is the one whose numbers are shown
  toggleShot('a');
  expect(chosen()).toEqual(['c']);
  toggleShot('c');
  expect(chosen()).toEqual([null]);
});
