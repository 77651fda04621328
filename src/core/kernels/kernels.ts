import type { Kernels, Pointer } from './kernel-exports';
import { KERNELS_BASE64 } from './kernels-wasm';

/** No array or field. */
export const NOTHING: Pointer = 0;

/**
 * 256 MiB of addresses at first, used as far as a call needs them: enough for every picture on the screen. Growing takes away
 * the buffer, and once a thread has lost one the engine checks every access to an array for that.
 */
const PAGES = 4096;
const MOST_PAGES = 32768;
const PAGE_BYTES = 65536;
const memory = new WebAssembly.Memory({ initial: PAGES, maximum: MOST_PAGES });
let bytes = new Uint8Array(memory.buffer);
let words = new Int32Array(memory.buffer);
let floats = new Float32Array(memory.buffer);
let doubles = new Float64Array(memory.buffer);

/** Makes room for addresses up to `end`. @throws RangeError when there cannot be as many. */
function growTo(end: number): void {
  const pages = Math.ceil((end - memory.buffer.byteLength) / PAGE_BYTES);
  try {
    memory.grow(pages);
  } catch (error) {
    throw new RangeError('the picture is too large to compute on it', { cause: error });
  }
  bytes = new Uint8Array(memory.buffer);
  words = new Int32Array(memory.buffer);
  floats = new Float32Array(memory.buffer);
  doubles = new Float64Array(memory.buffer);
}

const compiled = new WebAssembly.Module(Uint8Array.from(atob(KERNELS_BASE64), (c) => c.charCodeAt(0)));
const abort = (): never => {
  throw new Error('a kernel has failed');
};
/** The loops that take the most time, in WebAssembly. They read and write what a call has laid in their memory. */
export const kernels = new WebAssembly.Instance(compiled, { env: { memory, abort } }).exports as unknown as Kernels;

const START = align(kernels.firstFree());
let top = START;

function align(pointer: Pointer): Pointer {
  return Math.ceil(pointer / 16) * 16;
}

/** Begins a call: what an earlier one has laid in memory is given up. */
export function beginCall(): void {
  top = START;
}

/** Room for `count` numbers of `size` bytes, with whatever they hold. @throws RangeError when a call needs more than there is. */
export function reserve(count: number, size = 4): Pointer {
  const pointer = top;
  const end = align(top + count * size);
  if (end > bytes.length) growTo(end);
  top = end;
  return pointer;
}

/** The same, all 0. */
export function reserveZeros(count: number, size = 4): Pointer {
  const pointer = reserve(count, size);
  bytes.fill(0, pointer, pointer + count * size);
  return pointer;
}

export function putFloats(array: Float32Array): Pointer {
  const pointer = reserve(array.length);
  floats.set(array, pointer / 4);
  return pointer;
}

/** Copies as many numbers as `out` holds from `pointer` on. */
export function takeFloats(pointer: Pointer, out: Float32Array): void {
  out.set(floats.subarray(pointer / 4, pointer / 4 + out.length));
}

export const putInts = (array: Int32Array): Pointer => layInts(array, reserve(array.length));

/** Copies into room that was reserved before; gives its place again. */
export function layInts(array: Int32Array, pointer: Pointer): Pointer {
  words.set(array, pointer / 4);
  return pointer;
}

export function takeInts(pointer: Pointer, out: Int32Array): void {
  out.set(words.subarray(pointer / 4, pointer / 4 + out.length));
}

export function putBytes(array: Uint8Array | Uint8ClampedArray): Pointer {
  const pointer = reserve(array.length, 1);
  bytes.set(array, pointer);
  return pointer;
}

export function takeBytes(pointer: Pointer, out: Uint8Array | Uint8ClampedArray): void {
  out.set(bytes.subarray(pointer, pointer + out.length));
}

export const putDoubles = (array: Float64Array): Pointer => layDoubles(array, reserve(array.length, 8));

/** Copies into room that was reserved before; gives its place again. */
export function layDoubles(array: Float64Array, pointer: Pointer): Pointer {
  doubles.set(array, pointer / 8);
  return pointer;
}

export function takeDoubles(pointer: Pointer, out: Float64Array): void {
  out.set(doubles.subarray(pointer / 8, pointer / 8 + out.length));
}

/** Lays whole numbers in a row, as the fields of a record. */
export function putWords(values: readonly number[]): Pointer {
  const pointer = reserve(values.length);
  words.set(values, pointer / 4);
  return pointer;
}

/** The whole number that lies `index` places after `pointer`. */
export const wordAt = (pointer: Pointer, index: number): number => words[pointer / 4 + index]!;

/** Lays numbers from `index` places after `pointer` on. */
export const layFloats = (values: readonly number[], pointer: Pointer, index: number): void => floats.set(values, pointer / 4 + index);
