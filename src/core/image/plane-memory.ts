import type { Pointer } from '../kernels/kernel-exports';
import { putFloats, putWords, reserveZeros, takeFloats, wordAt } from '../kernels/kernels';
import type { Plane } from './pixels';

/** Copies a plane into kernel memory. */
export const putPlane = (plane: Plane): Pointer => layPlane(plane, putFloats(plane.data));

/** A plane of the size of `plane` whose numbers are all 0. */
export const putEmptyPlane = (plane: Plane): Pointer => layPlane(plane, reserveZeros(plane.data.length));

/** Copies the numbers of the plane at `pointer`. */
export const takePlane = (pointer: Pointer, { data }: Plane): void => takeFloats(wordAt(pointer, 2), data);

const layPlane = ({ width, height }: Plane, pixels: Pointer): Pointer => putWords([width, height, pixels]);
