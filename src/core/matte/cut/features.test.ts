import { describe, expect, it } from 'vitest';
import { createImage } from '../../image/pixels';
import { cropFeatures, featureDistance, featureMiss, featuresOf, gainToUsual, neighbourDifferences } from './features';

const [W, H] = [6, 5];
const image = createImage(W, H);
for (let i = 0; i < W * H; i++) image.data.set([(40 * i) % 251, (17 * i) % 239, (71 * i) % 241, 255], 4 * i);
const features = featuresOf(image);

describe('features', () => {
  it('are brightness and two colour differences, which grey has none of', () => {
    const grey = createImage(1, 1);
    grey.data.set([90, 90, 90, 255]);
    const [brightness, redGreen, blue] = featuresOf(grey);
    expect(brightness).toBeCloseTo(90, 4);
    expect(redGreen).toBeCloseTo(0, 4);
    expect(blue).toBeCloseTo(0, 4);
  });

  it('differ between neighbours as each pair does, and infinitely over the border', () => {
    const { squared } = neighbourDifferences(features, W, H);
    // to the right, down left, down, down right
    const steps = [1, W - 1, W, W + 1];
    const middle = 2 * W + 3;
    steps.forEach((step, n) => expect(squared[4 * middle + n]).toBeCloseTo(featureDistance(features, middle, middle + step), 2));
    expect([...squared.subarray(4 * (2 * W + W - 1), 4 * (2 * W + W - 1) + 4)].map(Number.isFinite)).toEqual([false, true, true, false]);
    expect([...squared.subarray(4 * (2 * W), 4 * (2 * W) + 4)].map(Number.isFinite)).toEqual([true, false, true, true]);
    expect([...squared.subarray(-4)].every((v) => v === Infinity)).toBe(true);
  });

  it('of a dark or flat picture tell how far its contrast is to be raised, within limits', () => {
    const stripes = (dark: number, bright: number): Float32Array =>
      featuresOf({
        width: 40,
        height: 2,
        data: Uint8ClampedArray.from({ length: 320 }, (_, k) => (Math.floor(k / 4) % 2 === 0 ? dark : bright)),
      });
    expect(gainToUsual(stripes(20, 220))).toBe(1);
    // half the difference is the standard deviation
    expect(gainToUsual(stripes(10, 58))).toBeCloseTo(2, 3);
    expect(gainToUsual(stripes(30, 31))).toBe(3);
    expect(featuresOf(image, 2)[7]).toBeCloseTo(2 * features[7]!, 4);
  });

  it('are cropped row by row', () => {
    const cut = cropFeatures(features, W, { left: 2, top: 1, right: 5, bottom: 3 });
    expect(cut).toHaveLength(3 * 3 * 2);
    expect([...cut.subarray(3 * 4, 3 * 5)]).toEqual([...features.subarray(3 * (2 * W + 3), 3 * (2 * W + 4))]);
  });

  it('are missed by nothing at their own pixel, and by half the way between two', () => {
    const i = 2 * W + 2;
    expect(featureMiss(features, W, H, 2.5, 2.5, features, i)).toBeCloseTo(0, 3);
    const step = featureDistance(features, i, i + 1);
    expect(featureMiss(features, W, H, 3, 2.5, features, i)).toBeCloseTo(step / 4, 1);
    // beyond the border the last pixel is meant
    expect(featureMiss(features, W, H, -9, 0.5, features, 0)).toBeCloseTo(0, 3);
  });
});
