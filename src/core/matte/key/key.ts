import { LRUCache } from 'lru-cache';
import type { Image } from '../../image/pixels';
import { channelAt, type Channel } from '../../motion/curve';

/** Everything at or under `cleanBlack` becomes 0, everything at or over `cleanWhite` 1. 0 ≤ cleanBlack < cleanWhite ≤ 1. */
interface Cleaning {
  readonly cleanBlack: number;
  readonly cleanWhite: number;
}

/** Covers what is brighter than `threshold` (0..1 of display brightness), over a ramp of `softness` around it. Channels run in medium frames. */
export interface BrightnessKey extends Cleaning {
  readonly kind: 'brightness';
  readonly threshold: Channel;
  readonly softness: number;
}

/**
 * Covers what does not have `colour` (display RGB, 0..255): `tolerance` (0..1) is how far from it a pixel may be and still
 * be taken out whole, `softness` (0..1) how much further until it stays whole, `spill` (0..1) how much of the colour's
 * cast is taken from what stays.
 */
export interface ColourKey extends Cleaning {
  readonly kind: 'colour';
  readonly colour: readonly [number, number, number];
  readonly tolerance: number;
  readonly softness: number;
  readonly spill: number;
}

export type MatteKey = BrightnessKey | ColourKey;

/** A key on one frame: its channels are numbers. */
export type KeyNow = (Omit<BrightnessKey, 'threshold'> & { readonly threshold: number }) | ColourKey;

export const BRIGHTNESS_KEY: BrightnessKey = { kind: 'brightness', threshold: 0.5, softness: 0.2, cleanBlack: 0, cleanWhite: 1 };
export const COLOUR_KEY: ColourKey = {
  kind: 'colour',
  colour: [40, 150, 70],
  tolerance: 0.25,
  softness: 0.45,
  spill: 0.8,
  cleanBlack: 0,
  cleanWhite: 1,
};

export const keyAtFrame = (key: MatteKey, frame: number): KeyNow =>
  key.kind === 'brightness' ? { ...key, threshold: channelAt(key.threshold, frame, 0.5) } : key;

const SIDE = 49;
const CELL = 255 / (SIDE - 1);
/** Keeps the colour of nearly black pixels, which is mostly noise, from counting. */
const DARK = 0.06;
/** How fast a hue beside the key's stops counting as the key. */
const WEDGE = 1;
const SPILL_WEDGE = 1.2;
const LEAST_CHROMA = 0.03;

const toLinear = (v: number): number => (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4);
const toDisplay = (v: number): number => (v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055);

/** OKLab of display RGB 0..255 (Ottosson 2020: a perceptual space in which a change of exposure scales L, a and b alike). */
function toOklab(red: number, green: number, blue: number): [number, number, number] {
  const [r, g, b] = [toLinear(red / 255), toLinear(green / 255), toLinear(blue / 255)];
  const l = Math.cbrt(0.4122214708 * r + 0.5363325363 * g + 0.0514459929 * b);
  const m = Math.cbrt(0.2119034982 * r + 0.6806995451 * g + 0.1073969566 * b);
  const s = Math.cbrt(0.0883024619 * r + 0.2817188376 * g + 0.6299787005 * b);
  return [
    0.2104542553 * l + 0.793617785 * m - 0.0040720468 * s,
    1.9779984951 * l - 2.428592205 * m + 0.4505937099 * s,
    0.0259040371 * l + 0.7827717662 * m - 0.808675766 * s,
  ];
}

function fromOklab(lightness: number, a: number, b: number): [number, number, number] {
  const l = (lightness + 0.3963377774 * a + 0.2158037573 * b) ** 3;
  const m = (lightness - 0.1055613458 * a - 0.0638541728 * b) ** 3;
  const s = (lightness - 0.0894841775 * a - 1.291485548 * b) ** 3;
  return [
    4.0767416621 * l - 3.3077115913 * m + 0.2309699292 * s,
    -1.2684380046 * l + 2.6097574011 * m - 0.3413193965 * s,
    -0.0041960863 * l - 0.7034186147 * m + 1.707614701 * s,
  ].map((v) => 255 * toDisplay(Math.max(0, Math.min(1, v)))) as [number, number, number];
}

/** For every colour on a grid: how much it is the key (1 the key itself, 0 any grey), and what its cast adds to it. */
interface KeyTable {
  readonly keyness: Float32Array;
  /** Three numbers a colour, to be added to take the whole cast away. */
  readonly cure: Float32Array;
}

function tableOf(colour: readonly [number, number, number]): KeyTable {
  const [keyL, keyA, keyB] = toOklab(...colour);
  // a shadow on the cloth changes L, a and b alike, so their ratio stays
  const chroma = Math.sqrt(keyA * keyA + keyB * keyB) / (keyL + DARK);
  const colourless = chroma < LEAST_CHROMA;
  const along = colourless ? [0, 0] : [keyA / (keyL + DARK) / chroma, keyB / (keyL + DARK) / chroma];
  const keyness = new Float32Array(SIDE ** 3);
  const cure = new Float32Array(3 * SIDE ** 3);
  for (let blue = 0, i = 0; blue < SIDE; blue++)
    for (let green = 0; green < SIDE; green++)
      for (let red = 0; red < SIDE; red++, i++) {
        const rgb = [red * CELL, green * CELL, blue * CELL] as const;
        const [L, a, b] = toOklab(...rgb);
        if (colourless) {
          keyness[i] = 1 - 4 * Math.sqrt((L - keyL) ** 2 + (a - keyA) ** 2 + (b - keyB) ** 2);
          continue;
        }
        const u = (a * along[0]! + b * along[1]!) / (L + DARK) / chroma;
        const v = Math.abs(a * along[1]! - b * along[0]!) / (L + DARK) / chroma;
        keyness[i] = u - WEDGE * v;
        const excess = Math.max(0, u - SPILL_WEDGE * v) * chroma * (L + DARK);
        const cured = fromOklab(L, a - excess * along[0]!, b - excess * along[1]!);
        for (let c = 0; c < 3; c++) cure[3 * i + c] = cured[c]! - rgb[c]!;
      }
  return { keyness, cure };
}

const tables = new LRUCache<string, KeyTable>({ max: 4 });

function keyTable(colour: readonly [number, number, number]): KeyTable {
  const name = colour.join();
  const table = tables.get(name) ?? tableOf(colour);
  tables.set(name, table);
  return table;
}

/** Cell and place in it of every byte value, for interpolation in a table. */
const CELL_OF = Uint8Array.from({ length: 256 }, (_, v) => Math.min(SIDE - 2, Math.floor(v / CELL)));
const IN_CELL = Float32Array.from({ length: 256 }, (_, v) => v / CELL - CELL_OF[v]!);
const ROW = SIDE;
const SHEET = SIDE * SIDE;

function colourCoverage({ data }: Image, key: ColourKey, out: Uint8Array): void {
  const { keyness } = keyTable(key.colour);
  const soft = Math.max(1e-3, key.softness);
  const top = 1 - key.tolerance;
  const { gain, lift } = cleaning(key);
  for (let i = 0, o = 0; o < out.length; i += 4, o++) {
    const [r, g, b] = [data[i]!, data[i + 1]!, data[i + 2]!];
    const at = CELL_OF[r]! + ROW * CELL_OF[g]! + SHEET * CELL_OF[b]!;
    const fr = IN_CELL[r]!;
    const fg = IN_CELL[g]!;
    const near = mix4(keyness, at, fr, fg);
    const value = near + IN_CELL[b]! * (mix4(keyness, at + SHEET, fr, fg) - near);
    const alpha = Math.max(0, Math.min(1, (top - value) / soft));
    out[o] = Math.max(0, Math.min(255, 255 * (alpha * gain + lift) + 0.5));
  }
}

/** Bilinear value of one sheet of a table. */
function mix4(table: Float32Array, at: number, fr: number, fg: number): number {
  const upper = table[at]! + fr * (table[at + 1]! - table[at]!);
  const lower = table[at + ROW]! + fr * (table[at + ROW + 1]! - table[at + ROW]!);
  return upper + fg * (lower - upper);
}

const cleaning = ({ cleanBlack, cleanWhite }: Cleaning): { gain: number; lift: number } => {
  const gain = 1 / Math.max(1e-3, cleanWhite - cleanBlack);
  return { gain, lift: -cleanBlack * gain };
};

/**
 * Coverage 0..255 of a picture's pixels by `key`, into `out` (one byte a pixel). Brightness is Rec. 709 luma of the
 * display values; colour is told apart by OKLab hue and chroma relative to lightness, so that shadows on an evenly
 * coloured cloth stay the cloth.
 * @throws RangeError when `out` has another size.
 */
export function keyCoverage(image: Image, key: KeyNow, out: Uint8Array): void {
  if (out.length !== image.width * image.height) throw new RangeError('keyCoverage: out has another size');
  if (key.kind === 'colour') {
    colourCoverage(image, key, out);
    return;
  }
  const { data } = image;
  const { gain, lift } = cleaning(key);
  const soft = Math.max(1e-3, key.softness);
  for (let i = 0, o = 0; o < out.length; i += 4, o++) {
    const level = (0.2126 * data[i]! + 0.7152 * data[i + 1]! + 0.0722 * data[i + 2]!) / 255;
    const alpha = Math.max(0, Math.min(1, 0.5 + (level - key.threshold) / soft));
    out[o] = Math.max(0, Math.min(255, 255 * (alpha * gain + lift) + 0.5));
  }
}

/** Takes the cast of a colour key out of `image`, into `out` of the same size; lightness and alpha stay. */
export function takeSpill(image: Image, key: ColourKey, out: Image): void {
  if (out.data.length !== image.data.length) throw new RangeError('takeSpill: out has another size');
  const { cure } = keyTable(key.colour);
  const from = image.data;
  const to = out.data;
  for (let i = 0; i < from.length; i += 4) {
    const [r, g, b] = [from[i]!, from[i + 1]!, from[i + 2]!];
    const fr = IN_CELL[r]!;
    const fg = IN_CELL[g]!;
    const fb = IN_CELL[b]!;
    const at = 3 * (CELL_OF[r]! + ROW * CELL_OF[g]! + SHEET * CELL_OF[b]!);
    for (let c = 0; c < 3; c++) {
      const p = at + c;
      const near = mixCure(cure, p, fr, fg);
      to[i + c] = from[i + c]! + key.spill * (near + fb * (mixCure(cure, p + 3 * SHEET, fr, fg) - near));
    }
    to[i + 3] = from[i + 3]!;
  }
}

function mixCure(cure: Float32Array, at: number, fr: number, fg: number): number {
  const upper = cure[at]! + fr * (cure[at + 3]! - cure[at]!);
  const lower = cure[at + 3 * ROW]! + fr * (cure[at + 3 * ROW + 3]! - cure[at + 3 * ROW]!);
  return upper + fg * (lower - upper);
}
