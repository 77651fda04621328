import type { Kernels, Pointer } from './kernel-exports';
import { KERNELS_BASE64 } from './kernels-wasm';
import { align, growTo, openMemory, placeOf, splitMemory, views, type Blocks } from './memory';

/** No array or field. */
export const NOTHING: Pointer = 0;

const abort = (): never => {
  throw new Error('a kernel has failed');
};

/** The loops that take the most time, in WebAssembly. They read and write what a call has laid in their memory, or what is kept there. From the first `beginCall` on. */
export let kernels: Kernels;
/** What is kept, and where the memory of calls begins. */
let kept: Blocks | undefined;
let start: Pointer = 0;
let top: Pointer = 0;

/** Compiles the kernels when they are first needed: a page that draws in workers never does. */
function opened(): Blocks {
  if (kept !== undefined) return kept;
  const compiled = new WebAssembly.Module(Uint8Array.from(atob(KERNELS_BASE64), (c) => c.charCodeAt(0)));
  const memory = openMemory();
  kernels = new WebAssembly.Instance(compiled, { env: { memory, abort } }).exports as unknown as Kernels;
  ({ kept, start } = splitMemory(kernels.firstFree()));
  return kept;
}

/**
 * Arrays in the memory of the kernels, so that calls need not copy them, until all are released together; where that memory is used up, ordinary
 * ones, which calls copy. They hold whatever was there.
 */
export class Arena {
  private readonly taken: { readonly pointer: Pointer; readonly length: number }[] = [];

  bytes(length: number): Uint8Array<ArrayBufferLike> {
    const pointer = this.take(length);
    return pointer === null ? new Uint8Array(length) : new Uint8Array(views.bytes.buffer, pointer, length);
  }

  /** RGBA, four bytes a pixel. */
  pixels(count: number): Uint8ClampedArray<ArrayBufferLike> {
    const pointer = this.take(4 * count);
    return pointer === null ? new Uint8ClampedArray(4 * count) : new Uint8ClampedArray(views.bytes.buffer, pointer, 4 * count);
  }

  /** Gives all of it back: the arrays must not be used any more. */
  release(): void {
    for (const { pointer, length } of this.taken) opened().giveBack(pointer, length);
    this.taken.length = 0;
  }

  private take(length: number): Pointer | null {
    const pointer = opened().take(length);
    if (pointer !== null) this.taken.push({ pointer, length });
    return pointer;
  }
}

/** Begins a call: what an earlier one has laid in memory is given up. */
export function beginCall(): void {
  opened();
  top = start;
}

/** Room for `count` numbers of `size` bytes, with whatever they hold. @throws RangeError when a call needs more than there is. */
export function reserve(count: number, size = 4): Pointer {
  const pointer = top;
  const end = align(top + count * size);
  if (end > views.bytes.length) growTo(end);
  top = end;
  return pointer;
}

/** The same, all 0. */
export function reserveZeros(count: number, size = 4): Pointer {
  const pointer = reserve(count, size);
  views.bytes.fill(0, pointer, pointer + count * size);
  return pointer;
}

export function putFloats(array: Float32Array): Pointer {
  const pointer = reserve(array.length);
  views.floats.set(array, pointer / 4);
  return pointer;
}

/** Copies as many numbers as `out` holds from `pointer` on. */
export function takeFloats(pointer: Pointer, out: Float32Array): void {
  out.set(views.floats.subarray(pointer / 4, pointer / 4 + out.length));
}

export const putInts = (array: Int32Array): Pointer => layInts(array, reserve(array.length));

/** Copies into room that was reserved before; gives its place again. */
export function layInts(array: Int32Array, pointer: Pointer): Pointer {
  views.words.set(array, pointer / 4);
  return pointer;
}

export function takeInts(pointer: Pointer, out: Int32Array): void {
  out.set(views.words.subarray(pointer / 4, pointer / 4 + out.length));
}

/** Copies bytes; those that are kept in this memory stay where they are, so what the call changes of them is changed. */
export function putBytes(array: Uint8Array | Uint8ClampedArray): Pointer {
  const place = placeOf(array);
  if (place !== null) return place;
  const pointer = reserve(array.length, 1);
  views.bytes.set(array, pointer);
  return pointer;
}

/** Where a call writes as many bytes as `out` holds: its own place where it is kept in this memory. `takeBytes` fetches them. */
export const placeFor = (out: Uint8Array | Uint8ClampedArray): Pointer => placeOf(out) ?? reserve(out.length, 1);

export function takeBytes(pointer: Pointer, out: Uint8Array | Uint8ClampedArray): void {
  if (placeOf(out) !== pointer) out.set(views.bytes.subarray(pointer, pointer + out.length));
}

export const putDoubles = (array: Float64Array): Pointer => layDoubles(array, reserve(array.length, 8));

/** Copies into room that was reserved before; gives its place again. */
export function layDoubles(array: Float64Array, pointer: Pointer): Pointer {
  views.doubles.set(array, pointer / 8);
  return pointer;
}

export function takeDoubles(pointer: Pointer, out: Float64Array): void {
  out.set(views.doubles.subarray(pointer / 8, pointer / 8 + out.length));
}

/** Lays whole numbers in a row, as the fields of a record. */
export function putWords(values: readonly number[]): Pointer {
  const pointer = reserve(values.length);
  views.words.set(values, pointer / 4);
  return pointer;
}

/** The whole number that lies `index` places after `pointer`. */
export const wordAt = (pointer: Pointer, index: number): number => views.words[pointer / 4 + index]!;

/** Lays numbers from `index` places after `pointer` on. */
export const layFloats = (values: readonly number[], pointer: Pointer, index: number): void =>
  views.floats.set(values, pointer / 4 + index);
