import type { Pointer } from './kernel-exports';

const PAGE_BYTES = 65536;
/**
 * 384 MiB of addresses at first, used as far as there is something in them: enough for every picture on the screen. It may grow to 2 GiB. The
 * memory is of the shared kind, since views of such memory go on working when it grows.
 */
const PAGES = 6144;
const MOST_PAGES = 32768;
/** What is kept lies in as many bytes, before all that calls use. */
const KEPT_BYTES = 128 * 2 ** 20;

const SIZES = { initial: PAGES, maximum: MOST_PAGES, shared: true } as const;
let memory: WebAssembly.Memory | null = null;
/** Every buffer that the memory has had: they are views of the same bytes. */
const buffers = new Set<ArrayBufferLike>();

/** Every number of the memory, by its size. */
export const views = viewsOf(new ArrayBuffer(0));

/** The memory, before anything is laid in it. */
export function openMemory(): WebAssembly.Memory {
  memory = new WebAssembly.Memory(SIZES);
  lookAt(memory.buffer);
  return memory;
}

function lookAt(buffer: ArrayBufferLike): void {
  buffers.add(buffer);
  Object.assign(views, viewsOf(buffer));
}

function viewsOf(buffer: ArrayBufferLike): {
  bytes: Uint8Array;
  words: Int32Array;
  floats: Float32Array;
  doubles: Float64Array;
} {
  return {
    bytes: new Uint8Array(buffer),
    words: new Int32Array(buffer),
    floats: new Float32Array(buffer),
    doubles: new Float64Array(buffer),
  };
}

/** Makes room for addresses up to `end`. @throws RangeError when there cannot be as many. */
export function growTo(end: number): void {
  const pages = Math.ceil((end - views.bytes.length) / PAGE_BYTES);
  if (memory === null || pages <= 0) return;
  try {
    memory.grow(pages);
  } catch (error) {
    throw new RangeError('the picture is too large to compute on it', { cause: error });
  }
  lookAt(memory.buffer);
}

/** Where an array lies in the memory of the kernels; null for one that lies elsewhere. */
export const placeOf = ({ buffer, byteOffset }: ArrayBufferView): Pointer | null => (buffers.has(buffer) ? byteOffset : null);

export const align = (pointer: Pointer): Pointer => Math.ceil(pointer / 16) * 16;

/** Blocks of memory that are given and given back: the first that is large enough is taken. */
export class Blocks {
  /** What is free, in order, no two side by side. */
  private free: { start: number; end: number }[];

  constructor(start: number, end: number) {
    this.free = [{ start, end }];
  }

  take(bytes: number): Pointer | null {
    const size = align(bytes);
    const found = this.free.findIndex((block) => block.end - block.start >= size);
    const block = this.free[found];
    if (block === undefined) return null;
    const { start } = block;
    block.start += size;
    if (block.start === block.end) this.free.splice(found, 1);
    return start;
  }

  giveBack(start: Pointer, bytes: number): void {
    const end = start + align(bytes);
    const next = this.free.findIndex((block) => block.start >= end);
    const at = next < 0 ? this.free.length : next;
    const [before, after] = [this.free[at - 1], this.free[at]];
    if (before?.end === start && after?.start === end) {
      before.end = after.end;
      this.free.splice(at, 1);
    } else if (before?.end === start) before.end = end;
    else if (after?.start === end) after.start = start;
    else this.free.splice(at, 0, { start, end });
  }
}

/** Memory that lies before what calls use, and where that begins. */
export function splitMemory(firstFree: Pointer): { readonly kept: Blocks; readonly start: Pointer } {
  const first = align(firstFree);
  return { kept: new Blocks(first, first + KEPT_BYTES), start: first + KEPT_BYTES };
}
