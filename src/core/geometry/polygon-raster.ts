/** How a shape's edge is drawn, in pixels of the raster. */
export interface EdgeStyle {
  /** Moves the edge outwards; negative moves it inwards. */
  readonly growPx: number;
  /** Width of the ramp from nothing to full, half on each side of the edge. */
  readonly featherPx: number;
}

const FAR = 1e12;

/**
 * Turns closed polygons into 8-bit coverage. A hard edge gets the exact area of each pixel inside the polygon;
 * a grown or feathered one gets a linear ramp of the true distance to it. The polygon may reach anywhere beyond
 * the raster. Loops that overlap in the same direction count once; a polygon that crosses itself fills both lobes.
 * Keeps its scratch memory between calls, so that one instance serves a whole run of frames.
 */
export class CoverageRaster {
  readonly width: number;
  readonly height: number;
  /** Signed cover each pixel adds to itself and everything to its right; one spare column. */
  private readonly deltas: Float64Array;
  /** Rows that `deltas` says anything about, first and one past the last. */
  private firstRow = 0;
  private endRow = 0;
  private readonly winding: Int16Array;
  private distances: Float32Array | null = null;

  /** @throws RangeError unless both sides are positive whole numbers. */
  constructor(width: number, height: number) {
    if (!(Number.isInteger(width) && Number.isInteger(height) && width > 0 && height > 0))
      throw new RangeError('CoverageRaster: sides must be positive whole numbers');
    this.width = width;
    this.height = height;
    this.deltas = new Float64Array((width + 1) * height);
    this.winding = new Int16Array((width + 1) * height);
  }

  /**
   * Writes the coverage of `polygon` ([x0, y0, x1, y1, …], raster pixels, closed by itself) into `out`, 0..255.
   * @throws RangeError when `out` has another size or a coordinate is not finite.
   */
  fill(polygon: Float64Array, edge: EdgeStyle, out: Uint8Array): void {
    if (out.length !== this.width * this.height) throw new RangeError('CoverageRaster.fill: out has another size');
    if (!polygon.every(Number.isFinite)) throw new RangeError('CoverageRaster.fill: a coordinate is not finite');
    if (polygon.length < 6) {
      out.fill(0);
      return;
    }
    if (edge.growPx === 0 && edge.featherPx <= 1) this.fillExact(polygon, out);
    else this.fillRamp(polygon, edge, out);
  }

  /** Area of `polygon` inside the raster, in pixels, without the rounding to 8 bits. */
  area(polygon: Float64Array): number {
    this.accumulate(polygon);
    const { width, firstRow, endRow, deltas } = this;
    let total = 0;
    for (let y = firstRow, i = firstRow * (width + 1); y < endRow; y++, i++) {
      for (let x = 0, sum = 0; x < width; x++, i++) {
        sum += deltas[i]!;
        total += Math.min(1, Math.abs(sum));
      }
    }
    return total;
  }

  private fillExact(polygon: Float64Array, out: Uint8Array): void {
    this.accumulate(polygon);
    const { width, firstRow, endRow, deltas } = this;
    out.fill(0, 0, firstRow * width);
    out.fill(0, endRow * width);
    for (let y = firstRow, i = firstRow * (width + 1), o = firstRow * width; y < endRow; y++, i++) {
      let value = 0;
      for (let x = 0, sum = 0; x < width; x++, i++, o++) {
        const delta = deltas[i]!;
        if (delta !== 0) {
          sum += delta;
          const cover = sum < 0 ? -sum : sum;
          value = cover >= 1 ? 255 : (255 * cover + 0.5) | 0;
        }
        out[o] = value;
      }
    }
  }

  private accumulate(polygon: Float64Array): void {
    const n = polygon.length;
    let top = Infinity;
    let bottom = -Infinity;
    for (let i = 1; i < n; i += 2) {
      top = Math.min(top, polygon[i]!);
      bottom = Math.max(bottom, polygon[i]!);
    }
    this.firstRow = Math.max(0, Math.min(this.height, Math.floor(top)));
    this.endRow = Math.max(this.firstRow, Math.min(this.height, Math.ceil(bottom)));
    this.deltas.fill(0, this.firstRow * (this.width + 1), this.endRow * (this.width + 1));
    for (let i = 0; i < n; i += 2) {
      const j = i + 2 < n ? i + 2 : 0;
      this.addSide(polygon[i]!, polygon[i + 1]!, polygon[j]!, polygon[j + 1]!);
    }
  }

  /** Cuts a side into rows, then each row's piece into the columns it passes. */
  private addSide(x0: number, y0: number, x1: number, y1: number): void {
    if (y0 === y1) return;
    const down = y1 > y0;
    const topX = down ? x0 : x1;
    const topY = down ? y0 : y1;
    const bottomY = down ? y1 : y0;
    const slope = (x1 - x0) / (y1 - y0);
    const start = Math.max(topY, 0);
    const end = Math.min(bottomY, this.height);
    const sign = down ? 1 : -1;
    for (let y = start; y < end;) {
      const row = Math.floor(y);
      const next = Math.min(row + 1, end);
      this.addPiece(row, topX + slope * (y - topY), topX + slope * (next - topY), sign * (next - y));
      y = next;
    }
  }

  /** A straight piece within one row, from x = `a` to x = `b`, worth `cover` of the row's height. */
  private addPiece(row: number, a: number, b: number, cover: number): void {
    const { width, deltas } = this;
    const base = row * (width + 1);
    let left = a < b ? a : b;
    const right = a < b ? b : a;
    if (left >= width) return;
    if (right <= 0) {
      deltas[base]! += cover;
      return;
    }
    const perX = right > left ? cover / (right - left) : 0;
    if (perX === 0) {
      const column = Math.floor(left);
      deltas[base + column]! += cover * (column + 1 - left);
      deltas[base + column + 1]! += cover * (left - column);
      return;
    }
    if (left < 0) {
      deltas[base]! += perX * -left;
      left = 0;
    }
    const end = right < width ? right : width;
    while (left < end) {
      const column = Math.floor(left);
      const stop = column + 1 < end ? column + 1 : end;
      const share = perX * (stop - left);
      const mean = (left + stop) / 2 - column;
      deltas[base + column]! += share * (1 - mean);
      deltas[base + column + 1]! += share * mean;
      left = stop;
    }
  }

  private fillRamp(polygon: Float64Array, { growPx, featherPx }: EdgeStyle, out: Uint8Array): void {
    const width = Math.max(featherPx, 1);
    const reach = width / 2 + Math.abs(growPx) + 1;
    const distances = (this.distances ??= new Float32Array(this.width * this.height));
    distances.fill(FAR);
    this.winding.fill(0);
    const n = polygon.length;
    for (let i = 0; i < n; i += 2) {
      const j = i + 2 < n ? i + 2 : 0;
      this.nearSide(polygon[i]!, polygon[i + 1]!, polygon[j]!, polygon[j + 1]!, reach, distances);
      this.windSide(polygon[i]!, polygon[i + 1]!, polygon[j]!, polygon[j + 1]!);
    }
    for (let y = 0, o = 0; y < this.height; y++) {
      const base = y * (this.width + 1);
      for (let x = 0, wind = 0; x < this.width; x++, o++) {
        wind += this.winding[base + x]!;
        const squared = distances[o]!;
        if (squared === FAR) {
          // further away than the ramp and what it is moved by
          out[o] = wind === 0 ? 0 : 255;
          continue;
        }
        const distance = Math.sqrt(squared);
        const cover = 0.5 + ((wind === 0 ? -distance : distance) + growPx) / width;
        out[o] = cover <= 0 ? 0 : cover >= 1 ? 255 : 255 * cover + 0.5;
      }
    }
  }

  /** Lowers `distances` (squared) to the side's, for pixel centres within `reach` of it. */
  private nearSide(x0: number, y0: number, x1: number, y1: number, reach: number, distances: Float32Array): void {
    const { width, height } = this;
    const dx = x1 - x0;
    const dy = y1 - y0;
    const squaredLength = dx * dx + dy * dy;
    const inverse = squaredLength > 0 ? 1 / squaredLength : 0;
    const firstRow = Math.max(0, Math.ceil(Math.min(y0, y1) - reach - 0.5));
    const lastRow = Math.min(height - 1, Math.floor(Math.max(y0, y1) + reach - 0.5));
    for (let row = firstRow; row <= lastRow; row++) {
      const py = row + 0.5 - y0;
      // the part of the side whose y lies within reach of this row bounds the columns to visit
      const u = dy === 0 ? 0 : (py - reach) / dy;
      const v = dy === 0 ? 1 : (py + reach) / dy;
      const near = Math.max(0, Math.min(1, Math.min(u, v)));
      const far = Math.max(0, Math.min(1, Math.max(u, v)));
      const xa = x0 + dx * near;
      const xb = x0 + dx * far;
      const first = Math.max(0, Math.ceil(Math.min(xa, xb) - reach - 0.5));
      const last = Math.min(width - 1, Math.floor(Math.max(xa, xb) + reach - 0.5));
      for (let x = first, i = row * width + first; x <= last; x++, i++) {
        const px = x + 0.5 - x0;
        let t = (px * dx + py * dy) * inverse;
        t = t < 0 ? 0 : t > 1 ? 1 : t;
        const ex = px - t * dx;
        const ey = py - t * dy;
        const squared = ex * ex + ey * ey;
        if (squared < distances[i]!) distances[i] = squared;
      }
    }
  }

  /** Adds the side's crossings of the rows of pixel centres to the winding numbers. */
  private windSide(x0: number, y0: number, x1: number, y1: number): void {
    if (y0 === y1) return;
    const { width, height } = this;
    const sign = y1 > y0 ? 1 : -1;
    const first = Math.max(0, Math.ceil(Math.min(y0, y1) - 0.5));
    const last = Math.min(height - 1, Math.ceil(Math.max(y0, y1) - 0.5) - 1);
    const slope = (x1 - x0) / (y1 - y0);
    for (let row = first; row <= last; row++) {
      const x = x0 + slope * (row + 0.5 - y0);
      const column = Math.max(0, Math.min(width, Math.ceil(x - 0.5)));
      this.winding[row * (width + 1) + column]! += sign;
    }
  }
}
