import { describe, expect, it } from 'vitest';
import { emptyField, fieldOf, flowAt } from '../../flow/flow-field';
import { createImage, createPlane, type Image, type Plane } from '../../image/pixels';
import { coarseOf, likelyStart } from './likely-start';

const [W, H] = [320, 180];
type Colour = readonly [number, number, number];

/** A disc of one colour before a checked wall; a bar of another may stand in front. */
function picture(x: number, y: number, bar: number | null = null): { image: Image; matte: Plane } {
  const image = createImage(W, H);
  const matte = createPlane(W, H);
  for (let i = 0; i < W * H; i++) {
    const [px, py] = [i % W, Math.floor(i / W)];
    const isDisc = Math.hypot(px - x, py - y) < 28;
    const wall: Colour = (Math.floor(px / 30) + Math.floor(py / 30)) % 2 === 0 ? [150, 120, 60] : [90, 70, 40];
    const colour: Colour = bar !== null && Math.abs(px - bar) < 12 ? [230, 230, 230] : isDisc ? [40, 120, 190] : wall;
    image.data.set([...colour, 255], 4 * i);
    matte.data[i] = isDisc ? 1 : 0;
  }
  return { image, matte };
}

const startOf = (from: ReturnType<typeof picture>, to: ReturnType<typeof picture>, expected = null as Parameters<typeof likelyStart>[3]) =>
  likelyStart(coarseOf(from.image), from.matte, coarseOf(to.image), expected);

function motionAt(field: ReturnType<typeof likelyStart>): number[] {
  const at = new Float64Array(2);
  flowAt(field!, 100, 90, at);
  return [...at];
}

describe('likelyStart', () => {
  it('finds a plain subject that has jumped by more than its own size', () => {
    const [u, v] = motionAt(startOf(picture(80, 70), picture(150, 100)));
    expect(Math.abs(u! - 70)).toBeLessThan(6);
    expect(Math.abs(v! - 30)).toBeLessThan(6);
  });

  it('finds it behind something that hides a part', () => {
    const [u] = motionAt(startOf(picture(80, 70), picture(130, 70, 154)));
    expect(Math.abs(u! - 50)).toBeLessThan(6);
  });

  it('leaves the expected motion where that fits, or where nothing fits better', () => {
    const expected = fieldOf(Float64Array.of(0, 0, 40, 0, 0, 0), emptyField({ left: 0, top: 0, right: W, bottom: H }, 8));
    expect(startOf(picture(80, 70), picture(120, 70), expected)).toBe(expected);
    expect(startOf(picture(80, 70), picture(81, 70))).toBe(null);
    const leaving = fieldOf(Float64Array.of(0, 0, -90, 0, 0, 0), emptyField({ left: 0, top: 0, right: W, bottom: H }, 8));
    expect(startOf(picture(80, 70), picture(-20, 70), leaving)).toBe(leaving);
    const gone = { ...picture(-200, 0), matte: createPlane(W, H) };
    expect(startOf(picture(80, 70), gone, expected)).toBe(expected);
    expect(startOf(gone, picture(80, 70), expected)).toBe(expected);
  });
});
