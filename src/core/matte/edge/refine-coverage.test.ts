import { describe, expect, it } from 'vitest';
import { createImage, createPlane, type Image } from '../../image/pixels';
import { edgeError } from '../../../../bench/measures';
import { refineCoverage } from './refine-coverage';
import { bytesOf, resized } from '../coverage/resize';

const [W, H] = [240, 160];

/** A bright star with thin rays before a darker, uneven ground; the coverage is exact to a sixteenth of a pixel. */
function star(): { picture: Image; truth: Uint8Array } {
  const picture = createImage(W, H);
  const truth = new Uint8Array(W * H);
  for (let i = 0; i < truth.length; i++) {
    let cover = 0;
    for (let s = 0; s < 16; s++) {
      const x = (i % W) + (s % 4) / 4 + 0.125 - W / 2;
      const y = Math.floor(i / W) + Math.floor(s / 4) / 4 + 0.125 - H / 2;
      if (Math.hypot(x, y) < 40 + 22 * Math.cos(9 * Math.atan2(y, x))) cover++;
    }
    truth[i] = Math.round((255 * cover) / 16);
    const ground = 60 + 12 * Math.sin(i / 7);
    const colour = [220, 190, 120].map((v, c) => (cover * v + (16 - cover) * (ground + 6 * c)) / 16);
    picture.data.set([...colour, 255], 4 * i);
  }
  return { picture, truth };
}

const half = (truth: Uint8Array): { width: number; height: number; data: Uint8Array } => {
  const full = createPlane(W, H);
  truth.forEach((v, i) => (full.data[i] = v / 255));
  return { width: W / 2, height: H / 2, data: bytesOf(resized(full, W / 2, H / 2)) };
};

describe('refineCoverage', () => {
  it('brings back the edge that the smaller size has lost', () => {
    const { picture, truth } = star();
    const stored = half(truth);
    const flat = createImage(W, H);
    flat.data.fill(128);
    const plain = edgeError(refineCoverage(stored, flat).data, truth, W, H, 3);
    expect(edgeError(refineCoverage(stored, picture).data, truth, W, H, 3)).toBeLessThan(0.5 * plain);
  });

  it('leaves a picture without detail to bilinear enlargement', () => {
    const flat = createImage(4, 4);
    flat.data.fill(90);
    const { data } = refineCoverage({ width: 2, height: 2, data: Uint8Array.of(0, 200, 0, 200) }, flat);
    expect([...data.subarray(0, 4)]).toEqual([0, 50, 150, 200]);
    expect([...data.subarray(12, 16)]).toEqual([0, 50, 150, 200]);
  });

  it('hands coverage back as it is where the picture is no larger', () => {
    const stored = { width: 4, height: 4, data: new Uint8Array(16) };
    expect(refineCoverage(stored, createImage(4, 4))).toBe(stored);
  });
});
