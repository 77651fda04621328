import { describe, expect, it } from 'vitest';
import { IN_PLACE } from './placement';
import { momentsOf, proposalsFor } from './moments';
import type { FrameMotion } from './frame-signs';

const moving = (u: number, v = 0, strength = Math.hypot(u, v)): FrameMotion => ({ placement: IN_PLACE, u, v, strength });
const run = (...parts: readonly (readonly [number, number])[]): FrameMotion[] =>
  parts.flatMap(([count, u]) => Array.from({ length: count }, () => moving(u)));

describe('moments', () => {
  it('finds where motion stops suddenly, is strongest and stands still', () => {
    const found = momentsOf(run([12, 5], [14, 0]));
    expect(found.find((m) => m.kind === 'impact')!.at).toBe(12);
    expect(found.find((m) => m.kind === 'most motion')!.at).toBeLessThan(12);
    expect(found.find((m) => m.kind === 'stillness')!.at).toBeGreaterThan(12);
  });

  it('finds where it turns back', () => {
    const turns = momentsOf(run([14, 4], [14, -4])).filter((m) => m.kind === 'change of direction');
    expect(turns.map((m) => Math.abs(m.at - 14) <= 1)).toEqual([true]);
  });

  it('tells another scene from motion', () => {
    const motions = run([20, 1]);
    motions[9] = moving(3, 2, 40);
    expect(momentsOf(motions).filter((m) => m.kind === 'change of scene')).toEqual([{ at: 9, kind: 'change of scene' }]);
  });

  it('has little to say of a shot that stands still, and nothing of one that is too short', () => {
    expect(momentsOf(run([20, 0])).map((m) => m.kind)).toEqual(['stillness']);
    expect(momentsOf(run([3, 2]))).toEqual([]);
  });
});

describe('proposals for a cut', () => {
  const kinds = (a: FrameMotion[], b: FrameMotion[], at: number): string[] => proposalsFor(a, b, at, 6).map((p) => p.kind);

  it('mirrors what moves the other way', () => {
    expect(kinds(run([20, 4]), run([20, -4]), 10)).toEqual(['mirror']);
  });

  it('sets the speed at which both move alike', () => {
    const [proposal] = proposalsFor(run([20, 6]), run([20, 4]), 10, 6);
    expect(proposal).toMatchObject({ kind: 'speed', speed: 1.5 });
  });

  it('trims where momentum is lost', () => {
    const [proposal] = proposalsFor(run([10, 6], [8, 0.5]), run([20, 0.5]), 15, 6);
    expect(proposal).toMatchObject({ kind: 'trim' });
  });

  it('leaves alone what goes together', () => {
    expect(kinds(run([20, 4]), run([20, 4.2]), 10)).toEqual([]);
  });
});
