import { describe, expect, it } from 'vitest';
import { photoLike } from '../../../bench/known-pictures';
import { createImage, type Image } from '../image/pixels';
import { PairFinder, type FoundPairs } from './find-pairs';
import { SIGNS_WIDTH } from './frame-signs';
import { bestPairs, MATCH_PARTS, scoresOf } from './match-map';
import { placed, type Placement } from './placement';

const HEIGHT = 180;

/** What of `from` a camera sees whose own pixels lie over it as `by` says; bilinear. */
function seen(from: Image, by: Placement): Image {
  const out = createImage(SIGNS_WIDTH, HEIGHT);
  for (let y = 0, o = 0; y < HEIGHT; y++)
    for (let x = 0; x < SIGNS_WIDTH; x++, o += 4) {
      const at = placed(by, { x: x + 0.5 - SIGNS_WIDTH / 2, y: y + 0.5 - HEIGHT / 2 });
      const px = Math.max(0, Math.min(from.width - 1.001, at.x + from.width / 2 - 0.5));
      const py = Math.max(0, Math.min(from.height - 1.001, at.y + from.height / 2 - 0.5));
      const [left, top] = [Math.floor(px), Math.floor(py)];
      const [fx, fy] = [px - left, py - top];
      const i = 4 * (top * from.width + left);
      const row = 4 * from.width;
      for (let k = 0; k < 3; k++) {
        const upper = from.data[i + k]! * (1 - fx) + from.data[i + k + 4]! * fx;
        const lower = from.data[i + k + row]! * (1 - fx) + from.data[i + k + row + 4]! * fx;
        out.data[o + k] = upper * (1 - fy) + lower * fy;
      }
      out.data[o + 3] = 255;
    }
  return out;
}

const FRAMES = 24;
/** A pan that speeds up, so that only one offset in time fits. */
const panAt = (i: number): Placement => ({ scale: 1, turn: 0, dx: -90 + 2 * i + 0.14 * i * i, dy: 6 * Math.sin(i / 5), flip: false });

function compare(truth: Placement, offset: number, scene = photoLike(760, 420, 5, 0.4), other = scene): FoundPairs {
  const finder = new PairFinder();
  const shot = (i: number): Image => seen(scene, panAt(i));
  for (let i = 0; i < FRAMES; i++) finder.add('a', shot(i));
  // frame j of b shows what frame j + offset of a shows, laid over it as `truth` says
  for (let j = 0; j < FRAMES; j++) {
    const pan = panAt(j + offset);
    finder.add('b', seen(other, { ...truth, dx: truth.dx + pan.dx, dy: truth.dy + pan.dy }));
  }
  let step = finder.step();
  while (typeof step === 'number') step = finder.step();
  return step;
}

describe('comparing two shots', () => {
  it.each([
    ['enlarged and turned', { scale: 0.85, turn: 0.06, dx: 14, dy: -9, flip: false }, 5],
    ['mirrored', { scale: 1.1, turn: -0.05, dx: -8, dy: 6, flip: true }, -4],
  ] as const)('finds where one lies over the other: %s', (_, truth, offset) => {
    const { best } = compare(truth, offset);
    const [first] = best;
    expect(first!.row - first!.column).toBe(offset);
    const { scale, turn, dx, dy, flip } = first!.placement;
    expect(flip).toBe(truth.flip);
    expect(Math.abs(scale / truth.scale - 1)).toBeLessThan(0.01);
    expect(Math.abs(turn - truth.turn) * 57.3).toBeLessThan(0.5);
    expect(Math.hypot(dx - truth.dx, dy - truth.dy)).toBeLessThan(1);
  });

  it('gives scores that other weights change at once, and pairs that keep apart', () => {
    const { map } = compare({ scale: 1, turn: 0, dx: 0, dy: 0, flip: false }, 0);
    for (const part of MATCH_PARTS) expect(map.parts[part]).toHaveLength(FRAMES * FRAMES);
    const none = { look: 0, shape: 0, motion: 0, direction: 0, interest: 0 };
    expect(Math.max(...scoresOf(map, none))).toBe(0);
    const look = scoresOf(map, { ...none, look: 2 });
    for (let i = 0; i < look.length; i += 97) expect(look[i]).toBeCloseTo(map.parts.look[i]! / 255, 5);
    const pairs = bestPairs(map, look, 5);
    for (const [i, p] of pairs.entries())
      for (const q of pairs.slice(i + 1))
        expect(Math.max(Math.abs(p.row - q.row), Math.abs(p.column - q.column))).toBeGreaterThanOrEqual(8);
  });

  it('proposes no cut between shots that agree in nothing but how they move', () => {
    const { map, best } = compare(
      { scale: 1, turn: 0, dx: 0, dy: 0, flip: false },
      0,
      photoLike(760, 420, 5, 0.4),
      photoLike(760, 420, 77, 0.9),
    );
    expect(Math.max(...map.parts.motion) / 255).toBeGreaterThan(0.8);
    expect(best).toEqual([]);
  });

  it('says so when there is nothing to compare', () => {
    expect(() => new PairFinder().step()).toThrow('nothing to compare');
  });
});
