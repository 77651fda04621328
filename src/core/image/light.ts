/** Between display light, as bytes hold it, and linear light: the curve of IEC 61966-2-1. Both 0..1. */
export const toLinear = (v: number): number => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4);
export const toDisplay = (v: number): number => (v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055);

/** Steps of a table from linear light back to bytes: fine enough that every byte comes back. */
export const LIGHT_STEPS = 4096;

/** 16 bits of linear light for each byte. */
export const LINEAR_OF_BYTE = Uint16Array.from({ length: 256 }, (_, v) => Math.round(65535 * toLinear(v / 255)));

/** Bytes of display light by the square root of linear light: even steps of it are about even steps to the eye. */
export const BYTE_OF_ROOT = Uint8Array.from({ length: LIGHT_STEPS }, (_, i) => Math.round(255 * toDisplay((i / (LIGHT_STEPS - 1)) ** 2)));
