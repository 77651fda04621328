import type { EffectName } from '../film/composition';
import { directionalBlur } from './directional-blur';
import type { EffectKind } from './effect';
import { exposure } from './exposure';

/** Every effect there is. Another one is a file and a line here. */
export const EFFECTS: Readonly<Record<EffectName, EffectKind>> = { exposure, 'directional blur': directionalBlur };
