import { pyramidOf } from '../image/plane';
import { putPlane } from '../image/plane-memory';
import { createPlane, type Plane } from '../image/pixels';
import { beginCall, kernels, NOTHING, reserve } from '../kernels/kernels';
import { putEmptyField, putField, takeField, type FlowField } from './field';
import { emptyField, layFilled } from './flow-field';

export type FlowQuality = 'fast' | 'fine';

/** How long and how strictly a quality refines. */
interface FlowEffort {
  /** Cells across a flow at most, about. */
  readonly cells: number;
  /** Times the refinement is set up anew at the finest level, and relaxed each time. */
  readonly rounds: number;
  readonly relaxations: number;
}

const EFFORTS: Readonly<Record<FlowQuality, FlowEffort>> = {
  fast: { cells: 260, rounds: 3, relaxations: 4 },
  fine: { cells: 520, rounds: 5, relaxations: 5 },
};

/** Weights of smoothness, brightness and slopes in the refinement. */
const SMOOTH = 3;
const DELTA = 5;
const GAMMA = 10;
const LEAST_SIDE = 12;
const MOST_LEVELS = 8;
/** Numbers that the refinement works with: so many a pixel, and for some rows more. */
const SCRATCH = 26;
const SCRATCH_ROWS = 8;

/** Luma and its halvings, largest first. */
export type FlowPicture = readonly Plane[];

/** Prepares a luma plane (0..255); keeps it as the largest level. */
export const prepareFlow = (luma: Plane): FlowPicture => pyramidOf(luma, MOST_LEVELS, LEAST_SIDE);

/**
 * Where every pixel of `from` went in `to`, a cell for each pixel of the finest level: inverse-search patches from coarse to fine,
 * laid over each other, each level then refined as a whole (Kroeger et al. 2016). `start`, a flow found before, is tried too. The
 * greater `smooth`, the more neighbours hold together.
 */
export function denseFlow(
  from: FlowPicture,
  to: FlowPicture,
  quality: FlowQuality,
  start: FlowField | null = null,
  smooth = SMOOTH,
): FlowField {
  const { cells, rounds, relaxations } = EFFORTS[quality];
  const finest = Math.max(0, Math.min(from.length - 1, Math.ceil(Math.log2(from[0]!.width / cells))));
  let field: FlowField | null = null;
  for (let level = from.length - 1; level >= finest; level--) {
    const [a, b] = [from[level]!, to[level]!];
    const next = emptyField({ left: 0, top: 0, right: a.width, bottom: a.height }, 1 << level);
    const everywhere = createPlane(a.width, a.height);
    everywhere.data.fill(1);
    beginCall();
    const out = putEmptyField(next);
    const [planeA, planeB] = [putPlane(a), putPlane(b)];
    kernels.matchLevel(
      planeA,
      putPlane(everywhere),
      planeB,
      field === null ? (start === null ? NOTHING : putField(start)) : putField(field),
      field === null || start === null ? NOTHING : putField(start),
      Infinity,
      Infinity,
      out,
      reserve(a.width * a.height),
    );
    layFilled(out, next.u.length, NOTHING);
    kernels.smoothFlow(
      planeA,
      planeB,
      out,
      smooth,
      DELTA,
      GAMMA,
      rounds,
      relaxations,
      reserve(SCRATCH * a.width * a.height + SCRATCH_ROWS * (a.width + 4)),
    );
    takeField(out, next);
    field = next;
  }
  return field!;
}
