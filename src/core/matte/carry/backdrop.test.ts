import { describe, expect, it } from 'vitest';
import { emptyField } from '../../flow/flow-field';
import type { FlowField } from '../../flow/field';
import { createPlane, type Plane } from '../../image/pixels';
import { Backdrop } from './backdrop';

const [W, H] = [48, 32];
const all = { left: 0, top: 0, right: W, bottom: H };

/** A picture moved to the right by `shift`, as features: no two places alike. */
function scene(shift: number): Float32Array {
  const features = new Float32Array(3 * W * H);
  for (let i = 0; i < W * H; i++) {
    const x = (i % W) - shift;
    const y = Math.floor(i / W);
    features[3 * i] = 120 + 60 * Math.sin(0.31 * x + 0.2 * y);
    features[3 * i + 1] = 40 * Math.cos(0.23 * x - 0.4 * y);
  }
  return features;
}

/** The subject: the columns from `left` on, `across` of them. */
function bar(left: number, across = 8): Plane {
  const plane = createPlane(W, H);
  for (let i = 0; i < plane.data.length; i++) if (i % W >= left && i % W < left + across) plane.data[i] = 1;
  return plane;
}

/** The same scene with the subject, of another colour, in front. */
function withSubject(features: Float32Array, subject: Plane): Float32Array {
  return features.map((v, k) => (subject.data[Math.floor(k / 3)]! === 1 ? 255 : v));
}

function moving(u: number): FlowField {
  const field = emptyField({ left: 0, top: 0, right: W / 4, bottom: H / 4 }, 4);
  field.u.fill(u);
  return field;
}

const at = (x: number, y: number): number => y * W + x;

describe('the background behind a subject', () => {
  it('is what was in view on the last frame, and unknown where it never was', () => {
    const subject = bar(20);
    const said = new Backdrop().ask(withSubject(scene(0), subject), subject, scene(1), moving(1), all);
    expect(said.seen.data[at(10, 16)]).toBe(1);
    expect(said.miss.data[at(10, 16)]).toBeLessThan(1);
    expect(said.seen.data[at(25, 16)]).toBe(0);
    // what has come in over the border was not in view either
    expect(new Backdrop().ask(scene(0), createPlane(W, H), scene(6), moving(6), all).seen.data[at(2, 16)]).toBe(0);
  });

  it('is remembered while the subject covers it, moves along, and counts less the longer it has not been seen', () => {
    const backdrop = new Backdrop();
    // the subject goes to the right over it, by 3 pixels a frame, and the background by 1
    let known = 1;
    for (let frame = 0; frame < 6; frame++) {
      const subject = bar(10 + 3 * frame);
      const said = backdrop.ask(withSubject(scene(frame), subject), subject, scene(frame + 1), moving(1), all);
      const under = at(22 + frame, 16); // covered from the third frame on
      if (frame < 2) expect(said.seen.data[under]).toBe(1);
      else {
        expect(said.seen.data[under]).toBeLessThan(known);
        expect(said.seen.data[under]).toBeGreaterThan(0.85);
        expect(said.miss.data[under]).toBeLessThan(30);
        expect(said.colours[3 * under]).toBeCloseTo(scene(frame + 1)[3 * under]!, -1);
      }
      known = said.seen.data[under]!;
    }
  });

  it('is what is in view as soon as it is', () => {
    const backdrop = new Backdrop();
    backdrop.ask(scene(0), bar(20), scene(0), moving(0), all);
    const changed = scene(0).map((v) => v + 50);
    expect(backdrop.ask(changed, createPlane(W, H), changed, moving(0), all).miss.data[at(22, 16)]).toBe(0);
  });

  it('is forgotten with the subject', () => {
    const backdrop = new Backdrop();
    backdrop.ask(scene(0), createPlane(W, H), scene(0), moving(0), all);
    backdrop.forget();
    expect(backdrop.ask(scene(0), bar(20), scene(0), moving(0), all).seen.data[at(24, 16)]).toBe(0);
  });
});
