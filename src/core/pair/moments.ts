import type { FrameMotion } from './frame-signs';

/** Something that stands out in how a shot moves. */
export interface Moment {
  /** Index of its frame among those that were looked at. */
  readonly at: number;
  readonly kind: 'impact' | 'most motion' | 'stillness' | 'change of direction' | 'change of scene';
}

/** Frames over which motion is steadied before it is judged. */
const STEADY = 2;
/** Motion under which a shot stands still, signs' pixels a frame. */
const STILL = 0.25;
/** A sudden change is at least this share of the shot's strongest motion. */
const SUDDEN = 0.35;
/** Frames that moments of one kind keep apart. */
const APART = 8;
/** How many times as strong as the frames around it a motion is that no camera makes. */
const SCENE = 6;
const SCENE_PX = 12;

const mean = (values: readonly number[]): number => values.reduce((a, b) => a + b, 0) / Math.max(1, values.length);

/** The moments of a shot from how each of its frames moves; the first stands still by definition. */
export function momentsOf(motions: readonly FrameMotion[]): Moment[] {
  const n = motions.length;
  if (n < 4) return [];
  const scenes = new Set(changesOfScene(motions));
  const raw = motions.map((m, i) => (scenes.has(i) ? 0 : m.strength));
  const strength = raw.map((_, i) => mean(raw.slice(Math.max(1, i - STEADY), i + STEADY + 1)));
  const most = Math.max(...strength);
  const found: Moment[] = [...scenes].map((at): Moment => ({ at, kind: 'change of scene' }));
  if (most < STILL) return [...found, { at: Math.floor(n / 2), kind: 'stillness' }];
  found.push({ at: strength.indexOf(most), kind: 'most motion' });
  // a sudden stop or burst: what moves just before and just after differs much
  const jumps = raw.map((_, i) => (i < 3 || i + 3 > n ? 0 : Math.abs(mean(raw.slice(i, i + 2)) - mean(raw.slice(i - 2, i)))));
  found.push(...peaksOf(jumps, SUDDEN * most).map((at): Moment => ({ at, kind: 'impact' })));
  const quietest = strength.indexOf(Math.min(...strength.slice(1)), 1);
  if (strength[quietest]! < Math.max(STILL, 0.15 * most)) found.push({ at: quietest, kind: 'stillness' });
  found.push(...turnsOf(motions, scenes, most).map((at): Moment => ({ at, kind: 'change of direction' })));
  return found.sort((a, b) => a.at - b.at);
}

function changesOfScene(motions: readonly FrameMotion[]): number[] {
  return motions.flatMap(({ strength }, i) => {
    const around = motions.filter((_, k) => k > 0 && k !== i && Math.abs(k - i) <= 3).map((m) => m.strength);
    return i > 0 && strength > SCENE_PX && strength > SCENE * (mean(around) + 0.5) ? [i] : [];
  });
}

function peaksOf(values: readonly number[], least: number): number[] {
  const order = [...values.keys()].filter((i) => values[i]! >= least).sort((a, b) => values[b]! - values[a]!);
  const kept: number[] = [];
  for (const i of order) if (kept.every((k) => Math.abs(k - i) >= APART)) kept.push(i);
  return kept.slice(0, 4);
}

/** Frames on which the mean motion turns back. */
function turnsOf(motions: readonly FrameMotion[], scenes: ReadonlySet<number>, most: number): number[] {
  const flat = (from: number, to: number): { u: number; v: number } => {
    const part = motions.slice(Math.max(1, from), to).filter((_, k) => !scenes.has(Math.max(1, from) + k));
    return { u: mean(part.map((m) => m.u)), v: mean(part.map((m) => m.v)) };
  };
  const turned = motions.map((_, i) => {
    if (i < 4 || i + 4 > motions.length) return 0;
    const [a, b] = [flat(i - 4, i), flat(i, i + 4)];
    const [la, lb] = [Math.hypot(a.u, a.v), Math.hypot(b.u, b.v)];
    if (Math.min(la, lb) < Math.max(STILL, 0.1 * most)) return 0;
    return Math.max(0, -(a.u * b.u + a.v * b.v) / (la * lb)) * Math.min(la, lb);
  });
  return peaksOf(turned, Math.max(STILL, 0.1 * most));
}

/** Mean motion over the frames around one of them, scenes left out. */
function motionAround(motions: readonly FrameMotion[], at: number): { readonly u: number; readonly v: number; readonly strength: number } {
  const near = motions.slice(Math.max(1, at - 2), at + 3);
  return { u: mean(near.map((m) => m.u)), v: mean(near.map((m) => m.v)), strength: mean(near.map((m) => m.strength)) };
}

/** What could make the motion of both shots go together at the cut. */
export type Proposal =
  | { readonly kind: 'mirror'; readonly text: string }
  | { readonly kind: 'speed'; readonly speed: number; readonly text: string }
  | { readonly kind: 'trim'; readonly frames: number; readonly text: string };

/** Speeds that are proposed keep within these. */
const [SLOWEST, FASTEST] = [0.5, 2];
/** A difference in strength under this share is left alone. */
const ALIKE = 0.2;

/** Proposals for a cut from frame `a` of one shot to frame `b` of another, both indices among the frames that were looked at. */
export function proposalsFor(motionA: readonly FrameMotion[], motionB: readonly FrameMotion[], a: number, b: number): Proposal[] {
  const [p, q] = [motionAround(motionA, a), motionAround(motionB, b)];
  const proposals: Proposal[] = [];
  const across = Math.abs(p.u) > Math.abs(p.v) && Math.abs(q.u) > Math.abs(q.v);
  if (across && p.u * q.u < 0 && Math.min(Math.abs(p.u), Math.abs(q.u)) > 2 * STILL)
    proposals.push({ kind: 'mirror', text: 'They move against each other. Mirrored, the entering shot goes on the same way.' });
  const speed = q.strength > STILL ? p.strength / q.strength : 1;
  if (p.strength > STILL && Math.abs(speed - 1) > ALIKE && speed >= SLOWEST && speed <= FASTEST) {
    const rounded = Math.round(20 * speed) / 20;
    proposals.push({
      kind: 'speed',
      speed: rounded,
      text: `At ${rounded} × the entering shot moves as fast as the leaving one at the cut.`,
    });
  }
  // momentum that is lost: the leaving shot was faster shortly before
  const before = motionA.slice(Math.max(1, a - 12), a + 1).map((m) => m.strength);
  const fastest = Math.max(...before);
  const lost = before.length - 1 - before.lastIndexOf(fastest);
  if (before.length > 4 && fastest > 4 * STILL && p.strength < 0.5 * fastest && lost > 2)
    proposals.push({
      kind: 'trim',
      frames: lost,
      text: `The leaving shot slows down before the cut. ${lost} frames earlier it still has its momentum.`,
    });
  return proposals;
}
