import { describe, expect, it } from 'vitest';
import { createPlane } from '../../image/pixels';
import { SideColours } from '../cut/side-colours';
import { addSwungOut, subjectColoured, undecided } from './swung-out';

const [W, H] = [60, 20];
const at = (x: number, y: number): number => y * W + x;

/** Red pixels from `from` to before `to` on rows 5 to 9; the rest is green. */
function features(...spans: readonly (readonly [number, number])[]): Float32Array<ArrayBuffer> {
  const out = new Float32Array(3 * W * H);
  for (let i = 0; i < W * H; i++) {
    const [x, y] = [i % W, Math.floor(i / W)];
    const isRed = y >= 5 && y < 10 && spans.some(([from, to]) => x >= from && x < to);
    out.set(isRed ? [90 + (i % 3), 60, 20] : [110 + (i % 3), -50, 10], 3 * i);
  }
  return out;
}

/** The edge is expected at x = 10, the subject left of it. */
const signed = Float32Array.from({ length: W * H }, (_, i) => 10 - (i % W));

const colours = ((): SideColours => {
  const all = features([0, 20]);
  const places = [...Array(W * H).keys()];
  const isRed = (i: number): boolean => all[3 * i + 1]! > 0;
  return SideColours.learn(
    all,
    places.filter(isRed),
    places.filter((i) => !isRed(i)),
  )!;
})();

/** What is known of a frame: no motion of the subject fits anywhere, and the background's only where it `agrees`. */
function evidence(agrees: (x: number, y: number) => boolean = () => false) {
  const plane = (value: (x: number, y: number) => number) => {
    const out = createPlane(W, H);
    for (let i = 0; i < out.data.length; i++) out.data[i] = value(i % W, Math.floor(i / W));
    return out;
  };
  return {
    seen: { width: W, noise: 4, entering: new Uint8Array(W * H), subjectMiss: plane(() => 5000) },
    background: { miss: plane((x, y) => (agrees(x, y) ? 10 : 900)), seen: plane(() => 1) },
  };
}

const bandOfEdge = (): Uint8Array => Uint8Array.from({ length: W * H }, (_, i) => (Math.abs(signed[i]!) < 5 ? 1 : 0));

describe('what has swung out of the band', () => {
  it('has the colours of the subject and lies well outside the edge', () => {
    const found = subjectColoured(colours, features([0, 30]), signed);
    expect(found[at(20, 7)]).toBe(1);
    expect(found[at(11, 7)]).toBe(0); // close to the edge that is the band's affair
    expect(found[at(5, 7)]).toBe(0); // inside
    expect(found[at(35, 7)]).toBe(0); // another colour
    expect(found[at(20, 12)]).toBe(0);
  });

  it('is added where it hangs together with the band, and no motion speaks there any more', () => {
    const { seen, background } = evidence();
    const band = bandOfEdge();
    addSwungOut(seen, background, subjectColoured(colours, features([0, 30]), signed), band);
    for (const x of [16, 22, 29]) {
      expect(band[at(x, 7)]).toBe(1);
      expect(seen.entering[at(x, 7)]).toBe(1);
      expect(seen.subjectMiss.data[at(x, 7)]).toBe(undecided(4));
    }
    expect(band[at(30, 7)]).toBe(0);
    expect(band[at(22, 12)]).toBe(0);
    expect(seen.entering[at(11, 7)]).toBe(0);
    expect(seen.subjectMiss.data[at(40, 7)]).toBe(5000);
  });

  it('is not added where it stands alone: that is another thing of the same colour', () => {
    const { seen, background } = evidence();
    const band = bandOfEdge();
    addSwungOut(seen, background, subjectColoured(colours, features([0, 12], [30, 45]), signed), band);
    expect(band[at(35, 7)]).toBe(0);
  });

  it('is not added where the background showed the same', () => {
    const { seen, background } = evidence((x) => x >= 20);
    const band = bandOfEdge();
    addSwungOut(seen, background, subjectColoured(colours, features([0, 40]), signed), band);
    expect(band[at(18, 7)]).toBe(1);
    expect(band[at(24, 7)]).toBe(0);
  });

  it('stays within the region, at its border too', () => {
    const { seen, background } = evidence();
    const band = bandOfEdge();
    addSwungOut(seen, background, new Uint8Array(W * H).fill(1), band);
    expect(band.every((v) => v === 1)).toBe(true);
  });
});
