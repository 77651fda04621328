import type { BlendMode } from '../../film/composition';
import type { Image } from '../../image/pixels';

/** What a colour over another makes, both 0..255 and without alpha (W3C Compositing and Blending, level 1). */
const MODES: Readonly<Record<Exclude<BlendMode, 'normal'>, (under: number, over: number) => number>> = {
  add: (under, over) => Math.min(255, under + over),
  multiply: (under, over) => (under * over) / 255,
  screen: (under, over) => under + over - (under * over) / 255,
  lighten: Math.max,
  darken: Math.min,
};

/** A table of every pair of colours, made once a mode. */
const tables = new Map<BlendMode, Uint8Array>();

function tableOf(mode: Exclude<BlendMode, 'normal'>): Uint8Array {
  const known = tables.get(mode);
  if (known !== undefined) return known;
  const made = Uint8Array.from({ length: 65536 }, (_, i) => Math.round(MODES[mode](i >> 8, i & 255)));
  tables.set(mode, made);
  return made;
}

/**
 * Lays `surface` over `out`, both premultiplied and of one size, as far as `coverage` (a byte a pixel) and `opacity`, 0..255, say. By the
 * standard, a mode works where there is something under it; elsewhere the surface shows as it is.
 */
export function layOver(surface: Image, coverage: Uint8Array | null, opacity: number, mode: BlendMode, out: Image): void {
  const from = surface.data;
  const to = out.data;
  const table = mode === 'normal' ? null : tableOf(mode);
  for (let i = 0, p = 0; i < from.length; i += 4, p++) {
    const cover = (coverage === null ? 255 : coverage[p]!) * opacity;
    const own = from[i + 3]!;
    if (own === 0 || cover === 0) continue;
    const share = cover / 65025;
    const over = (own * share) / 255;
    const under = to[i + 3]!;
    for (let c = i; c < i + 3; c++) {
      let colour = from[c]! * share;
      if (table !== null && under > 0) {
        const [below, above] = [Math.min(255, Math.round((255 * to[c]!) / under)), Math.min(255, Math.round((255 * from[c]!) / own))];
        colour += over * (under / 255) * (table[(below << 8) | above]! - (from[c]! * 255) / own);
      }
      to[c] = colour + (1 - over) * to[c]!;
    }
    to[i + 3] = 255 * over + (1 - over) * under;
  }
}

/** Lays `out` over one colour. */
export function overColour(out: Image, [r, g, b]: readonly [number, number, number]): void {
  const { data } = out;
  for (let i = 0; i < data.length; i += 4) {
    const rest = 255 - data[i + 3]!;
    if (rest === 0) continue;
    data[i] = data[i]! + (r * rest) / 255;
    data[i + 1] = data[i + 1]! + (g * rest) / 255;
    data[i + 2] = data[i + 2]! + (b * rest) / 255;
    data[i + 3] = 255;
  }
}

/** The picture between two of one size, `share` 0..1 of the second. */
export function between(first: Image, second: Image, share: number, out: Image): void {
  const weight = Math.round(256 * share);
  const rest = 256 - weight;
  const [from, other, to] = [first.data, second.data, out.data];
  for (let i = 0; i < to.length; i++) to[i] = (from[i]! * rest + other[i]! * weight + 128) >> 8;
}
