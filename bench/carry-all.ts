import type { Image, Plane } from '../src/core/image/pixels';
import { MatteCarrier, type CarriedMatte } from '../src/core/matte/carry/carry';

/** The mattes of all `frames` but the first, on which `alpha` was given, each as the frame after it has left it. */
export function carryAll(frames: readonly Image[], alpha: Plane): CarriedMatte[] {
  const carrier = new MatteCarrier(frames[0]!, alpha);
  const mattes: CarriedMatte[] = [];
  for (const frame of frames.slice(1)) {
    const carried = carrier.step(frame);
    const last = mattes.pop();
    if (last !== undefined) mattes.push({ ...last, coverage: carried.before ?? last.coverage });
    mattes.push(carried);
  }
  return mattes;
}
