import { chain, compose, invert, isAffine, lengthScale, scaling, translation, type Matrix } from '../../geometry/matrix';
import { fillPolygon } from '../../geometry/polygon-raster';
import type { Combining } from '../../film/composition';
import { createImage } from '../../image/pixels';
import { Arena, beginCall, kernels, putBytes, reserve, takeBytes, wordAt } from '../../kernels/kernels';
import { flattenOutline, transformPoint } from '../../matte/outline/outline';
import { placeCoverage } from '../../matte/coverage/stored-coverage';
import type { PlannedMatte } from '../../plan/frame-plan';
import type { Sources } from '../compositor';
import type { PreparedCoverage } from '../prepared-coverage';
import { allSeen, drawThrough, wholeOf, type Region } from './open-shutter';

const WAYS: Readonly<Record<Combining, number>> = { intersect: 0, subtract: 1, add: 2 };

/** Joins `matte` to what `into` covers already. */
export function join(how: Combining, matte: Uint8Array, into: Uint8Array): void {
  beginCall();
  const covered = putBytes(into);
  kernels.joinCoverage(WAYS[how], putBytes(matte), into.length, covered);
  takeBytes(covered, into);
}

/** The least part of a plane outside of which nothing is covered; an empty one where nothing is. */
export function coveredPart(coverage: Uint8Array, width: number, height: number): Region {
  beginCall();
  const found = reserve(4);
  kernels.coveredPart(putBytes(coverage), width, height, found);
  return { left: wordAt(found, 0), top: wordAt(found, 1), right: wordAt(found, 2), bottom: wordAt(found, 3) };
}

function invertCoverage(matte: Uint8Array): void {
  beginCall();
  const covered = putBytes(matte);
  kernels.invertCoverage(covered, matte.length);
  takeBytes(covered, matte);
}

/** Draws mattes as coverage of a raster. */
export class MatteDrawing {
  private readonly prepared: PreparedCoverage;

  constructor(prepared: PreparedCoverage) {
    this.prepared = prepared;
  }

  /** Writes what `mattes` together leave of `width` × `height` pixels into `out`; `toOutput` takes film pixels from the centre there. */
  draw(mattes: readonly PlannedMatte[], toOutput: Matrix, width: number, height: number, sources: Sources, out: Uint8Array): void {
    const [first, ...others] = mattes;
    if (first === undefined) {
      out.fill(255);
      return;
    }
    this.drawOne(first, toOutput, width, height, sources, out);
    if (others.length === 0) return;
    const scratch = new Arena();
    try {
      const matte = scratch.bytes(width * height);
      for (const other of others) {
        this.drawOne(other, toOutput, width, height, sources, matte);
        join(other.combine, matte, out);
      }
    } finally {
      scratch.release();
    }
  }

  /** What stays of one matte, its side taken. */
  private drawOne(planned: PlannedMatte, toOutput: Matrix, width: number, height: number, sources: Sources, matte: Uint8Array): void {
    const placed = compose(planned.matrix, toOutput);
    if (isAffine(placed)) this.drawFlat(planned, scaled(placed, 1 / placed[8]), width, height, sources, matte);
    else this.drawTurned(planned, placed, width, height, sources, matte);
    if (planned.side === 'outside') invertCoverage(matte);
  }

  private drawFlat(planned: PlannedMatte, placed: Matrix, width: number, height: number, sources: Sources, matte: Uint8Array): void {
    const scale = lengthScale(placed);
    if (planned.kind === 'outline') {
      const polygon = flattenOutline(planned.points.map((p) => transformPoint(p, placed)));
      fillPolygon(polygon, { growPx: planned.growPx * scale, featherPx: planned.featherPx * scale }, width, height, matte);
      return;
    }
    const stored = this.prepared.of(planned, scale, sources);
    if (stored === null) matte.fill(0);
    else placeCoverage(stored, planned.kind === 'key' ? planned.picture : planned, placed, width, height, matte);
  }

  /** A matte that is turned in space: drawn flat with its edge, at the size of the output, and seen through its map. */
  private drawTurned(planned: PlannedMatte, placed: Matrix, width: number, height: number, sources: Sources, matte: Uint8Array): void {
    const toFlat = chain(scaling(0.5), translation(width / 2, height / 2));
    const alpha = new Uint8Array(width * height);
    this.drawFlat(planned, toFlat, width, height, sources, alpha);
    const white = createImage(width, height);
    white.data.fill(255);
    const seen = createImage(width, height);
    const whole = wholeOf(white);
    drawThrough(white, alpha, whole, 'none', [compose(invert(toFlat), placed)], whole, allSeen(white), seen);
    for (let i = 0; i < matte.length; i++) matte[i] = seen.data[4 * i + 3]!;
  }
}

const scaled = (m: Matrix, by: number): Matrix => m.map((v) => v * by) as unknown as Matrix;
