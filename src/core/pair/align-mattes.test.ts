import { describe, expect, it } from 'vitest';
import { apply, chain, invert, rotation, scaling, translation, type Matrix } from '../geometry/matrix';
import { measureHole } from '../recipes/hole-shape';
import { laidByMattes } from './align-mattes';

const [WIDTH, HEIGHT] = [320, 180];

/** Coverage of an egg, long one way, laid in the frame by a map. */
function egg(map: Matrix, half: readonly [number, number]): Uint8Array {
  const back = invert(map);
  return Uint8Array.from({ length: WIDTH * HEIGHT }, (_, i) => {
    const p = apply(back, { x: (i % WIDTH) + 0.5 - WIDTH / 2, y: Math.floor(i / WIDTH) + 0.5 - HEIGHT / 2 });
    const across = half[1] * (1 + 0.15 * (p.x / half[0]));
    return (p.x / half[0]) ** 2 + (p.y / across) ** 2 < 1 ? 255 : 0;
  });
}
const measured = (coverage: Uint8Array) => measureHole(coverage, WIDTH, HEIGHT, 4 * WIDTH, 4 * HEIGHT)!;

describe('laying over by two mattes', () => {
  it('brings middle over middle at one size and turn', () => {
    const leaving = measured(egg(chain(scaling(1.4), rotation(20), translation(50, -20)), [30, 18]));
    const entering = measured(egg(translation(-40, 10), [30, 18]));
    const { x, y, scale, turn } = laidByMattes(leaving, entering);
    expect(scale).toBeCloseTo(1.4, 1);
    expect(turn).toBeCloseTo(20, -0.3);
    const middle = apply(chain(scaling(scale), rotation(turn), translation(x, y)), { x: entering.x, y: entering.y });
    expect(middle.x).toBeCloseTo(leaving.x, 6);
    expect(middle.y).toBeCloseTo(leaving.y, 6);
  });

  it('does not turn what is round', () => {
    const leaving = measured(egg(chain(scaling(0.5), rotation(40), translation(5, 5)), [30, 28]));
    const entering = measured(egg(translation(0, 0), [30, 28]));
    expect(laidByMattes(leaving, entering)).toMatchObject({ turn: 0 });
    expect(laidByMattes(leaving, entering).scale).toBeCloseTo(0.5, 1);
  });

  it('takes the smaller way round for an axis', () => {
    const leaving = measured(egg(rotation(85), [40, 15]));
    const entering = measured(egg(rotation(-80), [40, 15]));
    expect(Math.abs(laidByMattes(leaving, entering).turn)).toBeCloseTo(15, -0.3);
  });
});
