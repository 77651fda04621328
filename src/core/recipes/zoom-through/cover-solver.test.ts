import { describe, expect, it } from 'vitest';
import { EASE_NAMES, EASE_SHAPES } from '../../motion/eases';
import { solveZoom, zoomMap, type SolverSettings, type Zoom } from './cover-solver';
import { measureHole, type HoleShape } from '../hole-shape';
import { apply } from '../../geometry/matrix';
import { casesOf } from '../test-joins';

function random(seed: number): () => number {
  let state = (seed * 2654435761) >>> 0 || 1;
  return () => {
    state ^= state << 13;
    state ^= state >>> 17;
    state ^= state << 5;
    return (state >>> 0) / 2 ** 32;
  };
}

const SETTINGS: SolverSettings = {
  room: 0.06,
  entering: 'grows',
  ease: EASE_SHAPES['soft both'],
  start: 0,
  startRate: 0,
  startPivot: null,
  mirrored: false,
  blurred: false,
};

/** A hole that drifts, grows and turns: inside where `radius` at an angle is not passed. Concave where `lobes` wave. */
interface Blob {
  readonly width: number;
  readonly height: number;
  inside(frame: number, x: number, y: number): boolean;
}

function randomBlob(seed: number, frames: number): Blob {
  const next = random(seed);
  const [width, height] = [
    [64, 36],
    [48, 48],
    [36, 64],
    [80, 34],
    [52, 39],
  ][Math.floor(5 * next())] as [number, number];
  const small = Math.min(width, height);
  const radius = small * (0.12 + 0.2 * next());
  const growth = 0.7 + 1.1 * next();
  const [x, y] = [(next() - 0.5) * (width - 2 * radius), (next() - 0.5) * (height - 2 * radius)];
  const [dx, dy] = [(next() - 0.5) * 0.35 * width, (next() - 0.5) * 0.35 * height];
  const [lobes, depth, turn] = [2 + Math.floor(4 * next()), 0.45 * next(), 3 * (next() - 0.5)];
  const square = next() < 0.3;
  return {
    width,
    height,
    inside(frame, px, py) {
      const t = frame / Math.max(1, frames - 1);
      const limit = (v: number, whole: number): number => Math.max(-whole / 2 + radius, Math.min(whole / 2 - radius, v));
      const [ox, oy] = [px - limit(x + dx * t * t, width), py - limit(y + dy * t, height)];
      const r = radius * (1 + (growth - 1) * t);
      const angle = Math.atan2(oy, ox) + turn * t;
      if (square) return Math.max(Math.abs(Math.cos(angle)), Math.abs(Math.sin(angle))) * Math.sqrt(ox * ox + oy * oy) < r;
      return Math.sqrt(ox * ox + oy * oy) < r * (1 - depth * (0.5 + 0.5 * Math.cos(lobes * angle)));
    },
  };
}

function maskOf(blob: Blob, frame: number): Uint8Array {
  const { width, height } = blob;
  const mask = new Uint8Array(width * height);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i++) mask[i] = blob.inside(frame, x + 0.5 - width / 2, y + 0.5 - height / 2) ? 255 : 0;
  return mask;
}

const masksOf = (blob: Blob, frames: number): Uint8Array[] => Array.from({ length: frames }, (_, f) => maskOf(blob, f));

const measured = (blob: Blob, frames: number, masks = masksOf(blob, frames)): (HoleShape | null)[] =>
  masks.map((mask) => measureHole(mask, blob.width, blob.height, blob.width, blob.height));

/** A round hole that grows and drifts, exactly. */
function roundHole(frames: number, radius: number, growth: number, drift: number): HoleShape[] {
  return Array.from({ length: frames }, (_, f) => {
    const t = f / (frames - 1);
    const r = radius * (1 + (growth - 1) * t);
    const [x, y] = [-80 + drift * t, 30 * t];
    const inner = { x, y, scale: (2 * r) / Math.hypot(640, 360) };
    return { left: x - r, right: x + r, top: y - r, bottom: y + r, area: Math.PI * r * r, x, y, long: { turn: 0, ratio: 1 }, inner };
  });
}

/** Pixels of a frame that neither shot covers, and those that still show the leaving one. */
function drawn(blob: Blob, mask: Uint8Array, leaving: Zoom, entering: Zoom): { bare: number; left: number } {
  const { width, height } = blob;
  let [bare, left] = [0, 0];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [px, py] = [x + 0.5 - width / 2, y + 0.5 - height / 2];
      const column = Math.floor(leaving.x + (px - leaving.x) / leaving.scale + width / 2 + 1e-9);
      const row = Math.floor(leaving.y + (py - leaving.y) / leaving.scale + height / 2 + 1e-9);
      const within = column >= 0 && row >= 0 && column < width && row < height;
      if (within && mask[row * width + column] === 0) {
        left++;
        continue;
      }
      const [ex, ey] = [entering.x + (px - entering.x) / entering.scale, entering.y + (py - entering.y) / entering.scale];
      if (Math.abs(ex) > width / 2 + 1e-9 || Math.abs(ey) > height / 2 + 1e-9) bare++;
    }
  return { bare, left };
}

describe('the move through a hole', () => {
  it('covers every pixel of every frame of thousands of holes, and ends with nothing of the leaving shot and the entering one as itself', () => {
    let flown = 0;
    const faults: string[] = [];
    for (let seed = 1; seed <= casesOf(5000); seed++) {
      const next = random(seed + 77);
      const frames = 4 + Math.floor(5 * next());
      const blob = randomBlob(seed, frames);
      const masks = masksOf(blob, frames);
      const holes = measured(blob, frames, masks);
      const entering = (['grows', 'grows', 'waits', 'pushes on'] as const)[Math.floor(4 * next())]!;
      const ease = EASE_SHAPES[EASE_NAMES[Math.floor(6 * next())]!];
      const solved = solveZoom(blob.width, blob.height, holes, { ...SETTINGS, entering, ease, start: next() < 0.3 ? 2 : 0 });
      if (solved.end !== frames - 1) continue;
      flown++;
      const say = (right: boolean, what: string): void => void (right || faults.push(`hole ${seed}: ${what}`));
      // first, last and two frames between are drawn; the rest is told by the numbers
      for (const f of new Set([0, Math.floor(frames / 3), Math.floor((2 * frames) / 3), frames - 1])) {
        const { bare, left } = drawn(blob, masks[f]!, solved.leaving[f]!, solved.entering[f]!);
        say(bare === 0, `${bare} pixels of frame ${f} bare`);
        say(f < frames - 1 || left === 0, `${left} pixels of the leaving shot at the end`);
      }
      say(Math.abs(solved.leaving[0]!.scale - 1) < 1e-9, 'moves at once');
      say(Math.abs(solved.entering.at(-1)!.scale - 1) < 1e-9, 'does not end as itself');
      solved.leaving.forEach((z, i) => {
        say(i === 0 || z.scale >= solved.leaving[i - 1]!.scale - 1e-9, 'the leaving shot shrinks');
        say(i === 0 || solved.entering[i]!.scale >= solved.entering[i - 1]!.scale - 1e-9, 'the entering shot shrinks');
        say(Math.abs(z.x) <= blob.width / 2 && Math.abs(z.y) <= blob.height / 2, 'a border comes in');
      });
      const hole = holes[0]!;
      const least = Math.max((hole.right - hole.left) / blob.width, (hole.bottom - hole.top) / blob.height);
      say(entering !== 'grows' || solved.entering[0]!.scale <= Math.min(1, 1.3 * least) + 1e-9, 'does not fit at first');
    }
    expect(faults).toEqual([]);
    expect(flown).toBeGreaterThan(casesOf(4500));
  }, 60_000);

  it.each([
    [40, 1, 0],
    [40, 2, 150],
    [60, 1.2, -200],
    [30, 3, 60],
  ])('of radius %d that grows %d times and drifts %d px goes without a jump of speed', (radius, growth, drift) => {
    const frames = 36;
    const { leaving, entering, endScale } = solveZoom(640, 360, roundHole(frames, radius, growth, drift), SETTINGS);
    const [zoom, grown] = [leaving, entering].map((zooms) => zooms.map((z) => Math.log(z.scale)));
    const bend = (log: readonly number[]): number => Math.max(...log.slice(2).map((v, i) => Math.abs(v - 2 * log[i + 1]! + log[i]!)));
    // a smooth step bends by 6/n² of its way at most; what grows does so within the first half and may bend four times as much
    const smooth = 6 / (frames - 1) ** 2;
    expect(bend(zoom!)).toBeLessThan(1.01 * smooth * Math.log(endScale));
    expect(bend(grown!)).toBeLessThan(4 * smooth * -grown![0]! * 1.1 + 0.001);
    // where it lands, a moment before it stands still
    const arrival = grown!.findIndex((v) => v > -1e-6);
    expect(grown![arrival]! - grown![arrival - 1]!).toBeLessThan(0.01);
  });

  it('goes on at the speed it is handed over with', () => {
    const blob = randomBlob(3, 25);
    const { leaving } = solveZoom(blob.width, blob.height, measured(blob, 25), { ...SETTINGS, startRate: 0.04 });
    expect(Math.log(leaving[1]!.scale)).toBeGreaterThan(0.03);
    expect(Math.log(leaving[1]!.scale)).toBeLessThan(0.06);
  });

  it('waits until the move starts', () => {
    const blob = randomBlob(5, 20);
    const { leaving } = solveZoom(blob.width, blob.height, measured(blob, 20), { ...SETTINGS, start: 8 });
    expect(leaving.slice(0, 9).map((z) => z.scale)).toEqual(new Array(9).fill(1));
  });
});

describe('what cannot be done is said', () => {
  const hole = (frame: number): HoleShape | null => {
    const blob = randomBlob(9, 12);
    return measureHole(maskOf(blob, frame), blob.width, blob.height, 640, 360);
  };
  const solve = (holes: readonly (HoleShape | null)[]) => solveZoom(640, 360, holes, SETTINGS);

  it('without a hole nothing moves', () => {
    const solved = solve([null, null]);
    expect(solved.faults).toEqual([{ kind: 'no hole' }]);
    expect(solved.leaving).toEqual([
      { scale: 1, x: 0, y: 0 },
      { scale: 1, x: 0, y: 0 },
    ]);
  });

  it('a hole that is lost for some frames, or ends before the move', () => {
    const holes = Array.from({ length: 12 }, (_, f) => (f === 4 || f === 5 || f > 9 ? null : hole(f)));
    expect(solve(holes).faults).toEqual([
      { kind: 'lost', from: 4, to: 5 },
      { kind: 'ends early', at: 9 },
    ]);
  });

  it('a hole so small that the shot would be enlarged too much', () => {
    const tiny = new Uint8Array(320 * 180);
    for (let y = 90; y < 95; y++) tiny.fill(255, y * 320 + 160, y * 320 + 168);
    const shape = measureHole(tiny, 320, 180, 640, 360)!;
    const [fault] = solve([shape, shape, shape]).faults;
    expect(fault).toMatchObject({ kind: 'too small' });
  });
});

describe('measureHole', () => {
  it('finds box, area, middle and the largest frame inside, in film pixels', () => {
    const mask = new Uint8Array(64 * 36);
    for (let y = 8; y < 26; y++) mask.fill(255, y * 64 + 10, y * 64 + 42);
    const shape = measureHole(mask, 64, 36, 640, 360)!;
    expect(shape).toMatchObject({ left: -220, top: -100, right: 100, bottom: 80, area: 57600, x: -60, y: -10 });
    expect(shape.inner.scale).toBeCloseTo(0.5, 2);
    expect(shape.inner).toMatchObject({ x: -60, y: -10 });
    expect(measureHole(new Uint8Array(64 * 36), 64, 36, 640, 360)).toBeNull();
    // nowhere quite full, it is open where it is fullest
    expect(
      measureHole(
        mask.map((v) => (v * 230) / 255),
        64,
        36,
        640,
        360,
      )!.inner.scale,
    ).toBeCloseTo(0.5, 2);
  });
});

it('is a map about the place that stays', () => {
  const map = zoomMap({ scale: 3, x: 10, y: -5 });
  expect(apply(map, { x: 10, y: -5 })).toEqual({ x: 10, y: -5 });
  expect(apply(map, { x: 12, y: -5 })).toEqual({ x: 16, y: -5 });
});
