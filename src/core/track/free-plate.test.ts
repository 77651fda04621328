import { describe, expect, it } from 'vitest';
import { photoLike } from '../../../bench/known-pictures';
import { createImage, type Image } from '../image/pixels';
import { cameraShift, exposureGain, learnPlate, noiseThreshold } from './free-plate';
import { turn } from './turned-frame';

const [W, H] = [96, 60];
const wide = photoLike(W + 12, H + 12, 21, 0.3);

/** The wide picture from (6 + dx, 6 + dy) on, `gain` times as bright; the first `covered` columns hold something else. */
function view(dx: number, dy: number, gain = 1, covered = 0): Image {
  const out = createImage(W, H);
  for (let y = 0, o = 0; y < H; y++) {
    for (let x = 0; x < W; x++, o += 4) {
      const i = 4 * ((y + 6 + dy) * wide.width + x + 6 + dx);
      for (let c = 0; c < 3; c++) out.data[o + c] = x < covered ? 255 * ((x + y) % 2) : gain * wide.data[i + c]!;
      out.data[o + 3] = 255;
    }
  }
  return out;
}

const edgeAt = (x: number): Float32Array => new Float32Array(H).fill(x);

describe('the plate behind what crosses', () => {
  it.each([
    [0, 0],
    [2, -1],
    [-3, 3],
  ])('finds that the camera went by %i, %i from what is free', (dx, dy) => {
    const shift = cameraShift(turn(view(dx, dy, 1, 40), 'left'), turn(view(0, 0), 'left'), edgeAt(40));
    expect(shift).toEqual({ dx, dy });
  });

  it('takes the camera to stand still where next to nothing is free', () => {
    expect(cameraShift(turn(view(2, 2), 'left'), turn(view(0, 0), 'left'), edgeAt(W - 4))).toEqual({ dx: 0, dy: 0 });
  });

  it('measures how much brighter the free part has become', () => {
    const gain = exposureGain(turn(view(1, 0, 0.85, 30), 'left'), turn(view(0, 0), 'left'), { dx: 1, dy: 0 }, edgeAt(30));
    expect(gain).toBeCloseTo(0.85, 1);
    expect(exposureGain(turn(view(0, 0), 'left'), turn(view(0, 0), 'left'), { dx: 0, dy: 0 }, edgeAt(W))).toBe(1);
  });

  it('learns what is free anew and keeps the rest, moved along', () => {
    const [frame, plate] = [turn(view(2, 0, 1, 40), 'left'), turn(view(0, 0, 0.5), 'left')];
    const next = learnPlate(frame, plate, { dx: 2, dy: 0 }, edgeAt(40));
    const at = (y: number, x: number): number => y * W + x;
    expect(next.data[at(30, 20)]).toBe(plate.data[at(30, 22)]);
    const [known, fresh] = [plate.data[at(30, 72)]!, frame.data[at(30, 70)]!];
    expect(next.data[at(30, 70)]).toBeCloseTo(known + 0.6 * (fresh - known), 3);
  });

  it('calls nothing another thing that differs less than noise does', () => {
    const plain = turn(view(0, 0), 'left');
    expect(noiseThreshold(plain, plain)).toBe(9);
    expect(noiseThreshold(plain, turn(view(0, 0, 0.8), 'left'))).toBeGreaterThan(20);
  });
});
