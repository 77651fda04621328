import { beginCall, kernels, putBytes, putInts, reserve, takeBytes, takeInts } from '../../kernels/kernels';

/** Steps to the eight neighbours; direction k and 7 − k are opposite. */
export const NEIGHBOUR_X = [-1, 0, 1, -1, 1, -1, 0, 1] as const;
export const NEIGHBOUR_Y = [-1, -1, -1, 0, 0, 1, 1, 1] as const;

/** Costs are kept as whole multiples of this share of 1, so that flows add up exactly. */
const GRAIN = 1 / 4096;

/**
 * Minimum cut of a grid of pixels, each joined to up to eight neighbours, by growing two search trees that are kept between
 * augmentations (Boykov & Kolmogorov 2004). When leans change, the next cut goes on from the flow of the one before
 * (Kohli & Torr 2007); the result is the same as without it. Costs and leans may be up to 1e5.
 */
export class MinCut {
  private readonly width: number;
  private readonly height: number;
  /** What may still flow from a pixel in each direction, eight numbers a pixel, with zeros for a row and a pixel around. */
  private readonly residual: Int32Array;
  private readonly margin: number;
  /** What was asked of each pixel. */
  private readonly leans: Int32Array;
  /** Positive: what may still come from the source; negative: what may still go to the sink. */
  private readonly terminal: Int32Array;
  /** 1 at the pixels that ended on the source's side. */
  private readonly source: Uint8Array;

  constructor(width: number, height: number) {
    const n = width * height;
    this.width = width;
    this.height = height;
    this.margin = 8 * (width + 1);
    this.residual = new Int32Array(8 * n + 2 * this.margin);
    this.leans = new Int32Array(n);
    this.terminal = new Int32Array(n);
    this.source = new Uint8Array(n);
  }

  /** What it costs to have the pixel on the sink's side or, where negative, on the source's; may be changed after a cut. */
  setLean(pixel: number, lean: number): void {
    const grains = Math.round(lean / GRAIN);
    this.terminal[pixel]! += grains - this.leans[pixel]!;
    this.leans[pixel] = grains;
  }

  /** Joins a pixel and its neighbour in direction `k`, which must be within the grid; cutting them apart costs `weight` either way. */
  connect(pixel: number, k: number, weight: number): void {
    const other = pixel + NEIGHBOUR_Y[k]! * this.width + NEIGHBOUR_X[k]!;
    const grains = Math.round(weight / GRAIN);
    this.residual[this.margin + 8 * pixel + k] = grains;
    this.residual[this.margin + 8 * other + 7 - k] = grains;
  }

  /** Computes the cut. Afterwards `isSource` tells the side of each pixel. */
  solve(): void {
    const { width, height, residual, terminal, source } = this;
    beginCall();
    const [flows, ends, sides] = [putInts(residual), putInts(terminal), putBytes(source)];
    kernels.solveCut(width, height, flows + 4 * this.margin, ends, sides, reserve(6 * source.length + 8 * width + 16));
    takeInts(flows, residual);
    takeInts(ends, terminal);
    takeBytes(sides, source);
  }

  /** True when the pixel ended on the source's side. */
  isSource(pixel: number): boolean {
    return this.source[pixel] === 1;
  }
}
