import type { Handle, Into, Out, ValueKey } from './curve';

/** A way from one key to the next: how the first is left, and how the second is reached. */
export interface EaseShape {
  readonly out: Out;
  readonly into: Into;
}

/** The eases by name, in the order they are offered. */
export const EASE_SHAPES = {
  'soft start': { out: [0.42, 0], into: 'straight' },
  'soft stop': { out: 'straight', into: [0.42, 0] },
  'soft both': { out: [1 / 3, 0], into: [1 / 3, 0] },
  'late rush': { out: [0.75, 0.02], into: [0.08, 0.45] },
  'early rush': { out: [0.08, 0.45], into: [0.75, 0.02] },
  straight: { out: 'straight', into: 'straight' },
  hold: { out: 'hold', into: 'straight' },
} as const satisfies Record<string, EaseShape>;

export type EaseName = keyof typeof EASE_SHAPES;
export const EASE_NAMES = Object.keys(EASE_SHAPES) as readonly EaseName[];
/** Those by which something moves. */
export const EASES_OF_MOVES: readonly EaseName[] = EASE_NAMES.filter((n) => n !== 'hold');

const SAME = 1e-6;
const isSameHandle = (a: Into | Out, b: Into | Out): boolean =>
  typeof a === 'string' || typeof b === 'string' ? a === b : Math.abs(a[0] - b[0]) < SAME && Math.abs(a[1] - b[1]) < SAME;

export const isSameShape = (a: EaseShape, b: EaseShape): boolean =>
  isSameHandle(a.out, b.out) && (a.out === 'hold' || isSameHandle(a.into, b.into));

/** The ease by which the way from one key to the next goes; null for one of a hand's own. */
export function easeBetween(from: ValueKey, to: ValueKey): EaseName | null {
  const shape = { out: from.out, into: to.into };
  return EASE_NAMES.find((name) => isSameShape(EASE_SHAPES[name], shape)) ?? null;
}

/** Keys at the frames and values given, in order, each reached from the one before by `ease`. */
export function easedKeys(
  ease: EaseShape | EaseName,
  ...points: readonly (readonly [frame: number, value: number])[]
): readonly ValueKey[] {
  const { out, into } = typeof ease === 'string' ? EASE_SHAPES[ease] : ease;
  return points.map(([frame, value]) => ({ frame, value, into, out }));
}

/** The handle as it shows, also of the straight line. */
export const shownHandle = (handle: Into | Out): Handle | null =>
  handle === 'hold' ? null : handle === 'straight' ? [1 / 3, 1 / 3] : handle;
