import type { EffectName } from '../film/composition';
import { crop } from './crop';
import { directionalBlur } from './directional-blur';
import { drawnSketch } from './drawn-sketch';
import { dropShadow } from './drop-shadow';
import type { EffectKind } from './effect';
import { exposure } from './exposure';
import { flash } from './flash';
import { flip } from './flip';
import { glow } from './glow';
import { outline } from './outline';
import { outlineCopies } from './outline-copies';
import { roughEdge } from './rough-edge';
import { shake } from './shake';

/** Every effect there is, in the order it is offered. Another one is a file and a line here. */
export const EFFECTS: Readonly<Record<EffectName, EffectKind>> = {
  shake,
  'directional blur': directionalBlur,
  glow,
  exposure,
  flash,
  'drop shadow': dropShadow,
  outline,
  'outline copies': outlineCopies,
  'rough edge': roughEdge,
  'drawn sketch': drawnSketch,
  crop,
  flip,
};
