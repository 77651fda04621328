import { describe, expect, it } from 'vitest';
import { photoLike } from '../../../../bench/known-pictures';
import { emptyField } from '../../flow/flow-field';
import type { FlowField } from '../../flow/field';
import { prepareMatch } from '../../flow/match-layer';
import { signedEdgeDistance } from '../../image/distance';
import { createImage, createPlane, type Image, type Plane } from '../../image/pixels';
import { lumaOf } from '../../image/plane';
import type { Frame } from './anchor';
import { featuresOf } from '../cut/features';
import { coarseOf } from './likely-start';
import { LocalColours } from '../cut/local-colour';
import { NewSides, type SeenSubject } from './new-sides';
import { whole } from './subject-region';

const [W, H] = [120, 80];
/** How far the subject goes from one frame to the next; the background stands still. */
const STEP = 5;
const background = photoLike(W, H, 11, 0.2);
const subject = photoLike(W, H, 60, 0.7);
const passing = photoLike(W, H, 90, 0.5);

type Box = readonly [left: number, right: number];
const BODY: Box = [40, 80];
/** Where the body was on the frame before, and what of it is so no longer. */
const BEFORE: Box = [30, 75];
const BEHIND: Box = [30, 40];
const isIn = ([left, right]: Box, x: number, y: number): boolean => x >= left && x < right && y >= 20 && y < 60;

const box = (at: Box): Plane => {
  const out = createPlane(W, H);
  for (let i = 0; i < out.data.length; i++) out.data[i] = isIn(at, i % W, Math.floor(i / W)) ? 1 : 0;
  return out;
};

/** The picture after the subject has gone `moved` pixels; what lies `behind` it goes its own way, or is the background. */
function picture(moved: number, behind: { readonly from: Image; readonly moved: number } | null): Image {
  const out = createImage(W, H);
  const put = (o: number, { data }: Image, x: number, y: number): void =>
    out.data.set(data.subarray(4 * (y * W + x), 4 * (y * W + x) + 4), o);
  for (let y = 0, o = 0; y < H; y++) {
    for (let x = 0; x < W; x++, o += 4) {
      if (isIn(BODY, x - moved, y)) put(o, subject, x - moved, y);
      else if (behind !== null && isIn(BEHIND, x - behind.moved, y)) put(o, behind.from, x - behind.moved, y);
      else put(o, background, x, y);
    }
  }
  return out;
}

const frameOf = (image: Image): Frame => ({ features: featuresOf(image), match: prepareMatch(lumaOf(image)), coarse: coarseOf(image) });

function motion(u: number): FlowField {
  const field = emptyField({ left: 0, top: 0, right: W / 2, bottom: H / 2 }, 2);
  field.u.fill(u);
  field.trust.fill(1);
  return field;
}

/** The subject on `frame`, of which `layer` is all and `visible` can be seen. */
function seen(frame: Frame, visible: Plane, layer = visible): SeenSubject {
  const colours = LocalColours.learn(frame.features, signedEdgeDistance(visible), W, H);
  return { frame, visible, layer, colours, home: whole(visible) };
}

const NOTHING = new Uint8Array(W * H);

/** Sides that have noted the body cut out, of which the anchor shows `anchor`; where `amiss` is 1 something has come over the background. */
function noted(visible: Plane, before: Plane, anchor: Plane, amiss = NOTHING): NewSides {
  const sides = new NewSides(W, H);
  const evidence = { region: whole(visible), width: W, fromAnchor: anchor, toLast: motion(0), late: createPlane(W, H), noise: 0 };
  sides.note(evidence, Uint8Array.from(visible.data), visible, before, motion(0), amiss);
  return sides;
}

const covered = ({ data }: Plane, at: Box): number => {
  const inside = [...data.keys()].filter((i) => isIn(at, i % W, Math.floor(i / W)));
  return inside.filter((i) => data[i]! >= 0.5).length / inside.length;
};

describe('NewSides', () => {
  const visible = box(BODY);

  it('takes in what goes on with the subject where nothing had been seen', () => {
    const side = { from: photoLike(W, H, 30, 0.5), moved: 0 };
    const sides = noted(visible, box(BEFORE), visible);
    const frame = frameOf(picture(0, side));
    const next = frameOf(picture(STEP, { ...side, moved: STEP }));
    const found = sides.look(seen(frame, visible), next, motion(STEP), motion(0))!;
    expect(covered(found, BEHIND)).toBeGreaterThan(0.9);
    expect(covered(found, BODY)).toBe(1);
    expect(covered(found, [0, 28])).toBe(0);
    // and knows from then on that the anchor does not show it
    const late = sides.lateIn(whole(visible), motion(0));
    expect(covered(late, BEHIND)).toBeGreaterThan(0.9);
    expect(covered(late, BODY)).toBe(0);
  });

  it('lets what is too thin to tell wait, until more of it has come into view', () => {
    const side = { from: photoLike(W, H, 30, 0.5), moved: 0 };
    const frames = [0, 1, 2].map((k) => frameOf(picture(k * STEP, { ...side, moved: k * STEP })));
    const moved = box([45, 85]);
    const evidence = { region: whole(moved), width: W, fromAnchor: moved, toLast: motion(-STEP), late: createPlane(W, H), noise: 0 };
    // two columns of the side come into view on the first frame, four more on the second
    const sides = noted(visible, box([38, 75]), visible);
    const others = noted(visible, visible, visible);
    expect(sides.look(seen(frames[0]!, visible), frames[1]!, motion(STEP), motion(0))).toBeNull();
    const [first, second] = [sides, others].map((s) => {
      s.note(evidence, Uint8Array.from(moved.data), moved, box([39, 43]), motion(0), NOTHING);
      return s.look(seen(frames[1]!, moved), frames[2]!, motion(STEP), motion(0));
    });
    expect(covered(first!, [41, 45])).toBeGreaterThan(0.3);
    expect(second).toBeNull();
  });

  it('leaves the background that has come into view', () => {
    const sides = noted(visible, box(BEFORE), visible);
    const frame = frameOf(picture(0, null));
    expect(sides.look(seen(frame, visible), frameOf(picture(STEP, null)), motion(STEP), motion(0))).toBeNull();
  });

  it('takes in what comes out from behind the subject on a way of its own, also where the background had been seen', () => {
    const frame = frameOf(picture(0, { from: passing, moved: 0 }));
    const next = frameOf(picture(STEP, { from: passing, moved: -3 }));
    const uncovered = noted(visible, box(BEFORE), visible);
    const found = uncovered.look(seen(frame, visible), next, motion(STEP), motion(0))!;
    expect(covered(found, BEHIND)).toBeGreaterThan(0.6);
    expect(covered(found, [0, 28])).toBe(0);
    // the subject stands where it stood
    const covering = noted(visible, visible, visible, Uint8Array.from(box(BEHIND).data));
    const standing = frameOf(picture(0, { from: passing, moved: -STEP }));
    expect(covered(covering.look(seen(frame, visible), standing, motion(0), motion(0))!, BEHIND)).toBeGreaterThan(0.6);
    const unnoticed = noted(visible, visible, visible);
    expect(unnoticed.look(seen(frame, visible), standing, motion(0), motion(0))).toBeNull();
  });

  it('leaves what moves beside the subject and was never behind it', () => {
    const sides = noted(visible, visible, visible, Uint8Array.from(box(BEHIND).data));
    const frame = frameOf(picture(0, { from: passing, moved: 0 }));
    const next = frameOf(picture(0, { from: passing, moved: 3 }));
    expect(sides.look(seen(frame, visible), next, motion(0), motion(0))).toBeNull();
  });

  it('says nothing while something is in front, before anything was noted and after it was cleared', () => {
    const side = { from: subject, moved: 0 };
    const frame = frameOf(picture(0, side));
    const next = frameOf(picture(STEP, { ...side, moved: STEP }));
    const layer = box([40, 90]);
    expect(noted(visible, box(BEFORE), visible).look(seen(frame, visible, layer), next, motion(STEP), motion(0))).toBeNull();
    const sides = new NewSides(W, H);
    expect(sides.look(seen(frame, visible), next, motion(STEP), motion(0))).toBeNull();
    const cleared = noted(visible, box(BEFORE), visible);
    cleared.clear();
    expect(cleared.look(seen(frame, visible), next, motion(STEP), motion(0))).toBeNull();
  });

  it('remembers what of the cut the anchor does not show once that has gone on with the subject', () => {
    const sides = noted(visible, visible, box([50, 80]));
    const frame = frameOf(picture(0, null));
    expect(covered(sides.lateIn(whole(visible), motion(0)), BODY)).toBe(0);
    expect(sides.look(seen(frame, visible), frameOf(picture(STEP, null)), motion(STEP), motion(0))).toBeNull();
    const late = sides.lateIn(whole(visible), motion(0));
    expect(covered(late, [42, 50])).toBeGreaterThan(0.7);
    expect(covered(late, [52, 80])).toBe(0);
    // moved along with the subject
    expect(covered(sides.lateIn(whole(visible), motion(-STEP)), [47, 55])).toBeGreaterThan(0.7);
  });
});
