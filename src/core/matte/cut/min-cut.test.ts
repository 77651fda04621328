import { describe, expect, it } from 'vitest';
import { MinCut, NEIGHBOUR_X, NEIGHBOUR_Y } from './min-cut';

/** A small repeatable generator. */
function numbers(seed: number): () => number {
  let state = seed;
  return () => {
    state = (Math.imul(state, 1103515245) + 12345) & 0x7fffffff;
    return state / 0x7fffffff;
  };
}

interface Grid {
  readonly width: number;
  readonly height: number;
  readonly lean: readonly number[];
  readonly edges: readonly (readonly [number, number, number, number])[];
}

function randomGrid(width: number, height: number, seed: number): Grid {
  const next = numbers(seed);
  const lean = Array.from({ length: width * height }, () => Math.round(20 * (next() - 0.5)));
  const edges: [number, number, number, number][] = [];
  for (let i = 0; i < width * height; i++) {
    for (let k = 4; k < 8; k++) {
      const x = (i % width) + NEIGHBOUR_X[k]!;
      const y = Math.floor(i / width) + NEIGHBOUR_Y[k]!;
      if (x >= 0 && y >= 0 && x < width && y < height) edges.push([i, k, y * width + x, Math.round(6 * next())]);
    }
  }
  return { width, height, lean, edges };
}

const costOf = ({ lean, edges }: Grid, inside: (i: number) => boolean): number =>
  lean.reduce((sum, l, i) => sum + (inside(i) ? Math.max(0, -l) : Math.max(0, l)), 0) +
  edges.reduce((sum, [a, , b, w]) => sum + (inside(a) === inside(b) ? 0 : w), 0);

function solve(grid: Grid, cut = new MinCut(grid.width, grid.height)): (i: number) => boolean {
  grid.lean.forEach((l, i) => cut.setLean(i, l));
  for (const [a, k, , w] of grid.edges) cut.connect(a, k, w);
  cut.solve();
  return (i) => cut.isSource(i);
}

describe('MinCut', () => {
  it('cuts where it is cheapest', () => {
    // a chain: source-leaning, neutral, sink-leaning; the second link is the weaker one
    const cut = new MinCut(3, 1);
    cut.setLean(0, 10);
    cut.setLean(2, -10);
    cut.connect(0, 4, 5);
    cut.connect(1, 4, 2);
    cut.solve();
    expect([0, 1, 2].map((i) => cut.isSource(i))).toEqual([true, true, false]);
  });

  it('costs as little as the best of all 4096 ways to cut a small grid', () => {
    for (let seed = 1; seed <= 25; seed++) {
      const grid = randomGrid(4, 3, seed);
      const found = costOf(grid, solve(grid));
      let best = Infinity;
      for (let mask = 0; mask < 1 << 12; mask++)
        best = Math.min(
          best,
          costOf(grid, (i) => ((mask >> i) & 1) === 1),
        );
      expect(found).toBe(best);
    }
  });

  it('cannot be bettered by turning any pixel or block of a larger grid', () => {
    const grid = randomGrid(40, 30, 7);
    const inside = solve(grid);
    const cost = costOf(grid, inside);
    for (let i = 0; i < grid.lean.length; i += 7) {
      expect(costOf(grid, (j) => (j === i ? !inside(j) : inside(j)))).toBeGreaterThanOrEqual(cost);
      expect(
        costOf(grid, (j) =>
          Math.abs((j % 40) - (i % 40)) < 3 && Math.abs(Math.floor(j / 40) - Math.floor(i / 40)) < 3 ? true : inside(j),
        ),
      ).toBeGreaterThanOrEqual(cost);
    }
  });

  it('goes on from one cut to the next under other leans as if each were the first', () => {
    const first = randomGrid(30, 20, 3);
    const cut = new MinCut(first.width, first.height);
    solve(first, cut);
    for (let seed = 4; seed <= 12; seed++) {
      // some leans turn round, some only grow or shrink, most stay
      const other = randomGrid(30, 20, seed).lean;
      const lean = first.lean.map((l, i) => (i % 3 === 0 ? other[i]! : i % 7 === 0 ? 0.25 * l : l));
      lean.forEach((l, i) => cut.setLean(i, l));
      cut.solve();
      const fresh = solve({ ...first, lean });
      expect(lean.map((_, i) => cut.isSource(i))).toEqual(lean.map((_, i) => fresh(i)));
    }
  });
});
