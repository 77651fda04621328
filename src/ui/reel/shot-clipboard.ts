import type { CopiedShots } from '../../core/film/edits/copies';
import type { OwnRecipe } from '../../core/recipes/own-recipe';

type Held = { readonly shots: CopiedShots } | { readonly join: OwnRecipe };

const KEY = 'irimi:copied';

/** What is too large for the browser's storage is held by this window alone, as long as it is not reloaded. */
let here: Held | null = null;

/** Holds what was copied last, shots or what was made of a join, for every film and window of this browser. */
function hold(held: Held): void {
  here = held;
  try {
    localStorage.setItem(KEY, JSON.stringify(held));
  } catch {
    localStorage.removeItem(KEY);
  }
}

function held(): Partial<{ readonly shots: CopiedShots; readonly join: OwnRecipe }> {
  const text = localStorage.getItem(KEY);
  return text === null ? (here ?? {}) : (JSON.parse(text) as Held);
}

export const holdShots = (shots: CopiedShots): void => hold({ shots });
export const holdJoin = (join: OwnRecipe): void => hold({ join });
export const heldShots = (): CopiedShots | null => held().shots ?? null;
export const heldJoin = (): OwnRecipe | null => held().join ?? null;
