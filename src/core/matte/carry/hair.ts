import { carriedPlane } from '../../flow/carried-plane';
import type { FlowField } from '../../flow/field';
import { createPlane, type Image, type Plane } from '../../image/pixels';
import { boxBlur } from '../../image/plane';
import { featuresOf } from '../cut/features';
import { fineEdge } from '../edge/fine-edge';
import { bytesOf, planeOf, resized } from '../coverage/resize';
import type { StoredCoverage } from '../coverage/stored-coverage';
import { whole } from './subject-region';

/** Half width of the windows in which an edge is seen to be hair, and how partly covered they then are on average; a plain edge is less. */
const SEEN_IN = 6;
const HAIRY = 0.25;
/** Hair reaches so much further than where it is seen, in pixels. */
const MARGIN = 5;
/** Share of a window that is more than what is left over from summing up. */
const ANY = 1e-3;
/** Half width of the windows that are covered so far where there is something solid. */
const SOLID_IN = 3;
const SOLID = 0.85;

/**
 * The hair of a matte, where its coverage is partial over more than an edge's width. It moves too freely to be carried as
 * coverage: the region it is in moves along with the subject, and in that it is told from colour again on every frame.
 */
export class CarriedHair {
  /** The matte without its hair, to be followed. */
  readonly solid: Plane;
  private readonly region: Plane;

  private constructor(solid: Plane, region: Plane) {
    this.solid = solid;
    this.region = region;
  }

  /** The hair of `alpha`, 0..1; null where it has none. */
  static of(alpha: Plane): CarriedHair | null {
    const { width, height, data } = alpha;
    const region = createPlane(width, height);
    for (let i = 0; i < data.length; i++) region.data[i] = 4 * data[i]! * (1 - data[i]!);
    boxBlur(region, SEEN_IN, region);
    let isAny = false;
    for (let i = 0; i < data.length; i++) {
      region.data[i] = region.data[i]! > HAIRY ? 1 : 0;
      isAny ||= region.data[i] === 1;
    }
    if (!isAny) return null;
    boxBlur(region, MARGIN, region);
    const solid = createPlane(width, height);
    boxBlur(alpha, SOLID_IN, solid);
    for (let i = 0; i < data.length; i++) {
      region.data[i] = region.data[i]! > ANY ? 1 : 0;
      solid.data[i] = region.data[i] === 0 || solid.data[i]! > SOLID ? data[i]! : 0;
    }
    return new CarriedHair(solid, region);
  }

  /**
   * Lays the hair over `coverage` as `picture`, of its size, shows it. `back` is the motion from there to the given matte, in
   * pixels of a picture of `width`, which may be smaller.
   */
  lay(picture: Image, back: FlowField, width: number, coverage: StoredCoverage): void {
    const height = Math.round((this.region.height * width) / this.region.width);
    const moved = carriedPlane(resized(this.region, width, height), back, whole({ width, height }));
    const unknown = resized(moved, this.region.width, this.region.height);
    for (let i = 0; i < unknown.data.length; i++) unknown.data[i] = unknown.data[i]! > 0.5 ? 1 : 0;
    const alpha = planeOf(coverage);
    fineEdge(featuresOf(picture), unknown, alpha);
    coverage.data.set(bytesOf(alpha));
  }
}
