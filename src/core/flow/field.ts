import type { Pointer } from '../kernels/kernel-exports';
import { layFloats, putFloats, putWords, reserveZeros, takeFloats, wordAt } from '../kernels/kernels';

/**
 * Motion on a grid over part of a picture: where each place went, in full-size pixels. Cell (i, j) stands for the
 * point ((left + i + 0.5)·step, (top + j + 0.5)·step); beyond the part, its edge cells repeat.
 */
export interface FlowField {
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
  /** Full-size pixels per cell. */
  readonly step: number;
  readonly u: Float32Array<ArrayBuffer>;
  readonly v: Float32Array<ArrayBuffer>;
  /** How well the place was matched, 0 (filled in from around) to 1. */
  readonly trust: Float32Array<ArrayBuffer>;
}

/** A field with its motion and trust copied into kernel memory, to be changed there or not. */
export function putField(field: FlowField): Pointer {
  return layField(field, putFloats(field.u), putFloats(field.v), putFloats(field.trust));
}

/** A field whose numbers are all 0. */
export function putEmptyField(field: FlowField): Pointer {
  const n = field.u.length;
  return layField(field, reserveZeros(n), reserveZeros(n), reserveZeros(n));
}

function layField({ left, top, width, height, step }: FlowField, u: Pointer, v: Pointer, trust: Pointer): Pointer {
  const pointer = putWords([left, top, width, height, 0, 0, u, v, trust]);
  layFloats([step, 1 / step], pointer, 4);
  return pointer;
}

/** Copies the motion of the field at `pointer` to `out`, which has its cells. */
export function takeMotion(pointer: Pointer, { u, v }: FlowField): void {
  takeFloats(wordAt(pointer, 6), u);
  takeFloats(wordAt(pointer, 7), v);
}

/** The same with its trust. */
export function takeField(pointer: Pointer, out: FlowField): void {
  takeMotion(pointer, out);
  takeFloats(wordAt(pointer, 8), out.trust);
}
