import type { CopiedShots } from '../../core/film/edits/copies';
import type { OwnRecipe } from '../../core/recipes/own-recipe';

/** What was copied last in this window: shots, or what was made of a join. It survives going from one film to another. */
let held: { readonly shots: CopiedShots } | { readonly join: OwnRecipe } | null = null;

export const holdShots = (shots: CopiedShots): void => void (held = { shots });
export const holdJoin = (join: OwnRecipe): void => void (held = { join });
export const heldShots = (): CopiedShots | null => (held !== null && 'shots' in held ? held.shots : null);
export const heldJoin = (): OwnRecipe | null => (held !== null && 'join' in held ? held.join : null);
