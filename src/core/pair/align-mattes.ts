import type { OwnFraming } from '../film/film';
import type { HoleShape } from '../recipes/hole-shape';

/** How much longer than wide both have to be for their turn to be told by that. */
const ELONGATED = 1.25;
/** Turns beyond this, degrees, are taken for another thing's. */
const MOST_TURN = 60;

/**
 * The framing that lays what a matte of the entering shot covers over what one of the leaving shot covers: middle over middle, alike in
 * area and, where both are long one way, in turn. `entering` is measured with its shot filling the frame. Film pixels.
 */
export function laidByMattes(leaving: HoleShape, entering: HoleShape): OwnFraming {
  const scale = Math.sqrt(leaving.area / entering.area);
  const isLong = Math.min(leaving.long.ratio, entering.long.ratio) > ELONGATED;
  // an axis has no direction: the smaller turn is meant
  const between = leaving.long.turn - entering.long.turn;
  const least = between - 180 * Math.round(between / 180);
  const turn = isLong && Math.abs(least) <= MOST_TURN ? least : 0;
  const [c, s] = [scale * Math.cos((turn * Math.PI) / 180), scale * Math.sin((turn * Math.PI) / 180)];
  const [x, y] = [c * entering.x - s * entering.y, s * entering.x + c * entering.y];
  return { x: leaving.x - x, y: leaving.y - y, scale, turn };
}
