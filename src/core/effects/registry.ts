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

/** Every effect there is, in the order it is offered. Another one is a file, and a name here. */
export const EFFECTS: readonly EffectKind[] = [
  shake,
  directionalBlur,
  glow,
  exposure,
  flash,
  dropShadow,
  outline,
  outlineCopies,
  roughEdge,
  drawnSketch,
  crop,
  flip,
];

const byName = new Map(EFFECTS.map((e) => [e.kind, e]));

/** @throws RangeError when there is no such effect, which no stored film holds */
export function effectNamed(kind: string): EffectKind {
  const found = byName.get(kind);
  if (found === undefined) throw new RangeError(`there is no effect ${kind}`);
  return found;
}
