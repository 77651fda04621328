'use client';
import { create } from 'zustand';

/** What is chosen on the shelf; never stored with the film. */
interface ShelfChoice {
  readonly chosen: ReadonlySet<string>;
  /** The one chosen last, from which Shift goes on. */
  readonly last: string | null;
  /** The medium that another is to take the place of. */
  readonly replaced: string | null;
  /** The bin or medium whose name is being typed. */
  readonly named: string | null;
}

export const useShelfChoice = create<ShelfChoice>(() => ({ chosen: new Set(), last: null, replaced: null, named: null }));

/** Chooses a medium alone, beside the others, or all up to it, as keys are held. `order` is how they stand. */
export const chooseMedium = (id: string, how: 'alone' | 'toggle' | 'up to', order: readonly string[] = []): void =>
  useShelfChoice.setState(({ chosen, last }) => {
    if (how === 'alone') return { chosen: new Set([id]), last: id };
    if (how === 'toggle') {
      const next = new Set(chosen);
      if (!next.delete(id)) next.add(id);
      return { chosen: next, last: id };
    }
    const [a, b] = [order.indexOf(last ?? id), order.indexOf(id)];
    return { chosen: new Set(order.slice(Math.max(0, Math.min(a, b)), Math.max(a, b) + 1)) };
  });

export const chooseMedia = (ids: readonly string[]): void => useShelfChoice.setState({ chosen: new Set(ids), last: ids.at(-1) ?? null });

/** All that is meant by something done to one medium: what is chosen where it is among that, else it alone. */
export const meantWith = (id: string): readonly string[] => {
  const { chosen } = useShelfChoice.getState();
  return chosen.has(id) ? [...chosen] : [id];
};

/** Asks what takes the place of a medium. */
export const askToReplace = (replaced: string | null): void => useShelfChoice.setState({ replaced });

/** Lets the name of a bin or a medium be typed. */
export const askForShelfName = (named: string | null): void => useShelfChoice.setState({ named });
