import type { Image } from '../image/pixels';
import { refineCoverage } from '../matte/edge/refine-coverage';
import { styleCoverage, type StoredCoverage } from '../matte/coverage/stored-coverage';
import { isUntidied, tidyCoverage, type Tidying } from '../matte/coverage/tidy';
import { keyCoverage } from '../matte/key/key';
import type { PlannedCoverage, PlannedKey } from '../plan/frame-plan';
import type { Sources } from './compositor';

/** Drawn this much larger than it is stored, coverage takes its edge's detail from the picture. */
const WORTH_REFINING = 1.1;

/** What was made last of some coverage, and how. */
interface Made {
  readonly how: string;
  readonly stored: StoredCoverage;
}

/**
 * Stored and keyed coverage as it is drawn: with the picture's own detail along its edge, tidied, grown and softened. What was made last of each that is
 * still held is kept, since the stage draws the same ones over and over.
 */
export class PreparedCoverage {
  private readonly refined = new WeakMap<Uint8Array, StoredCoverage>();
  private readonly finished = new WeakMap<Uint8Array, Made>();

  /** The coverage of a matte that shows at `scale` pixels a medium pixel; null where there is none. */
  of(planned: PlannedCoverage | PlannedKey, scale: number, sources: Sources): StoredCoverage | null {
    const stored = planned.kind === 'key' ? keyed(planned, sources.pictures(planned.picture)) : this.withDetail(planned, scale, sources);
    if (stored === null) return null;
    const { width } = planned.kind === 'key' ? planned.picture : planned;
    return this.styled(stored, planned, stored.width / width);
  }

  /** The matte's coverage; with the picture's own detail along the edge where it is drawn larger than stored. */
  private withDetail(planned: PlannedCoverage, scale: number, { pictures, coverages }: Sources): StoredCoverage | null {
    const stored = coverages(planned);
    if (stored === null || scale * planned.width < WORTH_REFINING * stored.width) return stored;
    const picture = pictures(planned.picture);
    if (picture === null) return stored;
    const known = this.refined.get(stored.data);
    if (known?.width === picture.width && known.height === picture.height) return known;
    const made = refineCoverage(stored, picture);
    this.refined.set(stored.data, made);
    return made;
  }

  private styled(stored: StoredCoverage, { tidying, growPx, featherPx }: PlannedCoverage | PlannedKey, scale: number): StoredCoverage {
    const how = JSON.stringify([tidying, growPx, featherPx]);
    const known = this.finished.get(stored.data);
    if (known?.how === how) return known.stored;
    const made = styleCoverage(tidied(stored, tidying, scale), { growPx: growPx * scale, featherPx: featherPx * scale });
    if (made !== stored) this.finished.set(stored.data, { how, stored: made });
    return made;
  }
}

function keyed({ key }: PlannedKey, picture: Image | null): StoredCoverage | null {
  if (picture === null) return null;
  const data = new Uint8Array(picture.width * picture.height);
  keyCoverage(picture, key, data);
  return { width: picture.width, height: picture.height, data };
}

function tidied(stored: StoredCoverage, tidying: Tidying, scale: number): StoredCoverage {
  if (isUntidied(tidying)) return stored;
  const { smoothPx, holesPx, specksPx } = tidying;
  return tidyCoverage(stored, { smoothPx: smoothPx * scale, holesPx: holesPx * scale, specksPx: specksPx * scale });
}
